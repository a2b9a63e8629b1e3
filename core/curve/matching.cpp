#include "core/curve/matching.h"

#include <cmath>
#include <fmt/format.h>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

tl::unexpected<Error> cannot(std::string why, std::string remedy) {
    return fail(ErrorCode::BadInput, "the speed cannot be matched: " + std::move(why), {}, std::move(remedy));
}

} // namespace

Expected<Curve> matchedByFirstValue(const Curve& incoming, double speed, double lowest, double highest) {
    if (incoming.keys.size() < 2) return cannot("the incoming side has no movement", "give it two keys");
    if (segmentAt(incoming, 0) != 0)
        return cannot("the cut is not inside the incoming side's first segment", "put its first key on frame 0");
    // With the shape kept, value and speed are linear in the difference of the first two values; one unit tells the
    // slope.
    const double b = toSpace(incoming.keys[1].value, incoming.space);
    Curve unit = incoming;
    if (std::abs(toSpace(incoming.keys[0].value, incoming.space) - b) < 1e-12)
        unit = withShape(unit, 0, arrivingShape());
    unit = withKeyMoved(unit, 0, unit.keys[0].time, fromSpace(b - 1, unit.space));
    if (std::abs(toSpace(incoming.keys[0].value, incoming.space) - b) < 1e-12 &&
        unit.keys[0].next == Interpolation::Eased)
        unit = withShape(unit, 0, arrivingShape()); // a flat segment has no shape of its own: give it the usual one
    const double slope = speedAfter(unit, 0);       // of a difference of 1
    if (std::abs(slope) < 1e-9) return cannot("the incoming curve starts flat", "choose a shape that starts steep");
    const double value = fromSpace(b - speed / slope, unit.space);
    if (!(value >= lowest && value <= highest))
        return cannot(fmt::format("the first value would have to be {:.3g}", value), "make the incoming side longer");
    return withKeyMoved(unit, 0, unit.keys[0].time, value);
}

Expected<Curve> matchedByFirstHandle(const Curve& incoming, double speed) {
    if (incoming.keys.size() < 2) return cannot("the incoming side has no movement", "give it two keys");
    if (segmentAt(incoming, 0) != 0)
        return cannot("the cut is not inside the incoming side's first segment", "put its first key on frame 0");
    const Key &a = incoming.keys[0], &b = incoming.keys[1];
    const double change = toSpace(b.value, incoming.space) - toSpace(a.value, incoming.space);
    if (std::abs(speed) > 1e-9 && (std::abs(change) < 1e-9 || (change > 0) != (speed > 0)))
        return cannot("the incoming side goes the other way", "turn it round first");
    Handle handle = a.leave;
    if (a.next != Interpolation::Eased) handle.reach = 1.0 / 3;
    if (handle.reach < 0.02) handle.reach = 0.02;
    if (a.time == 0) {
        // At the key itself the speed is rise / (reach * duration). A reach that would carry the handle past 0.8 of the
        // way is shortened, so that matching never makes the curve overshoot.
        const double duration = b.time - a.time;
        if (std::abs(speed) * duration * handle.reach > 0.8 * std::abs(change) && std::abs(speed) > 1e-9)
            handle.reach = 0.8 * std::abs(change) / (std::abs(speed) * duration);
        handle.rise = speed * duration * handle.reach;
        return withLeaveHandle(incoming, 0, handle);
    }
    handle.rise = 0;
    const double still = speedAfter(withLeaveHandle(incoming, 0, handle), 0);
    handle.rise = 1;
    const double slope = speedAfter(withLeaveHandle(incoming, 0, handle), 0) - still;
    if (std::abs(slope) < 1e-9)
        return cannot("the first handle has no influence at the cut", "put the first key on frame 0");
    handle.rise = (speed - still) / slope;
    return withLeaveHandle(incoming, 0, handle);
}

} // namespace virga
