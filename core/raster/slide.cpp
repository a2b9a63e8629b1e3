#include "core/raster/slide.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "core/raster/footprint.h"

namespace virga {
namespace {

using Floats = float __attribute__((vector_size(16)));
using Ints = std::int32_t __attribute__((vector_size(16)));
using Shorts = std::uint16_t __attribute__((vector_size(8)));

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

// Two neighbouring lines across the axis and the second one's share; what does not exist has no share.
struct Between {
    std::int64_t a = 0, b = 0;
    float wa = 0, wb = 0;
};

Between betweenAt(double at, std::int64_t n, Edges edges) {
    at = std::clamp(at, -1e12, 1e12) - 0.5;
    const double whole = std::floor(at);
    Between two{folded(std::int64_t(whole), n, edges), folded(std::int64_t(whole) + 1, n, edges), 0, 0};
    if (two.a >= 0) two.wa = float(1 - (at - whole));
    if (two.b >= 0) two.wb = float(at - whole);
    two.a = std::max<std::int64_t>(two.a, 0), two.b = std::max<std::int64_t>(two.b, 0);
    return two;
}

// One line along the axis: values, and the sums of all before, in quarters of 15-bit linear light. Sums wrap; their
// differences are right for boxes of up to mostBox pixels.
struct Line {
    std::vector<Floats> values;
    std::vector<Ints> sums;
    std::int64_t first = 0; // the place of values[0]
};

void fill(const Image<Linear16>& level, Edges edges, bool vertical, const Between& across, std::int64_t from,
          std::int64_t count, Line& line) {
    const std::int64_t n = vertical ? level.height() : level.width();
    const std::ptrdiff_t step = vertical ? level.width() : 1, lines = vertical ? 1 : level.width();
    const Linear16 *a = level.row(0) + across.a * lines, *b = level.row(0) + across.b * lines;
    line.first = from;
    line.values.resize(std::size_t(count));
    line.sums.resize(std::size_t(count) + 1);
    Ints sum = {};
    const float wa = across.wa * 4, wb = across.wb * 4;
    const auto load = [](const Linear16* p) {
        Shorts raw;
        std::memcpy(&raw, p, sizeof raw);
        return __builtin_convertvector(raw, Floats);
    };
    for (std::int64_t i = 0; i < count; ++i) {
        const std::int64_t at = folded(from + i, n, edges);
        Floats value = {};
        if (at >= 0) value = load(a + at * step) * wa + load(b + at * step) * wb;
        const Ints whole = __builtin_convertvector(value + 0.5f, Ints);
        line.values[std::size_t(i)] = __builtin_convertvector(whole, Floats);
        line.sums[std::size_t(i)] = sum;
        sum += whole;
    }
    line.sums[std::size_t(count)] = sum;
}

struct Box {
    double from = 0, to = 0; // from the pixel's own place
    float share = 0;         // of the sum
};

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
        Box box{slide.stops[i] * along, slide.stops[i + 1] * along, 0};
        if (box.to < box.from) std::swap(box.from, box.to);
        if (const double lack = 1 - (box.to - box.from); lack > 0) box.from -= lack / 2, box.to += lack / 2;
        box.share = float(each / (box.to - box.from));
        low = std::min(low, box.from), high = std::max(high, box.to);
        boxes.push_back(box);
    }
    const int length = vertical ? tile.height : tile.width, breadth = vertical ? tile.width : tile.height;
    const double end = start + (length - 1) * step;
    const auto first = std::int64_t(std::floor(std::min(start, end) + low)) - 1,
               last = std::int64_t(std::floor(std::max(start, end) + high)) + 2;
    Line line;
    for (int j = 0; j < breadth; ++j) {
        const Between lines = betweenAt(acrossStart + ((vertical ? tile.x : tile.y) + j + 0.5) * acrossStep,
                                        vertical ? level.width() : level.height(), edges);
        fill(level, edges, vertical, lines, first, last - first, line);
        const Floats* values = line.values.data();
        const Ints* sums = line.sums.data();
        for (int i = 0; i < length; ++i) {
            const double at = start + i * step - double(first);
            Floats total = {};
            for (const Box& box : boxes) {
                const double from = at + box.from, to = at + box.to;
                const auto a = std::size_t(from), b = std::size_t(to);
                const float fa = float(from - double(a)), fb = float(to - double(b));
                const Floats whole = __builtin_convertvector(sums[b] - sums[a], Floats);
                total += (whole + (values[b] * fb - values[a] * fa)) * box.share;
            }
            LinearF& p = vertical ? out[i * tile.width + j] : out[j * tile.width + i];
            p = {p.r + total[0], p.g + total[1], p.b + total[2], p.a + total[3]};
        }
    }
}

} // namespace

std::optional<Slide> slideOf(const std::function<ScreenMap(double)>& mapAt, double shortest) {
    const ScreenMap begun = mapAt(0);
    if (!begun.isVisible() || !begun.isAffine()) return std::nullopt;
    const Matrix m = begun.inverse();
    if (m[0][1] != 0 || m[1][0] != 0) return std::nullopt;
    constexpr int most = 32; // pieces that are looked at; 2 to 16 are used
    std::vector<Point> path(most + 1);
    for (int i = 0; i <= most; ++i) {
        const ScreenMap map = mapAt(double(i) / most);
        if (!map.isVisible() || !map.isAffine()) return std::nullopt;
        const Matrix& n = map.inverse();
        const auto differs = [&](double a, double b) { return std::abs(a - b) > 1e-9 * std::abs(a); };
        if (n[0][1] != 0 || n[1][0] != 0 || differs(m[0][0], n[0][0]) || differs(m[1][1], n[1][1])) return std::nullopt;
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
    for (int pieces = 1; pieces <= 16; pieces *= 2) {
        const int step = most / pieces;
        bool near = true;
        for (int i = 0; i < most && near; ++i) { // each place between two stops by constant speed
            const int a = i / step * step;
            const double by = place(a) + (place(a + step) - place(a)) * double(i - a) / step;
            near = std::abs(place(i) - by) <= 0.25;
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
