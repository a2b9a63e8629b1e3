#include "core/curve/fit_keys.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

#include "core/curve/shape.h"

namespace virga {
namespace {

// A value in the curve's space.
struct Sample {
    double time, value, allowed;
};

constexpr double leastReach = 0.02;

// One segment from sample `from` to `to`: reaches and rises, of which a slope may be given.
struct Piece {
    std::size_t from = 0, to = 0;
    std::optional<double> slopeBefore, slopeAfter; // of the tangent there, where it is given
    std::array<double, 4> p{};                     // reach and slope on leaving, reach and slope on arriving
    double worst = 0;                              // miss, in what is allowed
    std::size_t worstAt = 0;
};

class Fitting {
public:
    Fitting(std::vector<Sample> samples, int mostKeys) : m_samples(std::move(samples)), m_most(mostKeys) {}

    std::vector<Piece> run(std::optional<double> before, std::optional<double> after) {
        std::vector<Piece> segments{fitted(0, m_samples.size() - 1, before, after)};
        while (int(segments.size()) + 1 < m_most) {
            const auto worst = std::max_element(segments.begin(), segments.end(),
                                                [](const Piece& a, const Piece& b) { return a.worst < b.worst; });
            if (worst->worst <= 1 || worst->to - worst->from < 3) break;
            const Piece s = *worst;
            const std::size_t at = std::clamp(s.worstAt, s.from + 1, s.to - 1);
            const double slope = tangentAt(at);
            *worst = fitted(s.from, at, s.slopeBefore, slope);
            segments.insert(worst + 1, fitted(at, s.to, slope, s.slopeAfter));
        }
        return segments;
    }

    double valueOf(const Piece& s, double time) const {
        const Sample &a = m_samples[s.from], &b = m_samples[s.to];
        const double span = b.time - a.time, x1 = s.p[0], x2 = 1 - s.p[2];
        const double u = solveBezier(x1, x2, (time - a.time) / span), v = 1 - u;
        const double y1 = a.value + s.p[1] * s.p[0] * span, y2 = b.value - s.p[3] * s.p[2] * span;
        return v * v * v * a.value + 3 * v * v * u * y1 + 3 * v * u * u * y2 + u * u * u * b.value;
    }
    const std::vector<Sample>& samples() const { return m_samples; }
    void judge(Piece& s) const {
        s.worst = 0;
        s.worstAt = (s.from + s.to) / 2;
        for (std::size_t i = s.from + 1; i < s.to; ++i) {
            const double miss = std::abs(valueOf(s, m_samples[i].time) - m_samples[i].value) / m_samples[i].allowed;
            if (miss > s.worst) s.worst = miss, s.worstAt = i;
        }
    }

private:
    // By the neighbours on both sides, as the middle of a parabola through three of them.
    double tangentAt(std::size_t i) const {
        const Sample &a = m_samples[i - 1], &b = m_samples[i], &c = m_samples[i + 1];
        const double ab = (b.value - a.value) / (b.time - a.time), bc = (c.value - b.value) / (c.time - b.time);
        return (ab * (c.time - b.time) + bc * (b.time - a.time)) / (c.time - a.time);
    }

    double cost(const Piece& s) const {
        double sum = 0;
        for (std::size_t i = s.from + 1; i < s.to; ++i) {
            const double miss = (valueOf(s, m_samples[i].time) - m_samples[i].value) / m_samples[i].allowed;
            sum += miss * miss;
        }
        // Reaches that nothing asks for stay near a third.
        for (const int k : {0, 2}) sum += 1e-4 * (s.p[std::size_t(k)] - 0.33) * (s.p[std::size_t(k)] - 0.33);
        return sum;
    }

    Piece fitted(std::size_t from, std::size_t to, std::optional<double> before, std::optional<double> after) const {
        const Sample &a = m_samples[from], &b = m_samples[to];
        const double straight = (b.value - a.value) / (b.time - a.time);
        const auto ownSlope = [&](std::size_t i, std::size_t j) {
            return (m_samples[j].value - m_samples[i].value) / (m_samples[j].time - m_samples[i].time);
        };
        const double first = before.value_or(to - from > 1 ? ownSlope(from, from + 1) : straight),
                     last = after.value_or(to - from > 1 ? ownSlope(to - 1, to) : straight);
        Piece best;
        double least = -1;
        for (const auto& [leave, arrive] :
             {std::pair{0.33, 0.33}, std::pair{0.6, 0.15}, std::pair{0.15, 0.6}, std::pair{0.5, 0.5}}) {
            Piece s{from, to, before, after, {leave, first, arrive, last}, 0, from};
            polish(s);
            if (const double c = cost(s); least < 0 || c < least) least = c, best = s;
        }
        judge(best);
        return best;
    }

    // Levenberg and Marquardt over what is free, with differences for derivatives.
    void polish(Piece& s) const {
        std::vector<int> free{0, 2};
        const std::size_t inner = s.to - s.from - 1;
        if (inner == 0) return;
        if (!s.slopeBefore) free.push_back(1);
        if (!s.slopeAfter) free.push_back(3);
        const double span = m_samples[s.to].time - m_samples[s.from].time;
        const double tall = std::abs(m_samples[s.to].value - m_samples[s.from].value) + m_samples[s.from].allowed;
        const auto stepOf = [&](int k) { return k % 2 == 0 ? 1e-4 : 1e-4 * tall / span; };
        const auto within = [&](Piece& t) {
            for (const int k : {0, 2}) t.p[std::size_t(k)] = std::clamp(t.p[std::size_t(k)], leastReach, 1.0);
        };
        double damping = 1e-2, now = cost(s);
        for (int round = 0; round < 60; ++round) {
            const std::size_t n = free.size();
            std::array<std::array<double, 5>, 4> eq{};
            for (std::size_t i = s.from + 1; i < s.to; ++i) {
                const double w = 1 / m_samples[i].allowed, t = m_samples[i].time;
                const double miss = (valueOf(s, t) - m_samples[i].value) * w;
                std::array<double, 4> d{};
                for (std::size_t k = 0; k < n; ++k) {
                    Piece near = s;
                    near.p[std::size_t(free[k])] += stepOf(free[k]);
                    d[k] = (valueOf(near, t) - valueOf(s, t)) * w / stepOf(free[k]);
                }
                for (std::size_t k = 0; k < n; ++k) {
                    for (std::size_t l = 0; l < n; ++l) eq[k][l] += d[k] * d[l];
                    eq[k][4] -= d[k] * miss;
                }
            }
            for (std::size_t k = 0; k < n; ++k)
                if (free[k] % 2 == 0) {
                    eq[k][k] += 1e-4;
                    eq[k][4] -= 1e-4 * (s.p[std::size_t(free[k])] - 0.33);
                }
            bool better = false;
            for (int tries = 0; tries < 8 && !better; ++tries) {
                auto a = eq;
                for (std::size_t k = 0; k < n; ++k) a[k][k] *= 1 + damping;
                std::array<double, 4> by{};
                if (!solve(a, n, by)) break;
                Piece next = s;
                for (std::size_t k = 0; k < n; ++k) next.p[std::size_t(free[k])] += by[k];
                within(next);
                if (const double c = cost(next); c < now) {
                    better = now - c > 1e-9 * now;
                    s = next, now = c;
                    damping = std::max(1e-7, damping / 5);
                    if (!better) return;
                } else {
                    damping *= 6;
                }
            }
            if (!better) return;
        }
    }

    static bool solve(std::array<std::array<double, 5>, 4>& a, std::size_t n, std::array<double, 4>& x) {
        for (std::size_t i = 0; i < n; ++i) {
            std::size_t pivot = i;
            for (std::size_t r = i; r < n; ++r)
                if (std::abs(a[r][i]) > std::abs(a[pivot][i])) pivot = r;
            if (std::abs(a[pivot][i]) < 1e-14) return false;
            std::swap(a[i], a[pivot]);
            for (std::size_t r = i + 1; r < n; ++r) {
                const double f = a[r][i] / a[i][i];
                for (std::size_t c = i; c < n; ++c) a[r][c] -= f * a[i][c];
                a[r][4] -= f * a[i][4];
            }
        }
        for (std::size_t i = n; i-- > 0;) {
            double sum = a[i][4];
            for (std::size_t c = i + 1; c < n; ++c) sum -= a[i][c] * x[c];
            x[i] = sum / a[i][i];
        }
        return true;
    }

    std::vector<Sample> m_samples;
    int m_most;
};

} // namespace

FittedCurve fittedCurve(const std::vector<MeasuredValue>& values, Space space, double tolerance, bool restsBefore,
                        bool restsAfter, int mostKeys) {
    std::vector<Sample> samples;
    for (const MeasuredValue& v : values)
        samples.push_back({v.time, toSpace(v.value, space), std::max(tolerance, 2.5 * v.error)});
    const auto level = [](bool rests) { return rests ? std::optional(0.0) : std::nullopt; };
    Fitting fitting(samples, std::max(2, mostKeys));
    std::vector<Piece> segments = fitting.run(level(restsBefore), level(restsAfter));
    FittedCurve fitted;
    fitted.curve.space = space;
    const double way = samples.back().value - samples.front().value;
    if (segments.size() == 1 && way != 0 && samples.size() > 3) {
        Piece& only = segments.front();
        double least = 1.0001;
        for (const NamedShape& named : namedShapes()) {
            const Shape& shape = named.shape;
            if (shape.kind != Interpolation::Eased || shape.x1 <= 0 || shape.x2 >= 1) continue;
            const double span = samples.back().time - samples.front().time;
            Piece as = only;
            as.p = {shape.x1, shape.y1 / shape.x1 * way / span, 1 - shape.x2,
                    (1 - shape.y2) / (1 - shape.x2) * way / span};
            fitting.judge(as);
            if (as.worst < least) {
                least = as.worst;
                only = as;
                fitted.like = named.name;
            }
        }
    }
    for (std::size_t i = 0; i <= segments.size(); ++i) {
        const std::size_t at = i < segments.size() ? segments[i].from : segments.back().to;
        Key key;
        key.time = samples[at].time;
        key.value = fromSpace(samples[at].value, space);
        if (i < segments.size()) {
            const Piece& s = segments[i];
            key.leave = {s.p[0], s.p[1] * s.p[0] * (samples[s.to].time - samples[s.from].time)};
        }
        if (i > 0) {
            const Piece& s = segments[i - 1];
            key.arrive = {s.p[2], s.p[3] * s.p[2] * (samples[s.to].time - samples[s.from].time)};
        }
        fitted.curve.keys.push_back(key);
    }
    double square = 0;
    for (const Sample& s : samples) {
        const double miss = std::abs(toSpace(evaluate(fitted.curve, s.time), space) - s.value);
        fitted.worst = std::max(fitted.worst, miss);
        square += miss * miss;
    }
    fitted.mean = std::sqrt(square / double(samples.size()));
    return fitted;
}

} // namespace virga
