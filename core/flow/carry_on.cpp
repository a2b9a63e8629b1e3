#include "core/flow/carry_on.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"
#include "core/flow/frame_facts.h"
#include "core/geom/coverage.h"
#include "core/plan/cut_match.h"

namespace virga {

Project withIncomingTurned(const Project& project, int cut, int move, int channel) {
    const CurveAddress at{cut, move, channel, Side::Incoming};
    if (!hasCurve(project, at)) return project;
    return withCurve(project, at, flipped(curveAt(project, at), channelInfoAt(project, at).neutral));
}

namespace {

const Move& moveAt(const Project& project, const CurveAddress& at) {
    return (*stackAt(project, at.place))[std::size_t(at.move)];
}

// The incoming side of one channel given a rate over frame 0.
Expected<Project> withRate(const Project& project, const CurveAddress& in, double speed, bool keepValues) {
    const auto& info = channelInfoAt(project, in);
    const Ends ends = moveAt(project, in).ends();
    Curve curve = curveAt(project, in);
    if (curve.keys.size() < 2) {
        if (speed == 0) return project;
        // Nothing moves in yet: start displaced against the movement, as far as that speed needs to settle, and end at
        // rest.
        const int frames = usualFrames(project, in.place, Side::Incoming);
        const double neutral = toSpace(info.neutral, curve.space);
        const double start = fromSpace(neutral - speed * frames / 4, curve.space);
        curve = twoKeys(curve.space, 0, start, frames, info.neutral, arrivingShape());
        keepValues = false;
    }
    auto matched = keepValues ? matchedByFirstHandle(curve, speed, ends)
                              : matchedByFirstValue(curve, speed, info.lowest, info.highest, ends);
    if (!matched) return tl::unexpected(matched.error());
    return withCurve(project, in, *matched);
}

} // namespace

Expected<Project> withSpeedMatched(const Project& project, int cut, int move, int channel, bool keepValues) {
    const CurveAddress in{cut, move, channel, Side::Incoming}, out{cut, move, channel, Side::Outgoing};
    if (!hasCurve(project, in)) return project;
    return withRate(project, in, changeOver(curveAt(project, out), -1, moveAt(project, out).ends()), keepValues);
}

namespace {

// Where values change, so does what each channel does on screen (a slide carries the centre of a zoom along, a spin
// turns it), and the rates are found anew until they stay. `part` is how far each round goes towards them.
Expected<Project> matchedInRounds(const Project& project, int cut, bool keepValues, double part) {
    const double speed = std::max(1e-3, velocitiesAtCut(project, cut).speedOut);
    const double enough = 1e-6 * speed, near = 0.2 * speed; // a path may bend otherwise on the two sides
    Project out = project, best = project;
    double left = 1e300;
    int idle = 0; // rounds without getting nearer
    for (int round = 0; round < int(30 / part) && idle < 4; ++round) {
        const Stack& moves = transitionAt(out, cut).moves;
        const auto rates = matchingRates(out, cut);
        if (!rates) return tl::unexpected(rates.error());
        Project next = out;
        for (int m = 0; m < int(moves.size()); ++m)
            for (int c = 0; c < int(moves[std::size_t(m)].channels.size()); ++c) {
                const Move& move = moves[std::size_t(m)];
                const double now = changeOver(move.channels[std::size_t(c)].incoming, 0, move.ends()),
                             rate = now + part * ((*rates)[std::size_t(m)][std::size_t(c)] - now);
                if (std::abs(now - rate) <= 1e-10) continue;
                const CurveAddress in{cut, m, c, Side::Incoming};
                auto matched = withRate(next, in, rate, keepValues);
                // Where it goes the other way only another start value helps, and where the values leave so little way
                // that the speed would fall away at once.
                if (keepValues && !matched) matched = withRate(next, in, rate, false);
                if (!matched) return matched;
                next = std::move(*matched);
            }
        out = std::move(next);
        const double now = velocitiesAtCut(out, cut).difference;
        idle = now < 0.98 * left ? 0 : idle + 1;
        if (now < left) left = now, best = out;
        if (left <= enough) return best;
    }
    if (left <= near) return best;
    return fail(
        ErrorCode::BadInput,
        fmt::format("the movement cannot carry on as a whole: the closest that was found leaves a step of {:.2g} "
                    "% of the width per frame",
                    velocitiesAtCut(out, cut).difference),
        {}, "match its lanes one by one, or make the incoming side longer");
}

} // namespace

Expected<Project> withAllMatched(const Project& project, int cut, bool keepValues) {
    if (cut < 0 || cut >= cutCount(project)) return project;
    auto matched = matchedInRounds(project, cut, keepValues, 1);
    if (matched || !matchingRates(project, cut)) return matched;
    for (const double part : {0.5, 0.2}) // slower, where the rounds did not come to rest
        if (auto other = matchedInRounds(project, cut, keepValues, part)) return other;
    return matched;
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
            if (curve.keys.size() >= 2 && curve.keys.back().time < 0 && curve.keys.back().time > -2 &&
                (move.holds || curve.keys.back().time < -1))
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
