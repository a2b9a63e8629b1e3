#pragma once
// Edits of how fast a shot runs: constant speeds, ramps into and out of cuts, held frames, backwards, and moments of
// the source that are to land on a frame. Of stills and gaps nothing is changed.
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/project/clip_time.h"

namespace virga {

/// A constant speed (its keys go); the clip goes on showing the same part of its source, so its length changes, but for
/// a speed of 0, which keeps the length. Held from -fastestSpeed to fastestSpeed.
Clip atConstantSpeed(const Project& project, Clip clip, Rational speed);

/// What gives when a speed changes: the reel stays and more or less of the source is used, or the same of the source is
/// used and the clip becomes longer or shorter.
enum class Keeps { Length, Source };
/// The changed clip with the length by which it ends at the moment at which `before` ended, to the nearest frame; as it
/// is where no length does.
Clip withSourceKept(const Project& project, const Clip& before, Clip changed);

/// The outgoing side's ramp ends at the clip's end, the incoming side's begins at its first frame. Other keys of that
/// side are replaced. At the cut the speed is still changing, at the far end it is not.
Clip withRamp(Clip clip, Side side, const Ramp& ramp);
Clip withoutRamp(Clip clip, Side side);
/// The ramp on a side, where its two outermost keys are one.
std::optional<Ramp> rampOf(const Clip& clip, Side side);

/// The outgoing ramp with the fastest end at which the source lasts to the clip's end, not below its own beginning.
Clip withRampThatLasts(const Project& project, Clip clip);

struct RampPreset {
    std::string_view name, purpose;
    Ramp out, in;
};
/// Common practice, without a source: 600 to 1000 % into and out of the cut, over 8 to 20 frames; 25 % for slow motion.
const std::vector<RampPreset>& rampPresets();

/// Ramps on both sides of a cut; the in-between pictures of slow parts are made up.
Project withRampsAtCut(const Project& project, int cut, const Ramp* out, const Ramp* in);

/// The frame held for some frames from where it is shown; the clip becomes longer by them.
Clip withFrameHeld(const Project& project, const Clip& clip, std::int64_t frame, std::int64_t frames);

/// What the clip shows at one frame is shown at another one instead, exactly: the speeds between the frames `from` and
/// `to`, whose moments stay, are scaled. Errors: BadInput where no speed within the limits does it.
Expected<Clip> withMomentLanded(const Project& project, const Clip& clip, std::int64_t shownAt, std::int64_t landsAt,
                                std::int64_t from, std::int64_t to);

/// The same between its neighbouring pins, or the clip's ends, and the moment is pinned there. One that is pinned
/// already is let go by landing it elsewhere.
Expected<Clip> withMomentPinned(const Project& project, const Clip& clip, std::int64_t shownAt, std::int64_t landsAt);
Clip withoutPins(Clip clip);

} // namespace virga
