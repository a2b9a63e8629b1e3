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
constexpr double loosely = 0.25; // of its step, that what is expected may be off

// What is fitted of a segment.
enum Part { LeaveReach, LeaveSlope, ArriveReach, ArriveSlope, FirstValue, LastValue, Parts };

// Where a segment begins or ends.
struct End {
    double time = 0, value = 0;
    bool loose = false;          // the value is fitted, too
    std::optional<double> slope; // of the tangent, where it is given
};

// One segment through the samples `from` to `to`.
struct Piece {
    std::size_t from = 0, to = 0;
    End begin, end;
    std::array<double, Parts> p{};
    double worst = 0; // miss, in what is allowed
    std::size_t worstAt = 0;

    double span() const { return end.time - begin.time; }
    double way() const { return p[LastValue] - p[FirstValue]; }
    // The samples that it may miss: those between its ends, and a loose end.
    std::size_t first() const { return begin.loose ? from : from + 1; }
    std::size_t behind() const { return end.loose ? to + 1 : to; }
};

// What is expected behind the last sample: its step grows as it grew before. Only so that the curve does not turn where
// nothing was measured.
Sample beyond(const std::vector<Sample>& samples, double time) {
    const std::size_t n = samples.size();
    const auto speed = [&](std::size_t i) {
        return (samples[i].value - samples[i - 1].value) / (samples[i].time - samples[i - 1].time);
    };
    const double grows = n > 2 ? speed(n - 1) - speed(n - 2) : 0, step = time - samples[n - 1].time,
                 by = (speed(n - 1) + grows) * step;
    return {time, samples[n - 1].value + by, 4 * samples[n - 1].allowed + loosely * std::abs(by)};
}

class Fitting {
public:
    Fitting(std::vector<Sample> samples, int mostKeys) : m_samples(std::move(samples)), m_most(mostKeys) {}

    std::vector<Piece> run(const CurveEnds& ends) {
        End begin = endAt(0, ends.looseFirst), end = endAt(m_samples.size() - 1, ends.looseLast);
        if (ends.restsBefore) begin.slope = 0;
        if (ends.restsAfter) end.slope = 0;
        std::vector<Piece> segments{fitted(0, m_samples.size() - 1, begin, end)};
        while (int(segments.size()) + 1 < m_most) {
            const auto worst = std::max_element(segments.begin(), segments.end(),
                                                [](const Piece& a, const Piece& b) { return a.worst < b.worst; });
            if (worst->worst <= 1 || worst->to - worst->from < 3) break;
            const Piece s = *worst;
            const std::size_t at = std::clamp(s.worstAt, s.from + 1, s.to - 1);
            End joint = endAt(at, false);
            joint.slope = tangentAt(at);
            *worst = fitted(s.from, at, s.begin, joint);
            segments.insert(worst + 1, fitted(at, s.to, joint, s.end));
        }
        return segments;
    }

    double valueOf(const Piece& s, double time) const {
        const double span = s.span(), x1 = s.p[LeaveReach], x2 = 1 - s.p[ArriveReach];
        const double u = solveBezier(x1, x2, (time - s.begin.time) / span), v = 1 - u;
        const double y0 = s.p[FirstValue], y3 = s.p[LastValue];
        const double y1 = y0 + s.p[LeaveSlope] * s.p[LeaveReach] * span,
                     y2 = y3 - s.p[ArriveSlope] * s.p[ArriveReach] * span;
        return v * v * v * y0 + 3 * v * v * u * y1 + 3 * v * u * u * y2 + u * u * u * y3;
    }
    void judge(Piece& s) const {
        s.worst = 0;
        s.worstAt = (s.from + s.to) / 2;
        for (std::size_t i = s.first(); i < s.behind(); ++i) {
            const double miss = std::abs(valueOf(s, m_samples[i].time) - m_samples[i].value) / m_samples[i].allowed;
            if (miss > s.worst) s.worst = miss, s.worstAt = i;
        }
    }
    // The same segment with a shape, as tall as fits best where an end is loose.
    Piece shaped(Piece s, const Shape& shape) const {
        const auto shapeBy = [&](double way) {
            const double steep = way / s.span();
            s.p[LeaveReach] = shape.x1, s.p[LeaveSlope] = shape.y1 / shape.x1 * steep;
            s.p[ArriveReach] = 1 - shape.x2, s.p[ArriveSlope] = (1 - shape.y2) / (1 - shape.x2) * steep;
        };
        shapeBy(s.way());
        const bool last = s.end.loose, first = s.begin.loose && !last;
        if ((first || last) && s.way() != 0) {
            const double stays = last ? s.p[FirstValue] : s.p[LastValue];
            double with = 0, square = 0;
            for (std::size_t i = s.first(); i < s.behind(); ++i) {
                const double gone = (valueOf(s, m_samples[i].time) - stays) / s.way(),
                             weight = 1 / (m_samples[i].allowed * m_samples[i].allowed);
                with += weight * gone * (m_samples[i].value - stays);
                square += weight * gone * gone;
            }
            const double way = square > 0 ? with / square : s.way(); // of the loose end from the one that stays
            (last ? s.p[LastValue] : s.p[FirstValue]) = last ? stays + way : stays - way;
            shapeBy(s.way());
        }
        judge(s);
        return s;
    }

private:
    End endAt(std::size_t i, bool loose) const { return {m_samples[i].time, m_samples[i].value, loose, {}}; }
    double slopeBetween(std::size_t i, std::size_t j) const {
        return (m_samples[j].value - m_samples[i].value) / (m_samples[j].time - m_samples[i].time);
    }
    // By the neighbours on both sides, as the middle of a parabola through three of them.
    double tangentAt(std::size_t i) const {
        const Sample &a = m_samples[i - 1], &b = m_samples[i], &c = m_samples[i + 1];
        const double ab = (b.value - a.value) / (b.time - a.time), bc = (c.value - b.value) / (c.time - b.time);
        return (ab * (c.time - b.time) + bc * (b.time - a.time)) / (c.time - a.time);
    }

    double cost(const Piece& s) const {
        double sum = 0;
        for (std::size_t i = s.first(); i < s.behind(); ++i) {
            const double miss = (valueOf(s, m_samples[i].time) - m_samples[i].value) / m_samples[i].allowed;
            sum += miss * miss;
        }
        // Reaches that nothing asks for stay near a third.
        for (const Part k : {LeaveReach, ArriveReach}) sum += 1e-4 * (s.p[k] - 0.33) * (s.p[k] - 0.33);
        return sum;
    }

    Piece fitted(std::size_t from, std::size_t to, const End& begin, const End& end) const {
        const double first = begin.slope.value_or(slopeBetween(from, from + 1)),
                     last = end.slope.value_or(slopeBetween(to - 1, to));
        Piece best;
        double least = -1;
        for (const auto& [leave, arrive] :
             {std::pair{0.33, 0.33}, std::pair{0.6, 0.15}, std::pair{0.15, 0.6}, std::pair{0.5, 0.5}}) {
            Piece s{from, to, begin, end, {leave, first, arrive, last, begin.value, end.value}, 0, from};
            polish(s);
            if (const double c = cost(s); least < 0 || c < least) least = c, best = s;
        }
        judge(best);
        return best;
    }

    // Levenberg and Marquardt over what is free, with differences for derivatives.
    void polish(Piece& s) const {
        std::vector<Part> free{LeaveReach, ArriveReach};
        if (s.to - s.from < 2) return; // nothing lies between its ends
        if (!s.begin.slope) free.push_back(LeaveSlope);
        if (!s.end.slope) free.push_back(ArriveSlope);
        if (s.begin.loose) free.push_back(FirstValue);
        if (s.end.loose) free.push_back(LastValue);
        const double span = s.span(),
                     tall = std::abs(m_samples[s.to].value - m_samples[s.from].value) + m_samples[s.from].allowed;
        const auto isReach = [](Part k) { return k == LeaveReach || k == ArriveReach; };
        const auto stepOf = [&](Part k) {
            return isReach(k) ? 1e-4 : k == LeaveSlope || k == ArriveSlope ? 1e-4 * tall / span : 1e-4 * tall;
        };
        const auto within = [&](Piece& t) {
            for (const Part k : {LeaveReach, ArriveReach}) t.p[k] = std::clamp(t.p[k], leastReach, 1.0);
        };
        double damping = 1e-2, now = cost(s);
        for (int round = 0; round < 60; ++round) {
            const std::size_t n = free.size();
            Equations eq{};
            for (std::size_t i = s.first(); i < s.behind(); ++i) {
                const double w = 1 / m_samples[i].allowed, t = m_samples[i].time;
                const double miss = (valueOf(s, t) - m_samples[i].value) * w;
                std::array<double, Parts> d{};
                for (std::size_t k = 0; k < n; ++k) {
                    Piece near = s;
                    near.p[free[k]] += stepOf(free[k]);
                    d[k] = (valueOf(near, t) - valueOf(s, t)) * w / stepOf(free[k]);
                }
                for (std::size_t k = 0; k < n; ++k) {
                    for (std::size_t l = 0; l < n; ++l) eq[k][l] += d[k] * d[l];
                    eq[k][Parts] -= d[k] * miss;
                }
            }
            for (std::size_t k = 0; k < n; ++k)
                if (isReach(free[k])) {
                    eq[k][k] += 1e-4;
                    eq[k][Parts] -= 1e-4 * (s.p[free[k]] - 0.33);
                }
            bool better = false;
            for (int tries = 0; tries < 8 && !better; ++tries) {
                auto a = eq;
                for (std::size_t k = 0; k < n; ++k) a[k][k] *= 1 + damping;
                std::array<double, Parts> by{};
                if (!solve(a, n, by)) break;
                Piece next = s;
                for (std::size_t k = 0; k < n; ++k) next.p[free[k]] += by[k];
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

    using Equations = std::array<std::array<double, Parts + 1>, Parts>;
    static bool solve(Equations& a, std::size_t n, std::array<double, Parts>& x) {
        for (std::size_t i = 0; i < n; ++i) {
            std::size_t pivot = i;
            for (std::size_t r = i; r < n; ++r)
                if (std::abs(a[r][i]) > std::abs(a[pivot][i])) pivot = r;
            if (std::abs(a[pivot][i]) < 1e-14) return false;
            std::swap(a[i], a[pivot]);
            for (std::size_t r = i + 1; r < n; ++r) {
                const double f = a[r][i] / a[i][i];
                for (std::size_t c = i; c < n; ++c) a[r][c] -= f * a[i][c];
                a[r][Parts] -= f * a[i][Parts];
            }
        }
        for (std::size_t i = n; i-- > 0;) {
            double sum = a[i][Parts];
            for (std::size_t c = i + 1; c < n; ++c) sum -= a[i][c] * x[c];
            x[i] = sum / a[i][i];
        }
        return true;
    }

    std::vector<Sample> m_samples;
    int m_most;
};

} // namespace

FittedCurve fittedCurve(const std::vector<MeasuredValue>& values, Space space, double tolerance, const CurveEnds& ends,
                        int mostKeys) {
    std::vector<Sample> samples;
    samples.reserve(values.size());
    for (const MeasuredValue& v : values)
        samples.push_back({v.time, toSpace(v.value, space), std::max(tolerance, 2.5 * v.error)});
    const std::size_t measured = samples.size();
    if (ends.until && ends.looseLast && *ends.until > samples.back().time)
        samples.push_back(beyond(samples, *ends.until));
    Fitting fitting(samples, std::max(2, mostKeys));
    std::vector<Piece> segments = fitting.run(ends);
    FittedCurve fitted;
    fitted.curve.space = space;
    if (segments.size() == 1 && segments[0].way() != 0 && samples.size() > 3) {
        double least = 1.0001;
        for (const NamedShape& named : namedShapes()) {
            const Shape& shape = named.shape;
            if (shape.kind != Interpolation::Eased || shape.x1 <= 0 || shape.x2 >= 1) continue;
            if (const Piece as = fitting.shaped(segments[0], shape); as.worst < least) {
                least = as.worst;
                segments[0] = as;
                fitted.like = named.name;
            }
        }
    }
    for (std::size_t i = 0; i <= segments.size(); ++i) {
        const Piece& beside = segments[std::min(i, segments.size() - 1)];
        Key key;
        key.time = i < segments.size() ? beside.begin.time : beside.end.time;
        key.value = fromSpace(beside.p[i < segments.size() ? FirstValue : LastValue], space);
        if (i < segments.size())
            key.leave = {beside.p[LeaveReach], beside.p[LeaveSlope] * beside.p[LeaveReach] * beside.span()};
        if (i > 0) {
            const Piece& s = segments[i - 1];
            key.arrive = {s.p[ArriveReach], s.p[ArriveSlope] * s.p[ArriveReach] * s.span()};
        }
        fitted.curve.keys.push_back(key);
    }
    double square = 0;
    samples.resize(measured);
    for (const Sample& s : samples) {
        const double miss = std::abs(toSpace(evaluate(fitted.curve, s.time), space) - s.value);
        fitted.worst = std::max(fitted.worst, miss);
        square += miss * miss;
    }
    fitted.mean = std::sqrt(square / double(samples.size()));
    return fitted;
}

} // namespace virga
