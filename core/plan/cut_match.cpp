#include "core/plan/cut_match.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace virga {
namespace {

struct Influence { // of one channel's change over the frame, for a rate of 1
    std::size_t move, channel;
    Velocities flow;
    double size; // its largest velocity
};

// Points that are not on the screen have no say.
void leaveOutMissing(Velocities& v) {
    for (Point& p : v)
        if (!std::isfinite(p.length())) p = {0, 0};
}

// What changes a channel's rate: half of it lies before the frame's own time and half after it.
struct RateChanges {
    std::vector<Nudge> begin, end;
    void add(std::size_t stack, std::size_t move, std::size_t channel, double rate) {
        begin.push_back({stack, move, channel, -rate / 2});
        end.push_back({stack, move, channel, rate / 2});
    }
};

// By numerical differences, with the rates changed already by `base`.
std::vector<Influence> influences(const LayerPlan& layer, std::size_t stack, double time, Size frame,
                                  const RateChanges& base) {
    std::vector<Influence> all;
    const Stack& moves = layer.stacks[stack].stack;
    for (std::size_t m = 0; m < moves.size(); ++m) {
        const MoveInfo& info = moveInfo(moves[m].kind);
        // A shake goes by its own clock: nothing is carried on by it.
        if (!isOn(moves, moves[m]) || info.role != MoveRole::Movement || info.pattern) continue;
        for (std::size_t c = 0; c < info.channels.size(); ++c) {
            const double step = info.channels[c].quantity == Quantity::Angle ? 1e-2 : 1e-4;
            RateChanges more = base, less = base;
            more.add(stack, m, c, step);
            less.add(stack, m, c, -step);
            const Velocities forth = velocitiesAt(layer, time, frame, more.begin, more.end),
                             back = velocitiesAt(layer, time, frame, less.begin, less.end);
            Influence one{m, c, {}, 0};
            for (std::size_t i = 0; i < forth.size(); ++i) one.flow[i] = (forth[i] - back[i]) / (2 * step);
            leaveOutMissing(one.flow);
            for (const Point& v : one.flow) one.size = std::max(one.size, v.length());
            if (one.size > 1e-9) all.push_back(one);
        }
    }
    return all;
}

// The change of the rates that leaves the least of `missing` (least squares over all points), and of all such changes
// the smallest, each rate weighed by what it does on screen: the normal equations with a trace of damping (Levenberg
// 1944), solved by elimination. What cannot be met stays in `missing`: a path bends otherwise on the two sides of a
// cut.
std::vector<double> leastChange(const std::vector<Influence>& with, Velocities& missing) {
    const std::size_t n = with.size();
    std::vector<std::vector<double>> rows(n, std::vector<double>(n + 1, 0.0));
    for (std::size_t i = 0; i < n; ++i) {
        for (std::size_t p = 0; p < missing.size(); ++p) {
            for (std::size_t j = 0; j < n; ++j)
                rows[i][j] += with[i].flow[p].dot(with[j].flow[p]) / (with[i].size * with[j].size);
            rows[i][n] += with[i].flow[p].dot(missing[p]) / with[i].size;
        }
        rows[i][i] += 1e-9;
    }
    for (std::size_t k = 0; k < n; ++k) {
        std::size_t pivot = k;
        for (std::size_t i = k + 1; i < n; ++i)
            if (std::abs(rows[i][k]) > std::abs(rows[pivot][k])) pivot = i;
        std::swap(rows[k], rows[pivot]);
        if (std::abs(rows[k][k]) < 1e-300) continue;
        for (std::size_t i = 0; i < n; ++i) {
            if (i == k) continue;
            const double factor = rows[i][k] / rows[k][k];
            for (std::size_t j = k; j <= n; ++j) rows[i][j] -= factor * rows[k][j];
        }
    }
    std::vector<double> change(n, 0.0);
    for (std::size_t i = 0; i < n; ++i) {
        if (std::abs(rows[i][i]) > 1e-300) change[i] = rows[i][n] / rows[i][i] / with[i].size;
        for (std::size_t p = 0; p < missing.size(); ++p) missing[p] -= with[i].flow[p] * change[i];
    }
    return change;
}

double largest(const Velocities& flow) {
    double most = 0;
    for (const Point& v : flow) most = std::max(most, v.length());
    return most;
}

// What kind of move would make up for what is missing, by its parts about the middle of the frame.
std::string partsOf(const Velocities& missing, Size frame) {
    const auto points = probePointsOf(frame);
    Point middle(0, 0), across(0, 0);
    double grow = 0, turn = 0, weight = 0;
    for (const Point& v : missing) across += v / double(missing.size());
    for (const Point& p : points) middle += p / double(points.size());
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Point r = (points[i] - middle) / frame.width, v = missing[i] - across;
        grow += r.dot(v), turn += r.x * v.y - r.y * v.x, weight += r.dot(r);
    }
    std::string names;
    const auto name = [&](double amount, const char* what) {
        if (std::abs(amount) > 0.1 * largest(missing)) names += (names.empty() ? "" : " and ") + std::string(what);
    };
    name(grow / weight, "a zoom"), name(turn / weight, "a spin"), name(across.length(), "a slide");
    return names.empty() ? "another move" : names;
}

struct CutLayers {
    LayerPlan out, in;
    double at = 0; // the cut's reel frame
};

std::optional<CutLayers> layersAtCut(const Project& project, const ReelIndex& index, int cut) {
    if (!hasCut(project, cut)) return std::nullopt;
    const std::int64_t at = index.starts[std::size_t(cut) + 1];
    const FramePlan before = planFrame(project, index, at - 1), after = planFrame(project, index, at);
    CutLayers layers;
    layers.at = double(at);
    // A gap shows nothing, and stands still.
    if (const LayerPlan* layer = layerOfClip(before, cut)) layers.out = *layer;
    if (const LayerPlan* layer = layerOfClip(after, cut + 1)) layers.in = *layer;
    return layers;
}

} // namespace

CutVelocities velocitiesAtCut(const Project& project, int cut) {
    return velocitiesAtCut(project, reelIndex(project), cut);
}

CutVelocities velocitiesAtCut(const Project& project, const ReelIndex& index, int cut, const ShotMovements* shots) {
    CutVelocities cutVelocities;
    for (Velocities* v : {&cutVelocities.out, &cutVelocities.in, &cutVelocities.ownOut, &cutVelocities.ownIn})
        v->fill(Point(0, 0)); // Imath leaves them open
    const auto layers = layersAtCut(project, index, cut);
    if (!layers) return cutVelocities;
    const Size frame = project.settings.size;
    cutVelocities.out = velocitiesAt(layers->out, layers->at - 1, frame);
    cutVelocities.in = velocitiesAt(layers->in, layers->at, frame);
    if (shots) {
        const Clip &out = project.reel[std::size_t(cut)], &in = project.reel[std::size_t(cut) + 1];
        const OwnSteps before = ownStepsAt(project, out, double(out.length - 1), *shots),
                       after = ownStepsAt(project, in, 0, *shots);
        cutVelocities.ownKnown = before.known && after.known;
        cutVelocities.subjectOut = before.ofSubject, cutVelocities.subjectIn = after.ofSubject;
        cutVelocities.ownOut = ownVelocitiesAt(layers->out, layers->at - 1, frame, before);
        cutVelocities.ownIn = ownVelocitiesAt(layers->in, layers->at, frame, after);
        cutVelocities.out = velocitiesAt(layers->out, layers->at - 1, frame, before);
        cutVelocities.in = velocitiesAt(layers->in, layers->at, frame, after);
    }
    cutVelocities.speedOut = speedOf(cutVelocities.out);
    cutVelocities.speedIn = speedOf(cutVelocities.in);
    cutVelocities.difference = differenceOf(cutVelocities.out, cutVelocities.in);
    return cutVelocities;
}

Expected<std::vector<std::vector<double>>> matchingRates(const Project& project, int cut, const ShotMovements* shots) {
    const ReelIndex index = reelIndex(project);
    const auto layers = layersAtCut(project, index, cut);
    if (!layers) return fail(ErrorCode::BadInput, "there is no such cut");
    const Size frame = project.settings.size;
    const Stack& stack = transitionAt(project, cut).moves;
    Velocities wanted = velocitiesAt(layers->out, layers->at - 1, frame);
    if (shots) { // the moves have to do what the incoming shot does not
        const CutVelocities seen = velocitiesAtCut(project, index, cut, shots);
        const Velocities moves = velocitiesAt(layers->in, layers->at, frame);
        for (std::size_t p = 0; p < wanted.size(); ++p) wanted[p] = seen.out[p] - (seen.in[p] - moves[p]);
    }
    leaveOutMissing(wanted);
    const auto& stacks = layers->in.stacks;
    const auto own = std::find_if(stacks.begin(), stacks.end(), [&](const TimedStack& s) {
        return s.place == StackPlace(cut) && s.side == Side::Incoming;
    });
    std::vector<std::vector<double>> now(stack.size()), rates;
    for (std::size_t m = 0; m < stack.size(); ++m)
        for (const Channel& channel : stack[m].channels)
            now[m].push_back(changeOver(channel.incoming, 0, stack[m].ends()));
    const double whole = largest(wanted);
    if (own == stacks.end() && whole <= 1e-6) return now;
    // A path bends otherwise on the two sides of a cut, which no rate makes up for: so much may be left over.
    const double bent = 0.2 * whole + 1e-6;
    Velocities missing = wanted;
    std::optional<std::vector<std::vector<double>>> found;
    double left = bent;
    for (const bool all : {false, true}) {
        if (own == stacks.end()) break;
        const auto stackAt = std::size_t(own - stacks.begin());
        rates = now;
        // What is seen over a whole frame is not linear in the rates: Gauss's and Newton's method.
        for (int round = 0; round < 8; ++round) {
            RateChanges changes;
            for (std::size_t m = 0; m < stack.size(); ++m)
                for (std::size_t c = 0; c < rates[m].size(); ++c)
                    if (rates[m][c] != now[m][c]) changes.add(stackAt, m, c, rates[m][c] - now[m][c]);
            const auto incoming = influences(layers->in, stackAt, layers->at, frame, changes);
            Velocities have = velocitiesAt(layers->in, layers->at, frame, changes.begin, changes.end);
            leaveOutMissing(have);
            for (std::size_t p = 0; p < missing.size(); ++p) missing[p] = wanted[p] - have[p];
            if (round > 0 && largest(missing) < (found ? 0.7 : 1.0) * left) found = rates, left = largest(missing);
            if (left <= 1e-6 * whole) return *found;
            std::vector<Influence> with;
            for (const Influence& one : incoming) {
                const Channel& channel = stack[one.move].channels[one.channel];
                const double outgoing = changeOver(channel.outgoing, -1, stack[one.move].ends());
                if (round == 0) { // nearest to each channel's own outgoing rate
                    const double change = outgoing - rates[one.move][one.channel];
                    for (std::size_t p = 0; p < missing.size(); ++p) missing[p] -= one.flow[p] * change;
                    rates[one.move][one.channel] = outgoing;
                }
                if (all || outgoing != 0 || channel.incoming.keys.size() >= 2) with.push_back(one);
            }
            const auto change = leastChange(with, missing);
            for (std::size_t i = 0; i < with.size(); ++i) rates[with[i].move][with[i].channel] += change[i];
        }
        if (found && left < 0.15 * whole) return *found; // channels that stand still are left alone
    }
    if (found) return *found;
    return fail(ErrorCode::BadInput,
                fmt::format("the movement cannot carry on as a whole: {:.1f} % of the width per frame are left over",
                            100 * largest(missing)),
                {}, "add " + partsOf(missing, frame) + " to this cut, or match its lanes one by one");
}

} // namespace virga
