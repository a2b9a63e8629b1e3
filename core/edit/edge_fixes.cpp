#include "core/edit/edge_fixes.h"

#include <algorithm>
#include <cmath>

#include "core/edit/move_edits.h"
#include "core/plan/clip_facts.h"

namespace virga {

bool leavesBarsIn(const Project& project, const Clip& clip) {
    const Media* media = findMedia(project, clip.mediaId);
    if (!media || !media->bars) return false;
    const Crop &bars = *media->bars, &crop = clip.crop;
    const auto left = [](double bar, double cut) { return bar > cut + 0.003; }; // a third of a per cent is no bar
    return left(bars.left, crop.left) || left(bars.top, crop.top) || left(bars.right, crop.right) ||
           left(bars.bottom, crop.bottom);
}

Project withBarsCropped(const Project& project, const std::string& mediaId) {
    Project out = project;
    const Media* media = findMedia(project, mediaId);
    if (!media || !media->bars) return out;
    const auto change = [&, bars = *media->bars](Clip& clip) {
        if (clip.mediaId != mediaId) return;
        clip.crop = {std::max(clip.crop.left, bars.left), std::max(clip.crop.top, bars.top),
                     std::max(clip.crop.right, bars.right), std::max(clip.crop.bottom, bars.bottom)};
    };
    for (Clip& clip : out.reel) change(clip);
    for (Overlay& overlay : out.overlays) change(overlay.clip);
    return out;
}

Project withEdgesAt(const Project& project, int cut, EdgeFill edges) {
    Project out = project;
    if (!hasCut(project, cut)) return out;
    for (const int i : {cut, cut + 1}) out.reel[std::size_t(i)].edges = edges;
    return out;
}

namespace {

std::vector<SeenSource> seenAt(const Project& project, int cut) {
    const FrameSpan span = judgedAtCut(project, cut);
    const ReelIndex index = reelIndex(project);
    const std::int64_t at = index.starts[std::size_t(cut) + 1];
    return seenSources(project, index, at + span.first, at + span.last + 1, at);
}

bool enlarges(const Move& move) {
    const MoveInfo& info = moveInfo(move.kind);
    return info.role == MoveRole::Movement && !info.channels.empty() && info.channels[0].quantity == Quantity::Factor;
}

// A move that stands still, on top of a cut's stack.
Project withConstant(const Project& project, int cut, MoveKind kind, std::vector<double> values) {
    Project out = withMoveAdded(project, cut, kind);
    if (out == project) return out;
    Move& move = out.reel[std::size_t(cut) + 1].transition.moves.back();
    for (const Side side : {Side::Outgoing, Side::Incoming})
        for (std::size_t c = 0; c < values.size(); ++c)
            if (values[c] != moveInfo(kind).channels[c].neutral) move.channels[c].side(side).keys = {Key{0, values[c]}};
    return out;
}

} // namespace

std::optional<LeastZoom> zoomThatCovers(const Project& project, int cut) {
    if (!hasCut(project, cut)) return std::nullopt;
    const Size size = project.settings.size;
    return leastZoom(seenAt(project, cut), size, {size.width / 2.0, size.height / 2.0});
}

std::optional<LeastSlide> slideThatCovers(const Project& project, int cut) {
    if (!hasCut(project, cut)) return std::nullopt;
    return leastSlide(seenAt(project, cut), project.settings.size);
}

Project withCoveringZoom(const Project& project, int cut, double factor) {
    return withConstant(project, cut, MoveKind::Zoom, {std::ceil(factor * 100 - 1e-6) / 100});
}

Project withCoveringSlide(const Project& project, int cut, Point by) {
    const Size size = project.settings.size;
    return withConstant(project, cut, MoveKind::Slide, {by.x / size.width, by.y / size.height});
}

double enlargedByZooms(const Project& project, int clip, std::int64_t frame) {
    if (!hasClip(project, clip)) return 1;
    const Clip& c = project.reel[std::size_t(clip)];
    double factor = std::max(1.0, c.placement.scale);
    const auto see = [&](const Stack& moves, Side side, double time) {
        for (const Move& move : moves) {
            if (!enlarges(move)) continue;
            const Curve& curve = move.channels.front().side(side);
            if (!curve.keys.empty()) factor *= std::max(1.0, evaluate(curve, time));
        }
    };
    see(c.drift, Side::Incoming, double(frame));
    see(c.transition.moves, Side::Incoming, double(frame));
    if (clip + 1 < int(project.reel.size()))
        see(project.reel[std::size_t(clip) + 1].transition.moves, Side::Outgoing, double(frame - c.length));
    return factor;
}

Expected<Project> withZoomLimited(const Project& project, int clip, double factor) {
    if (!hasClip(project, clip) || factor >= 1) return project;
    Project out = project;
    Clip& c = out.reel[std::size_t(clip)];
    double left = std::log2(factor); // to be taken back, at the largest zooms first
    const auto takeBack = [&](Curve& curve) {
        double most = 0;
        for (const Key& key : curve.keys) most = std::max(most, std::log2(std::max(1e-6, key.value)));
        const double back = std::min(most, -left);
        if (back <= 0) return;
        for (Key& key : curve.keys) {
            const double now = std::log2(std::max(1e-6, key.value));
            if (now > 0) key.value = std::exp2(now * (most - back) / most);
            key.leave.rise *= (most - back) / most, key.arrive.rise *= (most - back) / most;
        }
        left += back;
    };
    if (c.placement.scale > 1) {
        const double back = std::min(std::log2(c.placement.scale), -left);
        c.placement.scale *= std::exp2(-back);
        left += back;
    }
    for (Move& move : c.drift)
        if (enlarges(move)) takeBack(move.channels.front().incoming);
    for (Move& move : c.transition.moves)
        if (enlarges(move) && left < 0) takeBack(move.channels.front().incoming);
    if (hasCut(out, clip))
        for (Move& move : out.reel[std::size_t(clip) + 1].transition.moves)
            if (enlarges(move) && left < 0) takeBack(move.channels.front().outgoing);
    if (left < -1e-6)
        return fail(ErrorCode::BadInput, "its zooms are not what enlarges this shot: it has too few pixels", {},
                    "take a larger file, or a smaller frame for the piece");
    return out;
}

Project withShutterOpened(const Project& project, int cut, double angle) {
    if (!hasCut(project, cut)) return project;
    Project out = project;
    Transition& transition = out.reel[std::size_t(cut) + 1].transition;
    Shutter shutter = transition.shutter.value_or(project.settings.shutter);
    shutter.angle = std::max(shutter.angle, angle);
    transition.shutter = shutter;
    return out;
}

namespace {

Point scaled(Point at, const ShotScale& scale) {
    return Point(0.5, 0.5) + (at - scale.about) * scale.factor;
}

void scaleShot(Clip& clip, const ShotScale& scale) {
    Placement& p = clip.placement;
    p.position = scaled(p.anchor + p.position, scale) - p.anchor;
    p.scale *= scale.factor;
}

// Where a shot's own middle lies in a frame, in fractions of the frame.
std::optional<Point> middleOf(const Project& project, const ReelIndex& index, int clip, std::int64_t reelFrame) {
    const FramePlan plan = planFrame(project, index, reelFrame);
    const LayerPlan* layer = layerOfClip(plan, clip);
    if (!layer) return std::nullopt;
    const Size size = project.settings.size;
    const ScreenMap map = mapAt(*layer, double(reelFrame), size);
    if (!map.isVisible()) return std::nullopt;
    const Point at = map.toScreen({layer->source.width / 2.0, layer->source.height / 2.0});
    if (!std::isfinite(at.length())) return std::nullopt;
    return Point(at.x / size.width, at.y / size.height);
}

} // namespace

Project withShotScaled(const Project& project, int clip, const ShotScale& scale) {
    Project out = project;
    if (clip >= 0 && clip < int(out.reel.size())) scaleShot(out.reel[std::size_t(clip)], scale);
    return out;
}

Project withBothShotsScaled(const Project& project, int cut, const ShotScale& scale) {
    Project out = project;
    if (!hasCut(project, cut)) return out;
    for (const int i : {cut, cut + 1}) scaleShot(out.reel[std::size_t(i)], scale);
    for (Move& move : out.reel[std::size_t(cut) + 1].transition.moves)
        if (!moveInfo(move.kind).anchor.empty()) move.anchor = scaled(move.anchor, scale);
    return out;
}

std::optional<ShotScale> scaleThatCovers(const Project& project, int clip, const std::vector<std::int64_t>& frames) {
    constexpr int most = 800; // hundredths
    if (clip < 0 || clip >= int(project.reel.size()) || frames.empty()) return std::nullopt;
    const ReelIndex index = reelIndex(project);
    const std::int64_t at = index.starts[std::size_t(clip)];
    std::optional<ShotScale> best;
    for (const std::optional<Point>& about :
         {std::optional(Point(0.5, 0.5)), middleOf(project, index, clip, at + frames.front())}) {
        if (!about) continue;
        const auto covered = [&](double factor) {
            const Project with = withShotScaled(project, clip, {factor, *about});
            return std::all_of(frames.begin(), frames.end(),
                               [&](std::int64_t n) { return factsOf(with, index, at + n).uncovered <= leastShare; });
        };
        // In whole hundredths.
        int low = 99, high = best ? int(std::lround(best->factor * 100)) - 1 : most;
        if (high < 100 || !covered(high / 100.0)) continue;
        while (high - low > 1) {
            const int middle = (low + high) / 2;
            (covered(middle / 100.0) ? high : low) = middle;
        }
        best = ShotScale{high / 100.0, *about};
    }
    return best;
}

} // namespace virga
