#include "core/plan/plan.h"

#include <algorithm>

#include "core/base/hash.h"
#include "core/motion/stack_map.h"

namespace virga {
namespace {

void add(Hash& hash, const Curve& curve) {
    hash.add(curve.space).add(curve.keys.size());
    for (const Key& k : curve.keys)
        hash.add(k.time)
            .add(k.value)
            .add(k.next)
            .add(k.leave.reach)
            .add(k.leave.rise)
            .add(k.arrive.reach)
            .add(k.arrive.rise);
}

void add(Hash& hash, const TimedStack& timed) {
    hash.add(timed.side).add(timed.origin).add(timed.stack.size());
    for (const Move& m : timed.stack) {
        hash.add(m.kind).add(m.enabled).add(m.even).add(m.anchor.x).add(m.anchor.y);
        for (const Channel& c : m.channels) add(hash, c.side(timed.side));
    }
}

} // namespace

Matrix fitMatrix(Fit fit, Size source, Rational pixelAspect, Size output) {
    if (source.isEmpty() || output.isEmpty()) return {};
    const double w = source.width * pixelAspect.toDouble(), h = source.height;
    const double sx = output.width / w, sy = output.height / h;
    const double both = fit == Fit::Fill ? std::max(sx, sy) : std::min(sx, sy);
    const double kx = fit == Fit::Stretch ? sx : both, ky = fit == Fit::Stretch ? sy : both;
    return then(scaling(kx * pixelAspect.toDouble(), ky),
                translation((output.width - w * kx) / 2, (output.height - h * ky) / 2));
}

FramePlan planFrame(const Project& project, std::int64_t frame) {
    FramePlan plan;
    plan.frame = frame;
    const int index = clipAt(project, frame);
    if (index < 0) return plan;
    const Clip& clip = project.reel[std::size_t(index)];
    const std::int64_t start = clipStart(project, index), end = start + clip.length;
    LayerPlan layer;
    layer.clip = index;
    layer.mediaId = clip.mediaId;
    layer.fit = clip.fit;
    layer.edges = edgesOf(project, clip);
    const Media* media = findMedia(project, clip.mediaId);
    if (media) {
        layer.source = media->size;
        layer.pixelAspect = media->pixelAspect;
    }
    layer.sourceTime =
        media && media->still ? Rational(0) : clip.sourceIn + Rational(frame - start) / project.settings.rate;

    // The shutter of the nearer cut's transition, then the clip's, then the project's.
    const bool last = index + 1 == int(project.reel.size());
    const bool nearerOut = !last && (index == 0 || end - frame <= frame - start + 1);
    const Transition* nearer = nearerOut   ? &project.reel[std::size_t(index) + 1].transition
                               : index > 0 ? &clip.transition
                                           : nullptr;
    const Shutter& shutter = nearer && nearer->shutter ? *nearer->shutter
                             : clip.shutter            ? *clip.shutter
                                                       : project.settings.shutter;
    layer.shutter = openInterval(shutter, double(frame));
    layer.samples = shutter.samples;

    if (!clip.drift.empty()) layer.stacks.push_back({clip.drift, Side::Incoming, double(start)});
    if (index > 0 && !clip.transition.moves.empty())
        layer.stacks.push_back({clip.transition.moves, Side::Incoming, double(start)});
    if (!last && !project.reel[std::size_t(index) + 1].transition.moves.empty())
        layer.stacks.push_back({project.reel[std::size_t(index) + 1].transition.moves, Side::Outgoing, double(end)});
    plan.layers.push_back(std::move(layer));
    return plan;
}

Matrix movementAt(const LayerPlan& layer, double time, Size output) {
    Matrix whole;
    for (const TimedStack& timed : layer.stacks)
        whole = then(whole, stackMatrix(timed.stack, timed.side, time - timed.origin, output));
    return whole;
}

ScreenMap mapAt(const LayerPlan& layer, double time, Size output) {
    return ScreenMap(
        then(fitMatrix(layer.fit, layer.source, layer.pixelAspect, output), movementAt(layer, time, output)));
}

std::uint64_t hashOf(const FramePlan& plan) {
    Hash hash;
    for (const LayerPlan& l : plan.layers) {
        hash.add(std::string_view(l.mediaId))
            .add(l.sourceTime.num)
            .add(l.sourceTime.den)
            .add(l.source.width)
            .add(l.source.height);
        hash.add(l.pixelAspect.num).add(l.pixelAspect.den).add(l.fit).add(l.edges).add(l.opacity).add(l.samples);
        // Moves are a function of time since their origin: two frames that only lie elsewhere in the reel look the
        // same.
        hash.add(l.shutter.open - double(plan.frame)).add(l.shutter.close - double(plan.frame)).add(l.stacks.size());
        for (TimedStack timed : l.stacks) {
            timed.origin -= double(plan.frame);
            add(hash, timed);
        }
    }
    return hash.value();
}

} // namespace virga
