#include "core/flow/frame_facts.h"

#include <algorithm>
#include <cmath>

#include "core/geom/coverage.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

// Points that lie under the probe points at the middle time, followed from one time to another.
double blurLength(const LayerPlan& layer, double from, double middle, double to, Size size) {
    const ScreenMap a = movementAt(layer, from, size), m = movementAt(layer, middle, size),
                    b = movementAt(layer, to, size);
    if (!a.isVisible() || !m.isVisible() || !b.isVisible()) return 0;
    double most = 0;
    for (const Point& p : probePointsOf(size))
        if (const double length = (b.toScreen(m.toSource(p)) - a.toScreen(m.toSource(p))).length();
            std::isfinite(length))
            most = std::max(most, length);
    return 100 * most / size.width;
}

// What neither the frame nor its edge fill covers.
double bareShare(const ScreenMap& map, const LayerPlan& layer, Size output) {
    if (layer.edges.fill == EdgeFill::Empty) return uncoveredShare(map, layer.source, output);
    if (!layer.edges.isPeriodic() || layer.edges.copies <= 0 || !map.isVisible()) return 0;
    // Copies are the source's plane tiled: the same map, of a larger source.
    const int n = layer.edges.copies;
    const Size all{layer.source.width * (2 * n + 1), layer.source.height * (2 * n + 1)};
    return uncoveredShare(map.of(translation(-double(n) * layer.source.width, -double(n) * layer.source.height)), all,
                          output);
}

} // namespace

FrameFacts factsOf(const Project& project, std::int64_t reelFrame, std::int64_t cutAt) {
    return factsOf(project, reelIndex(project), reelFrame, cutAt);
}

FrameFacts factsOf(const Project& project, const ReelIndex& index, std::int64_t reelFrame, std::int64_t cutAt) {
    FrameFacts facts;
    facts.frame = reelFrame - cutAt;
    facts.side = facts.frame < 0 ? Side::Outgoing : Side::Incoming;
    const FramePlan plan = planFrame(project, index, reelFrame);
    if (plan.layers.empty()) return facts;
    // Of two overlapping shots, the one whose side this is.
    const auto after = std::upper_bound(index.starts.begin(), index.starts.end(), reelFrame);
    const int owner = after == index.starts.end() ? -1 : int(after - index.starts.begin()) - 1;
    const LayerPlan* own = layerOfClip(plan, owner);
    if (!own) return facts;
    const LayerPlan& layer = *own;
    const Size size = project.settings.size;
    const double n = double(reelFrame);
    facts.edges = layer.edges.fill;
    facts.speed = seenSpeed(layer, n, size);
    facts.blur = blurLength(layer, layer.shutter.open, layer.shutter.at(0.5), layer.shutter.close, size);
    if (!layer.source.isEmpty())
        for (const double part : {0.0, 0.25, 0.5, 0.75, 1.0}) {
            const ScreenMap map = mapAt(layer, layer.shutter.at(part), size);
            facts.uncovered = std::max(facts.uncovered, uncoveredShare(map, layer.source, size));
            facts.bare = std::max(facts.bare, bareShare(map, layer, size));
        }
    // Where the own edges end, what lies beneath or on top may still fill the frame.
    if (facts.bare > 0)
        for (const LayerPlan& other : plan.layers) {
            if (other.clip < 0 || other.clip == owner || other.opacity < 1 || other.source.isEmpty()) continue;
            double most = 0;
            for (const double part : {0.0, 0.5, 1.0})
                most = std::max(most, bareShare(mapAt(other, other.shutter.at(part), size), other, size));
            facts.bare = std::min(facts.bare, most);
        }
    if (facts.edges == EdgeFill::Empty) facts.uncovered = facts.bare;
    return facts;
}

FrameSpan movingSpan(const Project& project, int cut) {
    FrameSpan span;
    for (const Move& move : transitionAt(project, cut).moves)
        for (const Channel& channel : move.channels) {
            if (!channel.outgoing.isEmpty())
                span.first = std::min(span.first, std::int64_t(std::floor(channel.outgoing.keys.front().time)));
            if (!channel.incoming.isEmpty())
                span.last = std::max(span.last, std::int64_t(std::ceil(channel.incoming.keys.back().time)) - 1);
        }
    span.first = std::max(span.first, -project.reel[std::size_t(cut)].length);
    span.last = std::min(span.last, project.reel[std::size_t(cut) + 1].length - 1);
    // A key far away in a long shot asks for no end of frames: a minute on each side tells what happens at the cut.
    constexpr std::int64_t most = 1500;
    span.first = std::max(span.first, -most);
    span.last = std::min(span.last, most);
    return span;
}

} // namespace virga
