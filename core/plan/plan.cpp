#include "core/plan/plan.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/motion/stack_map.h"
#include "core/plan/seen_speed.h"
#include "core/project/clip_time.h"
#include "core/project/field_hash.h"

namespace virga {
namespace {

void add(Hash& hash, const TimedStack& timed) {
    hash.add(timed.side).add(timed.origin).add(timed.framesPerSecond).add(timed.stack.size());
    for (Move m : timed.stack) {
        m.id.clear(); // looks like nothing
        addFields(hash, m);
        for (const double parameter : m.parameters) hash.add(parameter);
        for (const Channel& c : m.channels) {
            hash.add(c.side(timed.side).space);
            addFields(hash, c.side(timed.side).keys);
        }
    }
}

void add(Hash& hash, const std::vector<Treatment>& treatments) {
    hash.add(treatments.size());
    for (const Treatment& treatment : treatments) {
        hash.add(treatment.index());
        std::visit([&](const auto& t) { std::apply([&](const auto&... part) { (hash.add(part), ...); }, t.tied()); },
                   treatment);
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

Size croppedSize(Size source, const Crop& crop) {
    const auto left = [](int n, double a, double b) {
        return std::max(1, n - int(std::lround(n * a)) - int(std::lround(n * b)));
    };
    if (source.isEmpty()) return source;
    return {left(source.width, crop.left, crop.right), left(source.height, crop.top, crop.bottom)};
}

const LayerPlan* layerOfClip(const FramePlan& plan, int clip) {
    for (const LayerPlan& layer : plan.layers)
        if (layer.clip == clip && clip >= 0) return &layer;
    return nullptr;
}

namespace {

LayerPlan layerFor(const Project& project, const Clip& clip, std::int64_t frame, std::int64_t start,
                   const Shutter& shutter) {
    LayerPlan layer;
    layer.frame = frame;
    layer.mediaId = clip.mediaId;
    layer.fit = clip.fit;
    layer.crop = clip.crop;
    layer.placement = clip.placement;
    layer.edges = {edgesOf(project, clip), project.settings.copies};
    if (const Media* media = findMedia(project, clip.mediaId)) {
        layer.source = croppedSize(media->size, clip.crop);
        layer.pixelAspect = media->pixelAspect;
    }
    const Media* media = findMedia(project, clip.mediaId);
    const ClipTime time(clip, media, project.settings.rate);
    layer.sourceTime = std::max(Rational(0), time.at(frame - start)); // the reader itself stops at the last picture
    // What runs faster than it was shot is exposed for as long as the shutter is open, as a camera would have; from 100
    // to 200 % that grows from nothing, since hardly more than one picture passes.
    if (media && !media->still) {
        const Rational passing = time.passing(frame - start), size = std::max(passing, Rational(0) - passing);
        const Rational speed = size * project.settings.rate;
        if (speed > Rational(1)) layer.sourcePerFrame = passing * std::min(Rational(1), speed - Rational(1));
        // Fewer or more pictures were filmed than are shown.
        if (size * media->rate != Rational(1) && size != Rational(0)) layer.inBetween = clip.inBetween;
        layer.shotBlur = clip.shotBlur * (size * media->rate).toDouble();
    }
    layer.deinterlace = clip.deinterlace || !media || !media->interlaced;
    layer.shutter = openInterval(shutter, double(frame));
    layer.samples = shutter.samples;
    return layer;
}

// What a layer's own moves do besides moving it. Fades and finishing are taken at the frame's own time: a frame has one
// opacity and one look.
void finish(LayerPlan& layer, Size frame) {
    const double time = double(layer.frame);
    std::optional<OwnMovement> own; // asked for where anything may need it
    for (const TimedStack& timed : layer.stacks) {
        layer.opacity *= stackOpacity(timed.stack, timed.side, time - timed.origin);
        const bool finishes = std::any_of(timed.stack.begin(), timed.stack.end(),
                                          [](const Move& m) { return moveInfo(m.kind).role == MoveRole::Finishing; });
        if (!finishes) continue;
        if (!own) own = ownMovementOf(layer, frame);
        const Moment moment(time - timed.origin, time - timed.origin, timed.framesPerSecond);
        for (Treatment& t : treatmentsOf(timed.stack, timed.side, moment, *own))
            layer.treatments.push_back(std::move(t));
    }
}

// The shutter of the nearer cut's transition, then the clip's, then the project's.
const Shutter& shutterAt(const Project& project, int index, std::int64_t frame, std::int64_t start, std::int64_t end) {
    const Clip& clip = project.reel[std::size_t(index)];
    const bool last = index + 1 == int(project.reel.size());
    const bool nearerOut = !last && (index == 0 || end - frame <= frame - start + 1);
    const Transition* nearer = nearerOut   ? &project.reel[std::size_t(index) + 1].transition
                               : index > 0 ? &clip.transition
                                           : nullptr;
    return nearer && nearer->shutter ? *nearer->shutter : clip.shutter ? *clip.shutter : project.settings.shutter;
}

void planReel(const Project& project, const ReelIndex& index, std::int64_t frame, FramePlan& plan) {
    // Clips from the bottom up: each lies on all before it, or right beneath the one that keeps the top.
    const auto& starts = index.starts;
    const auto past = std::upper_bound(starts.begin(), starts.end(), frame - index.mostAfter);
    const int first = std::max(0, int(past - starts.begin()) - 1);
    for (int i = first; i < int(project.reel.size()) && starts[std::size_t(i)] - index.mostBefore <= frame; ++i) {
        const Clip& clip = project.reel[std::size_t(i)];
        const std::int64_t at = starts[std::size_t(i)], end = at + clip.length;
        const Transition* out =
            i + 1 < int(project.reel.size()) ? &project.reel[std::size_t(i) + 1].transition : nullptr;
        if (frame < at - (i > 0 ? clip.transition.overlap.before : 0)) continue;
        if (frame >= end + (out ? out->overlap.after : 0) || clip.isGap()) continue;
        LayerPlan layer = layerFor(project, clip, frame, at, shutterAt(project, i, frame, at, end));
        layer.clip = i;
        const bool comes = i > 0 && clip.transition.alone && clip.transition.top == Side::Incoming &&
                           frame < at + clip.transition.overlap.after,
                   goes = out && out->alone && out->top == Side::Outgoing && frame >= end - out->overlap.before;
        if (comes || goes) layer.edges.fill = EdgeFill::Empty;
        const double rate = project.settings.rate.toDouble();
        const auto add = [&](const Stack& stack, Side side, std::int64_t origin, StackPlace place) {
            if (!stack.empty()) layer.stacks.push_back({stack, side, double(origin), place, rate});
        };
        add(clip.drift, Side::Incoming, at, {StackPlace::Drift, i});
        if (i > 0) add(clip.transition.moves, Side::Incoming, at, {StackPlace::Cut, i - 1});
        if (out) add(out->moves, Side::Outgoing, end, {StackPlace::Cut, i});
        finish(layer, project.settings.size);
        auto place = plan.layers.end();
        if (clip.transition.top == Side::Outgoing)
            place = std::find_if(plan.layers.begin(), plan.layers.end(),
                                 [&](const LayerPlan& l) { return l.clip == i - 1; });
        plan.layers.insert(place, std::move(layer));
    }
}

void planAdjustments(const Project& project, FramePlan& plan) {
    const double frame = double(plan.frame), rate = project.settings.rate.toDouble();
    const std::size_t reelLayers = plan.layers.size();
    for (int i = 0; i < int(project.adjustments.size()); ++i) {
        const Adjustment& a = project.adjustments[std::size_t(i)];
        if (plan.frame < a.start || plan.frame >= a.end()) continue;
        TreatPlan treat;
        // What the topmost shot does is what a blur that goes with the movement follows.
        const OwnMovement own =
            reelLayers > 0 ? ownMovementOf(plan.layers[reelLayers - 1], project.settings.size) : OwnMovement{};
        for (const Side side : {Side::Incoming, Side::Outgoing}) {
            if (a.moves.empty()) continue;
            const TimedStack timed{
                a.moves, side, double(side == Side::Incoming ? a.start : a.end()), {StackPlace::Adjustment, i}, rate};
            treat.opacity *= stackOpacity(timed.stack, side, frame - timed.origin);
            const Moment moment(frame - timed.origin, frame - timed.origin, rate);
            for (Treatment& t : treatmentsOf(timed.stack, side, moment, own)) treat.treatments.push_back(std::move(t));
            for (std::size_t l = 0; l < reelLayers; ++l) plan.layers[l].stacks.push_back(timed);
        }
        if (a.bars) treat.treatments.push_back(Bars{*a.bars, 1});
        if (treat.treatments.empty() || treat.opacity <= 0) continue;
        plan.steps.push_back({Step::Treat, plan.treats.size()});
        plan.treats.push_back(std::move(treat));
    }
}

void planOverlays(const Project& project, FramePlan& plan) {
    std::vector<std::pair<int, int>> seen; // row, overlay
    for (int i = 0; i < int(project.overlays.size()); ++i) {
        const Overlay& o = project.overlays[std::size_t(i)];
        if (plan.frame >= o.start && plan.frame < o.end()) seen.push_back({o.row, i});
    }
    std::sort(seen.begin(), seen.end());
    for (const auto& [row, i] : seen) {
        const Overlay& o = project.overlays[std::size_t(i)];
        LayerPlan layer = layerFor(project, o.clip, plan.frame, o.start,
                                   o.clip.transition.shutter ? *o.clip.transition.shutter
                                   : o.clip.shutter          ? *o.clip.shutter
                                                             : project.settings.shutter);
        layer.overlay = i;
        const double rate = project.settings.rate.toDouble();
        const StackPlace place{StackPlace::Overlay, i};
        const Stack& moves = o.clip.transition.moves;
        if (!o.clip.drift.empty()) layer.stacks.push_back({o.clip.drift, Side::Incoming, double(o.start), {}, rate});
        if (!moves.empty()) {
            layer.stacks.push_back({moves, Side::Incoming, double(o.start), place, rate});
            layer.stacks.push_back({moves, Side::Outgoing, double(o.end()), place, rate});
        }
        finish(layer, project.settings.size);
        plan.steps.push_back({Step::Lay, plan.layers.size()});
        plan.layers.push_back(std::move(layer));
    }
}

} // namespace

FramePlan planFrame(const Project& project, std::int64_t frame) {
    return planFrame(project, reelIndex(project), frame);
}

FramePlan planFrame(const Project& project, const ReelIndex& index, std::int64_t frame) {
    FramePlan plan;
    plan.frame = frame;
    plan.background = project.settings.background;
    planReel(project, index, frame, plan);
    for (std::size_t i = 0; i < plan.layers.size(); ++i) plan.steps.push_back({Step::Lay, i});
    if (frame < 0 || frame >= index.starts.back()) return plan;
    planAdjustments(project, plan);
    planOverlays(project, plan);
    return plan;
}

namespace {

ScreenMap moved(ScreenMap map, const LayerPlan& layer, double time, double frame, Size output,
                std::span<const Nudge> nudges) {
    for (std::size_t i = 0; i < layer.stacks.size(); ++i) {
        const TimedStack& timed = layer.stacks[i];
        const Moment moment(time - timed.origin, frame - timed.origin, timed.framesPerSecond);
        StackValues values = valuesAt(timed.stack, timed.side, moment);
        for (const Nudge& nudge : nudges) {
            if (nudge.stack != i) continue;
            const Space space = spaceOf(timed.stack[nudge.move], int(nudge.channel));
            double& value = values[nudge.move][nudge.channel];
            value = fromSpace(toSpace(value, space) + nudge.amount, space);
        }
        map = stackMap(map, timed.stack, values, moment, output);
    }
    return map;
}

} // namespace

ScreenMap movementAt(const LayerPlan& layer, double time, double frame, Size output, std::span<const Nudge> nudges) {
    return moved(ScreenMap(), layer, time, frame, output, nudges);
}

ScreenMap movementAt(const LayerPlan& layer, double time, Size output) {
    return movementAt(layer, time, double(layer.frame), output);
}

ScreenMap mapAt(const LayerPlan& layer, double time, Size output) {
    return mapAt(layer, time, double(layer.frame), output);
}

ScreenMap mapAt(const LayerPlan& layer, double time, double frame, Size output) {
    Matrix fitted = fitMatrix(layer.fit, layer.source, layer.pixelAspect, output);
    if (const Placement& p = layer.placement; !(p == Placement())) {
        const double ax = p.anchor.x * output.width, ay = p.anchor.y * output.height;
        fitted = then(then(fitted, translation(-ax, -ay)), scaling(p.scale, p.scale));
        if (p.angle != 0) fitted = then(fitted, rotation(p.angle));
        fitted = then(fitted, translation(ax + p.position.x * output.width, ay + p.position.y * output.height));
    }
    return moved(ScreenMap(fitted), layer, time, frame, output, {});
}

std::uint64_t hashOf(const FramePlan& plan) {
    Hash hash;
    hash.add(plan.background.r).add(plan.background.g).add(plan.background.b);
    for (const Step& step : plan.steps) hash.add(step.kind).add(step.index);
    for (const TreatPlan& treat : plan.treats) {
        hash.add(treat.opacity);
        add(hash, treat.treatments);
    }
    for (const LayerPlan& l : plan.layers) {
        hash.add(std::string_view(l.mediaId))
            .add(l.sourceTime.num)
            .add(l.sourceTime.den)
            .add(l.sourcePerFrame.num)
            .add(l.sourcePerFrame.den)
            .add(l.inBetween)
            .add(l.shotBlur)
            .add(l.deinterlace)
            .add(l.source.width)
            .add(l.source.height);
        addFields(hash, l.crop);
        addFields(hash, l.placement);
        hash.add(l.pixelAspect.num)
            .add(l.pixelAspect.den)
            .add(l.fit)
            .add(l.edges.fill)
            .add(l.edges.copies)
            .add(l.opacity)
            .add(l.samples);
        // Moves are a function of time since their origin: two frames that only lie elsewhere in the reel look the
        // same.
        hash.add(l.shutter.open - double(plan.frame)).add(l.shutter.close - double(plan.frame)).add(l.stacks.size());
        for (TimedStack timed : l.stacks) {
            timed.origin -= double(plan.frame);
            add(hash, timed);
        }
        add(hash, l.treatments);
    }
    return hash.value();
}

} // namespace virga
