#include "core/curve/css_easing.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <optional>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

Error bad(std::string_view text, std::string what) {
    return fail(ErrorCode::BadInput, std::move(what), "\"" + std::string(text) + "\"",
                "write cubic-bezier(0.4, 0, 0.2, 1), linear(0, 0.3 20%, 1) or a name such as ease-in")
        .value();
}

std::string_view trimmed(std::string_view s) {
    const auto from = s.find_first_not_of(" \t\r\n");
    if (from == std::string_view::npos) return {};
    return s.substr(from, s.find_last_not_of(" \t\r\n;") - from + 1);
}

std::vector<std::string_view> split(std::string_view s, char by) {
    std::vector<std::string_view> parts;
    for (;;) {
        const auto at = s.find(by);
        const auto part = trimmed(s.substr(0, at));
        if (by != ' ' || !part.empty()) parts.push_back(part);
        if (at == std::string_view::npos) return parts;
        s.remove_prefix(at + 1);
    }
}

std::optional<double> number(std::string_view s) {
    if (s.starts_with('+')) s.remove_prefix(1);
    double v = 0;
    const auto [end, ec] = std::from_chars(s.data(), s.data() + s.size(), v);
    if (ec != std::errc() || end != s.data() + s.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

struct EasingPoint {
    double time = 0, way = 0;
};

struct Stop {
    double way = 0;
    std::optional<double> time;
};

// Section 2.2 of the specification, "linear easing function": times never fall, and those that are left out are spread
// evenly between those that are given.
std::vector<EasingPoint> placed(std::vector<Stop> stops) {
    if (!stops.front().time) stops.front().time = 0;
    if (!stops.back().time) stops.back().time = 1;
    double latest = -1e300;
    for (Stop& stop : stops)
        if (stop.time) latest = *(stop.time = std::max(*stop.time, latest));
    for (std::size_t i = 1; i + 1 < stops.size(); ++i) {
        if (stops[i].time) continue;
        std::size_t next = i;
        while (!stops[next].time) ++next;
        const double from = *stops[i - 1].time, to = *stops[next].time;
        const auto count = double(next - i + 1);
        for (std::size_t k = i; k < next; ++k) stops[k].time = from + (to - from) * double(k - i + 1) / count;
    }
    std::vector<EasingPoint> points;
    points.reserve(stops.size());
    for (const Stop& stop : stops) points.push_back({*stop.time, stop.way});
    return points;
}

// The curve starts at 0 and ends at 1 whatever the stops say; between them each stop is a key. Two stops at one time
// are a jump, which takes the least time there is.
Easing throughPoints(const std::vector<EasingPoint>& points) {
    constexpr double least = 1e-6;
    Easing easing;
    auto& keys = easing.unit.keys;
    keys.push_back({0, 0, Interpolation::Linear, {}, {}});
    for (const EasingPoint& point : points) {
        if (point.time <= 0 || point.time >= 1) continue;
        keys.push_back({std::max(point.time, keys.back().time + least), point.way, Interpolation::Linear, {}, {}});
    }
    keys.push_back({1, 1, Interpolation::Eased, {}, {}});
    return easing;
}

Expected<Easing> fromStops(std::string_view text, std::string_view inside) {
    std::vector<Stop> stops;
    for (const auto part : split(inside, ',')) {
        std::optional<double> way;
        std::vector<double> times;
        for (const auto word : split(part, ' ')) {
            const bool percent = word.ends_with('%');
            const auto v = number(percent ? word.substr(0, word.size() - 1) : word);
            if (!v || (!percent && way) || times.size() > 2)
                return tl::unexpected(bad(text, fmt::format("\"{}\" is not a stop", part)));
            if (percent)
                times.push_back(*v / 100);
            else
                way = *v;
        }
        if (!way || times.size() > 2) return tl::unexpected(bad(text, fmt::format("\"{}\" is not a stop", part)));
        if (times.empty()) stops.push_back({*way, std::nullopt});
        for (const double time : times) stops.push_back({*way, time});
    }
    if (stops.size() < 2) return tl::unexpected(bad(text, "linear() needs two stops at least"));
    return throughPoints(placed(std::move(stops)));
}

} // namespace

Expected<Easing> easingFromCss(std::string_view whole) {
    const std::string_view text = trimmed(whole);
    if (text == "step-end") return easingOf({Interpolation::Hold});
    if (text == "linear") return easingOf({Interpolation::Linear});
    for (const std::string_view name : {"ease", "ease-in", "ease-out", "ease-in-out"})
        if (text == name) return easingOf(*shapeNamed(name));
    const auto open = text.find('(');
    if (open == std::string_view::npos || !text.ends_with(')'))
        return tl::unexpected(bad(whole, "this is not an easing function that is known here"));
    const std::string_view name = trimmed(text.substr(0, open)), inside = text.substr(open + 1, text.size() - open - 2);
    if (name == "linear") return fromStops(whole, inside);
    if (name != "cubic-bezier") return tl::unexpected(bad(whole, fmt::format("\"{}\" is not known here", name)));
    const auto parts = split(inside, ',');
    if (parts.size() != 4) return tl::unexpected(bad(whole, "cubic-bezier() has four numbers"));
    double v[4];
    for (std::size_t i = 0; i < 4; ++i) {
        const auto n = number(parts[i]);
        if (!n) return tl::unexpected(bad(whole, fmt::format("\"{}\" is not a number", parts[i])));
        if (i % 2 == 0 && (*n < 0 || *n > 1))
            return tl::unexpected(bad(whole, fmt::format("{} is a time, and must be between 0 and 1", parts[i])));
        v[i] = *n;
    }
    return easingOf({Interpolation::Eased, v[0], v[1], v[2], v[3]});
}

std::string cssOf(const Shape& shape) {
    if (shape.kind == Interpolation::Hold) return "step-end";
    if (shape.kind == Interpolation::Linear) return "linear";
    return fmt::format("cubic-bezier({:.6g}, {:.6g}, {:.6g}, {:.6g})", shape.x1, shape.y1, shape.x2, shape.y2);
}

namespace {

// Each segment parted until the middle and the quarters of each piece lie on its chord.
std::vector<EasingPoint> polylineOf(const Curve& unit, double tolerance) {
    std::vector<EasingPoint> points{{0, 0}};
    const auto add = [&](const auto& self, double a, double b, bool bent, int depth) -> void {
        const double ya = evaluate(unit, a), yb = evaluate(unit, b);
        bool straight = !bent || depth > 1;
        for (const double part : {0.25, 0.5, 0.75})
            straight = straight && std::abs(evaluate(unit, a + (b - a) * part) - (ya + (yb - ya) * part)) <= tolerance;
        if (straight || depth > 10) {
            points.push_back({b, yb});
            return;
        }
        self(self, a, (a + b) / 2, bent, depth + 1);
        self(self, (a + b) / 2, b, bent, depth + 1);
    };
    for (std::size_t i = 0; i + 1 < unit.keys.size(); ++i) {
        const Key &a = unit.keys[i], &b = unit.keys[i + 1];
        if (a.next == Interpolation::Hold) { // held, then the jump
            points.push_back({b.time, a.value});
            points.push_back({b.time, b.value});
        } else {
            add(add, a.time, b.time, a.next == Interpolation::Eased, 0);
        }
    }
    return points;
}

} // namespace

std::string cssOf(const Easing& easing, double tolerance) {
    if (const auto shape = shapeOf(easing)) return cssOf(*shape);
    const auto points = polylineOf(easing.unit, tolerance);
    std::string text = "linear(";
    for (std::size_t i = 0; i < points.size(); ++i) {
        const bool plain = (i == 0 && points[i].time == 0) || (i + 1 == points.size() && points[i].time == 1);
        text += fmt::format("{}{:.6g}", i ? ", " : "", points[i].way);
        if (!plain) text += fmt::format(" {:.6g}%", points[i].time * 100);
    }
    return text + ")";
}

} // namespace virga
