#pragma once
// What the drawn flow line needs beside the facts of clips (ClipFlow::facts): where a clip's movement changes from
// arriving to departing, and the speeds of single channels at a cut.
#include <string>
#include <vector>

#include "core/plan/clip_facts.h"

namespace virga {

/// The first frame of a clip, from its first, that belongs to the cut after it: where it is slowest, in the middle of
/// that.
std::int64_t turningFrame(const ClipFacts& facts);

/// How fast one channel alone moves the screen, for each frame of a cut's moves.
struct ChannelLine {
    std::string label;
    std::int64_t first = 0; // from the cut
    std::vector<double> speeds;
};
std::vector<ChannelLine> channelLines(const Project& project, int cut);

} // namespace virga
