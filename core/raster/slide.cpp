#include "core/raster/slide.h"

#include <algorithm>
#include <cmath>

#include "core/raster/footprint.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;
using four::Ints;
using four::load;

constexpr double mostBox = 16000; // pixels of a level; longer ones overflow their sums and are sampled instead

// The pixel at place `at` of n and its surroundings, or -1.
std::int64_t folded(std::int64_t at, std::int64_t n, Edges edges) {
    if (edges.fill == EdgeFill::Empty || (edges.isPeriodic() && edges.copies > 0)) {
        const std::int64_t copies = edges.isPeriodic() ? edges.copies : 0;
        if (at < -copies * n || at >= (copies + 1) * n) return -1;
    }
    if (edges.fill == EdgeFill::Hold) return std::clamp<std::int64_t>(at, 0, n - 1);
    const std::int64_t period = edges.fill == EdgeFill::Mirror ? 2 * n : n;
    const std::int64_t in = ((at % period) + period) % period;
    return in < n ? in : period - 1 - in;
}

// Two neighbouring lines across the axis and how much of each; what does not exist has no share.
struct Between {
    std::int64_t a = 0, b = 0;
    float wa = 0, wb = 0;
};

// Where there is an end, it is `step` wide.
Between betweenAt(double at, double step, std::int64_t n, Edges edges) {
    at = std::clamp(at, -1e12, 1e12);
    double inside = 1;
    if (edges.fill == EdgeFill::Empty || (edges.isPeriodic() && edges.copies > 0)) {
        const double copies = edges.isPeriodic() ? edges.copies : 0;
        const double low = -copies * double(n), high = (copies + 1) * double(n);
        inside = std::clamp(std::min(at - low, high - at) / step + 0.5, 0.0, 1.0);
        at = std::clamp(at, low + 0.5, high - 0.5);
        edges.copies = 0; // both lines are there
        if (edges.fill == EdgeFill::Empty) edges.fill = EdgeFill::Hold;
    }
    at -= 0.5;
    const double whole = std::floor(at);
    Between two{folded(std::int64_t(whole), n, edges), folded(std::int64_t(whole) + 1, n, edges), 0, 0};
    two.wa = float(inside * (1 - (at - whole)));
    two.wb = float(inside * (at - whole));
    return two;
}

// Some lines along the axis, place by place: values, and the sums of all before, in quarters of 15-bit linear light.
// Sums wrap; their differences are right for boxes of up to mostBox pixels.
struct Lines {
    std::size_t count = 0;
    std::vector<Floats> values; // places x count
    std::vector<Ints> sums;     // one place more
};

// How far from a line's first pixel each place lies; a line of nothing where there is no pixel.
struct Places {
    std::int64_t first = 0;
    std::vector<std::ptrdiff_t> offsets; // in pixels, -1 for none

    Places(std::int64_t from, std::int64_t count, std::int64_t n, std::ptrdiff_t step, Edges edges) : first(from) {
        offsets.reserve(std::size_t(count));
        for (std::int64_t i = 0; i < count; ++i) {
            const std::int64_t at = folded(from + i, n, edges);
            offsets.push_back(at < 0 ? -1 : at * step);
        }
    }
};

struct Pair {
    const Linear16 *a, *b;
    float wa, wb;
};

void fill(const std::vector<Pair>& pairs, const Places& places, Lines& lines) {
    const std::size_t n = lines.count = pairs.size(), count = places.offsets.size();
    lines.values.resize(count * n);
    lines.sums.resize((count + 1) * n);
    std::fill_n(lines.sums.begin(), n, Ints{});
    for (std::size_t i = 0; i < count; ++i) {
        const std::ptrdiff_t at = places.offsets[i];
        Floats* value = lines.values.data() + i * n;
        const Ints* before = lines.sums.data() + i * n;
        Ints* after = lines.sums.data() + (i + 1) * n;
        for (std::size_t j = 0; j < n; ++j) {
            const Pair& pair = pairs[j];
            Ints whole = {};
            if (at >= 0)
                whole = __builtin_convertvector(load(pair.a[at]) * pair.wa + load(pair.b[at]) * pair.wb + 0.5f, Ints);
            value[j] = __builtin_convertvector(whole, Floats);
            after[j] = before[j] + whole;
        }
    }
}

struct Box {
    double from = 0, to = 0; // from the pixel's own place; from may be the greater
    float share = 0;         // of the sum
};

// Adds a box's mean to each line's pixel: of whole pixels, and of the parts at its two ends.
void addBox(const Lines& lines, double from, double to, float share, Floats* totals) {
    const auto a = std::ptrdiff_t(from), b = std::ptrdiff_t(to);
    const float fa = float(from - double(a)), fb = float(to - double(b));
    const auto n = std::ptrdiff_t(lines.count);
    const Ints *sumA = lines.sums.data() + a * n, *sumB = lines.sums.data() + b * n;
    const Floats *valueA = lines.values.data() + a * n, *valueB = lines.values.data() + b * n;
    for (std::ptrdiff_t j = 0; j < n; ++j)
        totals[j] += (__builtin_convertvector(sumB[j] - sumA[j], Floats) + (valueB[j] * fb - valueA[j] * fa)) * share;
}

void addLevel(const Pyramid& source, int k, Edges edges, const Slide& slide, Tile tile, float weight, LinearF* out) {
    const auto& level = source.level(k);
    const double su = double(level.width()) / source.size().width, sv = double(level.height()) / source.size().height;
    const bool vertical = slide.vertical;
    const double along = vertical ? sv : su, across = vertical ? su : sv;
    const double step = (vertical ? slide.scale.y : slide.scale.x) * along;
    const double acrossStep = (vertical ? slide.scale.x : slide.scale.y) * across;
    // Whole periods off, for columns to be counted from nearby.
    double start = (vertical ? slide.start.y : slide.start.x) * along;
    const double acrossStart = (vertical ? slide.start.x : slide.start.y) * across;
    start += ((vertical ? tile.y : tile.x) + 0.5) * step;
    std::vector<Box> boxes;
    const float each = weight / (4.0f * float(linearOne) * float(slide.stops.size() - 1));
    double low = 1e300, high = -1e300;
    for (std::size_t i = 0; i + 1 < slide.stops.size(); ++i) {
        Box box{slide.stops[i] * along, slide.stops[i + 1] * along};
        if (const double lack = 1 - std::abs(box.to - box.from); lack > 0) { // no box is narrower than a pixel
            const double middle = (box.from + box.to) / 2;
            box.from = middle - 0.5, box.to = middle + 0.5;
        }
        box.share = float(each / (box.to - box.from));
        low = std::min({low, box.from, box.to}), high = std::max({high, box.from, box.to});
        boxes.push_back(box);
    }
    const int length = vertical ? tile.height : tile.width, breadth = vertical ? tile.width : tile.height;
    const double end = start + (length - 1) * step;
    const auto first = std::int64_t(std::floor(std::min(start, end) + low)) - 1,
               last = std::int64_t(std::floor(std::max(start, end) + high)) + 2;
    const std::ptrdiff_t step1 = vertical ? level.width() : 1, lineStep = vertical ? 1 : level.width();
    const Places places(first, last - first, vertical ? level.height() : level.width(), step1, edges);
    std::vector<Pair> pairs;
    for (int j = 0; j < breadth; ++j) {
        const Between two =
            betweenAt(acrossStart + ((vertical ? tile.x : tile.y) + j + 0.5) * acrossStep,
                      std::max(std::abs(acrossStep), across), vertical ? level.width() : level.height(), edges);
        pairs.push_back({level.row(0) + two.a * lineStep, level.row(0) + two.b * lineStep, two.wa * 4, two.wb * 4});
    }
    Lines lines;
    fill(pairs, places, lines);
    std::vector<Floats> totals(pairs.size());
    for (int i = 0; i < length; ++i) {
        const double at = start + i * step - double(first);
        std::fill(totals.begin(), totals.end(), Floats{});
        for (const Box& box : boxes) addBox(lines, at + box.from, at + box.to, box.share, totals.data());
        for (int j = 0; j < breadth; ++j) {
            LinearF& p = vertical ? out[i * tile.width + j] : out[j * tile.width + i];
            four::store(load(p) + totals[std::size_t(j)], p);
        }
    }
}

} // namespace

std::optional<Slide> slideOf(const std::function<ScreenMap(double)>& mapAt, double shortest) {
    const ScreenMap begun = mapAt(0);
    if (!begun.isVisible() || !begun.isAffine()) return std::nullopt;
    const Matrix m = begun.inverse();
    constexpr int most = 32; // pieces that are looked at; 2 to 16 are used
    std::vector<Point> path(most + 1);
    for (int i = 0; i <= most; ++i) {
        const ScreenMap map = mapAt(double(i) / most);
        if (!map.isVisible() || !map.isAffine()) return std::nullopt;
        const Matrix& n = map.inverse();
        const auto differs = [&](double a, double b) { return std::abs(a - b) > 1e-9 * std::abs(a); };
        const double tiny = 1e-12 * std::max(std::abs(n[0][0]), std::abs(n[1][1])); // an inverse is not exact
        if (std::abs(n[0][1]) > tiny || std::abs(n[1][0]) > tiny || differs(m[0][0], n[0][0]) ||
            differs(m[1][1], n[1][1]))
            return std::nullopt;
        path[std::size_t(i)] = {n[2][0] - m[2][0], n[2][1] - m[2][1]};
    }
    Slide slide;
    slide.start = {m[2][0], m[2][1]};
    slide.scale = {m[0][0], m[1][1]};
    if (footprintAt(begun, {0, 0}).probes > 1) return std::nullopt;
    double acrossX = 0, acrossY = 0;
    for (const Point& p : path) acrossX = std::max(acrossX, std::abs(p.x)), acrossY = std::max(acrossY, std::abs(p.y));
    slide.vertical = acrossY > acrossX;
    if (std::min(acrossX, acrossY) > 1e-6) return std::nullopt;
    const auto place = [&](int i) { return slide.vertical ? path[std::size_t(i)].y : path[std::size_t(i)].x; };
    double length = 0;
    for (int i = 0; i < most; ++i) length += std::abs(place(i + 1) - place(i));
    if (!(length >= shortest) || length > mostBox / 2) return std::nullopt;
    const double allowed = std::max(1.0 / 16, length / 100); // out of place within a blur of `length`
    for (int pieces = 1; pieces <= 16; pieces *= 2) {
        const int step = most / pieces;
        bool near = true;
        for (int i = 0; i < most && near; ++i) { // each place between two stops by constant speed
            const int a = i / step * step;
            const double by = place(a) + (place(a + step) - place(a)) * double(i - a) / step;
            near = std::abs(place(i) - by) <= allowed;
        }
        if (!near) continue;
        for (int i = 0; i <= most; i += step) slide.stops.push_back(place(i));
        return slide;
    }
    return std::nullopt;
}

void sampleSlide(const Pyramid& source, Edges edges, const Slide& slide, Tile tile, LinearF* out) {
    std::fill_n(out, std::size_t(tile.width) * std::size_t(tile.height), LinearF{});
    const double detail =
        detailFor(std::sqrt(std::abs(slide.scale.x * slide.scale.y)), source.finest(), source.levels() - 1);
    const int k = int(std::floor(detail));
    const float coarser = float(detail - k);
    if (coarser < 1) addLevel(source, k, edges, slide, tile, 1 - coarser, out);
    if (coarser > 0) addLevel(source, k + 1, edges, slide, tile, coarser, out);
}

} // namespace virga
