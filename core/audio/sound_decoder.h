#pragma once
// Inside core/audio only: a file's sound as stereo floats at its own rate, every sample at its place. Places are
// counted in samples from the first picture's start (without pictures, from the first sound's). They are counted on
// from sample to sample, since a container's clock may be coarser than that; only where stamps and count part by more
// than a clock explains is there a hole, which becomes silence, or a piece too much, which is left out.
#include <vector>

#include "core/decode/av_support.h"

namespace virga::av {

class SoundDecoder {
public:
    /// Errors: as probe(); Unsupported where there is no sound.
    static Expected<std::unique_ptr<SoundDecoder>> open(const std::filesystem::path& path, const Cancel& cancel);

    int rate() const { return m_rate; }

    /// Makes next() begin at or before a place, far enough that the codec has warmed up there, or at the beginning.
    bool seek(std::int64_t place);

    /// The next samples: their first one's place, and 2 values each, in order and without a gap. Empty at the end.
    struct Run {
        std::int64_t place = 0;
        std::vector<float> stereo;
        std::int64_t count() const { return std::int64_t(stereo.size() / 2); }
    };
    Run next(const Cancel& cancel);

private:
    SoundDecoder() = default;
    Expected<void> openFile(const Cancel& cancel);
    Expected<Rational> originOf(const Cancel& cancel) const;
    void indexPackets(const Cancel& cancel);
    std::int64_t placeOf(std::int64_t stamp) const;
    bool seekTo(std::int64_t stamp);
    Run taken();
    bool prepareMix();
    std::int64_t tolerance() const;

    // Where a packet's samples lie, where the container's clock is too coarse to say.
    struct Known {
        std::int64_t stamp = 0, place = 0;
    };
    std::filesystem::path m_path;
    Owned<AVFormatContext> m_format;
    Owned<AVCodecContext> m_decoder;
    Owned<SwrContext> m_mix;
    Owned<AVPacket> m_packet = makePacket();
    Owned<AVFrame> m_frame = makeFrame();
    int m_stream = -1, m_rate = 48000;
    AVRational m_tick{1, 48000};
    Rational m_origin; // seconds of the container's clock at place 0
    bool m_dated = true;
    std::vector<Known> m_known;
    std::int64_t m_at = 0; // the place of the next sample
    bool m_placed = false, m_draining = false;
    Run m_waiting; // what comes after a hole
    // What m_mix was made for.
    int m_mixFormat = -1, m_mixRate = 0, m_mixChannels = 0;
    std::uint64_t m_mixMask = 0;
};

} // namespace virga::av
