#include "core/edit/carry_on.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/backwards.h"
#include "core/curve/curve_edit.h"
#include "core/curve/matching.h"
#include "core/edit/reel_edits.h"
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
Expected<Project> withEntryRate(const Project& project, const CurveAddress& in, const EntryRate& rate,
                                bool keepValues) {
    const auto& info = channelInfoAt(project, in);
    const Ends ends = moveAt(project, in).ends();
    Curve curve = curveAt(project, in);
    if (curve.keys.size() < 2) {
        if (rate.frame == 0) return project;
        // Nothing moves in yet: start displaced against the movement, as far as that speed needs to settle, and end at
        // rest.
        const int frames = usualFrames(project, in.place, Side::Incoming);
        const double neutral = toSpace(info.neutral, curve.space);
        const double start = fromSpace(neutral - rate.frame * frames / 4, curve.space);
        curve = twoKeys(curve.space, 0, start, frames, info.neutral, arrivingShape());
        keepValues = false;
    }
    auto matched = keepValues ? matchedByFirstHandle(curve, rate, ends)
                              : matchedByFirstValue(curve, rate, info.lowest, info.highest, ends);
    if (!matched) return tl::unexpected(matched.error());
    return withCurve(project, in, *matched);
}

} // namespace

Expected<Project> withSpeedMatched(const Project& project, int cut, int move, int channel, bool keepValues) {
    const CurveAddress in{cut, move, channel, Side::Incoming}, out{cut, move, channel, Side::Outgoing};
    if (!hasCurve(project, in)) return project;
    return withEntryRate(project, in, changeOver(curveAt(project, out), -1, moveAt(project, out).ends()), keepValues);
}

namespace {

// Where values change, so does what each channel does on screen (a slide carries the centre of a zoom along, a spin
// turns it), and the rates are found anew until they stay. `part` is how far each round goes towards them.
Expected<Project> matchedInRounds(const Project& project, int cut, Match match, double part,
                                  const ShotMovements* shots) {
    const bool keepValues = match != Match::ByValue;
    const auto seenAt = [&](const Project& p) { return velocitiesAtCut(p, reelIndex(p), cut, shots); };
    const double speed = std::max(1e-3, seenAt(project).speedOut);
    const double enough = 1e-6 * speed, near = 0.2 * speed; // a path may bend otherwise on the two sides
    Project out = project, best = project;
    double left = 1e300;
    int idle = 0; // rounds without getting nearer
    for (int round = 0; round < int(30 / part) && idle < 4; ++round) {
        const Stack& moves = transitionAt(out, cut).moves;
        const auto rates = matchingRates(out, cut, shots);
        if (!rates) return tl::unexpected(rates.error());
        Project next = out;
        for (int m = 0; m < int(moves.size()); ++m)
            for (int c = 0; c < int(moves[std::size_t(m)].channels.size()); ++c) {
                const Move& move = moves[std::size_t(m)];
                const double now = changeOver(move.channels[std::size_t(c)].incoming, 0, move.ends()),
                             rate = now + part * ((*rates)[std::size_t(m)][std::size_t(c)] - now);
                EntryRate entry = rate;
                // The speed at the cut is to that over the frame as on the outgoing side.
                if (match == Match::Curves)
                    if (const Curve& from = move.channels[std::size_t(c)].outgoing;
                        std::abs(changeOver(from, -1, move.ends())) > 1e-9)
                        entry.momentary = rate * momentaryAtCut(from) / changeOver(from, -1, move.ends());
                if (std::abs(now - rate) <= 1e-10 && !entry.momentary) continue;
                const CurveAddress in{cut, m, c, Side::Incoming};
                auto matched = withEntryRate(next, in, entry, keepValues);
                // Where it goes the other way only another start value helps, and where the values leave so little way
                // that the speed would fall away at once.
                if (keepValues && !matched) matched = withEntryRate(next, in, entry, false);
                if (!matched) return matched;
                next = std::move(*matched);
            }
        out = std::move(next);
        const double now = seenAt(out).difference;
        idle = now < 0.98 * left ? 0 : idle + 1;
        if (now < left) left = now, best = out;
        if (left <= enough) return best;
    }
    if (left <= near) return best;
    return fail(
        ErrorCode::BadInput,
        fmt::format("the movement cannot carry on as a whole: the closest that was found leaves a step of {:.2g} "
                    "% of the width per frame",
                    seenAt(out).difference),
        {}, "match its lanes one by one, or make the incoming side longer");
}

} // namespace

namespace {

// The outgoing sides levelled over their last frame where that is within their ranges.
Project withLevelledAtCut(const Project& project, int cut) {
    constexpr double most = 1.1; // what a match can make up for without falling away behind the cut
    std::vector<std::pair<CurveAddress, Curve>> changed;
    const Stack& moves = transitionAt(project, cut).moves;
    for (int m = 0; m < int(moves.size()); ++m) {
        const Move& move = moves[std::size_t(m)];
        const MoveInfo& info = moveInfo(move.kind);
        if (info.role != MoveRole::Movement || info.pattern || !isOn(moves, move)) continue;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            const Curve& now = move.channels[std::size_t(c)].outgoing;
            const Curve levelled = levelledAtCut(now, most, move.ends());
            const ChannelInfo& channel = info.channels[std::size_t(c)];
            if (levelled == now || levelled.keys.back().value < channel.lowest ||
                levelled.keys.back().value > channel.highest)
                continue;
            changed.push_back({CurveAddress{cut, m, c, Side::Outgoing}, levelled});
        }
    }
    return changed.empty() ? project : withCurves(project, changed);
}

} // namespace

Expected<Project> withAllMatched(const Project& given, int cut, Match match, const ShotMovements* shots) {
    if (!hasCut(given, cut)) return given;
    const Project project = match == Match::Curves ? withLevelledAtCut(given, cut) : given;
    auto matched = matchedInRounds(project, cut, match, 1, shots);
    if (matched || !matchingRates(project, cut, shots)) return matched;
    for (const double part : {0.5, 0.2}) // slower, where the rounds did not come to rest
        if (auto other = matchedInRounds(project, cut, match, part, shots)) return other;
    return matched;
}

namespace {

tl::unexpected<Error> nothingMoves(const std::string& where) {
    return fail(ErrorCode::BadInput, "nothing moves on the " + where + " side", {}, "give it two keys");
}

// How long a side is: as its own keys, or as a new one would be.
double lengthOf(const Project& project, int cut, const Curve& curve, Side side) {
    const double there = curve.keys.size() < 2    ? 0
                         : side == Side::Outgoing ? -curve.keys.front().time
                                                  : curve.keys.back().time;
    return there > 0.5 ? there : usualFrames(project, cut, side);
}

// The incoming side of one channel as the mirror image of the outgoing one, or the other way round.
Expected<Curve> mirroredSide(const Project& project, int cut, const Move& move, int channel, Side side) {
    const Channel& both = move.channels[std::size_t(channel)];
    const ChannelInfo& info = moveInfo(move.kind).channels[std::size_t(channel)];
    if (side == Side::Incoming) {
        const Curve& now = both.incoming;
        const double rest = now.isEmpty() ? info.neutral : now.keys.back().value;
        return mirroredProfile(both.outgoing, lengthOf(project, cut, now, side), rest, move.ends());
    }
    const Curve& now = both.outgoing;
    const double rest = now.isEmpty() ? info.neutral : now.keys.front().value;
    const auto mirrored =
        mirroredProfile(backwards(both.incoming, -0.5), lengthOf(project, cut, now, side), rest, move.ends());
    if (!mirrored) return tl::unexpected(mirrored.error());
    return backwards(*mirrored, -0.5);
}

Expected<Project> withSideMirrored(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return project;
    const Stack& moves = transitionAt(project, cut).moves;
    const Side from = side == Side::Incoming ? Side::Outgoing : Side::Incoming;
    std::vector<std::pair<CurveAddress, Curve>> changed;
    for (int m = 0; m < int(moves.size()); ++m) {
        const Move& move = moves[std::size_t(m)];
        if (!isOn(moves, move) || moveInfo(move.kind).role != MoveRole::Movement || moveInfo(move.kind).pattern)
            continue;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            if (move.channels[std::size_t(c)].side(from).keys.size() < 2) continue;
            const auto mirrored = mirroredSide(project, cut, move, c, side);
            if (!mirrored) return tl::unexpected(mirrored.error());
            const ChannelInfo& info = moveInfo(move.kind).channels[std::size_t(c)];
            for (const Key& key : mirrored->keys)
                if (key.value < info.lowest || key.value > info.highest)
                    return fail(ErrorCode::BadInput,
                                fmt::format("{} would have to reach {}", info.label, spokenValue(key.value, info)), {},
                                "make that side shorter");
            changed.push_back({CurveAddress{cut, m, c, side}, *mirrored});
        }
    }
    if (changed.empty()) return nothingMoves(from == Side::Outgoing ? "outgoing" : "incoming");
    return withCurves(project, changed);
}

} // namespace

Expected<Project> withProfileMirrored(const Project& project, int cut, int move, int channel) {
    const CurveAddress in{cut, move, channel, Side::Incoming};
    if (!hasCurve(project, in)) return project;
    const auto mirrored = mirroredSide(project, cut, moveAt(project, in), channel, Side::Incoming);
    if (!mirrored) return tl::unexpected(mirrored.error());
    return withCurve(project, in, *mirrored);
}

Expected<Project> withAllMirrored(const Project& project, int cut) {
    return withSideMirrored(project, cut, Side::Incoming);
}

Expected<Project> withDepartureMade(const Project& project, int cut) {
    return withSideMirrored(project, cut, Side::Outgoing);
}

Expected<Project> withIncomingOverlapped(const Project& project, int cut) {
    if (!hasCut(project, cut)) return project;
    const Transition& transition = transitionAt(project, cut);
    double last = 0;
    for (const Move& move : transition.moves)
        for (const Channel& channel : move.channels)
            if (!channel.incoming.isEmpty()) last = std::max(last, channel.incoming.keys.back().time);
    const Clip& out = project.reel[std::size_t(cut)];
    const Clip& in = project.reel[std::size_t(cut) + 1];
    const auto wanted = std::min<std::int64_t>(std::int64_t(std::ceil(last)), in.length);
    const std::int64_t there = spareFrames(project, out).after;
    if (there < wanted)
        return fail(ErrorCode::BadInput,
                    fmt::format("the outgoing shot has {} spare frame{} after the cut, {} are needed", there,
                                there == 1 ? "" : "s", wanted),
                    {}, "make the incoming move shorter, or slip the outgoing shot");
    Project done = withOverlap(project, cut, {transition.overlap.before, wanted}, Side::Incoming);
    done.reel[std::size_t(cut) + 1].transition.alone = true; // what lies beneath is seen beside it
    return done;
}

} // namespace virga
