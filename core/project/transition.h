#pragma once
// What happens at a cut, and how a recipe was put there.
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/motion/move.h"
#include "core/motion/shutter.h"

namespace virga {

/// How long both shots are on screen around a cut: the incoming one already `before` frames ahead of it, the outgoing
/// one still `after` frames past it. Uses spare source frames; the reel's length and the cut's place stay.
struct Overlap {
    std::int64_t before = 0, after = 0;
    bool isEmpty() const { return before == 0 && after == 0; }
    bool operator==(const Overlap&) const = default;
};

/// A shot's speed over a number of frames: into a cut from its usual speed to the one at the cut, or out of it.
struct Ramp {
    double from = 100, to = 800; // in %; at the far end and at the cut
    int frames = 12;
    bool operator==(const Ramp&) const = default;
};

/// Where a recipe's movement goes.
enum class Heading { AsMade, Left, Right, Up, Down, In, Out, Clockwise, Counter };

/// How a recipe is fitted to one cut.
struct RecipeUse {
    double strength = 1;               // its ways are scaled by it
    double length = 1;                 // its frames are scaled by it
    int framesOut = 0, framesIn = 0;   // in place of its own, scaled frames; 0: those
    Heading heading = Heading::AsMade; // one of those that the recipe has
    bool mirrored = false;             // left and right exchanged
    bool reversed = false;             // its time runs backwards: what departed arrives
    bool byTime = false;               // at another frame rate it takes as long; else as many frames
    int wholeFrames = 0, step = 0;     // in place of the recipe's own; 0: those
    bool operator==(const RecipeUse&) const = default;
};

/// A cut that follows a recipe of the project.
struct RecipeLink {
    std::string recipe; // its id
    RecipeUse use;
    std::vector<std::string> own; // what was changed here and no longer follows it; see core/recipe/parts.h
    bool operator==(const RecipeLink&) const = default;
};

/// What happens at a cut. It belongs to the incoming clip, travels with it, and rests while that clip is the first.
struct Transition {
    Stack moves;
    Overlap overlap;
    Side top = Side::Incoming; // which shot lies on top while both are seen
    bool alone = false;        // and then without copies at its edges, which would cover what lies beneath
    std::optional<Shutter> shutter;
    std::vector<std::string> ignored; // names of findings about the cut that are not reported
    std::optional<RecipeLink> link;   // unset: it follows none
    bool operator==(const Transition&) const = default;
};

} // namespace virga
