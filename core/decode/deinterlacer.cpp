#include "core/decode/deinterlacer.h"

#include <algorithm>
#include <fmt/format.h>

extern "C" {
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
}

namespace virga::av {

Expected<void> Deinterlacer::start(const AVFrame& like) {
    m_graph.reset(avfilter_graph_alloc());
    m_pushed = m_done = -1;
    m_flushed = false;
    const auto cannot = [&] {
        m_graph.reset();
        return fail(ErrorCode::Unsupported, "its interlaced lines cannot be made whole", m_decoder.info().path.string(),
                    "switch it off for this clip");
    };
    if (!m_graph) return cannot();
    m_graph->nb_threads = 2;
    const auto source =
        fmt::format("video_size={}x{}:pix_fmt={}:time_base=1/1:pixel_aspect=1/1", like.width, like.height, like.format);
    AVFilterContext* filter = nullptr;
    if (avfilter_graph_create_filter(&m_source, avfilter_get_by_name("buffer"), "in", source.c_str(), nullptr,
                                     m_graph.get()) < 0 ||
        avfilter_graph_create_filter(&filter, avfilter_get_by_name("bwdif"), "whole",
                                     "mode=send_frame:deint=interlaced", nullptr, m_graph.get()) < 0 ||
        avfilter_graph_create_filter(&m_sink, avfilter_get_by_name("buffersink"), "out", nullptr, nullptr,
                                     m_graph.get()) < 0 ||
        avfilter_link(m_source, 0, filter, 0) < 0 || avfilter_link(filter, 0, m_sink, 0) < 0 ||
        avfilter_graph_config(m_graph.get(), nullptr) < 0)
        return cannot();
    return {};
}

Expected<void> Deinterlacer::push(std::int64_t number) {
    auto frame = m_decoder.picture(number);
    if (!frame) return tl::unexpected(frame.error());
    if (!m_graph)
        if (auto done = start(**frame); !done) return done;
    Owned<AVFrame> copy(av_frame_clone(*frame));
    if (copy) {
        copy->pts = number;
        if (const auto order = m_decoder.unmarkedFields(); order && !copy->interlaced_frame) {
            copy->interlaced_frame = 1;
            copy->top_field_first = *order == AV_FIELD_TT || *order == AV_FIELD_BT;
        }
    }
    if (!copy || av_buffersrc_add_frame(m_source, copy.get()) < 0)
        return fail(ErrorCode::Unreadable, "a picture's lines could not be made whole", m_decoder.info().path.string(),
                    "switch it off for this clip");
    m_pushed = number;
    return {};
}

Expected<void> Deinterlacer::finish() {
    if (!m_flushed && av_buffersrc_add_frame(m_source, nullptr) < 0)
        return fail(ErrorCode::Unreadable, "a picture's lines could not be made whole", m_decoder.info().path.string(),
                    "switch it off for this clip");
    m_flushed = true;
    return {};
}

Expected<const AVFrame*> Deinterlacer::picture(std::int64_t number) {
    const auto last = std::int64_t(m_decoder.index().stamps.size()) - 1;
    number = std::clamp<std::int64_t>(number, 0, last);
    if (m_graph && m_done == number) return m_out.get();
    // The filter gives a picture when it has the next one; it wants the one before it, too.
    if (!m_graph || m_flushed || m_done != number - 1 || m_pushed != number) {
        m_graph.reset();
        for (auto n = std::max<std::int64_t>(0, number - 1); n <= number; ++n)
            if (auto done = push(n); !done) {
                m_graph.reset();
                return tl::unexpected(done.error());
            }
    }
    if (auto done = number < last ? push(number + 1) : finish(); !done) {
        m_graph.reset();
        return tl::unexpected(done.error());
    }
    while (true) {
        av_frame_unref(m_out.get());
        if (av_buffersink_get_frame(m_sink, m_out.get()) < 0) break;
        m_done = av_rescale_q(m_out->pts, av_buffersink_get_time_base(m_sink), {1, 1}); // it counts half pictures
        if (m_done == number) return m_out.get();
    }
    m_graph.reset();
    return m_decoder.picture(number); // the filter gave nothing: as it is
}

} // namespace virga::av
