#include "core/edit/speed_edits.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

bool runs(const Project& project, const Clip& clip) {
    const Media* media = findMedia(project, clip.mediaId);
    return media && !media->still && !clip.isGap();
}

// A clip's whole curve put back: its last `fromEnd` keys count from the end.
Clip withCurve(Clip clip, const Curve& curve, std::size_t fromEnd) {
    auto &in = clip.speedCurve.incoming.keys, &out = clip.speedCurve.outgoing.keys;
    const auto split = curve.keys.end() - std::ptrdiff_t(std::min(fromEnd, curve.keys.size()));
    in.assign(curve.keys.begin(), split);
    out.assign(split, curve.keys.end());
    for (Key& key : out) key.time -= double(clip.length);
    return clip;
}

// How many keys of the whole curve count from the end.
std::size_t keysFromEnd(const Clip& clip) {
    return speedCurveOf(clip).keys.size() - clip.speedCurve.incoming.keys.size();
}

} // namespace

Clip atConstantSpeed(const Project& project, Clip clip, Rational speed) {
    if (!runs(project, clip)) return clip;
    speed = std::clamp(speed, Rational(0) - fastestSpeed, fastestSpeed);
    const auto size = [](Rational r) { return r < Rational(0) ? Rational(0) - r : r; };
    if (speed != Rational(0) && size(speed) < slowestSpeed)
        speed = speed < Rational(0) ? Rational(0) - slowestSpeed : slowestSpeed;
    const ClipTime time(project, clip);
    const ClipTime::Span used = time.used();
    const Rational shown = used.to - used.from; // seconds of the source
    const bool backwards = speed < Rational(0), wasBackwards = time.speedAt(0) < 0;
    if (backwards != wasBackwards && time.isConstant())
        clip = runBackwards(project, std::move(clip));
    else if (!time.isConstant())
        clip.sourceIn = backwards ? used.to - Rational(1) / project.settings.rate : used.from;
    clip.speedCurve = {};
    clip.pins.clear();
    clip.speed = speed;
    if (speed == Rational(0) || shown == Rational(0)) return clip;
    clip.length = std::max<std::int64_t>(1, roundToInteger(shown * project.settings.rate / size(speed)));
    // Rounding must not run past the source's end.
    if (const std::int64_t over = clip.length; over > 1) {
        Clip one = clip;
        one.length = 1;
        clip.length = std::clamp<std::int64_t>(over, 1, 1 + spareFrames(project, one).after);
    }
    return clip;
}

Clip withSourceKept(const Project& project, const Clip& before, Clip changed) {
    if (!runs(project, changed)) return changed;
    const double end = ClipTime(project, before).secondsAt(double(before.length));
    const auto miss = [&](std::int64_t length) {
        Clip tried = changed;
        tried.length = length;
        return ClipTime(project, tried).secondsAt(double(length)) - end;
    };
    // The moment at the end goes one way with the length, as far as the clip does not turn back.
    const double start = before.sourceIn.toDouble();
    const bool forwards = end >= start;
    const auto isBehind = [&](std::int64_t length) { return forwards ? miss(length) >= 0 : miss(length) <= 0; };
    std::int64_t low = 1, high = std::max<std::int64_t>(2, before.length);
    while (!isBehind(high)) {
        high *= 2;
        if (high > 100 * before.length + 1000) return changed;
    }
    while (high - low > 1) {
        const auto middle = low + (high - low) / 2;
        (isBehind(middle) ? high : low) = middle;
    }
    changed.length = std::abs(miss(low)) < std::abs(miss(high)) ? low : high;
    return changed;
}

Clip withRamp(Clip clip, Side side, const Ramp& ramp) {
    const auto held = [](double v) { return std::clamp(v, -fastestPercent, fastestPercent); };
    const double frames = std::max(1, ramp.frames), way = held(ramp.to) - held(ramp.from);
    // Level at the far end; towards the cut the speed changes ever faster, and is still changing there.
    const Handle level{0.6, 0}, steep{0.2, way * 0.4};
    Key far{side == Side::Outgoing ? -frames : frames, held(ramp.from), Interpolation::Eased, {}, {}};
    Key near{0, held(ramp.to), Interpolation::Eased, {}, {}};
    auto& keys = clip.speedCurve.side(side).keys;
    if (side == Side::Outgoing) {
        far.leave = level, near.arrive = steep;
        keys = {far, near};
    } else {
        near.leave = {steep.reach, -steep.rise}, far.arrive = level;
        keys = {near, far};
    }
    return clip;
}

Clip withoutRamp(Clip clip, Side side) {
    clip.speedCurve.side(side).keys.clear();
    return clip;
}

std::optional<Ramp> rampOf(const Clip& clip, Side side) {
    const auto& keys = clip.speedCurve.side(side).keys;
    if (keys.size() != 2) return std::nullopt;
    const Key& far = side == Side::Outgoing ? keys.front() : keys.back();
    const Key& near = side == Side::Outgoing ? keys.back() : keys.front();
    return Ramp{far.value, near.value, int(std::lround(std::abs(far.time - near.time)))};
}

Clip withRampThatLasts(const Project& project, Clip clip) {
    const auto ramp = rampOf(clip, Side::Outgoing);
    if (!ramp) return clip;
    const auto with = [&](double to) { return withRamp(clip, Side::Outgoing, {ramp->from, to, ramp->frames}); };
    double low = std::min(ramp->from, ramp->to), high = ramp->to;
    for (int i = 0; i < 40; ++i) {
        const double middle = (low + high) / 2;
        (ClipTime(project, with(middle)).runsOut() ? high : low) = middle;
    }
    return with(std::floor(low));
}

const std::vector<RampPreset>& rampPresets() {
    static const std::vector<RampPreset> presets = {
        {"usual",
         "normal speed, eight times as fast at the cut, and back, in half a second",
         {100, 800, 12},
         {100, 800, 12}},
        {"short", "for the beat: six times as fast, eight frames a side", {100, 600, 8}, {100, 600, 8}},
        {"long", "ten times as fast, twenty frames a side", {100, 1000, 20}, {100, 1000, 20}},
        {"into slow motion",
         "races into the cut; the next shot calms down to a quarter of its speed",
         {100, 800, 12},
         {25, 800, 16}},
        {"out of slow motion",
         "a slow shot races off; the next one arrives at normal speed",
         {25, 800, 16},
         {100, 800, 12}},
    };
    return presets;
}

Project withRampsAtCut(const Project& project, int cut, const Ramp* out, const Ramp* in) {
    if (!hasCut(project, cut)) return project;
    Project next = project;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const Ramp* ramp = side == Side::Outgoing ? out : in;
        Clip& clip = next.reel[std::size_t(cut) + (side == Side::Incoming)];
        if (!ramp || !runs(project, clip)) continue;
        Ramp fitted = *ramp;
        fitted.frames = int(std::clamp<std::int64_t>(ramp->frames, 1, clip.length));
        const Clip before = clip;
        clip = withRamp(std::move(clip), side, fitted);
        // What follows a ramp in stays where it is, as far as the source reaches ahead.
        if (side == Side::Incoming) {
            const Rational later =
                ClipTime(project, clip).at(fitted.frames) - ClipTime(project, before).at(fitted.frames);
            clip.sourceIn = std::max(std::min(Rational(0), clip.sourceIn), clip.sourceIn - later);
        }
        if (std::min(ramp->from, ramp->to) < 100 && clip.inBetween == InBetween::Nearest)
            clip.inBetween = InBetween::MadeUp;
    }
    return next;
}

Clip withFrameHeld(const Project& project, const Clip& clip, std::int64_t frame, std::int64_t frames) {
    if (!runs(project, clip) || frames < 1 || frame < 0 || frame >= clip.length) return clip;
    const std::size_t fromEnd = keysFromEnd(clip);
    Curve curve = wholeSpeedCurveOf(clip);
    const auto behind = std::size_t(
        std::count_if(curve.keys.begin(), curve.keys.end(), [&](const Key& k) { return k.time > double(frame); }));
    const double speed = evaluate(curve, double(frame));
    int before = 0, at = 0;
    curve = withKeyAdded(curve, double(frame), speed, &at);
    curve = withKeyAdded(curve, double(frame) - 2 * smallestKeyGap, speed, &before);
    if (std::size_t(before) + 1 >= curve.keys.size()) return clip;
    // The curve's own key at the frame leaves as it did, that much later; the held one takes its place.
    Key later = curve.keys[std::size_t(before) + 1];
    curve.keys[std::size_t(before)].next = Interpolation::Hold;
    Key& held = curve.keys[std::size_t(before) + 1];
    held.value = 0, held.next = Interpolation::Hold;
    for (std::size_t i = std::size_t(before) + 2; i < curve.keys.size(); ++i) curve.keys[i].time += double(frames);
    later.time += double(frames);
    curve.keys.insert(curve.keys.begin() + before + 2, later);
    Clip out = clip;
    out.length += frames;
    return withCurve(std::move(out), curve, std::min(fromEnd, behind));
}

Expected<Clip> withMomentLanded(const Project& project, const Clip& clip, std::int64_t shownAt, std::int64_t landsAt,
                                std::int64_t from, std::int64_t to) {
    const auto cannot = [](std::string why) {
        return fail(ErrorCode::BadInput, "the moment cannot land there: " + std::move(why), {},
                    "choose a nearer frame, or pins that lie farther away");
    };
    if (!runs(project, clip)) return cannot("nothing runs here");
    if (shownAt == landsAt) return clip;
    if (!(from < landsAt && landsAt < to) || !(from < shownAt && shownAt < to) || from < 0 || to > clip.length)
        return cannot("it would pass a moment that stays");
    const std::size_t fromEnd = keysFromEnd(clip);
    const CurveIntegral before(wholeSpeedCurveOf(clip));
    Curve curve = before.curve();
    // The old way around the new frame: the two stretches keep their shapes, and their speeds are scaled.
    struct Stretch {
        double from, to, wanted;
    };
    const Stretch stretches[] = {{double(from), double(landsAt), before.between(double(from), double(shownAt))},
                                 {double(landsAt), double(to), before.between(double(shownAt), double(to))}};
    for (const double t : {double(from), double(landsAt), double(to)})
        curve = withKeyAdded(curve, t, evaluate(curve, t));
    for (const Stretch& s : stretches) // something in the middle that can give
        curve = withKeyAdded(curve, (s.from + s.to) / 2, evaluate(curve, (s.from + s.to) / 2));
    for (const Stretch& s : stretches) {
        // The area is a linear function of the inner keys' values: two tries tell the factor.
        const auto tried = [&](double by) {
            Curve c = curve;
            for (std::size_t i = 0; i < c.keys.size(); ++i) {
                Key& k = c.keys[i];
                if (k.time > s.from + 1e-9 && k.time < s.to - 1e-9) k.value += by;
            }
            for (std::size_t i = 0; i + 1 < c.keys.size(); ++i)
                if (c.keys[i].time >= s.from - 1e-9 && c.keys[i].time < s.to - 1e-9) {
                    // Level ends: no key is overshot.
                    c.keys[i].next = Interpolation::Eased;
                    c.keys[i].leave = {1.0 / 3, 0};
                    c.keys[i + 1].arrive = {1.0 / 3, 0};
                }
            return c;
        };
        const auto area = [&](const Curve& c) { return CurveIntegral(c).between(s.from, s.to); };
        const double a0 = area(tried(0)), a1 = area(tried(1));
        if (std::abs(a1 - a0) < 1e-9) return cannot("there is no room between the frames");
        const double by = (s.wanted - a0) / (a1 - a0);
        curve = tried(by);
        for (const Key& k : curve.keys)
            if (std::abs(k.value) > fastestPercent + 1e-6)
                return cannot(fmt::format("it would need {:.0f} %", k.value));
    }
    return withCurve(clip, curve, fromEnd);
}

Expected<Clip> withMomentPinned(const Project& project, const Clip& clip, std::int64_t shownAt, std::int64_t landsAt) {
    std::vector<Pin> pins = heldPins(project, clip);
    std::erase_if(pins, [&](const Pin& pin) { return pin.frame == shownAt; });
    std::int64_t from = 0, to = clip.length;
    for (const Pin& pin : pins) {
        if (pin.frame < shownAt) from = std::max(from, pin.frame);
        if (pin.frame > shownAt) to = std::min(to, pin.frame);
    }
    const Rational moment = ClipTime(project, clip).at(shownAt);
    auto landed = withMomentLanded(project, clip, shownAt, landsAt, from, to);
    if (!landed) return landed;
    pins.push_back({moment, landsAt});
    std::sort(pins.begin(), pins.end(), [](const Pin& a, const Pin& b) { return a.frame < b.frame; });
    landed->pins = std::move(pins);
    return landed;
}

Clip withoutPins(Clip clip) {
    clip.pins.clear();
    return clip;
}

} // namespace virga
