#include "core/check/fix_change.h"

#include <algorithm>
#include <cmath>

#include "core/geom/coverage.h"
#include "core/plan/clip_facts.h"

namespace virga {
namespace {

double wayOf(const Curve& curve) {
    double least = 1e300, most = -1e300;
    for (const Key& key : curve.keys) {
        const double value = toSpace(key.value, curve.space);
        least = std::min(least, value), most = std::max(most, value);
    }
    return curve.keys.size() < 2 ? 0 : most - least;
}

double lengthOf(const Curve& curve) {
    return curve.keys.size() < 2 ? 0 : curve.keys.back().time - curve.keys.front().time;
}

void compare(const Stack& before, const Stack& after, EditChange& change) {
    for (const Move& was : before) {
        if (!isOn(before, was) || moveInfo(was.kind).role != MoveRole::Movement) continue;
        const auto is = std::find_if(after.begin(), after.end(), [&](const Move& m) { return m.id == was.id; });
        const bool stays = is != after.end() && isOn(after, *is);
        for (std::size_t c = 0; c < was.channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming}) {
                const Curve& curve = was.channels[c].side(side);
                if (wayOf(curve) < 1e-9) continue;
                const Curve now = stays && c < is->channels.size() ? is->channels[c].side(side) : Curve();
                change.travel = std::min(change.travel, wayOf(now) / wayOf(curve));
                change.length = std::min(change.length, lengthOf(now) / lengthOf(curve));
            }
    }
}

// How far the picture's points lie elsewhere in one frame, in widths; 0 where another clip is seen.
double movedIn(const FramePlan& before, const FramePlan& after, Size size) {
    double most = 0;
    for (const LayerPlan& was : before.layers) {
        const LayerPlan* is = layerOfClip(after, was.clip);
        if (!is || is->mediaId != was.mediaId) continue;
        const ScreenMap a = mapAt(was, double(before.frame), size), b = mapAt(*is, double(after.frame), size);
        if (!a.isVisible() || !b.isVisible()) continue;
        for (const Point& probe : probePointsOf(size))
            if (const double far = (b.toScreen(a.toSource(probe)) - probe).length() / size.width; std::isfinite(far))
                most = std::max(most, std::min(far, 1.0));
    }
    return most;
}

// The frames that may differ, [first, last] of the reel.
FrameSpan spanOf(const Project& before, const Project& after, const ReelIndex& index) {
    FrameSpan span{index.starts.back(), -1};
    const auto take = [&](std::int64_t from, std::int64_t to) {
        span.first = std::min(span.first, from), span.last = std::max(span.last, to);
    };
    for (int i = 0; i < int(before.reel.size()); ++i) {
        const Clip &was = before.reel[std::size_t(i)], &is = after.reel[std::size_t(i)];
        const std::int64_t at = index.starts[std::size_t(i)];
        if (was.drift != is.drift || was.placement != is.placement || was.crop != is.crop || was.fit != is.fit)
            take(at, at + was.length - 1);
        if (i == 0 || was.transition.moves == is.transition.moves) continue;
        for (const Project* p : {&before, &after}) {
            const FrameSpan moves = movingSpan(*p, i - 1);
            take(at + moves.first, at + moves.last);
        }
    }
    constexpr std::int64_t most = 2000;
    span.last = std::min(span.last, span.first + most - 1);
    return span;
}

} // namespace

EditChange changeBetween(const Project& before, const Project& after) {
    EditChange change;
    if (before.reel.size() != after.reel.size()) return change;
    for (std::size_t i = 0; i < before.reel.size(); ++i) {
        compare(before.reel[i].transition.moves, after.reel[i].transition.moves, change);
        compare(before.reel[i].drift, after.reel[i].drift, change);
    }
    const ReelIndex was = reelIndex(before), is = reelIndex(after);
    if (was.starts != is.starts) return change; // frames lie elsewhere: there is nothing to compare one by one
    const FrameSpan span = spanOf(before, after, was);
    double sum = 0;
    for (std::int64_t n = span.first; n <= span.last; ++n) {
        const double moved = movedIn(planFrame(before, was, n), planFrame(after, is, n), before.settings.size);
        if (moved < 1e-6) continue;
        sum += moved;
        ++change.frames;
    }
    if (change.frames > 0) change.seen = 100 * sum / change.frames;
    return change;
}

} // namespace virga
