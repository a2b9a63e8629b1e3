#pragma once
// What a drag in a lane means: where keys, handles and speeds come to lie, and what they cling to. Plain functions of
// the curves as they were when the drag began; tested without a window.
#include <optional>
#include <vector>

#include "app/lanes/lane_scale.h"
#include "core/curve/speed_pull.h"
#include "core/edit/key_edits.h"

namespace virga {

/// How a drag is bent by the keys that are held down.
struct DragManner {
    bool free = false;    // Shift: clings to nothing
    bool oneAxis = false; // Ctrl: only the way that has gone farther
};

/// Pixels within which something is clung to.
inline constexpr double clinging = 4;

struct KeyDrag {
    KeyAddress pressed;
    KeySet keys; // all that move, the pressed one among them
};
struct KeyDragResult {
    Project project;
    std::optional<double> guide; // frame of the axis that is clung to
};
/// Chosen keys moved by dx, dy pixels. All move in time by as much as the pressed one; only those of its lane move in
/// value. Time clings to whole frames, and to keys of other curves and the playhead where these lie between; values to
/// rest, to the value that they had, to the lane's other keys and to the other side's value at the cut. Keys keep a
/// frame's distance from their neighbours. `playhead` is a frame of the axis.
KeyDragResult dragKeys(const Project& before, const KeyDrag& drag, double dx, double dy, const FrameScale& axis,
                       const ValueScale& values, double playhead, DragManner manner);

/// The handle at a key put to a point; it clings to level, to the slope on the key's other side, and at the cut to the
/// other side's speed.
Curve dragHandle(const Channel& channel, Side side, const HandleRef& handle, double x, double y,
                 const FrameScale& frames, const ValueScale& values, bool joint, DragManner manner);

/// The speed at a time pulled to a height; it clings to standing still and at the cut to the other side's speed.
Curve dragSpeed(const Channel& channel, Side side, double time, double y, const SpeedScale& speeds,
                const ChannelInfo& info, Kept kept, bool joint, DragManner manner);

/// Keys whose tips lie in a box of pixels.
KeyGroup keysInBox(const Curve& curve, const FrameScale& frames, const ValueScale& values, double left, double top,
                   double right, double bottom);

} // namespace virga
