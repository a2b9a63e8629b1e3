#include "core/edit/steady.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/curve/fit_keys.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

constexpr const char* mark = "steady-"; // how the ids of its moves begin
constexpr std::int64_t longest = 20000; // frames
constexpr double leastKnown = 0.7;      // of its pictures

bool isMark(const Move& move) {
    return move.id.rfind(mark, 0) == 0;
}

// How much larger a frame must be shown so that, zoomed, turned and moved, it still covers itself (docs: Coverage).
double coverOf(const TurnZoomSlide& p, double aspect) {
    const double c = std::abs(std::cos(p.degrees * std::numbers::pi / 180)),
                 s = std::abs(std::sin(p.degrees * std::numbers::pi / 180));
    const double wide = p.zoom - 2 * std::abs(p.slide.x), high = p.zoom - 2 * std::abs(p.slide.y) * aspect;
    return std::max((c + s / aspect) / std::max(0.1, wide), (s * aspect + c) / std::max(0.1, high));
}

std::vector<double> smoothed(const std::vector<double>& v, double sigma) {
    const auto n = std::ptrdiff_t(v.size()), reach = std::ptrdiff_t(std::ceil(3 * sigma));
    std::vector<double> out(v.size());
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        double sum = 0, all = 0;
        for (std::ptrdiff_t k = -reach; k <= reach; ++k) {
            // Beyond its ends the course goes on by half a turn about them: a pan stays one.
            const std::ptrdiff_t at = i + k;
            const double value = at < 0    ? 2 * v.front() - v[std::size_t(std::min(n - 1, -at))]
                                 : at >= n ? 2 * v.back() - v[std::size_t(std::max<std::ptrdiff_t>(0, 2 * n - 2 - at))]
                                           : v[std::size_t(at)];
            const double w = std::exp(-0.5 * double(k * k) / (sigma * sigma));
            sum += w * value, all += w;
        }
        out[std::size_t(i)] = sum / all;
    }
    return out;
}

} // namespace

bool isSteadied(const Clip& clip) {
    return std::any_of(clip.drift.begin(), clip.drift.end(), isMark);
}

Project withoutSteadying(const Project& project, int clip) {
    if (!hasClip(project, clip) || !isSteadied(project.reel[std::size_t(clip)])) return project;
    Project next = project;
    erase_if(next.reel[std::size_t(clip)].drift, isMark);
    return next;
}

Project withSteadying(const Project& project, int clip, const Stack& moves) {
    Project next = withoutSteadying(project, clip);
    if (!hasClip(next, clip)) return next;
    Stack& drift = next.reel[std::size_t(clip)].drift;
    drift.insert(drift.begin(), moves.begin(), moves.end());
    return next;
}

Expected<Stack> steadyingMoves(const Project& project, int clipIndex, const ShotMovement& shot, const Steadying& how) {
    const Clip& clip = project.reel[std::size_t(clipIndex)];
    const ClipTime time(project, clip);
    if (!time.runs() || shot.isEmpty())
        return fail(ErrorCode::BadInput, "this shot does not move by itself", clip.name, "choose a video");
    const std::int64_t frames = std::min(clip.length, longest);
    const double begin = time.secondsAt(0), end = time.secondsAt(double(frames - 1));
    if (shot.knownShare(std::min(begin, end), std::max(begin, end)) < leastKnown)
        return fail(ErrorCode::BadInput, "too little of this shot's movement could be read", clip.name,
                    "nothing was changed");
    // In widths of the frame: the source fills it by its fit.
    const Size out = project.settings.size;
    const double aspect = out.aspect(), own = shot.size.aspect() * (1 - clip.crop.left - clip.crop.right) /
                                              std::max(0.05, 1 - clip.crop.top - clip.crop.bottom);
    double across = clip.placement.scale / std::max(0.05, 1 - clip.crop.left - clip.crop.right);
    if (clip.fit == Fit::Fill) across *= std::max(1.0, own / aspect);
    if (clip.fit == Fit::Fit) across *= std::min(1.0, own / aspect);
    std::vector<double> zooms, turns, xs, ys;
    Matrix course;
    double last = begin, turned = 0;
    for (std::int64_t n = 0; n < frames; ++n) {
        const double at = time.secondsAt(double(n));
        if (n > 0) course = then(course, shot.between(last, at));
        last = at;
        const TurnZoomSlide p = partsOf(course);
        turned += std::remainder(p.degrees - turned, 360);
        zooms.push_back(std::log2(p.zoom));
        turns.push_back(turned);
        xs.push_back(p.slide.x);
        ys.push_back(p.slide.y);
    }
    const double sigma = std::max(0.5, how.seconds * project.settings.rate.toDouble());
    const auto zoomsThen = smoothed(zooms, sigma), turnsThen = smoothed(turns, sigma), xsThen = smoothed(xs, sigma),
               ysThen = smoothed(ys, sigma);
    std::vector<MeasuredValue> zoom, spin, x, y;
    double cover = 1;
    for (std::size_t i = 0; i < zooms.size(); ++i) {
        const Matrix is = matrixOf({std::exp2(zooms[i]), turns[i], {xs[i], ys[i]}}),
                     wanted = matrixOf({std::exp2(zoomsThen[i]), turnsThen[i], {xsThen[i], ysThen[i]}});
        const TurnZoomSlide p = partsOf(then(inverseOf(is).value_or(Matrix()), wanted));
        const Point slide = p.slide * across;
        cover = std::max(cover, coverOf({p.zoom, p.degrees, slide}, aspect));
        zoom.push_back({double(i), p.zoom, 0});
        spin.push_back({double(i), p.degrees, 0});
        x.push_back({double(i), slide.x, 0});
        y.push_back({double(i), slide.y * aspect, 0});
    }
    if (how.covers)
        for (MeasuredValue& v : zoom) v.value *= cover;
    const int mostKeys = int(std::clamp<std::int64_t>(frames, 2, 400));
    const auto curveThrough = [&](const std::vector<MeasuredValue>& values, Space space, double tolerance) {
        if (values.size() < 2) return Curve{space, {{0, values.front().value, Interpolation::Eased, {}, {}}}};
        return fittedCurve(values, space, tolerance, {}, mostKeys).curve;
    };
    Stack steady;
    Move zooming = makeMove(MoveKind::Zoom, mark + clip.id + "-zoom");
    zooming.channels[0].incoming = curveThrough(zoom, zooming.channels[0].incoming.space, 0.0006);
    Move spinning = makeMove(MoveKind::Spin, mark + clip.id + "-spin");
    spinning.channels[0].incoming = curveThrough(spin, spinning.channels[0].incoming.space, 0.02);
    Move sliding = makeMove(MoveKind::Slide, mark + clip.id + "-slide");
    sliding.channels[0].incoming = curveThrough(x, sliding.channels[0].incoming.space, 0.00025);
    sliding.channels[1].incoming = curveThrough(y, sliding.channels[1].incoming.space, 0.00025 * aspect);
    steady = {zooming, spinning, sliding};
    // The covering zoom enlarges what is left to slide, too: the slide stands behind it, in widths of the frame.
    if (how.covers)
        for (Channel& c : steady[2].channels)
            for (Key& k : c.incoming.keys) k.value *= cover, k.leave.rise *= cover, k.arrive.rise *= cover;
    return steady;
}

} // namespace virga
