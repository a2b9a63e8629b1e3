#pragma once
// The text form of sizes, frame ranges and moves on the command line.
#include <cstdint>
#include <string>
#include <utility>
#include <vector>

#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/edit/speed_edits.h"
#include "core/motion/move.h"

namespace virga::cli {

/// "1280x720". Errors: BadInput.
Expected<Size> sizeFromText(const std::string& text);

/// "25", "29.97" or "30000/1001". Errors: BadInput.
Expected<FrameRate> rateFromText(const std::string& text);

/// "A-B", both included; "A" is one frame. Errors: BadInput.
Expected<std::pair<std::int64_t, std::int64_t>> rangeFromText(const std::string& text);

/// "all", or cuts counted from 1: "1,3,5"; the result counts from 0. Errors: BadInput.
Expected<std::vector<int>> cutsFromText(const std::string& text, int count);

/// All that may stand before the colon, with commas between: zoom, spin, slide-x, ...
std::string moveNames();

/// "zoom:1,2.5|0.62,1@5,12" as a move with the shapes that depart and arrive. Errors: BadInput that says what is
/// missing.
Expected<Move> moveFromText(const std::string& text);

/// "100,800|800,100@12,12": the outgoing shot's speeds in %, from where the ramp begins to the cut, then the incoming
/// shot's from the cut on, and the frames of each; a side may be left out. Errors: BadInput.
struct RampSpec {
    std::optional<Ramp> out, in;
};
Expected<RampSpec> rampFromText(const std::string& text);

} // namespace virga::cli
