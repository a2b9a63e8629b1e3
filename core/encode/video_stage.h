#pragma once
// Inside core/encode only: pictures to packets, from a first picture on that nothing before is needed for. Its packets
// count time in frames from that picture. Not for two threads at once.
#include <functional>

#include "core/encode/delivery_planes.h"
#include "core/encode/encoder.h"

namespace virga::av {

class VideoStage {
public:
    using Sink = std::function<Expected<void>(AVPacket&)>;

    /// REQUIRES: settled settings of a format that FFmpeg encodes. Errors: as Encoder::open.
    static Expected<std::unique_ptr<VideoStage>> open(const EncoderSettings& settings, const std::string& place);

    template <typename Picture> Expected<void> add(const Picture& picture, const Sink& sink) {
        auto frame = m_planes.frameOf(picture);
        if (!frame) return tl::unexpected(frame.error());
        return send(**frame, sink);
    }
    /// Hands out what is left; nothing can be added afterwards.
    Expected<void> finish(const Sink& sink);

    ~VideoStage();
    const AVCodecContext& context() const { return *m_codec; }
    std::int64_t frames() const { return m_frames; }
    /// By how many frames a packet's decoding lies before its showing at most.
    int reorder() const { return m_reorder; }

private:
    struct FreeGraph {
        void operator()(void* graph) const;
    };
    Expected<void> send(AVFrame& frame, const Sink& sink);
    Expected<void> choose(AVFrame* frame, const Sink& sink);
    Expected<void> encode(AVFrame* frame, const Sink& sink);
    Expected<void> startPalette();

    DeliveryPlanes m_planes;
    std::string m_place;
    Owned<AVCodecContext> m_codec;
    std::unique_ptr<void, FreeGraph> m_palette; // libavfilter's, for pictures of few colours
    void *m_in = nullptr, *m_out = nullptr;     // its ends
    std::int64_t m_frames = 0;
    int m_reorder = 0;
    bool m_finished = false;
};

} // namespace virga::av
