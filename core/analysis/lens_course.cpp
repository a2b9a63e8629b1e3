#include "core/analysis/lens_course.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/median.h"

namespace virga {
namespace {

constexpr std::size_t fewest = 40;    // pairs that tell of a lens
constexpr double widest = 0.5;        // that its amount may change in a step
constexpr double clearlyBetter = 0.8; // of the misses without it
constexpr double leastAmount = 0.04;  // that is taken for a lens
constexpr double pixel = 1.0 / 640;   // of the pictures that are measured

Point beneathLens(double amount, Point p, double aspect) {
    if (amount == 0) return p;
    return beneath(Lens{{0, 0}, std::hypot(0.5, 0.5 / aspect), amount}, p);
}

std::vector<FeaturePair> beneathBoth(const std::vector<FeaturePair>& pairs, double before, double after,
                                     double aspect) {
    std::vector<FeaturePair> under;
    for (const FeaturePair& p : pairs) {
        const FeaturePair u{beneathLens(before, p.from, aspect), beneathLens(after, p.to, aspect)};
        if (std::isfinite(u.from.length()) && std::isfinite(u.to.length())) under.push_back(u);
    }
    return under;
}

// The middle miss of one half of the pairs under what was fitted to the other, both ways.
double heldOut(const std::vector<FeaturePair>& pairs) {
    std::array<std::vector<FeaturePair>, 2> halves;
    for (std::size_t i = 0; i < pairs.size(); ++i) halves[i % 2].push_back(pairs[i]);
    std::vector<double> misses;
    for (std::size_t side = 0; side < 2; ++side) {
        if (halves[side].size() < 4) return 1;
        const Matrix map = fittedSimilarity(halves[side], 0.5 * pixel);
        for (const FeaturePair& p : halves[1 - side]) {
            Point to;
            map.multVecMatrix(p.from, to);
            misses.push_back((to - p.to).length());
        }
    }
    return medianOf(std::move(misses));
}

} // namespace

std::optional<LensCourse> lensCourse(const std::vector<OutwardStep>& steps, double aspect) {
    LensCourse course;
    double amount = 0, with = 0, without = 0, most = 0;
    int told = 0;
    for (const OutwardStep& s : steps) {
        if (s.pairs.size() >= fewest) {
            const auto missAt = [&](double a) { return heldOut(beneathBoth(s.pairs, amount, a, aspect)); };
            // Coarse, then by golden section around the best.
            double best = amount, least = missAt(amount);
            for (double a = std::max(-1.0, amount - widest); a <= std::min(1.0, amount + widest); a += 0.02)
                if (const double miss = missAt(a); miss < least) least = miss, best = a;
            constexpr double golden = 0.618034;
            double low = best - 0.02, high = best + 0.02;
            for (int i = 0; i < 14; ++i) {
                const double a = high - golden * (high - low), b = low + golden * (high - low);
                (missAt(a) < missAt(b) ? high : low) = missAt(a) < missAt(b) ? b : a;
            }
            const double exact = std::clamp((low + high) / 2, -1.0, 1.0);
            // What the step would be if nothing of it were a lens that changes.
            without += heldOut(s.pairs);
            with += std::min(least, missAt(exact));
            const double now = missAt(exact) <= least ? exact : best;
            course.maps.push_back(fittedSimilarity(beneathBoth(s.pairs, amount, now, aspect), 0.5 * pixel));
            amount = now;
            ++told;
        } else {
            course.maps.push_back(s.step.map);
        }
        course.amounts.push_back(amount);
        most = std::max(most, std::abs(amount));
    }
    if (told < 3 || most < leastAmount || with > clearlyBetter * without || without - with < 0.02 * pixel * told)
        return std::nullopt;
    return course;
}

} // namespace virga
