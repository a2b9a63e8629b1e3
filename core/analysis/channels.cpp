#include "core/analysis/channels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <numbers>
#include <utility>

#include "core/motion/stack_map.h"

namespace virga {
namespace {

using Complex = std::complex<double>;

constexpr double leastSlide = 0.006;    // widths
constexpr double leastZoom = 0.014;     // doublings: 1 %
constexpr double leastTurn = 0.6;       // degrees
constexpr double noticeable = 5;        // times the error
constexpr double anchorExplains = 0.12; // of the slides may be left by a turning point
constexpr double farthestAnchor = 0.75; // widths from the centre

Size frameOf(Size size) {
    return {1600, std::max(1, int(std::lround(1600 / size.aspect())))};
}

// Frame pixels to widths from the centre.
Matrix toWidths(Size frame) {
    return then(translation(-frame.width / 2.0, -frame.height / 2.0), scaling(1.0 / frame.width, 1.0 / frame.width));
}

Stack tiltStack() {
    return {makeMove(MoveKind::Tilt, "t"), makeMove(MoveKind::Zoom, "z"), makeMove(MoveKind::Spin, "s"),
            makeMove(MoveKind::Slide, "l")};
}

Matrix mapOfParts(const Stack& stack, const MapParts& p, Size frame) {
    const StackValues values{{p.tilt, p.swivel}, {p.zoom, 0}, {p.spin, 0}, {p.slideX, p.slideY}};
    const Matrix widths = toWidths(frame);
    const ScreenMap map = stackMap(ScreenMap(), stack, values, Moment(0), frame);
    return then(then(*inverseOf(widths), map.matrix()), widths);
}

std::array<Point, 9> probes(Size size) {
    std::array<Point, 9> at;
    std::size_t n = 0;
    for (const double x : {-0.5, 0.0, 0.5})
        for (const double y : {-0.5, 0.0, 0.5}) at[n++] = {x, y / size.aspect()};
    return at;
}

} // namespace

Matrix widthsMap(const Stack& stack, Side side, double time, double frame, FrameRate rate, Size size) {
    const Size pixels = frameOf(size);
    const ScreenMap map = stackMap(ScreenMap(), stack, side, Moment(time, frame, rate.toDouble()), pixels);
    if (map.hasLens()) return {};
    const Matrix widths = toWidths(pixels);
    return then(then(*inverseOf(widths), map.matrix()), widths);
}

Point turningPoint(const Trace& trace) {
    // Of z' = w z + b, about c with a slide s: b = (1 - w) c + s.
    Complex with;
    double square = 0, all = 0, most = 0;
    std::vector<std::pair<Complex, Complex>> maps;
    for (const TracedSide* side : {&trace.out, &trace.in}) {
        if (!side->moves || side->perspective) continue;
        for (const TracedFrame& f : side->frames) {
            const TurnZoomSlide p = partsOf(f.map);
            const Complex w = std::polar(p.zoom, p.degrees * std::numbers::pi / 180), b(p.slide.x, p.slide.y);
            maps.emplace_back(w, b);
            with += std::conj(1.0 - w) * b;
            square += std::norm(1.0 - w);
            all += std::norm(b);
            most = std::max(most, std::abs(b));
        }
    }
    if (square < 1e-4 || most < leastSlide) return {0, 0};
    const Complex c = with / square;
    double left = 0;
    for (const auto& [w, b] : maps) left += std::norm(b - (1.0 - w) * c);
    if (left > anchorExplains * anchorExplains * all || std::abs(c) > farthestAnchor || std::abs(c) < 0.005)
        return {0, 0};
    return {c.real(), c.imag()};
}

MapParts mapParts(const Matrix& map, Point anchor, Size size, bool perspective, const MapParts& near) {
    const Size frame = frameOf(size);
    const Point c{anchor.x - 0.5, (anchor.y - 0.5) / size.aspect()}; // in widths from the centre
    MapParts parts;
    if (!perspective) {
        const TurnZoomSlide p = partsOf(map);
        parts.zoom = p.zoom;
        parts.spin = near.spin + std::remainder(p.degrees - near.spin, 360);
        const Point moved = through(map, c) - c;
        parts.slideX = moved.x;
        parts.slideY = moved.y * size.aspect();
        return parts;
    }
    // By Newton's method with differences, from the values beside it, so that the nine points land where they were
    // seen.
    Stack stack = tiltStack();
    for (Move& move : stack) move.anchor = anchor;
    const auto at = probes(size);
    std::array<double, 6> p{std::log2(near.zoom), near.spin / 60, near.slideX,
                            near.slideY,          near.tilt / 60, near.swivel / 60};
    const auto partsFrom = [](const std::array<double, 6>& q) {
        return MapParts{std::exp2(q[0]), q[1] * 60, q[2], q[3], q[4] * 60, q[5] * 60};
    };
    const auto missesOf = [&](const std::array<double, 6>& q) {
        const Matrix m = mapOfParts(stack, partsFrom(q), frame);
        std::array<double, 18> miss{};
        for (std::size_t i = 0; i < 9; ++i) {
            const Point d = through(m, at[i]) - through(map, at[i]);
            miss[2 * i] = std::isfinite(d.x) ? d.x : 1;
            miss[2 * i + 1] = std::isfinite(d.y) ? d.y : 1;
        }
        return miss;
    };
    const auto cost = [](const std::array<double, 18>& m) {
        double sum = 0;
        for (const double v : m) sum += v * v;
        return sum;
    };
    double damping = 1e-4, now = cost(missesOf(p));
    for (int round = 0; round < 40; ++round) {
        const auto miss = missesOf(p);
        std::array<std::array<double, 18>, 6> d;
        for (std::size_t k = 0; k < 6; ++k) {
            auto q = p;
            q[k] += 1e-5;
            const auto other = missesOf(q);
            for (std::size_t i = 0; i < 18; ++i) d[k][i] = (other[i] - miss[i]) / 1e-5;
        }
        std::array<std::array<double, 7>, 6> a{};
        for (std::size_t k = 0; k < 6; ++k) {
            for (std::size_t l = 0; l < 6; ++l)
                for (std::size_t i = 0; i < 18; ++i) a[k][l] += d[k][i] * d[l][i];
            for (std::size_t i = 0; i < 18; ++i) a[k][6] -= d[k][i] * miss[i];
            a[k][k] += damping;
        }
        for (std::size_t i = 0; i < 6; ++i)
            for (std::size_t r = 0; r < 6; ++r) {
                if (r == i || a[i][i] == 0) continue;
                const double f = a[r][i] / a[i][i];
                for (std::size_t k = i; k < 7; ++k) a[r][k] -= f * a[i][k];
            }
        auto next = p;
        for (std::size_t k = 0; k < 6; ++k) next[k] += a[k][k] != 0 ? a[k][6] / a[k][k] : 0;
        const double then = cost(missesOf(next));
        if (then < now) {
            const bool done = now - then < 1e-16;
            p = next, now = then, damping /= 4;
            if (done) break;
        } else if ((damping *= 10) > 1e3) {
            break;
        }
    }
    return partsFrom(p);
}

namespace {

// What only slides is added up from step to step. A zoom that was misread in one step would else move all that was far
// from the middle by then.
void slideAlone(TracedSide& side, std::vector<MapParts>& parts, double aspect) {
    const auto n = std::ptrdiff_t(side.frames.size());
    const std::ptrdiff_t by = side.side == Side::Outgoing ? 1 : -1;
    Point at(0, 0);
    Matrix before;
    for (std::ptrdiff_t i = by > 0 ? 0 : n - 1; i >= 0 && i < n; i += by) {
        Matrix& map = side.frames[std::size_t(i)].map;
        at += through(then(inverseOf(before).value_or(Matrix()), map), {0, 0});
        before = std::exchange(map, matrixOf({1, 0, at}));
        parts[std::size_t(i)].slideX = at.x;
        parts[std::size_t(i)].slideY = at.y * aspect;
    }
}

} // namespace

void findChannels(Trace& trace, TracedSide& side) {
    side.channels.clear();
    if (!side.moves) return;
    struct Course {
        MoveKind kind;
        int channel;
        double least;
        double MapParts::*part;
        double perError; // what an error of a width at the edge makes of it, in its space
    };
    const double perLog = 2 / std::numbers::ln2, perDegree = 2 * 180 / std::numbers::pi;
    const std::vector<Course> courses{
        {MoveKind::Tilt, 0, 1.5, &MapParts::tilt, 2 * perDegree},
        {MoveKind::Tilt, 1, 1.5, &MapParts::swivel, 2 * perDegree},
        {MoveKind::Zoom, 0, leastZoom, &MapParts::zoom, perLog},
        {MoveKind::Spin, 0, leastTurn, &MapParts::spin, perDegree},
        {MoveKind::Slide, 0, leastSlide, &MapParts::slideX, 1},
        {MoveKind::Slide, 1, leastSlide, &MapParts::slideY, trace.size.aspect()},
    };
    std::vector<MapParts> parts(side.frames.size());
    // From rest outward, so that turns go on where they were.
    MapParts last;
    const auto take = [&](std::size_t i) {
        last = mapParts(side.frames[i].map, trace.anchor, trace.size, side.perspective, last);
        parts[i] = last;
    };
    if (side.side == Side::Outgoing)
        for (std::size_t i = 0; i < side.frames.size(); ++i) take(i);
    else
        for (std::size_t i = side.frames.size(); i-- > 0;) take(i);
    const auto addChannels = [&](auto&& wanted) {
        for (const Course& course : courses) {
            if (!wanted(course.kind)) continue;
            const ChannelInfo& info = moveInfo(course.kind).channels[std::size_t(course.channel)];
            TracedChannel channel;
            channel.kind = course.kind;
            channel.channel = course.channel;
            double span = 0, error = 0;
            for (std::size_t i = 0; i < side.frames.size(); ++i) {
                const TracedFrame& f = side.frames[i];
                const bool within = side.side == Side::Outgoing ? f.frame >= side.rest : f.frame <= side.rest;
                if (!within) continue;
                const double value = f.frame == side.rest ? info.neutral : parts[i].*course.part;
                channel.values.push_back({double(f.frame), value, f.error * course.perError});
                channel.known.push_back(f.known() || f.frame == side.rest);
                span = std::max(span, std::abs(toSpace(value, info.space) - toSpace(info.neutral, info.space)));
                error = std::max(error, f.error * course.perError);
            }
            if (span < std::max(course.least, noticeable * error) || channel.values.size() < 2) continue;
            channel.tolerance = std::max(0.12 * course.least, 0.002 * span);
            side.channels.push_back(std::move(channel));
        }
    };
    addChannels([&](MoveKind kind) { return kind != MoveKind::Slide && (kind != MoveKind::Tilt || side.perspective); });
    if (side.channels.empty() && !side.lens) slideAlone(side, parts, trace.size.aspect());
    addChannels([](MoveKind kind) { return kind == MoveKind::Slide; });
    if (!side.lens) return;
    TracedChannel lens;
    lens.kind = MoveKind::Warp;
    lens.tolerance = 0.012;
    for (const TracedFrame& f : side.frames) {
        if (side.side == Side::Outgoing ? f.frame < side.rest : f.frame > side.rest) continue;
        lens.values.push_back({double(f.frame), f.lens, 0.008});
        lens.known.push_back(f.known());
    }
    if (lens.values.size() > 1) side.channels.push_back(std::move(lens));
}

} // namespace virga
