#pragma once
// A transition in a finished video taken apart: the movement on both sides of a cut read from its pictures, as channels
// frame by frame, and curves with few keys through them. Frames are counted from the cut, in the video's own pictures;
// places are in widths of the picture from its centre. May run on any thread.
#include <filesystem>
#include <functional>
#include <string>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/curve/fit_keys.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"

namespace virga {

struct TraceOptions {
    int most = 45;    // frames that are read on each side
    int mostKeys = 8; // of each curve
    bool operator==(const TraceOptions&) const = default;
};

/// A frame of a side, as it was read.
struct TracedFrame {
    std::int64_t frame = 0; // from the cut
    Matrix map;             // from the side's frame at rest to this one, without what the shot does by itself
    double error = 0;       // of it, at the picture's edge, in widths
    double speed = 0;       // % of the width from the frame before to the one after, for one frame
    double lens = 0;        // amount of a lens over it
    double trust = 0;       // of the step that leads here from the side of rest; 0: bridged
    bool known() const { return trust > 0; }
};

/// One channel of the movement.
struct TracedChannel {
    MoveKind kind = MoveKind::Zoom;
    int channel = 0;
    std::vector<MeasuredValue> values; // by frame
    std::vector<bool> known;           // whether each was read; else it was bridged or carried on
    FittedCurve fitted;
    /// Whether the curve misses what was read at a frame by more than its error allows.
    bool missesAt(std::size_t i) const;
    double tolerance = 0; // in the channel's space
};

struct TracedSide {
    Side side = Side::Outgoing;
    bool moves = false;
    bool restFound = true; // else it moves already where reading began
    bool perspective = false, lens = false;
    std::vector<TracedFrame> frames; // all that were read, in time; those at rest have the identity
    std::int64_t rest = 0;           // the frame between which and the cut it moves
    Matrix own;                      // what the shot does by itself from frame to frame, and is left out
    std::vector<TracedChannel> channels;
    double misfit = 0;    // what the curves miss of the movement, root of the mean square, % of the width
    double explained = 1; // of the way, 0 to 1
};

struct Trace {
    Size size;
    FrameRate rate = 25;
    std::int64_t picture = 0; // of the video: the first one behind the cut
    Rational seconds;         // and when it starts
    TracedSide out, in;
    Point anchor{0.5, 0.5};         // about which it zooms and turns, in fractions of the frame
    double shutterAngle = -1;       // by the blur of its fast frames; negative: it could not be told
    double explained = 1;           // of all the way, 0 to 1
    Transition transition;          // the same as moves
    std::vector<std::string> notes; // what could not be read, in sentences
    bool moves() const { return out.moves || in.moves; }
    const TracedSide& side(Side s) const { return s == Side::Outgoing ? out : in; }
};

/// Reads the movement around a picture of a video that begins a shot. `report` gets 0 to 1. Errors: as VideoReader;
/// BadInput for a still, and where there is nothing before that picture or from it on; Cancelled.
Expected<Trace> traceTransition(const std::filesystem::path& path, std::int64_t picture,
                                const TraceOptions& options = {}, const std::function<void(double)>& report = {},
                                const Cancel& cancel = {});

/// The curves anew, with other keys at most.
void fitTrace(Trace& trace, const TraceOptions& options);

/// As a recipe. Errors: BadInput where nothing moves.
Expected<Recipe> recipeOf(const Trace& trace, const std::string& name);

/// "zoom 1 → 2.49 in 6 frames, spin 0 → −120° in 8 frames": a side in a sentence; "no movement" where there is none.
std::string textOf(const Trace& trace, Side side);

/// All of it as JSON, for scripts.
std::string traceText(const Trace& trace);

} // namespace virga
