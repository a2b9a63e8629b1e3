#include "core/audio/heard.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/audio/audio_reader.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

constexpr double usualRate = 25;
constexpr double usualFast = 28;        // % of the width per frame at that rate
constexpr double loudest = 0.2;         // root of the mean square at strength 1: noise peaks at five times that
constexpr double thudSeconds = 0.9;     // that a beat is heard for
constexpr std::int64_t apart = 8;       // frames around a beat in which nothing goes faster
constexpr int bands = 8;                // octaves
constexpr double lowestBand = 70;       // Hz, the middle of the first
constexpr std::size_t around = 1 << 17; // samples after which the noise comes again: 2.7 s

// Noise of one octave each, which joins its own beginning, with a root of the mean square of 1. Its random numbers by
// Steele, Lea and Flood, "Fast splittable pseudorandom number generators", OOPSLA 2014 (splitmix64); its filters are
// the band pass of Robert Bristow-Johnson's "Audio EQ cookbook", twice in a row.
class Noise {
public:
    static const Noise& it() {
        static const Noise noise;
        return noise;
    }
    // What differs between the sides is the same a quarter of the octave's period later, which is never louder on one
    // of them.
    float middle(int band, std::int64_t sample) const {
        return m_bands[std::size_t(band)][std::size_t(sample) % around];
    }
    float side(int band, std::int64_t sample) const { return middle(band, sample + m_quarter[std::size_t(band)]); }

private:
    Noise() {
        for (std::size_t b = 0; b < bands; ++b) {
            std::vector<double> x(around);
            std::uint64_t state = 0x9e3779b97f4a7c15ull * (1 + b);
            for (double& v : x) {
                std::uint64_t z = state += 0x9e3779b97f4a7c15ull;
                z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ull;
                z = (z ^ (z >> 27)) * 0x94d049bb133111ebull;
                v = double((z ^ (z >> 31)) >> 11) * 0x1p-52 - 1;
            }
            const double frequency = lowestBand * std::exp2(double(b));
            for (int twice = 0; twice < 2; ++twice) passed(x, frequency);
            double square = 0;
            for (const double v : x) square += v * v;
            const double by = 1 / std::sqrt(square / double(around));
            m_bands[b].resize(around);
            std::transform(x.begin(), x.end(), m_bands[b].begin(), [by](double v) { return float(v * by); });
            m_quarter[b] = std::int64_t(std::lround(audioRate / (4 * frequency)));
        }
    }
    // Once around to settle, once to keep: it then joins its own beginning.
    static void passed(std::vector<double>& x, double frequency) {
        const double w = 2 * std::numbers::pi * frequency / audioRate, alpha = std::sin(w) / (2 * 1.4);
        const double b0 = alpha / (1 + alpha), a1 = -2 * std::cos(w) / (1 + alpha), a2 = (1 - alpha) / (1 + alpha);
        double x1 = 0, x2 = 0, y1 = 0, y2 = 0;
        std::vector<double> y(x.size());
        for (int round = 0; round < 2; ++round)
            for (std::size_t i = 0; i < x.size(); ++i) {
                const double out = b0 * (x[i] - x2) - a1 * y1 - a2 * y2;
                x2 = x1, x1 = x[i], y2 = y1, y1 = out;
                y[i] = out;
            }
        x = std::move(y);
    }
    std::array<std::vector<float>, bands> m_bands;
    std::array<std::int64_t, bands> m_quarter{};
};

// The octaves' shares for a strength: faster is brighter.
std::array<float, bands> sharesOf(const Heard& heard, double strength) {
    const double middle = 1.4 + (2.2 + 2.6 * heard.air) * std::pow(std::clamp(strength, 0.0, 1.3), 0.6);
    const double below = 0.6 + 2.2 * heard.body, above = 0.5 + 1.6 * heard.air;
    std::array<float, bands> shares{};
    double square = 0;
    for (int b = 0; b < bands; ++b) {
        const double off = (b - middle) / (b < middle ? below : above);
        shares[std::size_t(b)] = float(std::exp(-0.5 * off * off));
        square += double(shares[std::size_t(b)]) * double(shares[std::size_t(b)]);
    }
    for (float& s : shares) s = float(double(s) / std::sqrt(square));
    return shares;
}

// A low beat: a sine that falls from 95 to 45 Hz and dies away.
double thudAt(double seconds) {
    if (seconds < 0 || seconds > thudSeconds) return 0;
    const double phase = 45 * seconds + 50 * 0.06 * (1 - std::exp(-seconds / 0.06));
    const double swell = std::min(1.0, seconds / 0.004), end = std::min(1.0, (thudSeconds - seconds) / 0.1);
    return swell * end * std::exp(-seconds / 0.17) * std::sin(2 * std::numbers::pi * phase);
}

} // namespace

HeardCourse::HeardCourse(const Project& project, std::int64_t from, std::int64_t to) {
    const double rate = project.settings.rate.toDouble();
    m_reach = project.settings.heard.length * rate;
    const auto before = std::int64_t(std::ceil(std::max(m_reach, thudSeconds * rate))) + apart + 2;
    const ReelIndex index = reelIndex(project);
    const std::int64_t end = index.starts.empty() ? 0 : index.starts.back();
    m_first = std::max<std::int64_t>(0, from - before);
    const std::int64_t last = std::min(end, to + std::int64_t(std::ceil(m_reach)) + apart + 2);
    const FlowLimits& limits = project.settings.flow;
    const Size frame = project.settings.size;
    std::vector<double> speeds;
    std::int64_t known = -1; // the clip whose frames were found to stand still
    for (std::int64_t n = m_first; n < last; ++n) {
        double speed = 0, place = 0;
        const auto clip = std::upper_bound(index.starts.begin(), index.starts.end(), n) - index.starts.begin() - 1;
        if (known != clip || project.reel[std::size_t(clip)].drift.size() > 0) {
            const FramePlan plan = planFrame(project, index, n);
            const LayerPlan* layer = layerOfClip(plan, int(clip));
            const bool moves = layer && std::any_of(layer->stacks.begin(), layer->stacks.end(),
                                                    [](const TimedStack& s) { return !s.stack.empty(); });
            known = moves ? -1 : clip;
            if (moves) {
                const Velocities v = velocitiesAt(*layer, double(n), frame);
                speed = std::min(speedOf(v), 500.0);
                const Point mean = meanOf(v) * 100;
                place = speed > 0 ? std::clamp(mean.x / speed, -1.0, 1.0) : 0;
            }
        }
        speeds.push_back(speed);
        const double x = std::max(0.0, speed - limits.little) * rate / usualRate / usualFast;
        m_strengths.push_back(1.3 * std::tanh(x / 1.3));
        m_places.push_back(place);
    }
    if (project.settings.heard.thud <= 0) return;
    for (std::int64_t i = 0; i < std::int64_t(speeds.size()); ++i) {
        const double here = speeds[std::size_t(i)];
        if (here < limits.fast) continue;
        bool peak = true;
        for (std::int64_t k = std::max<std::int64_t>(0, i - apart);
             k <= std::min<std::int64_t>(i + apart, std::int64_t(speeds.size()) - 1); ++k)
            peak = peak && (speeds[std::size_t(k)] < here || (speeds[std::size_t(k)] == here && k >= i));
        if (peak) m_thuds.push_back(m_first + i);
    }
}

// A frame's value holds in its middle; between two frames it is on the way from one to the other.
double HeardCourse::at(const std::vector<double>& values, double frame) const {
    if (values.empty()) return 0;
    const double x = frame - 0.5 - double(m_first), below = std::floor(x);
    const auto value = [&](double i) { return i < 0 || i >= double(values.size()) ? 0.0 : values[std::size_t(i)]; };
    return value(below) + (value(below + 1) - value(below)) * (x - below);
}

double HeardCourse::strengthAt(double frame) const {
    double most = at(m_strengths, frame);
    // It swells towards what comes, and fades behind what was: the peak stays where it is.
    if (m_reach > 0)
        for (double by = -std::floor(m_reach); by <= m_reach; ++by) {
            const double near = 1 - std::abs(by) / (m_reach + 1);
            most = std::max(most, at(m_strengths, frame + by) * near * near);
        }
    return most;
}

double HeardCourse::placeAt(double frame) const {
    return at(m_places, frame);
}

std::vector<float> heardSound(const Project& project, std::int64_t first, std::int64_t last) {
    std::vector<float> sound(std::size_t(std::max<std::int64_t>(0, last - first)) * audioChannels, 0.0F);
    const Heard& heard = project.settings.heard;
    if (!heard.on || heard.level <= 0 || sound.empty()) return sound;
    const double rate = project.settings.rate.toDouble();
    const auto frameOf = [rate](std::int64_t sample) { return double(sample) * rate / audioRate; };
    const HeardCourse course(project, std::int64_t(std::floor(frameOf(first))),
                             std::int64_t(std::ceil(frameOf(last))) + 1);
    const Noise& noise = Noise::it();
    // What changes is found every so many samples, counted from the reel's start, and is even between.
    constexpr std::int64_t step = 64;
    struct State {
        double level = 0, left = 0, right = 0;
        std::array<float, bands> shares{};
    };
    const auto stateAt = [&](std::int64_t sample) {
        State s;
        const double strength = course.strengthAt(frameOf(sample));
        const double place = 0.8 * course.placeAt(frameOf(sample));
        s.level = loudest * heard.level * strength;
        s.left = std::cos((place + 1) * std::numbers::pi / 4) * std::numbers::sqrt2;
        s.right = std::sin((place + 1) * std::numbers::pi / 4) * std::numbers::sqrt2;
        if (s.level > 0) s.shares = sharesOf(heard, strength);
        return s;
    };
    const auto block = [](std::int64_t sample) { return sample >= 0 ? sample / step : -((step - 1 - sample) / step); };
    State from, to;
    std::int64_t at = 0;
    bool any = false;
    for (std::int64_t i = first; i < last; ++i) {
        if (i == first || block(i) != at) {
            at = block(i);
            from = stateAt(at * step);
            to = stateAt((at + 1) * step);
            any = from.level > 0 || to.level > 0;
        }
        if (!any) continue;
        const double part = double(i - at * step) / step;
        float mid = 0, side = 0;
        for (int b = 0; b < bands; ++b) {
            const auto k = std::size_t(b);
            const float share = from.shares[k] + (to.shares[k] - from.shares[k]) * float(part);
            if (share < 1e-4F) continue;
            mid += share * noise.middle(b, i);
            side += share * noise.side(b, i);
        }
        const double level = from.level + (to.level - from.level) * part;
        const double left = from.left + (to.left - from.left) * part,
                     right = from.right + (to.right - from.right) * part;
        float* out = sound.data() + std::size_t(i - first) * audioChannels;
        out[0] += float(level * left * (0.87 * double(mid) + 0.49 * double(side)));
        out[1] += float(level * right * (0.87 * double(mid) - 0.49 * double(side)));
    }
    for (const std::int64_t frame : course.thuds()) {
        const auto begin = std::int64_t(std::llround((double(frame) + 0.5) / rate * audioRate));
        const double level = 0.55 * heard.thud * heard.level;
        for (std::int64_t i = std::max(first, begin); i < std::min(last, begin + std::int64_t(thudSeconds * audioRate));
             ++i) {
            const auto v = float(level * thudAt(double(i - begin) / audioRate));
            for (int c = 0; c < audioChannels; ++c) sound[std::size_t(i - first) * audioChannels + std::size_t(c)] += v;
        }
    }
    return sound;
}

} // namespace virga
