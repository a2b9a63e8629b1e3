#include "core/project/clip_time.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

void shift(Curve& curve, double by) {
    for (Key& key : curve.keys) key.time += by;
}

Curve turnedRound(const Curve& curve, double about) {
    Curve out;
    out.space = curve.space;
    for (auto key = curve.keys.rbegin(); key != curve.keys.rend(); ++key) {
        Key k = *key;
        k.time = about - key->time;
        k.value = -key->value;
        k.leave = {key->arrive.reach, key->arrive.rise};
        k.arrive = {key->leave.reach, key->leave.rise};
        const auto before = std::next(key);
        k.next = before == curve.keys.rend() ? Interpolation::Eased : before->next;
        out.keys.push_back(k);
    }
    // A held stretch holds the value of its earlier key, which is now the later one.
    for (std::size_t i = 0; i + 1 < out.keys.size(); ++i)
        if (out.keys[i].next == Interpolation::Hold) out.keys[i].value = out.keys[i + 1].value;
    return out;
}

} // namespace

Curve speedCurveOf(const Clip& clip) {
    Curve curve = clip.speedCurve.incoming;
    Curve leaving = clip.speedCurve.outgoing;
    shift(leaving, double(clip.length));
    for (const Key& key : leaving.keys)
        if (curve.keys.empty() || key.time > curve.keys.back().time + 1e-6) curve.keys.push_back(key);
    return curve;
}

Curve wholeSpeedCurveOf(const Clip& clip) {
    Curve curve = speedCurveOf(clip);
    if (curve.isEmpty()) curve.keys.push_back({0, clip.speed.toDouble() * 100, Interpolation::Eased, {}, {}});
    return curve;
}

ClipTime::ClipTime(const Project& project, const Clip& clip)
    : ClipTime(clip, findMedia(project, clip.mediaId), project.settings.rate) {}

ClipTime::ClipTime(const Clip& clip, const Media* media, FrameRate rate)
    : m_clip(&clip), m_media(media), m_rate(rate), m_runs(!media || !media->still) {
    if (hasSpeedKeys(clip)) m_integral.emplace(speedCurveOf(clip));
}

double ClipTime::secondsAt(double frame) const {
    if (!m_runs) return 0;
    const double passed = m_integral ? m_integral->upTo(frame) / 100 : frame * m_clip->speed.toDouble();
    return m_clip->sourceIn.toDouble() + passed / m_rate.toDouble();
}

Rational ClipTime::at(std::int64_t frame) const {
    if (!m_runs) return 0;
    if (isConstant()) return m_clip->sourceIn + Rational(frame) * m_clip->speed / m_rate;
    if (frame == 0) return m_clip->sourceIn;
    const double seconds = secondsAt(double(frame));
    if (m_media) {
        const double picture = seconds * m_media->rate.toDouble(), whole = std::round(picture);
        if (std::abs(picture - whole) < 1e-6) return Rational(std::int64_t(whole)) / m_media->rate;
    }
    constexpr std::int64_t finest = 1000000000;
    return {std::llround(std::clamp(seconds, -9e8, 9e8) * double(finest)), finest};
}

double ClipTime::speedAt(double frame) const {
    if (!m_runs) return 0;
    return m_integral ? evaluate(m_integral->curve(), frame) / 100 : m_clip->speed.toDouble();
}

Rational ClipTime::passing(std::int64_t frame) const {
    if (!m_runs) return 0;
    if (isConstant()) return m_clip->speed / m_rate;
    constexpr std::int64_t finest = 1000000000;
    const double passed = m_integral->between(double(frame), double(frame) + 1) / 100 / m_rate.toDouble();
    return {std::llround(passed * double(finest)), finest};
}

bool ClipTime::holds(Rational time) const {
    return time >= Rational(0) && (!m_media || m_media->duration == Rational(0) || time < m_media->duration);
}

namespace {

// From one frame to another where only what lies between the outermost keys need be looked at frame by frame: outside
// them the speed is constant.
template <typename See> void overFrames(const Curve& curve, std::int64_t from, std::int64_t to, See see) {
    const auto first = std::clamp<std::int64_t>(std::int64_t(std::floor(curve.keys.front().time)), from, to),
               last = std::clamp<std::int64_t>(std::int64_t(std::ceil(curve.keys.back().time)), first, to);
    see(from);
    for (std::int64_t n = first; n <= last; ++n) see(n);
    see(to);
}

} // namespace

ClipTime::Span ClipTime::used() const {
    Span span{at(0), at(0)};
    const auto see = [&](std::int64_t frame) {
        const Rational time = at(frame);
        span.from = std::min(span.from, time), span.to = std::max(span.to, time);
    };
    if (isConstant())
        see(m_clip->length);
    else
        overFrames(m_integral->curve(), 0, m_clip->length, see);
    return span;
}

std::optional<double> ClipTime::frameAt(double seconds) const {
    if (!m_runs) return std::nullopt;
    const auto length = double(m_clip->length);
    if (isConstant()) {
        const double speed = m_clip->speed.toDouble();
        if (speed == 0) return std::nullopt;
        const double frame = (seconds - m_clip->sourceIn.toDouble()) * m_rate.toDouble() / speed;
        return frame >= 0 && frame < length ? std::optional(frame) : std::nullopt;
    }
    std::optional<double> found;
    double before = 0;
    const auto see = [&](std::int64_t frame) {
        if (found) return;
        double low = before, high = double(frame);
        before = high;
        const double a = secondsAt(low) - seconds, b = secondsAt(high) - seconds;
        if (a == 0) found = low;
        if (found || (a < 0) == (b < 0)) return;
        for (int i = 0; i < 60; ++i) {
            const double middle = (low + high) / 2;
            ((secondsAt(middle) - seconds < 0) == (a < 0) ? low : high) = middle;
        }
        found = (low + high) / 2;
    };
    overFrames(m_integral->curve(), 0, m_clip->length, see);
    return found && *found < length ? found : std::nullopt;
}

Spare ClipTime::spare() const {
    if (m_clip->isGap()) return {plenty, plenty};
    if (!m_media) return {};
    if (m_media->still) return {plenty, plenty};
    const Rational duration = m_media->duration;
    // How many frames fit between a moment and the source's end in the direction in which it runs.
    const auto room = [&](Rational from, Rational perFrame) -> std::int64_t {
        if (perFrame == Rational(0)) return plenty;
        const Rational left = perFrame > Rational(0) ? duration - from : from;
        return std::max<std::int64_t>(
            0, floorToInteger(left / (perFrame > Rational(0) ? perFrame : Rational(0) - perFrame)));
    };
    if (isConstant()) {
        const Rational perFrame = m_clip->speed / m_rate;
        if (perFrame >= Rational(0))
            return {perFrame == Rational(0) ? plenty
                                            : std::max<std::int64_t>(0, floorToInteger(m_clip->sourceIn / perFrame)),
                    room(at(m_clip->length), perFrame)};
        const Rational last = at(m_clip->length - 1);
        return {std::max<std::int64_t>(0, room(m_clip->sourceIn, Rational(0) - perFrame) - 1), room(last, perFrame)};
    }
    // Frame by frame as far as there are keys, then at the speed that is held.
    const auto& keys = m_integral->curve().keys;
    const double slack = 1e-6 / m_media->rate.toDouble();
    const auto spareFrom = [&](std::int64_t frame, int step, double keyed) -> std::int64_t {
        std::int64_t count = 0;
        // A frame that is added shows the time from its start to its end.
        const auto fits = [&](std::int64_t n) {
            const double a = secondsAt(double(n)), b = secondsAt(double(n) + 1);
            return std::min(a, b) > -slack && std::max(a, b) < duration.toDouble() + slack;
        };
        for (; step > 0 ? double(frame) < keyed : double(frame) + 1 > keyed; frame += step, ++count)
            if (!fits(frame)) return count;
        if (!fits(frame)) return count;
        const Rational perFrame(std::llround((step > 0 ? keys.back() : keys.front()).value * 1e4), 1000000);
        const Rational along = (step > 0 ? perFrame : Rational(0) - perFrame) / m_rate;
        const Rational moment = at(step > 0 ? frame : frame + 1);
        return std::min(plenty, count + room(moment < Rational(0) ? Rational(0) : moment, along));
    };
    return {spareFrom(-1, -1, keys.front().time), spareFrom(m_clip->length, 1, keys.back().time)};
}

std::optional<std::int64_t> ClipTime::runsOut() const {
    if (!m_media || !m_runs) return std::nullopt;
    std::optional<std::int64_t> first;
    if (isConstant()) {
        if (!holds(at(0))) return 0;
        if (holds(at(m_clip->length - 1))) return std::nullopt;
        std::int64_t low = 0, high = m_clip->length - 1;
        while (high - low > 1) {
            const auto middle = low + (high - low) / 2;
            (holds(at(middle)) ? low : high) = middle;
        }
        return high;
    }
    const double slack = 1e-6 / m_media->rate.toDouble(), duration = m_media->duration.toDouble();
    const auto fits = [&](std::int64_t n) {
        const double t = secondsAt(double(n));
        return t > -slack && t < duration + slack;
    };
    // The speed is constant outside the keys: what lies between two frames that fit fits too.
    std::int64_t before = 0;
    overFrames(m_integral->curve(), 0, m_clip->length - 1, [&](std::int64_t n) {
        if (first) return;
        if (fits(n)) {
            before = n;
            return;
        }
        std::int64_t low = before, high = n;
        if (!fits(low)) {
            first = low;
            return;
        }
        while (high - low > 1) {
            const auto middle = low + (high - low) / 2;
            (fits(middle) ? low : high) = middle;
        }
        first = high;
    });
    return first;
}

bool hasSpeedKeys(const Clip& clip) {
    return !clip.speedCurve.incoming.keys.empty() || !clip.speedCurve.outgoing.keys.empty();
}

double meanSpeed(const Clip& clip) {
    if (!hasSpeedKeys(clip)) return clip.speed.toDouble();
    return CurveIntegral(speedCurveOf(clip)).upTo(double(clip.length)) / 100 /
           double(std::max<std::int64_t>(1, clip.length));
}

Rational sourceTime(const Project& project, const Clip& clip, std::int64_t frame) {
    const ClipTime time(project, clip);
    const Rational at = time.at(frame);
    return at < Rational(0) ? Rational(0) : at; // the reader itself stops at the last picture
}

Spare spareFrames(const Project& project, const Clip& clip) {
    return ClipTime(project, clip).spare();
}

Clip withHeadCut(const Project& project, Clip clip, std::int64_t frames) {
    const ClipTime time(project, clip);
    if (time.runs() && findMedia(project, clip.mediaId)) clip.sourceIn = time.at(frames);
    clip.length -= frames;
    shift(clip.speedCurve.incoming, -double(frames));
    for (Pin& pin : clip.pins) pin.frame -= frames;
    return clip;
}

Clip withTailCut(Clip clip, std::int64_t frames) {
    clip.length -= frames;
    shift(clip.speedCurve.outgoing, double(frames));
    return clip;
}

Clip withHeadRolled(const Project& project, Clip clip, std::int64_t frames) {
    if (clip.speedCurve.incoming.keys.empty()) return withHeadCut(project, std::move(clip), frames);
    const Media* media = findMedia(project, clip.mediaId);
    Clip out = clip;
    out.length -= frames;
    if (!media || media->still) return out;
    // The curve between the last key from the start and the first one from the end becomes shorter or longer.
    const Rational end = ClipTime(project, clip).at(clip.length);
    out.sourceIn = clip.sourceIn + (end - ClipTime(project, out).at(out.length));
    return out;
}

Clip withTailRolled(Clip clip, std::int64_t frames) {
    clip.length -= frames;
    return clip;
}

std::vector<Pin> heldPins(const Project& project, const Clip& clip) {
    const ClipTime time(project, clip);
    std::vector<Pin> held;
    for (const Pin& pin : clip.pins)
        if (pin.frame > 0 && pin.frame < clip.length &&
            std::abs(time.secondsAt(double(pin.frame)) - pin.source.toDouble()) < 1e-4 &&
            (held.empty() || held.back().frame < pin.frame))
            held.push_back(pin);
    return held;
}

Clip runBackwards(const Project& project, Clip clip) {
    const ClipTime time(project, clip);
    if (!time.runs()) return clip;
    clip.sourceIn = time.at(clip.length - 1);
    if (clip.sourceIn < Rational(0)) clip.sourceIn = 0;
    clip.speed = Rational(0) - clip.speed;
    // Frame k shows what frame length - 1 - k showed.
    const Channel before = clip.speedCurve;
    clip.speedCurve.incoming = turnedRound(before.outgoing, -1);
    clip.speedCurve.outgoing = turnedRound(before.incoming, -1);
    for (Pin& pin : clip.pins) pin.frame = clip.length - 1 - pin.frame;
    std::reverse(clip.pins.begin(), clip.pins.end());
    return clip;
}

} // namespace virga
