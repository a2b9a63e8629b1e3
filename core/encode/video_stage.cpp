#include "core/encode/video_stage.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

extern "C" {
#include <libavfilter/avfilter.h>
#include <libavfilter/buffersink.h>
#include <libavfilter/buffersrc.h>
}

namespace virga::av {

namespace {

const char* encoderOf(DeliveryFormat format) {
    switch (format) {
    case DeliveryFormat::H264:
        return "libx264";
    case DeliveryFormat::H265:
        return "libx265";
    case DeliveryFormat::Vp9:
        return "libvpx-vp9";
    case DeliveryFormat::Av1:
        return "libsvtav1";
    case DeliveryFormat::ProRes:
        return "prores_ks";
    case DeliveryFormat::Dnxhr:
        return "dnxhd";
    case DeliveryFormat::Ffv1:
        return "ffv1";
    case DeliveryFormat::Png:
        return "png";
    case DeliveryFormat::Tiff:
        return "tiff";
    case DeliveryFormat::Gif:
        return "gif";
    case DeliveryFormat::Webp:
        return "libwebp_anim";
    case DeliveryFormat::Exr:
    case DeliveryFormat::Wav:
        break;
    }
    return "";
}

// x264's presets in the words of the others: libvpx's and SVT's speeds.
int speedOf(const std::string& preset) {
    static constexpr const char* names[] = {"ultrafast", "superfast", "veryfast", "faster",  "fast",
                                            "medium",    "slow",      "slower",   "veryslow"};
    const auto at = std::find(std::begin(names), std::end(names), preset);
    return at == std::end(names) ? 5 : int(at - std::begin(names));
}

struct Options {
    AVDictionary* all = nullptr;
    ~Options() { av_dict_free(&all); }
    void set(const char* name, const std::string& value) { av_dict_set(&all, name, value.c_str(), 0); }
    void set(const char* name, int value) { set(name, std::to_string(value)); }
};

// How many threads an encoder has is fixed: with some it changes the bytes.
constexpr int encoderThreads = 2;

void tune(const EncoderSettings& s, AVCodecContext& codec, Options& options) {
    const int key = s.keyInterval;
    if (key > 0) codec.gop_size = key;
    codec.thread_count = encoderThreads;
    switch (s.format) {
    case DeliveryFormat::H264:
        options.set("preset", s.preset);
        options.set("crf", s.quality);
        // Else the bytes depend on the processor's kind and, at some widths, on what its memory held before.
        options.set("x264-params", "cpu-independent=1");
        break;
    case DeliveryFormat::H265:
        options.set("preset", s.preset);
        options.set("crf", s.quality);
        options.set("x265-params", fmt::format("log-level=none:frame-threads={0}:pools={0}:open-gop=0{1}",
                                               encoderThreads, key > 0 ? fmt::format(":keyint={}", key) : ""));
        codec.codec_tag = MKTAG('h', 'v', 'c', '1');
        break;
    case DeliveryFormat::Vp9:
        options.set("crf", s.quality);
        options.set("b", "0");
        options.set("row-mt", 1);
        options.set("cpu-used", std::clamp(8 - speedOf(s.preset), 0, 8));
        if (s.alpha) options.set("auto-alt-ref", 0); // what lies behind hidden pictures has no alpha
        break;
    case DeliveryFormat::Av1:
        options.set("crf", s.quality);
        options.set("preset", std::clamp(13 - speedOf(s.preset), 4, 12));
        options.set("svtav1-params", fmt::format("lp={}", encoderThreads));
        break;
    case DeliveryFormat::ProRes:
        options.set("profile", s.quality);
        options.set("vendor", "apl0");
        if (s.alpha) options.set("alpha_bits", 16);
        break;
    case DeliveryFormat::Dnxhr: {
        static constexpr const char* profiles[] = {"dnxhr_lb", "dnxhr_sq", "dnxhr_hq", "dnxhr_hqx", "dnxhr_444"};
        options.set("profile", profiles[std::clamp(s.quality, 1, 5) - 1]);
        break;
    }
    case DeliveryFormat::Ffv1:
        codec.level = 3;
        codec.slices = 4;
        codec.gop_size = 1;
        options.set("coder", "range_def");
        options.set("slicecrc", 1);
        break;
    case DeliveryFormat::Png:
        options.set("pred", "mixed");
        break;
    case DeliveryFormat::Tiff:
        options.set("compression_algo", "deflate");
        break;
    case DeliveryFormat::Webp:
        options.set("quality", s.quality);
        options.set("lossless", 0);
        break;
    case DeliveryFormat::Gif:
    case DeliveryFormat::Exr:
    case DeliveryFormat::Wav:
        break;
    }
}

void describeColour(AVCodecContext& codec, int pixelFormat) {
    const bool rgb = av_pix_fmt_desc_get(AVPixelFormat(pixelFormat))->flags & AV_PIX_FMT_FLAG_RGB;
    codec.colorspace = rgb ? AVCOL_SPC_RGB : AVCOL_SPC_BT709;
    codec.color_primaries = AVCOL_PRI_BT709;
    codec.color_trc = rgb ? AVCOL_TRC_IEC61966_2_1 : AVCOL_TRC_BT709;
    codec.color_range = rgb ? AVCOL_RANGE_JPEG : AVCOL_RANGE_MPEG;
    if (!rgb) codec.chroma_sample_location = AVCHROMA_LOC_LEFT;
}

} // namespace

void VideoStage::FreeGraph::operator()(void* graph) const {
    auto* p = static_cast<AVFilterGraph*>(graph);
    avfilter_graph_free(&p);
}

// SVT-AV1 waits for ever where it is closed without a picture and without having been told the end.
VideoStage::~VideoStage() {
    if (!m_codec || m_codec->codec_id != AV_CODEC_ID_AV1 || m_finished) return;
    if (m_frames == 0)
        if (auto frame = makePlanes(m_codec->pix_fmt, {m_codec->width, m_codec->height}))
            (void)send(*frame, [](AVPacket&) { return Expected<void>(); });
    (void)finish([](AVPacket&) { return Expected<void>(); });
}

Expected<std::unique_ptr<VideoStage>> VideoStage::open(const EncoderSettings& settings, const std::string& place) {
    quiet();
    auto stage = std::unique_ptr<VideoStage>(new VideoStage);
    stage->m_place = place;
    const char* name = encoderOf(settings.format);
    const AVCodec* codec = avcodec_find_encoder_by_name(name);
    if (!codec)
        return fail(ErrorCode::Unsupported,
                    fmt::format("this FFmpeg has no encoder for {} ({})", infoOf(settings.format).name, name), place,
                    "install Debian's libavcodec, or choose another format");
    auto planes = DeliveryPlanes::make(settings, settings.size, place);
    if (!planes) return tl::unexpected(planes.error());
    stage->m_planes = std::move(*planes);
    stage->m_codec.reset(avcodec_alloc_context3(codec));
    AVCodecContext& c = *stage->m_codec;
    c.width = settings.size.width;
    c.height = settings.size.height;
    const int pixelFormat = pixelFormatOf(settings);
    c.pix_fmt = settings.format == DeliveryFormat::Gif ? AV_PIX_FMT_PAL8 : AVPixelFormat(pixelFormat);
    c.time_base = {int(settings.rate.den), int(settings.rate.num)};
    c.framerate = {int(settings.rate.num), int(settings.rate.den)};
    c.sample_aspect_ratio = {1, 1};
    describeColour(c, pixelFormat);
    c.flags |= AV_CODEC_FLAG_GLOBAL_HEADER | AV_CODEC_FLAG_BITEXACT;
    Options options;
    tune(settings, c, options);
    if (const int code = avcodec_open2(&c, codec, &options.all); code < 0)
        return fail(
            ErrorCode::Unsupported,
            fmt::format("the encoder for {} does not start ({})", infoOf(settings.format).name, errorText(code)), place,
            "choose another size, quality or format");
    stage->m_reorder = infoOf(settings.format).reorders ? std::max(2, c.has_b_frames) : 0;
    if (settings.format == DeliveryFormat::Gif)
        if (auto done = stage->startPalette(); !done) return tl::unexpected(done.error());
    return stage;
}

// The best 256 colours of each picture by itself, and what lies between them by an ordered pattern.
Expected<void> VideoStage::startPalette() {
    auto* graph = avfilter_graph_alloc();
    m_palette.reset(graph);
    AVFilterContext *in = nullptr, *out = nullptr;
    AVFilterInOut *inputs = nullptr, *outputs = nullptr;
    const auto source =
        fmt::format("video_size={}x{}:pix_fmt={}:time_base={}/{}:pixel_aspect=1/1", m_codec->width, m_codec->height,
                    int(AV_PIX_FMT_BGRA), m_codec->time_base.num, m_codec->time_base.den);
    bool good =
        graph &&
        avfilter_graph_create_filter(&in, avfilter_get_by_name("buffer"), "in", source.c_str(), nullptr, graph) >= 0 &&
        avfilter_graph_create_filter(&out, avfilter_get_by_name("buffersink"), "out", nullptr, nullptr, graph) >= 0;
    if (good) {
        outputs = avfilter_inout_alloc(), inputs = avfilter_inout_alloc();
        *outputs = {av_strdup("in"), in, 0, nullptr};
        *inputs = {av_strdup("out"), out, 0, nullptr};
        good = avfilter_graph_parse_ptr(graph,
                                        "split[a][b];[a]palettegen=stats_mode=single[p];[b][p]paletteuse=new=1:dither="
                                        "bayer:bayer_scale=3",
                                        &inputs, &outputs, nullptr) >= 0 &&
               avfilter_graph_config(graph, nullptr) >= 0;
        avfilter_inout_free(&inputs);
        avfilter_inout_free(&outputs);
    }
    if (!good) return fail(ErrorCode::Unsupported, "this FFmpeg cannot choose a picture's 256 colours", m_place);
    m_in = in, m_out = out;
    return {};
}

Expected<void> VideoStage::send(AVFrame& frame, const Sink& sink) {
    frame.pts = m_frames++;
    frame.colorspace = m_codec->colorspace; // some encoders write down what the picture says, not what they were told
    frame.color_primaries = m_codec->color_primaries;
    frame.color_trc = m_codec->color_trc;
    frame.color_range = m_codec->color_range;
    frame.chroma_location = m_codec->chroma_sample_location;
    frame.sample_aspect_ratio = {1, 1};
    return m_palette ? choose(&frame, sink) : encode(&frame, sink);
}

Expected<void> VideoStage::choose(AVFrame* frame, const Sink& sink) {
    const auto cannot = [&] {
        return fail(ErrorCode::WriteFailed, "a picture's colours could not be chosen", m_place);
    };
    if (av_buffersrc_add_frame(static_cast<AVFilterContext*>(m_in), frame) < 0) return cannot();
    auto few = makeFrame();
    while (av_buffersink_get_frame(static_cast<AVFilterContext*>(m_out), few.get()) >= 0) {
        few->pts = av_rescale_q(few->pts, av_buffersink_get_time_base(static_cast<AVFilterContext*>(m_out)),
                                m_codec->time_base);
        few->pict_type = AV_PICTURE_TYPE_NONE;
        if (auto done = encode(few.get(), sink); !done) return done;
        av_frame_unref(few.get());
    }
    return {};
}

Expected<void> VideoStage::encode(AVFrame* frame, const Sink& sink) {
    if (const int code = avcodec_send_frame(m_codec.get(), frame); code < 0)
        return fail(ErrorCode::WriteFailed, fmt::format("a frame could not be encoded ({})", errorText(code)), m_place,
                    "choose another size, quality or format");
    auto packet = makePacket();
    while (avcodec_receive_packet(m_codec.get(), packet.get()) == 0)
        if (auto done = sink(*packet); !done) return done;
    return {};
}

Expected<void> VideoStage::finish(const Sink& sink) {
    m_finished = true;
    if (m_palette)
        if (auto done = choose(nullptr, sink); !done) return done;
    return encode(nullptr, sink);
}

} // namespace virga::av
