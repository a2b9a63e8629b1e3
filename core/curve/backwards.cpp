#include "core/curve/backwards.h"

#include <algorithm>
#include <cmath>

#include "core/curve/matching.h"

namespace virga {

Curve backwards(const Curve& curve, double middle) {
    Curve out = curve;
    const std::size_t n = curve.keys.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Key& from = curve.keys[n - 1 - i];
        Key& key = out.keys[i];
        key.time = 2 * middle - from.time;
        key.value = from.value;
        key.leave = {from.arrive.reach, -from.arrive.rise};
        key.arrive = {from.leave.reach, -from.leave.rise};
        key.next = n >= 2 + i ? curve.keys[n - 2 - i].next : from.next;
    }
    return out;
}

Expected<Curve> matchedByLastHandle(const Curve& outgoing, double rate, Ends ends) {
    const auto matched = matchedByFirstHandle(backwards(outgoing, -0.5), -rate, ends);
    if (!matched) return tl::unexpected(matched.error());
    return backwards(*matched, -0.5);
}

Expected<Curve> mirroredProfile(const Curve& outgoing, double length, double rest, Ends ends) {
    const double rate = changeOver(outgoing, -1, ends);
    if (outgoing.keys.size() < 2 || std::abs(rate) < 1e-12)
        return fail(ErrorCode::BadInput, "there is no movement to mirror: the outgoing side stands still", {},
                    "give it two keys that reach the cut");
    Curve mirrored = backwards(outgoing, -0.5);
    // Frame 0 shows what frame -1 showed, and the movement comes to rest where the other began.
    if (const double own = -outgoing.keys.front().time; own > 0) mirrored = stretched(mirrored, length / own);
    const Space space = outgoing.space;
    mirrored = shifted(mirrored, toSpace(rest, space) - toSpace(mirrored.keys.back().value, space));
    const auto scaledBy = [&](double k) { return scaledAbout(mirrored, int(mirrored.keys.size()) - 1, k); };
    // Linear in k, and run backwards: its sign turns.
    const double one = changeOver(scaledBy(1), 0, ends);
    if (std::abs(one) < 1e-12)
        return fail(ErrorCode::BadInput, "the mirrored movement stands still at the cut", {},
                    "let the outgoing side's last key lie on the cut");
    return scaledBy(rate / one);
}

Curve scaledAbout(const Curve& curve, int key, double factor) {
    if (key < 0 || key >= int(curve.keys.size())) return curve;
    Curve out = curve;
    const double middle = toSpace(curve.keys[std::size_t(key)].value, curve.space);
    for (Key& k : out.keys) {
        k.value = fromSpace(middle + factor * (toSpace(k.value, curve.space) - middle), curve.space);
        k.leave.rise *= factor, k.arrive.rise *= factor;
    }
    return out;
}

Curve shifted(const Curve& curve, double by) {
    Curve out = curve;
    for (Key& k : out.keys) k.value = fromSpace(toSpace(k.value, curve.space) + by, curve.space);
    return out;
}

Curve stretched(const Curve& curve, double factor) {
    Curve out = curve;
    for (Key& key : out.keys) key.time *= factor;
    return out;
}

} // namespace virga
