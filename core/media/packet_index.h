#pragma once
// Inside core/media only: every picture of a video stream with its exact time, read from the packets without decoding.
#include <vector>

#include "core/media/av_support.h"

namespace virga::av {

struct PacketIndex {
    std::vector<std::int64_t> times;        // ascending, unique, in the stream's time base
    std::vector<std::int64_t> keys;         // those of key frames
    std::int64_t end = 0;                   // when the last picture ends
    std::int64_t longest = 0, shortest = 0; // gaps between neighbours
    bool stamped = true;                    // every picture has a presentation time; without, they are told by counting
    bool brokenOff = false;                 // reading stopped with an error, or fewer pictures than the file announces
};

/// Reads to the end of the file. Errors: Unreadable when there is no picture at all; Cancelled.
Expected<PacketIndex> indexPackets(AVFormatContext* format, int stream, const std::string& path, const Cancel& cancel);

} // namespace virga::av
