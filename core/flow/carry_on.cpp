#include "core/flow/carry_on.h"

#include <algorithm>
#include <cmath>

#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"
#include "core/flow/frame_facts.h"
#include "core/geom/coverage.h"

namespace virga {

Project withIncomingTurned(const Project& project, int cut, int move, int channel) {
    const CurveAddress at{cut, move, channel, Side::Incoming};
    if (!hasCurve(project, at)) return project;
    return withCurve(project, at, flipped(curveAt(project, at), channelInfoAt(project, at).neutral));
}

Expected<Project> withSpeedMatched(const Project& project, int cut, int move, int channel, bool keepValues) {
    const CurveAddress in{cut, move, channel, Side::Incoming}, out{cut, move, channel, Side::Outgoing};
    if (!hasCurve(project, in)) return project;
    const auto& info = channelInfoAt(project, in);
    const double speed = speedBefore(curveAt(project, out), 0);
    Curve curve = curveAt(project, in);
    if (curve.keys.size() < 2) {
        // Nothing moves in yet: start displaced against the movement, as far as that speed needs to settle, and end at
        // rest.
        const int frames = usualFrames(project, cut, Side::Incoming);
        const double neutral = toSpace(info.neutral, curve.space);
        const double start = fromSpace(neutral - speed * frames / 4, curve.space);
        curve = twoKeys(curve.space, 0, start, frames, info.neutral, arrivingShape());
        keepValues = false;
    }
    auto matched =
        keepValues ? matchedByFirstHandle(curve, speed) : matchedByFirstValue(curve, speed, info.lowest, info.highest);
    if (!matched) return tl::unexpected(matched.error());
    return withCurve(project, in, *matched);
}

Expected<Project> withAllMatched(const Project& project, int cut, bool keepValues) {
    Project out = project;
    if (cut < 0 || cut >= cutCount(project)) return out;
    const Stack& moves = transitionAt(project, cut).moves;
    for (int m = 0; m < int(moves.size()); ++m)
        for (int c = 0; c < int(moves[std::size_t(m)].channels.size()); ++c) {
            const Channel& channel = moves[std::size_t(m)].channels[std::size_t(c)];
            if (speedBefore(channel.outgoing, 0) == 0 && speedAfter(channel.incoming, 0) == 0) continue;
            auto matched = withSpeedMatched(out, cut, m, c, keepValues);
            if (!matched) return matched;
            out = std::move(*matched);
        }
    return out;
}

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
    if (cut < 0 || cut >= cutCount(project)) return out;
    for (const int i : {cut, cut + 1}) out.reel[std::size_t(i)].edges = edges;
    return out;
}

Project withLastKeysPastCut(const Project& project, int cut) {
    Project out = project;
    if (cut < 0 || cut >= cutCount(project)) return out;
    for (Move& move : out.reel[std::size_t(cut) + 1].transition.moves)
        for (Channel& channel : move.channels) {
            Curve& curve = channel.outgoing;
            if (curve.keys.size() >= 2 && curve.keys.back().time < 0 && curve.keys.back().time > -2)
                curve = withKeyMoved(curve, int(curve.keys.size()) - 1, 0, curve.keys.back().value);
        }
    return out;
}

std::optional<double> zoomThatCovers(const Project& project, int cut) {
    const FrameSpan span = movingSpan(project, cut);
    const std::int64_t at = cutFrame(project, cut);
    const Size size = project.settings.size;
    double most = 1;
    for (auto n = at + span.first; n <= at + span.last; ++n)
        for (const LayerPlan& layer : planFrame(project, n).layers)
            for (const double part : {0.0, 0.5, 1.0}) {
                if (layer.source.isEmpty() || layer.clip != clipAt(project, n)) continue;
                const auto k = coveringScale(mapAt(layer, layer.shutter.at(part), size), layer.source, size,
                                             {size.width / 2.0, size.height / 2.0});
                if (!k) return std::nullopt;
                most = std::max(most, *k);
            }
    return most;
}

Project withCoveringZoom(const Project& project, int cut, double factor) {
    Project out = withMoveAdded(project, cut, MoveKind::Zoom);
    if (out == project) return out;
    Move& move = out.reel[std::size_t(cut) + 1].transition.moves.back();
    const double rounded = std::ceil(factor * 100 - 1e-6) / 100;
    for (const Side side : {Side::Outgoing, Side::Incoming}) move.channels[0].side(side).keys = {Key{0, rounded}};
    return out;
}

} // namespace virga
