#include "core/curve/key_group.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

KeyGroup existing(const Curve& curve, const KeyGroup& group) {
    KeyGroup kept;
    for (const int i : group)
        if (i >= 0 && i < int(curve.keys.size()) && (kept.empty() || i > kept.back())) kept.push_back(i);
    return kept;
}

bool isIn(const KeyGroup& group, int key) {
    return std::binary_search(group.begin(), group.end(), key);
}

Key& at(Curve& curve, int i) {
    return curve.keys[std::size_t(i)];
}

double inSpace(const Curve& curve, int i) {
    return toSpace(curve.keys[std::size_t(i)].value, curve.space);
}

// After times were changed: ascending again, the group giving way to the others.
void keepOrder(Curve& curve, const KeyGroup& group) {
    const int n = int(curve.keys.size());
    for (int i = 1; i < n; ++i)
        if (isIn(group, i)) at(curve, i).time = std::max(at(curve, i).time, at(curve, i - 1).time + smallestKeyGap);
    for (int i = n - 2; i >= 0; --i)
        if (isIn(group, i)) at(curve, i).time = std::min(at(curve, i).time, at(curve, i + 1).time - smallestKeyGap);
}

// The rises of segment i follow its value difference, where both are not 0.
void followDifference(Curve& curve, int i, double before) {
    const double now = inSpace(curve, i + 1) - inSpace(curve, i);
    if (std::abs(before) < 1e-12 || std::abs(now) < 1e-12) return;
    at(curve, i).leave.rise *= now / before;
    at(curve, i + 1).arrive.rise *= now / before;
}

std::vector<double> differences(const Curve& curve) {
    std::vector<double> all;
    for (int i = 0; i + 1 < int(curve.keys.size()); ++i) all.push_back(inSpace(curve, i + 1) - inSpace(curve, i));
    return all;
}

} // namespace

KeyGroup allKeys(const Curve& curve) {
    KeyGroup all(curve.keys.size());
    std::iota(all.begin(), all.end(), 0);
    return all;
}

Curve withGroupMoved(const Curve& curve, const KeyGroup& wanted, double time, double step) {
    const KeyGroup group = existing(curve, wanted);
    if (group.empty() || !std::isfinite(time) || !std::isfinite(step)) return curve;
    Curve out = curve;
    // As a whole: as far as the first key that meets one outside the group.
    for (const int i : group) {
        if (i > 0 && !isIn(group, i - 1)) time = std::max(time, at(out, i - 1).time + smallestKeyGap - at(out, i).time);
        if (i + 1 < int(out.keys.size()) && !isIn(group, i + 1))
            time = std::min(time, at(out, i + 1).time - smallestKeyGap - at(out, i).time);
    }
    const auto before = differences(out);
    for (const int i : group) {
        at(out, i).time += time;
        if (step != 0) at(out, i).value = fromSpace(inSpace(out, i) + step, out.space);
    }
    for (int i = 0; i + 1 < int(out.keys.size()); ++i)
        if (isIn(group, i) != isIn(group, i + 1)) followDifference(out, i, before[std::size_t(i)]);
    return out;
}

Curve reversed(const Curve& curve, const KeyGroup& wanted) {
    const KeyGroup group = existing(curve, wanted);
    if (group.size() < 2) return curve;
    const int first = group.front(), last = group.back();
    Curve out = curve;
    const auto before = differences(out);
    const double sum = at(out, first).time + at(out, last).time;
    const auto begin = out.keys.begin() + first, end = out.keys.begin() + last + 1;
    std::vector<Interpolation> kinds;
    for (int i = first; i < last; ++i) kinds.push_back(at(out, i).next);
    const Handle in = at(out, first).arrive, leaving = at(out, last).leave; // belong to the segments outside
    const Interpolation outside = at(out, last).next;
    std::reverse(begin, end);
    std::reverse(kinds.begin(), kinds.end());
    for (int i = first; i <= last; ++i) {
        Key& key = at(out, i);
        key.time = sum - key.time;
        std::swap(key.leave, key.arrive);
        key.leave.rise = -key.leave.rise;
        key.arrive.rise = -key.arrive.rise;
        if (i < last) key.next = kinds[std::size_t(i - first)];
    }
    at(out, first).arrive = in;
    at(out, last).leave = leaving;
    at(out, last).next = outside;
    if (first > 0) followDifference(out, first - 1, before[std::size_t(first - 1)]);
    if (last + 1 < int(out.keys.size())) followDifference(out, last, before[std::size_t(last)]);
    return out;
}

Curve flippedGroup(const Curve& curve, const KeyGroup& wanted, double neutral) {
    const KeyGroup group = existing(curve, wanted);
    Curve out = curve;
    const double twice = 2 * toSpace(neutral, curve.space);
    const auto before = differences(out);
    for (const int i : group) at(out, i).value = fromSpace(twice - inSpace(out, i), out.space);
    // Handles at the curve's ends are not seen, but come to be when keys are added there.
    if (isIn(group, 0)) at(out, 0).arrive.rise = -at(out, 0).arrive.rise;
    if (const int last = int(out.keys.size()) - 1; isIn(group, last))
        at(out, last).leave.rise = -at(out, last).leave.rise;
    for (int i = 0; i + 1 < int(out.keys.size()); ++i) {
        if (isIn(group, i) && isIn(group, i + 1)) {
            at(out, i).leave.rise = -at(out, i).leave.rise;
            at(out, i + 1).arrive.rise = -at(out, i + 1).arrive.rise;
        } else if (isIn(group, i) || isIn(group, i + 1)) {
            followDifference(out, i, before[std::size_t(i)]);
        }
    }
    return out;
}

Curve stretched(const Curve& curve, const KeyGroup& wanted, double about, double factor) {
    const KeyGroup group = existing(curve, wanted);
    if (!(factor > 0) || !std::isfinite(factor) || !std::isfinite(about)) return curve;
    Curve out = curve;
    for (const int i : group) at(out, i).time = about + (at(out, i).time - about) * factor;
    keepOrder(out, group);
    return out;
}

Curve spread(const Curve& curve, const KeyGroup& wanted, double from, double to) {
    const KeyGroup group = existing(curve, wanted);
    if (group.empty() || !(from < to)) return curve;
    Curve out = curve;
    const double first = at(out, group.front()).time, length = at(out, group.back()).time - first;
    for (const int i : group)
        at(out, i).time = length > 0 ? from + (at(out, i).time - first) / length * (to - from) : from;
    keepOrder(out, group);
    return out;
}

Curve evenedOut(const Curve& curve, const KeyGroup& wanted) {
    const KeyGroup group = existing(curve, wanted);
    if (group.size() < 3) return curve;
    Curve out = curve;
    const double first = at(out, group.front()).time, last = at(out, group.back()).time;
    for (std::size_t i = 0; i < group.size(); ++i)
        at(out, group[i]).time = first + (last - first) * double(i) / double(group.size() - 1);
    keepOrder(out, group);
    return out;
}

Curve endingPastCut(const Curve& curve) {
    if (curve.isEmpty()) return curve;
    return withGroupMoved(curve, allKeys(curve), 1 - curve.keys.back().time, 0);
}

Curve mirroredAboutCut(const Curve& curve) {
    Curve out = reversed(curve, allKeys(curve));
    if (out.isEmpty()) return out;
    const double sum = curve.keys.front().time + curve.keys.back().time;
    for (Key& key : out.keys) key.time -= sum; // reversed put t at sum - t
    return out;
}

Curve smoothed(const Curve& curve, const KeyGroup& wanted) {
    const KeyGroup group = existing(curve, wanted);
    const int n = int(curve.keys.size());
    if (group.size() < 2) return curve;
    Curve out = curve;
    const auto d = differences(out);
    std::vector<double> slopes(std::size_t(std::max(n - 1, 0)));
    for (int i = 0; i + 1 < n; ++i)
        slopes[std::size_t(i)] = d[std::size_t(i)] / (at(out, i + 1).time - at(out, i).time);
    // Tangents: the mean of the two slopes, none at a turning point; at the curve's ends it comes to rest.
    std::vector<double> tangents(std::size_t(n), 0.0);
    for (int i = 1; i + 1 < n; ++i) {
        const double a = slopes[std::size_t(i - 1)], b = slopes[std::size_t(i)];
        if (a * b > 0) tangents[std::size_t(i)] = (a + b) / 2;
    }
    // No farther than three times either slope: inside the square of Fritsch and Carlson's figure 2.
    for (int i = 0; i < n; ++i)
        for (const int s : {i - 1, i})
            if (s >= 0 && s + 1 < n) {
                const double most = 3 * std::abs(slopes[std::size_t(s)]);
                tangents[std::size_t(i)] = std::clamp(tangents[std::size_t(i)], -most, most);
            }
    for (int i = 0; i + 1 < n; ++i) {
        if (!isIn(group, i) || !isIn(group, i + 1)) continue;
        const double h = at(out, i + 1).time - at(out, i).time;
        at(out, i).next = Interpolation::Eased;
        at(out, i).leave = {1.0 / 3, tangents[std::size_t(i)] * h / 3};
        at(out, i + 1).arrive = {1.0 / 3, tangents[std::size_t(i) + 1] * h / 3};
    }
    return out;
}

} // namespace virga
