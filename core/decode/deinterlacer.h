#pragma once
// For core/decode, core/encode and core/audio: whole pictures from interlaced ones, one for one, by FFmpeg's bwdif
// filter (motion-adaptive, after BBC R&D's w3fdif), which looks at the picture before and after. One thread at a time.
#include "core/decode/picture_decoder.h"

extern "C" {
#include <libavfilter/avfilter.h>
}

namespace virga::av {

class Deinterlacer {
public:
    /// REQUIRES: the decoder outlives it.
    explicit Deinterlacer(PictureDecoder& decoder) : m_decoder(decoder) {}

    /// As PictureDecoder::picture, until the next call. Errors: the same; Unsupported where the filter does not start.
    Expected<const AVFrame*> picture(std::int64_t number);

private:
    struct FreeGraph {
        void operator()(AVFilterGraph* graph) const { avfilter_graph_free(&graph); }
    };
    Expected<void> start(const AVFrame& like);
    Expected<void> push(std::int64_t number);
    Expected<void> finish();

    PictureDecoder& m_decoder;
    std::unique_ptr<AVFilterGraph, FreeGraph> m_graph;
    AVFilterContext *m_source = nullptr, *m_sink = nullptr;
    Owned<AVFrame> m_out = makeFrame();
    std::int64_t m_pushed = -1; // the last picture that went in
    std::int64_t m_done = -1;   // the one in m_out
    bool m_flushed = false;
};

} // namespace virga::av
