#include "core/curve/easing_library.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/curve/easing_families.h"

namespace virga {
namespace {

void addPenner(std::vector<NamedEasing>& all) {
    struct Row {
        PennerFamily family;
        std::array<std::string_view, 3> names, labels;
    };
    static const Row rows[] = {
        {PennerFamily::Sine, {"sine-in", "sine-out", "sine-in-out"}, {"Sine in", "Sine out", "Sine in and out"}},
        {PennerFamily::Quad, {"quad-in", "quad-out", "quad-in-out"}, {"Square in", "Square out", "Square in and out"}},
        {PennerFamily::Cubic, {"cubic-in", "cubic-out", "cubic-in-out"}, {"Cubic in", "Cubic out", "Cubic in and out"}},
        {PennerFamily::Quart,
         {"quart-in", "quart-out", "quart-in-out"},
         {"Fourth power in", "Fourth power out", "Fourth power in and out"}},
        {PennerFamily::Quint,
         {"quint-in", "quint-out", "quint-in-out"},
         {"Fifth power in", "Fifth power out", "Fifth power in and out"}},
        {PennerFamily::Expo,
         {"expo-in", "expo-out", "expo-in-out"},
         {"Exponential in", "Exponential out", "Exponential in and out"}},
        {PennerFamily::Circ, {"circ-in", "circ-out", "circ-in-out"}, {"Circle in", "Circle out", "Circle in and out"}},
        {PennerFamily::Back, {"back-in", "back-out", "back-in-out"}, {"Back in", "Back out", "Back in and out"}},
        {PennerFamily::Elastic,
         {"elastic-in", "elastic-out", "elastic-in-out"},
         {"Elastic in", "Elastic out", "Elastic in and out"}},
        {PennerFamily::Bounce,
         {"bounce-in", "bounce-out", "bounce-in-out"},
         {"Bounce in", "Bounce out", "Bounce in and out"}},
    };
    for (const Row& row : rows)
        for (const EasingWay way : {EasingWay::In, EasingWay::Out, EasingWay::InOut})
            all.push_back(
                {row.names[std::size_t(way)], row.labels[std::size_t(way)], "Penner's", pennerEasing(row.family, way)});
}

std::vector<NamedEasing> buildAll() {
    std::vector<NamedEasing> all;
    const auto addShapes = [&](std::string_view family, std::string_view prefix) {
        for (const NamedShape& named : namedShapes()) {
            const bool ours = named.name.starts_with("depart") || named.name.starts_with("arrive") ||
                              named.name.starts_with("travel");
            if (prefix.empty() ? !ours : named.name.starts_with(prefix))
                all.push_back({named.name, named.label, family, easingOf(named.shape)});
        }
    };
    addShapes("Plain and CSS", "");
    all.push_back({"settle-gentle", "Settle, gentle", "Settle", settling(0.12, 3)});
    all.push_back({"settle", "Settle", "Settle", settling(0.25, 4)});
    all.push_back({"settle-hard", "Settle, hard", "Settle", settling(0.4, 6)});
    all.push_back({"arrive-settle-gentle", "Arrive and settle, gentle", "Settle", arrivingSettling(0.12, 3)});
    all.push_back({"arrive-settle", "Arrive and settle", "Settle", arrivingSettling(0.25, 4)});
    all.push_back({"arrive-settle-hard", "Arrive and settle, hard", "Settle", arrivingSettling(0.4, 6)});
    addShapes("Depart", "depart");
    addShapes("Arrive", "arrive");
    addShapes("Travel", "travel");
    addPenner(all);
    return all;
}

// Whether a curve runs like an easing from a key on; most are told apart by their first inner key.
bool runsLike(const Curve& curve, int first, const Easing& easing, double tolerance) {
    const auto& unit = easing.unit.keys;
    const std::size_t last = std::size_t(first) + unit.size() - 1;
    if (last >= curve.keys.size()) return false;
    const Key &from = curve.keys[std::size_t(first)], &to = curve.keys[last];
    const double low = toSpace(from.value, curve.space), way = toSpace(to.value, curve.space) - low,
                 length = to.time - from.time;
    if (std::abs(way) < 1e-12) return false;
    const auto near = [&](double a, double b) { return std::abs(a - b) <= tolerance; };
    for (std::size_t i = 0; i + 1 < unit.size(); ++i) {
        const Key &a = curve.keys[std::size_t(first) + i], &b = curve.keys[std::size_t(first) + i + 1];
        if (a.next != unit[i].next || !near((b.time - from.time) / length, unit[i + 1].time) ||
            !near((toSpace(b.value, curve.space) - low) / way, unit[i + 1].value))
            return false;
        if (a.next == Interpolation::Eased &&
            !(near(a.leave.reach, unit[i].leave.reach) && near(a.leave.rise / way, unit[i].leave.rise) &&
              near(b.arrive.reach, unit[i + 1].arrive.reach) && near(b.arrive.rise / way, unit[i + 1].arrive.rise)))
            return false;
    }
    return true;
}

} // namespace

const std::vector<NamedEasing>& allEasings() {
    static const std::vector<NamedEasing> all = buildAll();
    return all;
}

KeyRun runAround(const Curve& curve, int key) {
    KeyRun longest{key, key + 1}; // an "in and out" has an "in" in it
    for (const NamedEasing& named : allEasings()) {
        const int segments = int(named.easing.unit.keys.size()) - 1;
        if (segments <= longest.last - longest.first) continue;
        for (int first = std::max(0, key - segments + 1); first <= key; ++first)
            if (runsLike(curve, first, named.easing, 1e-4)) longest = {first, first + segments};
    }
    return longest;
}

const NamedEasing* easingLike(const Curve& curve, int first, int last) {
    if (first < 0) return nullptr;
    for (const NamedEasing& named : allEasings())
        if (int(named.easing.unit.keys.size()) == last - first + 1 && runsLike(curve, first, named.easing, 1e-4))
            return &named;
    return nullptr;
}

} // namespace virga
