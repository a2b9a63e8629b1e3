#include "core/project/limits.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace virga {
namespace {

// Bytes that are not UTF-8 (RFC 3629) become question marks.
void makeUtf8(std::string& text) {
    for (std::size_t i = 0; i < text.size();) {
        const auto c = static_cast<unsigned char>(text[i]);
        const std::size_t more = c < 0x80                ? 0
                                 : c >= 0xc2 && c < 0xe0 ? 1
                                 : c >= 0xe0 && c < 0xf0 ? 2
                                 : c >= 0xf0 && c < 0xf5 ? 3
                                                         : 9;
        bool good = more < 9 && i + more < text.size();
        for (std::size_t k = 1; good && k <= more; ++k) good = (static_cast<unsigned char>(text[i + k]) & 0xc0) == 0x80;
        const auto second = good && more > 0 ? static_cast<unsigned char>(text[i + 1]) : 0x80;
        if (c == 0xe0 && second < 0xa0) good = false; // overlong
        if (c == 0xed && second > 0x9f) good = false; // surrogates
        if (c == 0xf0 && second < 0x90) good = false;
        if (c == 0xf4 && second > 0x8f) good = false;
        if (!good) text[i] = '?';
        i += good ? more + 1 : 1;
    }
}

class Holder {
public:
    explicit Holder(std::vector<std::string>* problems) : m_problems(problems) {}

    template <typename T> void hold(T& value, T least, T most, const std::string& what) {
        T held = std::clamp(value, least, most);
        if constexpr (std::is_floating_point_v<T>)
            if (!std::isfinite(value)) held = std::clamp(T(0), least, most);
        if (held == value) return;
        tell(fmt::format("{} of {} is out of range; {} was taken", what, value, held));
        value = held;
    }
    // Seconds: not longer than the limit, and no finer than a file can say.
    void hold(Rational& value, Rational least, Rational most, const std::string& what) {
        constexpr std::int64_t largest = 999999999999999999; // 18 digits
        Rational held = std::clamp(value, least, most);
        if (held.den > largest || std::abs(held.num) > largest)
            held = Rational(roundToInteger(held * 1000000), 1000000);
        if (held == value) return;
        if (value < least || value > most) tell(fmt::format("{} of {:.6g} is out of range", what, value.toDouble()));
        value = held;
    }
    void hold(std::string& text, const std::string& what) {
        makeUtf8(text); // another byte would be three in the file
        if (text.size() <= longestText) return;
        text.resize(longestText);
        while (!text.empty() && (static_cast<unsigned char>(text.back()) & 0xc0) == 0x80) text.pop_back();
        if (!text.empty() && static_cast<unsigned char>(text.back()) >= 0xc0) text.pop_back();
        tell(fmt::format("{} is longer than {} letters and was cut", what, longestText));
    }
    void hold(Curve& curve, const std::string& what) {
        for (Key& k : curve.keys) {
            hold(k.time, -farthestKey, farthestKey, what + ", a key's time");
            hold(k.value, -largestValue, largestValue, what + ", a key's value");
            for (Handle* h : {&k.leave, &k.arrive}) {
                hold(h->reach, 0.0, 1.0, what + ", a handle's reach");
                hold(h->rise, -largestValue, largestValue, what + ", a handle's rise");
            }
        }
        if (curve.keys.size() > mostKeys) {
            tell(fmt::format("{} has more than {} keys; the last were left out", what, mostKeys));
            curve.keys.resize(mostKeys);
        }
    }
    void hold(Stack& stack, const std::string& what) {
        for (Move& move : stack) {
            for (double* a : {&move.anchor.x, &move.anchor.y}) hold(*a, -1e6, 1e6, what + ", an anchor");
            hold(move.clock, -farthestKey, farthestKey, what + ", a move's clock");
            const auto& parameters = moveInfo(move.kind).parameters;
            for (std::size_t i = 0; i < move.parameters.size() && i < parameters.size(); ++i)
                hold(move.parameters[i], parameters[i].lowest, parameters[i].highest,
                     what + ", " + std::string(parameters[i].label));
            for (Channel& c : move.channels)
                for (Curve* curve : {&c.outgoing, &c.incoming}) hold(*curve, what);
        }
    }
    void hold(Shutter& s, const std::string& what) {
        hold(s.angle, 0.0, 720.0, what + ", the shutter's angle");
        if (s.phase) hold(*s.phase, -720.0, 720.0, what + ", the shutter's phase");
        hold(s.samples, 0, 1024, what + ", the shutter's samples");
    }
    void hold(Clip& c, const std::string& what) {
        hold(c.name, what + ", its name");
        hold(c.length, std::int64_t(1), longestClip, what + ", its length");
        hold(c.sourceIn, Rational(-longestSource), Rational(longestSource), what + ", its in-point");
        hold(c.speed, slowestSpeed, fastestSpeed, what + ", its speed");
        hold(c.gain, 0.0, loudestGain, what + ", its volume");
        for (double* side : {&c.crop.left, &c.crop.top, &c.crop.right, &c.crop.bottom})
            hold(*side, 0.0, 0.95, what + ", its crop");
        hold(c.placement.scale, 0.001, 1000.0, what + ", its scale");
        for (double* v :
             {&c.placement.position.x, &c.placement.position.y, &c.placement.anchor.x, &c.placement.anchor.y})
            hold(*v, -1e6, 1e6, what + ", its place");
        if (c.shutter) hold(*c.shutter, what);
        if (c.transition.shutter) hold(*c.transition.shutter, what);
        for (std::int64_t* side : {&c.transition.overlap.before, &c.transition.overlap.after})
            hold(*side, std::int64_t(0), longestOverlap, what + ", its overlap");
        hold(c.drift, what + ", its drift");
        hold(c.transition.moves, what + ", its moves");
    }

private:
    void tell(const std::string& text) {
        constexpr std::size_t most = 100;
        if (m_problems && m_problems->size() < most) m_problems->push_back(text);
    }
    std::vector<std::string>* m_problems;
};

std::string called(const std::string& kind, const std::string& name) {
    return name.empty() ? kind : fmt::format("{} \"{}\"", kind, name.substr(0, 60));
}

} // namespace

Project withinLimits(const Project& project, std::vector<std::string>* problems) {
    Project p = project;
    Holder h(problems);
    h.hold(p.name, "the name");
    h.hold(p.settings.size.width, smallestSide, largestSide, "the frame's width");
    h.hold(p.settings.size.height, smallestSide, largestSide, "the frame's height");
    if (!isUsableRate(p.settings.rate)) h.hold(p.settings.rate, Rational(1), Rational(1000), "the frame rate");
    h.hold(p.settings.shutter, "the project");
    h.hold(p.settings.copies, 0, mostCopies, "the limit on copies");
    if (p.settings.startFrame) h.hold(*p.settings.startFrame, std::int64_t(0), latestFrame, "the start's timecode");
    for (Media& m : p.media) {
        const std::string what = called("the file", m.path.filename().string());
        h.hold(m.size.width, 0, largestSide, what + ", its width");
        h.hold(m.size.height, 0, largestSide, what + ", its height");
        h.hold(m.duration, Rational(0), Rational(longestSource), what + ", its length");
        h.hold(m.timecode, Rational(-longestSource), Rational(longestSource), what + ", its timecode");
        h.hold(m.pixelAspect, Rational(1, 100), Rational(100), what + ", its pixels' aspect");
        if (!isUsableRate(m.rate)) h.hold(m.rate, Rational(1), Rational(1000), what + ", its rate");
    }
    for (Clip& c : p.reel) h.hold(c, called("the clip", c.name));
    for (Overlay& o : p.overlays) {
        const std::string what = called("the overlay", o.clip.name);
        h.hold(o.clip, what);
        h.hold(o.start, std::int64_t(0), latestFrame, what + ", its start");
        h.hold(o.row, 0, highestRow, what + ", its row");
    }
    for (Adjustment& a : p.adjustments) {
        const std::string what = called("the adjustment", a.name);
        h.hold(a.name, what + ", its name");
        h.hold(a.start, std::int64_t(0), latestFrame, what + ", its start");
        h.hold(a.length, std::int64_t(1), longestClip, what + ", its length");
        if (a.bars) h.hold(*a.bars, 0.1, 20.0, what + ", its bars");
        h.hold(a.moves, what + ", its moves");
    }
    for (Marker& m : p.markers) {
        h.hold(m.name, called("the marker", m.name));
        h.hold(m.frame, std::int64_t(0), latestFrame, called("the marker", m.name));
    }
    for (Music& m : p.music) {
        h.hold(m.start, -longestClip, longestClip, "the music's start");
        h.hold(m.sourceIn, Rational(-longestSource), Rational(longestSource), "the music's in-point");
        for (std::int64_t* v : {&m.length, &m.fadeIn, &m.fadeOut})
            h.hold(*v, std::int64_t(0), longestClip, "the music's length");
        h.hold(m.gain, 0.0, loudestGain, "the music's volume");
        if (!m.tempo) continue;
        h.hold(m.tempo->beatsPerMinute, 10.0, 1000.0, "the tempo");
        h.hold(m.tempo->firstBeat, Rational(-longestSource), Rational(longestSource), "the first beat");
        h.hold(m.tempo->beatsPerBar, 1, 32, "the beats of a bar");
    }
    for (std::string& note : p.notes) h.hold(note, "a note");
    return p;
}

} // namespace virga
