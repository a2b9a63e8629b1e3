#include "core/motion/stack_match.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/motion/stack_map.h"

namespace virga {
namespace {

double rateOf(const Channel& channel, Side side) {
    return side == Side::Outgoing ? speedBefore(channel.outgoing, 0) : speedAfter(channel.incoming, 0);
}

// m^-1 dm of a move's matrix m for a rate of 1 of one channel: a point p on screen then moves by p times it.
Matrix generator(const Move& move, int channel, Side side, Size frame) {
    const Matrix none(0, 0, 0, 0, 0, 0, 0, 0, 0);
    Matrix g = none;
    switch (move.kind) {
    case MoveKind::Zoom: {
        const Curve& curve = move.channels[0].side(side);
        const double q =
            spaceOf(move, 0) == Space::Log2 ? std::numbers::ln2 : 1 / std::max(1e-9, evaluate(curve, 0, 1));
        g[0][0] = g[1][1] = q;
        break;
    }
    case MoveKind::Spin:
        g = rotation(90);
        g[2][2] = 0;
        g *= std::numbers::pi / 180;
        break;
    case MoveKind::Slide:
        g[2][channel] = channel == 0 ? frame.width : frame.height;
        return g;
    case MoveKind::Fade:
    case MoveKind::Unknown:
        return none;
    }
    const double ax = move.anchor.x * frame.width, ay = move.anchor.y * frame.height;
    return translation(-ax, -ay) * g * translation(ax, ay);
}

ScreenFlow flowOf(const Matrix& g, Size frame) {
    ScreenFlow flow;
    const auto points = probePointsOf(frame);
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Point p = points[i];
        const auto part = [&](int c) { return p.x * g[0][c] + p.y * g[1][c] + g[2][c]; };
        flow[i] = Point(part(0) - p.x * part(2), part(1) - p.y * part(2)) / frame.width;
    }
    return flow;
}

struct Influence { // of one channel at a rate of 1
    std::size_t move, channel;
    ScreenFlow flow;
    double size; // its largest velocity
};

std::vector<Influence> influences(const Stack& stack, Side side, Size frame) {
    std::vector<Influence> all;
    for (std::size_t m = 0; m < stack.size(); ++m) {
        if (!isOn(stack, stack[m])) continue;
        Matrix outer;
        for (std::size_t k = m + 1; k < stack.size(); ++k)
            if (isOn(stack, stack[k])) outer = then(outer, moveMatrix(stack[k], side, 0, frame));
        const auto back = inverseOf(outer);
        if (!back) continue;
        for (std::size_t c = 0; c < moveInfo(stack[m].kind).channels.size(); ++c) {
            Influence one{m, c, flowOf(*back * generator(stack[m], int(c), side, frame) * outer, frame), 0};
            for (const Point& v : one.flow) one.size = std::max(one.size, v.length());
            if (one.size > 1e-12) all.push_back(one);
        }
    }
    return all;
}

ScreenFlow sumOf(const std::vector<Influence>& all, const Stack& stack, Side side) {
    ScreenFlow sum;
    sum.fill(Point(0, 0));
    for (const Influence& one : all)
        for (std::size_t i = 0; i < sum.size(); ++i)
            sum[i] += one.flow[i] * rateOf(stack[one.move].channels[one.channel], side);
    return sum;
}

double coordinate(const ScreenFlow& flow, std::size_t row) {
    return row % 2 ? flow[row / 2].y : flow[row / 2].x;
}

// The least change of the rates, each weighed by what it does on screen, that adds `missing` to the flow: the rows of
// the system made orthogonal to each other (Gram and Schmidt). What cannot be met stays in `missing`.
std::vector<double> leastChange(const std::vector<Influence>& with, ScreenFlow& missing) {
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

double largest(const ScreenFlow& flow) {
    double most = 0;
    for (const Point& v : flow) most = std::max(most, v.length());
    return most;
}

// What kind of move would make up for what is missing, by its parts about the middle of the frame.
std::string partsOf(const ScreenFlow& missing, Size frame) {
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

} // namespace

ScreenFlow screenFlowAtCut(const Stack& stack, Side side, Size frame) {
    return sumOf(influences(stack, side, frame), stack, side);
}

double velocityStep(const Stack& stack, Size frame) {
    const ScreenFlow out = screenFlowAtCut(stack, Side::Outgoing, frame),
                     in = screenFlowAtCut(stack, Side::Incoming, frame);
    double most = 0;
    for (std::size_t i = 0; i < out.size(); ++i) most = std::max(most, (out[i] - in[i]).length());
    return 100 * most;
}

Expected<std::vector<std::vector<double>>> matchingRates(const Stack& stack, Size frame) {
    const auto outgoing = influences(stack, Side::Outgoing, frame), incoming = influences(stack, Side::Incoming, frame);
    const ScreenFlow wanted = sumOf(outgoing, stack, Side::Outgoing);
    std::vector<std::vector<double>> rates(stack.size());
    for (std::size_t m = 0; m < stack.size(); ++m)
        for (const Channel& channel : stack[m].channels) rates[m].push_back(rateOf(channel, Side::Incoming));
    const double enough = 1e-9 * std::max(largest(wanted), 1e-6);
    ScreenFlow missing = wanted;
    for (const bool all : {false, true}) {
        std::vector<Influence> with;
        missing = wanted;
        for (const Influence& one : incoming) {
            const Channel& channel = stack[one.move].channels[one.channel];
            const double own = rateOf(channel, Side::Outgoing);
            rates[one.move][one.channel] = own;
            for (std::size_t p = 0; p < missing.size(); ++p) missing[p] -= one.flow[p] * own;
            if (all || own != 0 || channel.incoming.keys.size() >= 2) with.push_back(one);
        }
        for (int pass = 0; pass < 3 && largest(missing) > enough; ++pass) {
            const auto change = leastChange(with, missing);
            for (std::size_t i = 0; i < with.size(); ++i) rates[with[i].move][with[i].channel] += change[i];
        }
        if (largest(missing) <= enough) return rates;
    }
    return fail(ErrorCode::BadInput,
                fmt::format("the movement cannot carry on as a whole: {:.1f} % of the width per frame are left over",
                            100 * largest(missing)),
                {}, "add " + partsOf(missing, frame) + " to this cut, or match its lanes one by one");
}

} // namespace virga
