#include "core/analysis/beat_tracker.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace virga {
namespace {

constexpr double slowest = 50, fastest = 220; // beats a minute that are listened for
constexpr double slowestCounted = 48, fastestCounted = 225;
constexpr int tempi = 140;
constexpr std::size_t windowLength = 8 * noveltyRate, windowStep = noveltyRate;
constexpr double usualTempo = 118, listening = 0.85, counting = 2; // octaves of liking, for the way and for the count
constexpr double tightness = 100;                                  // of Ellis's cost of a beat that comes early or late

double tempoOf(int i) {
    return slowest * std::pow(fastest / slowest, double(i) / (tempi - 1));
}

double liking(double tempo, double octaves) {
    const double off = std::log2(tempo / usualTempo) / octaves;
    return std::exp(-off * off / 2);
}

// Normalised autocorrelation of a part of the curve, from lag 0 on.
std::vector<double> autocorrelation(std::span<const float> part) {
    const double mean = std::accumulate(part.begin(), part.end(), 0.0) / double(part.size());
    std::vector<float> v(part.size());
    for (std::size_t i = 0; i < v.size(); ++i) v[i] = float(part[i] - mean);
    std::vector<double> out(v.size(), 0);
    for (std::size_t lag = 0; lag < v.size(); ++lag) {
        float sum = 0;
        for (std::size_t i = 0; i + lag < v.size(); ++i) sum += v[i] * v[i + lag];
        out[lag] = sum;
    }
    const double power = out[0] + 1e-9;
    for (std::size_t lag = 0; lag < out.size(); ++lag)
        out[lag] /= power * (1 - 0.9 * double(lag) / double(out.size())); // fewer pairs at larger lags
    return out;
}

// The tempo at each frame, as a binary logarithm.
std::vector<double> tempoWay(const std::vector<float>& novelty) {
    const std::size_t n = novelty.size(), w = std::min(windowLength, n);
    std::vector<std::array<double, tempi>> scores;
    for (std::size_t centre = 0; centre < n; centre += windowStep) {
        const std::size_t from = std::min(centre > w / 2 ? centre - w / 2 : 0, n - w);
        const auto alike = autocorrelation({novelty.data() + from, w});
        std::array<double, tempi> row{};
        for (int t = 0; t < tempi; ++t) {
            const double period = 60 / tempoOf(t) * noveltyRate;
            double sum = 0;
            for (const auto& [times, weight] : {std::pair(1, 1.0), {2, 0.8}, {3, 0.5}, {4, 0.5}}) {
                const auto lag = std::size_t(times * period);
                if (lag + 3 >= w) continue;
                sum += weight * std::max(0.0, std::max({alike[lag - 1], alike[lag], alike[lag + 1], alike[lag + 2]}));
            }
            row[std::size_t(t)] = std::log(sum / 2.8 * liking(tempoOf(t), listening) + 1e-3);
        }
        scores.push_back(row);
    }
    // The best way: a tempo may change, at a price that grows with the square of the change and is bounded.
    const double octave = std::log2(fastest / slowest) / (tempi - 1);
    const auto price = [&](int a, int b) {
        const double off = (a - b) * octave;
        return std::min(1200 * off * off, 6.0);
    };
    std::vector<std::array<int, tempi>> back(scores.size());
    std::array<double, tempi> best = scores.front();
    for (std::size_t k = 1; k < scores.size(); ++k) {
        std::array<double, tempi> next{};
        for (int t = 0; t < tempi; ++t) {
            double most = -1e18;
            for (int from = 0; from < tempi; ++from)
                if (const double v = best[std::size_t(from)] - price(t, from); v > most)
                    most = v, back[k][std::size_t(t)] = from;
            next[std::size_t(t)] = most + scores[k][std::size_t(t)];
        }
        best = next;
    }
    std::vector<int> way(scores.size());
    way.back() = int(std::max_element(best.begin(), best.end()) - best.begin());
    for (std::size_t k = scores.size() - 1; k > 0; --k) way[k - 1] = back[k][std::size_t(way[k])];
    std::vector<double> out(n);
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t k = std::min(i / windowStep, way.size() - 1), after = std::min(k + 1, way.size() - 1);
        const double part = double(i - k * windowStep) / windowStep;
        out[i] = std::log2(tempoOf(way[k])) * (1 - std::min(1.0, part)) +
                 std::log2(tempoOf(way[after])) * std::min(1.0, part);
    }
    return out;
}

// The frames of beats whose tempo is the way's, times a factor.
std::vector<std::size_t> placeBeats(const std::vector<float>& novelty, const std::vector<double>& way, double factor) {
    const auto n = std::ptrdiff_t(novelty.size());
    std::vector<double> score(novelty.begin(), novelty.end()), period(novelty.size());
    std::vector<std::ptrdiff_t> before(novelty.size(), -1);
    for (std::ptrdiff_t t = 0; t < n; ++t) {
        const double p = period[std::size_t(t)] = 60 / (std::exp2(way[std::size_t(t)]) * factor) * noveltyRate;
        double most = 0;
        for (auto k = std::max<std::ptrdiff_t>(0, t - std::ptrdiff_t(2 * p)); k <= t - std::ptrdiff_t(p / 2); ++k) {
            if (k >= t) break;
            const double late = std::log(double(t - k) / p);
            if (const double v = score[std::size_t(k)] - tightness * late * late; v > most)
                most = v, before[std::size_t(t)] = k;
        }
        score[std::size_t(t)] += most;
    }
    const auto last = std::max<std::ptrdiff_t>(0, n - 1 - std::ptrdiff_t(period.back()));
    auto at = std::max_element(score.begin() + last, score.end()) - score.begin();
    std::vector<std::size_t> beats;
    for (; at >= 0; at = before[std::size_t(at)]) beats.push_back(std::size_t(at));
    std::reverse(beats.begin(), beats.end());
    return beats;
}

std::vector<float> smoothed(const std::vector<float>& novelty) {
    std::vector<float> out(novelty.size(), 0.0F);
    for (std::ptrdiff_t i = 0; i < std::ptrdiff_t(out.size()); ++i)
        for (std::ptrdiff_t k = -3; k <= 3; ++k)
            if (i + k >= 0 && i + k < std::ptrdiff_t(out.size()))
                out[std::size_t(i)] += novelty[std::size_t(i + k)] * float(std::exp(-double(k * k) / (2 * 1.5 * 1.5)));
    return out;
}

float mostAround(const std::vector<float>& values, std::size_t at) {
    const std::size_t from = at > 3 ? at - 3 : 0, to = std::min(values.size(), at + 4);
    return *std::max_element(values.begin() + std::ptrdiff_t(from), values.begin() + std::ptrdiff_t(to));
}

double quantile(std::vector<float> values, double share) {
    const auto at = values.begin() + std::ptrdiff_t(share * double(values.size() - 1));
    std::nth_element(values.begin(), at, values.end());
    return *at;
}

struct Count {
    std::vector<std::size_t> beats;
    std::vector<float> strengths;
    double factor = 1, score = 0, confidence = 0, usual = 0;
};

// How well beats of a count explain what sounds: how strong they are, and how much of all lies on them.
Count judged(const std::vector<float>& novelty, const std::vector<float>& smooth, const std::vector<double>& way,
             double factor, double middle) {
    Count c;
    c.factor = factor;
    c.beats = placeBeats(smooth, way, factor);
    for (const std::size_t b : c.beats) c.strengths.push_back(mostAround(smooth, b));
    if (c.beats.size() < 3) return c;
    c.usual = quantile(c.strengths, 0.8);
    double strong = 0;
    for (const float s : c.strengths) strong += std::min(1.0, s / (0.5 * c.usual + 1e-9)) / double(c.strengths.size());
    std::vector<char> covered(novelty.size(), 0);
    for (const std::size_t b : c.beats)
        for (std::size_t k = b > 4 ? b - 4 : 0; k < std::min(covered.size(), b + 5); ++k) covered[k] = 1;
    double on = 0, all = 1e-9, share = 0;
    for (std::size_t i = 0; i < novelty.size(); ++i) {
        all += novelty[i];
        if (covered[i]) on += novelty[i], share += 1.0 / double(novelty.size());
    }
    const double recall = on / all;
    c.score = 2 * strong * recall / (strong + recall + 1e-9) * liking(std::exp2(middle) * factor, counting);
    c.confidence = std::clamp((recall - share) / (1 - share + 1e-9), 0.0, 1.0);
    return c;
}

// To a mean of 0 and a deviation of 1; all 0 where they hardly differ, as equal sounds do by where a frame begins.
void standardise(std::vector<double>& values, bool positive = false) {
    double mean = 0, power = 0;
    for (const double v : values) mean += v / double(values.size());
    for (const double v : values) power += (v - mean) * (v - mean) / double(values.size());
    constexpr double leastSpread = 0.35; // of the mean
    if (positive && std::sqrt(power) < leastSpread * mean) return values.assign(values.size(), 0);
    constexpr double most = 2; // a single accent makes no bars
    for (double& v : values) v = std::clamp((v - mean) / (std::sqrt(power) + 1e-9), -most, most);
}

// Bars begin where basses and drums are strongest and the harmony changes.
void findBars(const Novelty& novelty, const Count& count, TrackedBeats& out) {
    const std::size_t n = count.beats.size();
    constexpr std::size_t least = 12;
    if (n < least) return;
    std::vector<double> accents(n), changes(n, 0);
    const auto low = smoothed(novelty.low);  // where in a frame a sound begins must not count
    std::vector<std::vector<double>> sounds; // the mean level in each band over a beat
    for (std::size_t i = 0; i < n; ++i) {
        accents[i] = mostAround(low, count.beats[i]) + 0.3 * count.strengths[i];
        const std::size_t to = i + 1 < n ? count.beats[i + 1] : novelty.all.size();
        std::vector<double> sound(noveltyBands, 0);
        for (std::size_t t = count.beats[i] + 2; t < to; ++t)
            for (std::size_t b = 0; b < noveltyBands; ++b)
                sound[b] += novelty.bands[t * noveltyBands + b] / double(to - count.beats[i]);
        if (i > 0)
            for (std::size_t b = 0; b < noveltyBands; ++b) changes[i] += std::abs(sound[b] - sounds.back()[b]);
        sounds.push_back(std::move(sound));
    }
    constexpr double leastChange = 0.1; // of the logarithm in a band: less is how the frames fall
    if (std::accumulate(changes.begin(), changes.end(), 0.0) < leastChange * noveltyBands * double(n))
        changes.assign(n, 0);
    standardise(accents, true), standardise(changes, true);
    for (std::size_t i = 0; i < n; ++i) accents[i] += changes[i];
    standardise(accents);
    double best = 0, other = 0;
    for (const int per : {3, 4}) {
        double most = -1e9;
        int phase = 0;
        for (int p = 0; p < per; ++p) {
            double on = 0, off = 0;
            int ons = 0, offs = 0;
            for (std::size_t i = 0; i < n; ++i)
                (int(i) % per == p ? (on += accents[i], ++ons) : (off += accents[i], ++offs));
            if (const double contrast = on / ons - off / offs; contrast > most) most = contrast, phase = p;
        }
        if (most > best)
            other = best, best = most, out.perBar = per, out.firstOfBar = phase;
        else
            other = std::max(other, most);
    }
    constexpr double clear = 0.5, margin = 0.2; // standard deviations
    if (best < clear || best - other < margin) out.perBar = out.firstOfBar = 0;
}

} // namespace

Expected<TrackedBeats> trackBeats(const Novelty& novelty) {
    const auto silent = fail(ErrorCode::BadInput, "too little sounds in it to find a beat", {},
                             "tap the beat along, or type the tempo");
    constexpr std::size_t shortest = 2 * noveltyRate;
    if (novelty.all.size() < shortest) return silent;
    const auto smooth = smoothed(novelty.all);
    const float most = *std::max_element(smooth.begin(), smooth.end());
    int begun = 0;
    for (std::size_t i = 1; i + 1 < smooth.size(); ++i)
        begun += smooth[i] > 0.2F * most && smooth[i] >= smooth[i - 1] && smooth[i] > smooth[i + 1];
    if (most <= 0 || begun < 4) return silent;
    const auto way = tempoWay(novelty.all);
    std::vector<double> sorted = way;
    std::nth_element(sorted.begin(), sorted.begin() + std::ptrdiff_t(sorted.size() / 2), sorted.end());
    const double middle = sorted[sorted.size() / 2];
    std::vector<Count> counts;
    for (const double factor : {1.0, 0.5, 2.0, 1.5, 2.0 / 3, 3.0, 1.0 / 3}) {
        const double tempo = std::exp2(middle) * factor;
        if (tempo >= slowestCounted && tempo <= fastestCounted)
            counts.push_back(judged(novelty.all, smooth, way, factor, middle));
    }
    std::stable_sort(counts.begin(), counts.end(), [](const Count& a, const Count& b) { return a.score > b.score; });
    if (counts.empty() || counts.front().beats.size() < 3) return silent;
    Count& best = counts.front();
    // Before the first and after the last thing that sounds there are no beats.
    const auto isSilent = [&](float strength) { return strength < 0.1 * best.usual; };
    while (!best.beats.empty() && isSilent(best.strengths.back())) best.beats.pop_back(), best.strengths.pop_back();
    std::size_t first = 0;
    while (first < best.beats.size() && isSilent(best.strengths[first])) ++first;
    best.beats.erase(best.beats.begin(), best.beats.begin() + std::ptrdiff_t(first));
    best.strengths.erase(best.strengths.begin(), best.strengths.begin() + std::ptrdiff_t(first));
    if (best.beats.size() < 3) return silent;
    TrackedBeats out;
    out.strengths = best.strengths;
    for (const std::size_t b : best.beats) out.seconds.push_back(double(b) / noveltyRate);
    out.tempo = std::exp2(middle) * best.factor;
    out.confidence = best.confidence;
    constexpr double nearly = 0.85;
    for (const Count& c : counts) {
        const double times = c.factor / best.factor;
        if (&c != &best && (std::abs(times - 2) < 0.01 || std::abs(times - 0.5) < 0.01) &&
            c.score > nearly * best.score)
            out.otherTempo = out.tempo * times;
    }
    findBars(novelty, best, out);
    return out;
}

} // namespace virga
