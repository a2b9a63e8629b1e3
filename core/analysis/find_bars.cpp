#include "core/analysis/find_bars.h"

#include <algorithm>

#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"

namespace virga {
namespace {

// 28 of 255 by the sRGB curve: compression noise in black stays below, night skies mostly do not.
const int black = keptOf(0.0116);
constexpr double least = 0.01, most = 0.45;

int brightness(const Linear16& p) {
    return std::max({int(p.r), int(p.g), int(p.b), linearOne - int(p.a)}); // what is clear is no bar
}

// The brightest of each line, leaving out the brightest half per cent: a speck or a logo edge is no picture.
std::vector<int> brightestOf(std::span<const Image<Linear16>> pictures, bool rows) {
    const int lines = rows ? pictures[0].height() : pictures[0].width();
    const int across = rows ? pictures[0].width() : pictures[0].height();
    std::vector<int> out(std::size_t(lines), 0), values(static_cast<std::size_t>(across));
    for (const auto& picture : pictures)
        for (int i = 0; i < lines; ++i) {
            for (int k = 0; k < across; ++k)
                values[std::size_t(k)] = brightness(rows ? picture.at(k, i) : picture.at(i, k));
            const auto at = values.begin() + std::ptrdiff_t(across - 1 - across / 200);
            std::nth_element(values.begin(), at, values.end());
            out[std::size_t(i)] = std::max(out[std::size_t(i)], *at);
        }
    return out;
}

double barAt(const std::vector<int>& lines, bool fromEnd) {
    const int n = int(lines.size());
    const auto line = [&](int i) { return lines[std::size_t(fromEnd ? n - 1 - i : i)]; };
    int bar = 0;
    while (bar < n && line(bar) <= black) ++bar;
    if (bar < std::max(2.0, least * n) || bar > most * n) return 0;
    // A bar ends sharply; a dark sky that gets brighter bit by bit is no bar.
    int beyond = 0;
    for (int i = bar; i < std::min(n, bar + 4); ++i) beyond = std::max(beyond, line(i));
    if (beyond < 3 * black) return 0;
    return std::min(most, double(bar + 1) / n);
}

} // namespace

Crop barsIn(std::span<const Image<Linear16>> pictures) {
    if (pictures.empty() || pictures[0].width() < 16 || pictures[0].height() < 16) return {};
    const auto rows = brightestOf(pictures, true), columns = brightestOf(pictures, false);
    return {barAt(columns, false), barAt(rows, false), barAt(columns, true), barAt(rows, true)};
}

Expected<Crop> findBars(const std::filesystem::path& path, Rational from, Rational to, const Cancel& cancel) {
    auto reader = VideoReader::open(path, cancel);
    if (!reader) return tl::unexpected(reader.error());
    std::vector<Image<Linear16>> pictures;
    constexpr int count = 7;
    for (int i = 0; i < count; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        auto picture = (*reader)->read((*reader)->indexAt(from + (to - from) * Rational(2 * i + 1, 2 * count)));
        if (!picture) return tl::unexpected(picture.error());
        if (pictures.empty() || picture->size() == pictures[0].size()) pictures.push_back(std::move(*picture));
        if ((*reader)->info().video->still) break;
    }
    return barsIn(pictures);
}

} // namespace virga
