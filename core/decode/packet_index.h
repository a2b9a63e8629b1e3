#pragma once
// For core/decode, core/encode and core/audio: every picture of a video stream with its exact time, and where decoding
// can begin, read from the packets. Only the first picture is decoded.
#include <vector>

#include "core/decode/av_support.h"
#include "core/decode/frame_times.h"

namespace virga::av {

struct PacketIndex {
    /// A packet that decoding can begin at. A container finds it again by whichever stamp it carries.
    struct Entry {
        std::int64_t stamp = 0;            // of its picture, as in `stamps`
        std::int64_t pts = AV_NOPTS_VALUE; // as the container gives it
        std::int64_t dts = AV_NOPTS_VALUE; // the same
        bool operator==(const Entry&) const = default;
    };
    std::vector<std::int64_t> stamps; // presentation times, ascending, unique, in the stream's time base
    std::vector<Entry> entries;       // ascending; never empty, the first one is the first picture's or before it
    FrameTimes times;                 // the same pictures in seconds from the first one's start
    std::int64_t lastDuration = 0;    // in the stream's time base; 0 where it is not known

    // Where the container leaves presentation times out (AVI, program streams): each packet's, by its decoding time,
    // or, without those, by its place in the file.
    std::vector<std::pair<std::int64_t, std::int64_t>> stampByDts;
    std::vector<std::int64_t> stampByPlace;

    bool brokenOff = false; // reading stopped with an error, or fewer pictures than the file announces
};

/// Parts packets of MPEG-4 in AVI that hold two pictures and are followed by an empty one. Others pass as they are.
class Unpacker {
public:
    explicit Unpacker(const AVFormatContext* format, const AVStream* stream);
    /// False where nothing is left of the packet.
    bool unpack(AVPacket* packet);
    void flush();

private:
    Owned<AVBSFContext> m_filter;
};

/// Reads a file that was just opened to its end; `first` becomes its first picture, which is where the index begins; of
/// more than `most` pictures the last are left out.
/// Errors: Unreadable when there is no picture at all; Cancelled.
Expected<PacketIndex> indexPackets(AVFormatContext* format, int stream, AVCodecContext* decoder, AVFrame* first,
                                   const std::string& path, std::size_t most, const Cancel& cancel);

/// Whether a packet of a video stream holds a picture that is to be shown.
bool isShown(const AVPacket& packet, AVCodecID codec);

/// The stamp of a decoded picture: its packet's own, else the decoder's guess; AV_NOPTS_VALUE without either.
inline std::int64_t stampOf(const AVFrame& frame) {
    return frame.pts != AV_NOPTS_VALUE ? frame.pts : frame.best_effort_timestamp;
}

} // namespace virga::av
