#include "core/plan/clip_facts.h"

#include <algorithm>
#include <cmath>

#include "core/geom/cover.h"
#include "core/geom/coverage.h"
#include "core/plan/copies_seen.h"
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

// Screen pixels for one of the source at the frame's middle: the square root of the map's area ratio there.
double magnification(const ScreenMap& map, Size size) {
    if (!map.isVisible()) return 0;
    const Point middle(size.width / 2.0, size.height / 2.0), a = map.toSource(middle),
                                                             x = map.toSource(middle + Point(1, 0)) - a,
                                                             y = map.toSource(middle + Point(0, 1)) - a;
    const double area = std::abs(x.x * y.y - x.y * y.x);
    return std::isfinite(area) && area > 1e-18 ? 1 / std::sqrt(area) : 0;
}

// Moments over an exposure: its ends, and as many between as its path asks for.
std::vector<double> momentsOf(const LayerPlan& layer, double blur) {
    const int parts = 4 + 2 * std::clamp(int(blur / 3), 0, 8);
    std::vector<double> times;
    for (int i = 0; i <= parts; ++i) times.push_back(layer.shutter.at(double(i) / parts));
    return times;
}

int ownerOf(const ReelIndex& index, std::int64_t reelFrame) {
    const auto after = std::upper_bound(index.starts.begin(), index.starts.end(), reelFrame);
    return after == index.starts.end() ? -1 : int(after - index.starts.begin()) - 1;
}

} // namespace

// Where a clip's picture may change from frame to frame, counted from its first one.
struct Busy {
    std::vector<std::pair<std::int64_t, std::int64_t>> spans; // [from, to)
    std::int64_t length = 0;

    void add(double from, double to) {
        const auto a = std::int64_t(std::floor(std::clamp(from, -2.0, double(length)))),
                   b = std::int64_t(std::ceil(std::clamp(to, -2.0, double(length))));
        if (b > 0 && a < length && b > a) spans.push_back({std::max<std::int64_t>(a, 0), b});
    }
    void add(const Stack& stack, Side side, std::int64_t origin) {
        for (const Move& move : stack) {
            if (moveInfo(move.kind).pattern && movesOn(move, side) && isOn(stack, move)) add(0, double(length));
            for (const Channel& channel : move.channels)
                if (const auto& keys = channel.side(side).keys; keys.size() > 1)
                    add(double(origin) + keys.front().time - 1, double(origin) + keys.back().time + 2);
        }
    }
    // The first frame from `n` on that is not in a span, and whether `n` is in one.
    void merge() {
        std::sort(spans.begin(), spans.end());
        std::vector<std::pair<std::int64_t, std::int64_t>> merged;
        for (const auto& span : spans)
            if (!merged.empty() && span.first <= merged.back().second)
                merged.back().second = std::max(merged.back().second, span.second);
            else
                merged.push_back(span);
        spans = std::move(merged);
    }
};

namespace {

// What adjustments change of frames [at, at + length).
void addAdjustments(Busy& busy, const Project& project, std::int64_t at, std::int64_t length) {
    for (const Adjustment& a : project.adjustments) {
        busy.add(double(a.start - at) - 1, double(a.start - at) + 1);
        busy.add(double(a.end() - at) - 1, double(a.end() - at) + 1);
        if (a.end() <= at || a.start >= at + length) continue;
        busy.add(a.moves, Side::Incoming, a.start - at);
        busy.add(a.moves, Side::Outgoing, a.end() - at);
    }
}

Busy busyOf(const Project& project, const ReelIndex& index, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const std::int64_t at = index.starts[std::size_t(clip)];
    Busy busy;
    busy.length = c.length;
    busy.add(c.drift, Side::Incoming, 0);
    const auto around = [&](int cut) {
        if (!hasCut(project, cut)) return;
        const Transition& t = transitionAt(project, cut);
        const std::int64_t origin = index.starts[std::size_t(cut) + 1] - at;
        for (const Side side : {Side::Outgoing, Side::Incoming}) busy.add(t.moves, side, origin);
        if (!t.overlap.isEmpty()) busy.add(double(origin - t.overlap.before) - 1, double(origin + t.overlap.after) + 1);
    };
    around(clip - 1), around(clip);
    addAdjustments(busy, project, at, c.length);
    busy.add(double(c.length) / 2 - 2, double(c.length) / 2 + 2); // the shutter may be another in its second half
    busy.merge();
    return busy;
}

bool isShakenBy(const Stack& stack, Side side) {
    return std::any_of(stack.begin(), stack.end(), [&](const Move& move) {
        return moveInfo(move.kind).pattern && movesOn(move, side) && isOn(stack, move);
    });
}

// The facts of one layer by itself.
FrameFacts factsOfLayer(const Project& project, const LayerPlan& layer, std::int64_t reelFrame) {
    FrameFacts facts;
    const Size size = project.settings.size;
    facts.edges = layer.edges.fill;
    facts.open = layer.shutter.close - layer.shutter.open;
    facts.speed = seenSpeed(layer, double(reelFrame), size);
    facts.blur = blurLength(layer, layer.shutter.open, layer.shutter.at(0.5), layer.shutter.close, size);
    if (layer.source.isEmpty()) return facts;
    facts.magnified = magnification(mapAt(layer, double(reelFrame), size), size);
    std::vector<double> times = momentsOf(layer, facts.blur);
    if (facts.blur < 1e-9) times = {layer.shutter.at(0.5)};
    for (const double time : times) {
        const ScreenMap map = mapAt(layer, time, size);
        if (covers(map, layer.source, size)) continue; // the cheap answer, most of the time
        facts.uncovered = std::max(facts.uncovered, uncoveredShare(map, layer.source, size));
        facts.bare = std::max(facts.bare, bareShare(map, layer, size));
    }
    return facts;
}

void addSeenTwice(FrameFacts& facts, const LayerPlan& layer, const Project& project) {
    if (facts.edges == EdgeFill::Empty) facts.uncovered = facts.bare;
    if (const FlowLimits& limits = project.settings.flow; facts.uncovered >= limits.copies)
        facts.seenTwice = shareSeenTwice(layer, limits.copyBlur, project.settings.size);
}

} // namespace

FrameFacts factsOf(const Project& project, std::int64_t reelFrame) {
    return factsOf(project, reelIndex(project), reelFrame);
}

FrameFacts factsOf(const Project& project, const ReelIndex& index, std::int64_t reelFrame) {
    FrameFacts facts;
    const FramePlan plan = planFrame(project, index, reelFrame);
    // Of two overlapping shots, the one whose side this is.
    const int owner = ownerOf(index, reelFrame);
    const LayerPlan* own = layerOfClip(plan, owner);
    if (!own) return facts;
    const LayerPlan& layer = *own;
    const Size size = project.settings.size;
    facts = factsOfLayer(project, layer, reelFrame);
    // Where the own edges end, what lies beneath or on top may still fill the frame.
    if (facts.bare > 0)
        for (const LayerPlan& other : plan.layers) {
            if (other.clip < 0 || other.clip == owner || other.opacity < 1 || other.source.isEmpty()) continue;
            double most = 0;
            for (const double part : {0.0, 0.5, 1.0})
                most = std::max(most, bareShare(mapAt(other, other.shutter.at(part), size), other, size));
            facts.bare = std::min(facts.bare, most);
        }
    addSeenTwice(facts, layer, project);
    return facts;
}

ClipFacts::ClipFacts(const Project& project, const ReelIndex& index, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const std::int64_t at = index.starts[std::size_t(clip)];
    m_length = c.length;
    m_shaken = isShakenBy(c.drift, Side::Incoming) || (clip > 0 && isShakenBy(c.transition.moves, Side::Incoming)) ||
               (clip + 1 < int(project.reel.size()) && isShakenBy(transitionAt(project, clip).moves, Side::Outgoing));
    measure(project, busyOf(project, index, clip),
            [&](std::int64_t frame) { return factsOf(project, index, at + frame); });
}

ClipFacts ClipFacts::ofOverlay(const Project& project, const ReelIndex& index, int overlay) {
    const Overlay& o = project.overlays[std::size_t(overlay)];
    ClipFacts facts;
    facts.m_length = o.clip.length;
    Busy busy;
    busy.length = o.clip.length;
    busy.add(o.clip.drift, Side::Incoming, 0);
    busy.add(o.clip.transition.moves, Side::Incoming, 0);
    busy.add(o.clip.transition.moves, Side::Outgoing, o.clip.length);
    busy.merge();
    facts.measure(project, busy, [&](std::int64_t frame) {
        const FramePlan plan = planFrame(project, index, o.start + frame);
        for (const LayerPlan& layer : plan.layers) {
            if (layer.overlay != overlay) continue;
            FrameFacts at = factsOfLayer(project, layer, o.start + frame);
            addSeenTwice(at, layer, project);
            return at;
        }
        return FrameFacts();
    });
    return facts;
}

void ClipFacts::measure(const Project& project, const Busy& busy, const std::function<FrameFacts(std::int64_t)>& at) {
    const auto add = [&](std::int64_t frame) {
        if (m_runs.size() >= mostRuns) return;
        const FrameFacts facts = at(frame);
        m_fastest = std::max(m_fastest, facts.speed);
        if (m_runs.empty() || !(m_runs.back().facts == facts)) m_runs.push_back({frame, facts});
    };
    std::int64_t next = 0;
    for (const auto& [from, to] : busy.spans) {
        if (next < from) add(next);
        for (std::int64_t n = from; n < to && m_runs.size() < mostRuns; ++n) add(n);
        next = to;
    }
    if (next < m_length) add(next);
    m_slowest = m_runs.empty() ? 0 : 1e300;
    for (std::size_t i = 0; i < m_runs.size(); ++i) {
        m_slowest = std::min(m_slowest, m_runs[i].facts.speed);
        if (m_runs[i].facts.speed < project.settings.flow.still) continue;
        if (m_firstMoving < 0) m_firstMoving = m_runs[i].first;
        m_lastMoving = (i + 1 < m_runs.size() ? m_runs[i + 1].first : m_length) - 1;
    }
}

const FrameFacts& ClipFacts::at(std::int64_t frame) const {
    static const FrameFacts nothing;
    if (frame < 0 || frame >= m_length || m_runs.empty()) return nothing;
    const auto after = std::upper_bound(m_runs.begin(), m_runs.end(), frame,
                                        [](std::int64_t n, const Run& run) { return n < run.first; });
    return after == m_runs.begin() ? nothing : (after - 1)->facts;
}

bool showsCopies(const Project& project, const FrameFacts& f) {
    return f.edges != EdgeFill::Empty && f.uncovered > 0 && f.uncovered >= project.settings.flow.copies;
}

CutShowing showingAtCut(const Project& project, int cut) {
    CutShowing showing;
    const FrameSpan span = judgedAtCut(project, cut);
    const ReelIndex index = reelIndex(project);
    const std::int64_t at = index.starts[std::size_t(cut) + 1];
    for (std::int64_t n = span.first; n <= span.last; ++n) {
        const FrameFacts f = factsOf(project, index, at + n);
        showing.fastest = std::max(showing.fastest, f.speed);
        showing.copies += showsCopies(project, f);
    }
    return showing;
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

FrameSpan judgedAtCut(const Project& project, int cut) {
    FrameSpan span = movingSpan(project, cut);
    span.first = std::max(span.first - 1, -project.reel[std::size_t(cut)].length);
    span.last = std::min(span.last + 1, project.reel[std::size_t(cut) + 1].length - 1);
    return span;
}

std::vector<SeenSource> seenSources(const Project& project, const ReelIndex& index, std::int64_t from, std::int64_t to,
                                    std::int64_t origin) {
    std::vector<SeenSource> seen;
    const Size size = project.settings.size;
    for (std::int64_t n = from; n < to; ++n) {
        const FramePlan plan = planFrame(project, index, n);
        const LayerPlan* layer = layerOfClip(plan, ownerOf(index, n));
        if (!layer || layer->source.isEmpty()) continue;
        const double blur = blurLength(*layer, layer->shutter.open, layer->shutter.at(0.5), layer->shutter.close, size);
        for (const double time : momentsOf(*layer, blur))
            seen.push_back({mapAt(*layer, time, size), layer->source, n - origin});
    }
    return seen;
}

} // namespace virga
