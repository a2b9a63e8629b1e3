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

// By numerical differences: half of the change lies before the frame's own time and half after it.
std::vector<Influence> influences(const LayerPlan& layer, std::size_t stack, double time, Size frame) {
    std::vector<Influence> all;
    const Stack& moves = layer.stacks[stack].stack;
    for (std::size_t m = 0; m < moves.size(); ++m) {
        const MoveInfo& info = moveInfo(moves[m].kind);
        if (!isOn(moves, moves[m]) || info.role != MoveRole::Movement) continue;
        for (std::size_t c = 0; c < info.channels.size(); ++c) {
            const double step = info.channels[c].quantity == Quantity::Angle ? 1e-2 : 1e-4;
            const Nudge less{stack, m, c, -step / 2}, more{stack, m, c, step / 2};
            const Velocities forth = velocitiesAt(layer, time, frame, &less, &more),
                             back = velocitiesAt(layer, time, frame, &more, &less);
            Influence one{m, c, {}, 0};
            for (std::size_t i = 0; i < forth.size(); ++i) one.flow[i] = (forth[i] - back[i]) / (2 * step);
            leaveOutMissing(one.flow);
            for (const Point& v : one.flow) one.size = std::max(one.size, v.length());
            if (one.size > 1e-9) all.push_back(one);
        }
    }
    return all;
}

double coordinate(const Velocities& flow, std::size_t row) {
    return row % 2 ? flow[row / 2].y : flow[row / 2].x;
}

// The least change of the rates, each weighed by what it does on screen, that adds `missing` to the flow: the rows of
// the system made orthogonal to each other (Gram and Schmidt). What cannot be met stays in `missing`.
std::vector<double> leastChange(const std::vector<Influence>& with, Velocities& missing) {
    std::vector<double> change(with.size(), 0.0);
    std::vector<std::vector<double>> basis;
    std::vector<double> along;
    for (std::size_t row = 0; row < 2 * missing.size(); ++row) {
        std::vector<double> v;
        for (const Influence& one : with) v.push_back(coordinate(one.flow, row) / one.size);
        double rest = coordinate(missing, row);
        for (int pass = 0; pass < 2; ++pass) // twice is enough (Giraud et al. 2005)
            for (std::size_t b = 0; b < basis.size(); ++b) {
                double dot = 0;
                for (std::size_t i = 0; i < v.size(); ++i) dot += v[i] * basis[b][i];
                for (std::size_t i = 0; i < v.size(); ++i) v[i] -= dot * basis[b][i];
                rest -= dot * along[b];
            }
        double length = 0;
        for (const double x : v) length += x * x;
        length = std::sqrt(length);
        if (length < 1e-7) continue;
        for (double& x : v) x /= length;
        basis.push_back(v);
        along.push_back(rest / length);
        for (std::size_t i = 0; i < v.size(); ++i) change[i] += along.back() * v[i];
    }
    for (std::size_t i = 0; i < with.size(); ++i) {
        change[i] /= with[i].size;
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

std::optional<CutLayers> layersAtCut(const Project& project, int cut) {
    if (cut < 0 || cut >= cutCount(project)) return std::nullopt;
    const ReelIndex index = reelIndex(project);
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
    CutVelocities cutVelocities;
    const auto layers = layersAtCut(project, cut);
    if (!layers) return cutVelocities;
    const Size frame = project.settings.size;
    cutVelocities.out = velocitiesAt(layers->out, layers->at - 1, frame);
    cutVelocities.in = velocitiesAt(layers->in, layers->at, frame);
    cutVelocities.speedOut = speedOf(cutVelocities.out);
    cutVelocities.speedIn = speedOf(cutVelocities.in);
    cutVelocities.difference = differenceOf(cutVelocities.out, cutVelocities.in);
    return cutVelocities;
}

Expected<std::vector<std::vector<double>>> matchingRates(const Project& project, int cut) {
    const auto layers = layersAtCut(project, cut);
    if (!layers) return fail(ErrorCode::BadInput, "there is no such cut");
    const Size frame = project.settings.size;
    const Stack& stack = transitionAt(project, cut).moves;
    Velocities wanted = velocitiesAt(layers->out, layers->at - 1, frame),
               have = velocitiesAt(layers->in, layers->at, frame);
    leaveOutMissing(wanted);
    leaveOutMissing(have);
    std::vector<Influence> incoming;
    for (std::size_t s = 0; s < layers->in.stacks.size(); ++s)
        if (layers->in.stacks[s].place == StackPlace(cut) && layers->in.stacks[s].side == Side::Incoming)
            incoming = influences(layers->in, s, layers->at, frame);
    std::vector<std::vector<double>> rates(stack.size());
    const auto rateIn = [&](const Influence& one) {
        return changeOver(stack[one.move].channels[one.channel].incoming, 0, stack[one.move].ends());
    };
    for (std::size_t m = 0; m < stack.size(); ++m)
        for (const Channel& channel : stack[m].channels)
            rates[m].push_back(changeOver(channel.incoming, 0, stack[m].ends()));
    const double enough = 1e-6 * std::max(largest(wanted), 1e-6);
    Velocities missing;
    for (const bool all : {false, true}) {
        std::vector<Influence> with;
        for (std::size_t p = 0; p < missing.size(); ++p) missing[p] = wanted[p] - have[p];
        for (const Influence& one : incoming) {
            const Channel& channel = stack[one.move].channels[one.channel];
            const double own = changeOver(channel.outgoing, -1, stack[one.move].ends());
            rates[one.move][one.channel] = own;
            for (std::size_t p = 0; p < missing.size(); ++p) missing[p] -= one.flow[p] * (own - rateIn(one));
            if (all || own != 0 || channel.incoming.keys.size() >= 2) with.push_back(one);
        }
        for (int pass = 0; pass < 3 && largest(missing) > enough; ++pass) {
            const auto change = leastChange(with, missing);
            for (std::size_t i = 0; i < with.size(); ++i) rates[with[i].move][with[i].channel] += change[i];
        }
        // What is seen of a curved path over a whole frame is not quite linear in the rates: a little may be left over,
        // and goes in the next round.
        if (largest(missing) <= 0.02 * largest(wanted) + enough) return rates;
    }
    return fail(ErrorCode::BadInput,
                fmt::format("the movement cannot carry on as a whole: {:.1f} % of the width per frame are left over",
                            100 * largest(missing)),
                {}, "add " + partsOf(missing, frame) + " to this cut, or match its lanes one by one");
}

} // namespace virga
