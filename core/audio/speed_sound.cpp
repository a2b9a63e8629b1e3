#include "core/audio/speed_sound.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>
#include <rubberband/RubberBandStretcher.h>

#include "core/base/hash.h"

namespace virga {
namespace {

// A sinc of 16 lobes a side under a Kaiser window (beta 9: side lobes below -90 dB), tabulated.
class Sinc {
public:
    static constexpr int lobes = 16, steps = 512;
    static const Sinc& instance() {
        static const Sinc sinc;
        return sinc;
    }
    float at(double x) const {
        const double place = std::abs(x) * steps;
        const auto i = std::size_t(place);
        if (i + 1 >= m_values.size()) return 0;
        const auto part = float(place - double(i));
        return m_values[i] + (m_values[i + 1] - m_values[i]) * part;
    }

private:
    Sinc() {
        const auto bessel = [](double x) { // I0 by its series
            double sum = 1, term = 1;
            for (int k = 1; k < 60; ++k) sum += term *= x * x / (4.0 * k * k);
            return sum;
        };
        for (std::size_t i = 0; i < m_values.size(); ++i) {
            const double x = double(i) / steps, u = x / lobes, angle = std::numbers::pi * x;
            const double sinc = i == 0 ? 1 : std::sin(angle) / angle;
            m_values[i] = float(u >= 1 ? 0 : sinc * bessel(9 * std::sqrt(1 - u * u)) / bessel(9));
        }
    }
    std::array<float, std::size_t(lobes* steps) + 2> m_values{};
};

// Source samples from number `from` on; silence before the source's start.
Expected<std::vector<float>> sourceSamples(const std::filesystem::path& path, std::int64_t from, std::int64_t count,
                                           SoundPool& pool, const Cancel& cancel) {
    const std::int64_t ahead = std::clamp<std::int64_t>(-from, 0, count);
    auto read = pool.read(path, Rational(from + ahead, audioRate), count - ahead, 1, cancel);
    if (!read || ahead == 0) return read;
    std::vector<float> all(std::size_t(count) * audioChannels, 0.0f);
    std::copy(read->begin(), read->end(), all.begin() + std::ptrdiff_t(ahead * audioChannels));
    return all;
}

} // namespace

SoundCourse::SoundCourse(const Clip& clip, std::int64_t firstFrame, FrameRate rate)
    : m_area(wholeSpeedCurveOf(clip)), m_sourceIn(clip.sourceIn.toDouble()), m_firstFrame(double(firstFrame)),
      m_framesPerSample(rate.toDouble() / audioRate), m_rate(rate.toDouble()) {
    Hash hash;
    hash.add(m_sourceIn).add(m_firstFrame).add(m_rate);
    for (const Key& k : m_area.curve().keys)
        hash.add(k.time)
            .add(k.value)
            .add(k.next)
            .add(k.leave.reach)
            .add(k.leave.rise)
            .add(k.arrive.reach)
            .add(k.arrive.rise);
    m_hash = hash.value();
}

double SoundCourse::secondsAt(double sample) const {
    return m_sourceIn + m_area.upTo(sample * m_framesPerSample - m_firstFrame) / 100 / m_rate;
}

double SoundCourse::speedAt(double sample) const {
    return evaluate(m_area.curve(), sample * m_framesPerSample - m_firstFrame) / 100;
}

float loudnessAt(double speed) {
    const double s = std::abs(speed);
    const double share = s < 0.5 ? (s - 0.4) / 0.1 : s > 2 ? (2.5 - s) / 0.5 : 1;
    return float(std::clamp(share, 0.0, 1.0));
}

Expected<std::vector<float>> followedSound(const SoundCourse& course, const std::filesystem::path& path,
                                           std::int64_t first, std::int64_t last, SoundPool& pool,
                                           const Cancel& cancel) {
    const auto count = std::size_t(std::max<std::int64_t>(0, last - first));
    std::vector<float> out(count * audioChannels, 0.0f);
    if (count == 0) return out;
    std::vector<double> at(count + 1);
    for (std::size_t i = 0; i <= count; ++i) at[i] = course.secondsAt(double(first + std::int64_t(i))) * audioRate;
    // In spans that read no more of the source than a second or so.
    const Sinc& sinc = Sinc::instance();
    for (std::size_t begin = 0; begin < count;) {
        std::size_t end = begin;
        double low = at[begin], high = at[begin];
        while (end < count && std::max(high, at[end + 1]) - std::min(low, at[end + 1]) < 2 * audioRate) {
            ++end;
            low = std::min(low, at[end]), high = std::max(high, at[end]);
        }
        end = std::max(end, begin + 1);
        constexpr int widest = Sinc::lobes * 12; // at twelve times the speed
        const auto from = std::int64_t(std::floor(low)) - widest;
        auto source = sourceSamples(path, from, std::int64_t(std::ceil(high)) + widest + 1 - from, pool, cancel);
        if (!source) return source;
        for (std::size_t i = begin; i < end; ++i) {
            const double step = std::clamp(std::abs(at[i + 1] - at[i]), 1.0, 12.0); // source samples for one
            const double cutoff = 1 / step, reach = Sinc::lobes * step, place = at[i] - double(from);
            const auto a = std::max<std::int64_t>(0, std::int64_t(std::ceil(place - reach)));
            const auto b =
                std::min<std::int64_t>(std::int64_t(source->size()) / audioChannels - 1, std::int64_t(place + reach));
            float left = 0, right = 0;
            for (std::int64_t k = a; k <= b; ++k) {
                const float weight = sinc.at((double(k) - place) * cutoff);
                left += weight * (*source)[std::size_t(2 * k)], right += weight * (*source)[std::size_t(2 * k) + 1];
            }
            out[2 * i] = left * float(cutoff), out[2 * i + 1] = right * float(cutoff);
        }
        begin = end;
    }
    return out;
}

namespace {

constexpr std::int64_t windowLength = 8 * audioRate, joint = audioRate / 20, lead = audioRate / 2;
constexpr double stillSpeed = 0.02; // slower than this a shot stands still, to the ear

// Samples `first` to `last` of the reel, over which the source runs one way, put into `out` (stereo, from its begin
// on).
Expected<void> stretchedRun(const SoundCourse& course, const std::filesystem::path& path, std::int64_t first,
                            std::int64_t last, SoundPool& pool, const Cancel& cancel, std::span<float> out) {
    const double a = course.secondsAt(double(first)), b = course.secondsAt(double(last));
    const bool backwards = b < a;
    const double low = std::min(a, b), high = std::max(a, b);
    const auto inputs = std::int64_t(std::ceil((high - low) * audioRate));
    constexpr std::int64_t least = 64;
    if (inputs < least || last - first < least) return {};
    const auto from = std::int64_t(std::floor(low * audioRate));
    auto source = sourceSamples(path, from, inputs, pool, cancel);
    if (!source) return tl::unexpected(source.error());
    std::array<std::vector<float>, audioChannels> planes;
    for (int c = 0; c < audioChannels; ++c) {
        planes[std::size_t(c)].resize(std::size_t(inputs));
        for (std::int64_t i = 0; i < inputs; ++i)
            planes[std::size_t(c)][std::size_t(backwards ? inputs - 1 - i : i)] = (*source)[std::size_t(2 * i + c)];
    }
    using RubberBand::RubberBandStretcher;
    const auto outputs = double(last - first);
    RubberBandStretcher stretcher(audioRate, audioChannels,
                                  // Short windows, and no holding of transients, which moves what lies between them:
                                  // sounds stay within 10 ms of their picture.
                                  RubberBandStretcher::OptionProcessOffline | RubberBandStretcher::OptionEngineFaster |
                                      RubberBandStretcher::OptionWindowShort |
                                      RubberBandStretcher::OptionTransientsSmooth |
                                      RubberBandStretcher::OptionChannelsTogether,
                                  outputs / double(inputs));
    stretcher.setExpectedInputDuration(std::size_t(inputs));
    constexpr std::int64_t blockLength = 4096;
    stretcher.setMaxProcessSize(blockLength);  // before the map: it makes the library forget one
    std::map<std::size_t, std::size_t> places; // of input samples in the output, every 20 ms, forwards in both
    std::int64_t before = -1;
    for (std::int64_t at = first; at < last; at += audioRate / 50) {
        const double seconds = course.secondsAt(double(at));
        const auto input = std::llround((backwards ? high - seconds : seconds - low) * audioRate);
        constexpr std::int64_t step = 128, tail = 1024; // the library's smallest step; it takes no places near the end
        if (input <= std::max<std::int64_t>(before, 0) + step || input >= inputs - tail)
            continue; // all but stands still
        places[std::size_t(input)] = std::size_t(at - first);
        before = input;
    }
    if (places.size() > 2) stretcher.setKeyFrameMap(places);
    const auto inBlocks = [&](const auto& take) {
        for (std::int64_t at = 0; at < inputs; at += blockLength) {
            const float* in[audioChannels] = {planes[0].data() + at, planes[1].data() + at};
            const std::int64_t count = std::min(blockLength, inputs - at);
            take(in, std::size_t(count), at + count >= inputs);
        }
    };
    inBlocks([&](const float* const* in, std::size_t count, bool isLast) { stretcher.study(in, count, isLast); });
    std::array<std::vector<float>, audioChannels> block{std::vector<float>(blockLength),
                                                        std::vector<float>(blockLength)};
    std::size_t done = 0; // of what is put out
    inBlocks([&](const float* const* in, std::size_t count, bool isLast) {
        stretcher.process(in, count, isLast);
        for (int there = stretcher.available(); there > 0; there = stretcher.available()) {
            float* to[audioChannels] = {block[0].data(), block[1].data()};
            const std::size_t got = stretcher.retrieve(to, std::min<std::size_t>(std::size_t(there), blockLength));
            if (got == 0) break;
            for (std::size_t i = 0; i < got && 2 * (done + i) + 1 < out.size(); ++i)
                out[2 * (done + i)] = block[0][i], out[2 * (done + i) + 1] = block[1][i];
            done += got;
        }
    });
    return {};
}

// Which way the source runs: 1, −1, or 0 where it stands still.
int wayAt(const SoundCourse& course, std::int64_t sample) {
    const double speed = course.speedAt(double(sample));
    return speed > stillSpeed ? 1 : speed < -stillSpeed ? -1 : 0;
}

// One window of the reel's samples, from `begin` on, as long as a window and a joint; made by itself, so that it is the
// same whoever asks. Where the source stands still it is silent; where it turns, each way is made by itself.
Expected<std::vector<float>> windowAtItsPitch(const SoundCourse& course, const std::filesystem::path& path,
                                              std::int64_t begin, SoundPool& pool, const Cancel& cancel) {
    const std::int64_t first = begin - lead, last = begin + windowLength + joint + lead;
    std::vector<float> all(std::size_t(last - first) * audioChannels, 0.0f);
    constexpr std::int64_t look = audioRate / 100, ramp = audioRate / 500;
    for (std::int64_t from = first; from < last;) {
        const int way = wayAt(course, from);
        std::int64_t to = from;
        while (to < last && wayAt(course, to) == way) to = std::min(last, to + look);
        if (to < last || wayAt(course, last - 1) != way) { // the turn itself, to the sample
            std::int64_t inside = std::max(from, to - look);
            while (to - inside > 1) {
                const std::int64_t middle = (inside + to) / 2;
                (wayAt(course, middle) == way ? inside : to) = middle;
            }
        }
        if (way != 0) {
            const std::span<float> out(all.data() + (from - first) * audioChannels,
                                       std::size_t(to - from) * audioChannels);
            if (auto done = stretchedRun(course, path, from, to, pool, cancel, out); !done)
                return tl::unexpected(done.error());
            for (std::int64_t i = 0; i < std::min(ramp, (to - from) / 2); ++i) // no clicks where it turns
                for (std::size_t c = 0; c < audioChannels; ++c) {
                    const float share = float(i) / ramp;
                    if (from > first) out[std::size_t(2 * i) + c] *= share;
                    if (to < last) out[std::size_t(2 * (to - from - 1 - i)) + c] *= share;
                }
        }
        from = to;
    }
    const auto wanted = all.begin() + lead * audioChannels;
    return std::vector<float>(wanted, wanted + (windowLength + joint) * audioChannels);
}

} // namespace

Expected<std::vector<float>> soundAtItsPitch(const SoundCourse& course, const std::filesystem::path& path,
                                             std::int64_t first, std::int64_t last, SoundPool& pool,
                                             const Cancel& cancel) {
    std::vector<float> out(std::size_t(std::max<std::int64_t>(0, last - first)) * audioChannels, 0.0f);
    const auto windowOf = [](std::int64_t sample) {
        return sample >= 0 ? sample / windowLength : -((windowLength - 1 - sample) / windowLength);
    };
    // The joint of a window lies over the beginning of the next one.
    for (auto w = windowOf(first) - 1; w <= windowOf(last); ++w) {
        const std::int64_t begin = w * windowLength, end = begin + windowLength + joint;
        const auto a = std::max(first, begin), b = std::min(last, end);
        if (a >= b) continue;
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        const std::uint64_t key = Hash().add(std::string_view(path.native())).add(course.hash()).add(w).value();
        auto kept = pool.madeSound(key);
        if (!kept) {
            auto made = windowAtItsPitch(course, path, begin, pool, cancel);
            if (!made) return made;
            kept = pool.keepMade(key, path, std::move(*made));
        }
        for (auto i = a; i < b; ++i) {
            const double rise = std::clamp(double(i - begin) / joint, 0.0, 1.0),
                         fall = std::clamp(double(end - i) / joint, 0.0, 1.0);
            const float weight = float(std::min(rise, fall)) * float(wayAt(course, i) != 0);
            for (std::size_t c = 0; c < audioChannels; ++c)
                out[std::size_t(2 * (i - first)) + c] += weight * (*kept)[std::size_t(2 * (i - begin)) + c];
        }
    }
    return out;
}

} // namespace virga
