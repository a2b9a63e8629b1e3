#include "core/analysis/find_cuts.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"

namespace virga {
namespace {

constexpr int blockWidth = 8, blockHeight = 6, reach = 6; // pixels of the small picture
constexpr double leastStep = 0.008, leastColours = 0.1;   // smaller differences are no cut
constexpr double flashOver = 0.1;                         // brighter than what lies beside it, of white

} // namespace

CutFinder::Small CutFinder::shrink(const Image<Linear16>& picture, SmallPicture* looked) {
    Small small;
    for (auto* plane : {&small.y, &small.u, &small.v}) plane->assign(std::size_t(width) * height, 0);
    for (int j = 0; j < height; ++j) {
        const int y0 = j * picture.height() / height, y1 = std::max(y0 + 1, (j + 1) * picture.height() / height);
        for (int i = 0; i < width; ++i) {
            const int x0 = i * picture.width() / width, x1 = std::max(x0 + 1, (i + 1) * picture.width() / width);
            // At most 8 x 8 points of a cell say enough.
            const int sx = std::max(1, (x1 - x0) / 8), sy = std::max(1, (y1 - y0) / 8);
            double r = 0, g = 0, b = 0, n = 0;
            for (int y = y0; y < std::min(y1, picture.height()); y += sy)
                for (int x = x0; x < std::min(x1, picture.width()); x += sx) {
                    const Linear16& p = picture.at(x, y);
                    r += p.r;
                    g += p.g;
                    b += p.b;
                    ++n;
                }
            // The square root is near enough to how bright it looks.
            const auto looks = [n](double sum) {
                return n > 0 ? std::sqrt(std::clamp(lightOf(std::uint16_t(sum / n + 0.5)), 0.0, 1.0)) : 0;
            };
            r = looks(r);
            g = looks(g);
            b = looks(b);
            const auto at = std::size_t(j) * width + std::size_t(i);
            const auto code = [](double v) { return std::uint8_t(v * 255 + 0.5); };
            looked->red[at] = code(r), looked->green[at] = code(g), looked->blue[at] = code(b);
            const std::array<double, 3> place{r * (levels - 1), g * (levels - 1), b * (levels - 1)};
            for (int corner = 0; corner < 8; ++corner) {
                double share = 1.0 / (width * height);
                std::size_t cell = 0;
                for (std::size_t k = 0; k < 3; ++k) {
                    const int low = std::min(levels - 2, int(place[k]));
                    const double part = place[k] - low;
                    const bool upper = (corner >> k & 1) != 0;
                    share *= upper ? part : 1 - part;
                    cell = cell * levels + std::size_t(low + int(upper));
                }
                small.colours[cell] += float(share);
            }
            const double y = 0.2126 * r + 0.7152 * g + 0.0722 * b; // ITU-R BT.709
            small.y[at] = float(y);
            small.bright += y / (width * height);
            small.u[at] = float(b - y);
            small.v[at] = float(r - y);
        }
    }
    return small;
}

// Mean over the blocks of a of how well each is found again in b within a few pixels.
double CutFinder::difference(const Small& a, const Small& b) {
    double sum = 0;
    int blocks = 0;
    for (int by = 0; by < height; by += blockHeight)
        for (int bx = 0; bx < width; bx += blockWidth, ++blocks) {
            float best = 1e9f;
            for (int dy = -reach; dy <= reach; ++dy) {
                if (by + dy < 0 || by + dy + blockHeight > height) continue;
                for (int dx = -reach; dx <= reach; ++dx) {
                    if (bx + dx < 0 || bx + dx + blockWidth > width) continue;
                    float s = 0;
                    for (int y = 0; y < blockHeight && s < best; ++y) {
                        const auto ra = std::size_t(by + y) * width + std::size_t(bx);
                        const auto rb = std::size_t(by + dy + y) * width + std::size_t(bx + dx);
                        for (std::size_t x = 0; x < blockWidth; ++x)
                            s += std::abs(a.y[ra + x] - b.y[rb + x]) +
                                 0.5f * (std::abs(a.u[ra + x] - b.u[rb + x]) + std::abs(a.v[ra + x] - b.v[rb + x]));
                    }
                    best = std::min(best, s);
                }
            }
            sum += double(best) / (blockWidth * blockHeight);
        }
    return sum / blocks;
}

double CutFinder::colourDifference(const Small& a, const Small& b) {
    double sum = 0;
    for (std::size_t i = 0; i < a.colours.size(); ++i) sum += std::abs(a.colours[i] - b.colours[i]);
    return sum / 2;
}

// A flash comes and goes: what was before it is there again after it. Looked for from both of its ends, where there
// would be a cut otherwise: that is found out much faster. REQUIRES: the pictures around it that confidenceAt() asks
// are there.
void CutFinder::judgeFlash(std::int64_t picture) {
    if (picture < 1 || confidenceAt(picture) < leastConfidence) return;
    const auto at = [&](std::int64_t n) -> const Small* {
        const auto i = n - m_first;
        return i < 0 || i >= std::int64_t(m_last.size()) ? nullptr : &m_last[std::size_t(i)];
    };
    double& lasting = m_lasting[std::size_t(picture)];
    double& colours = m_coloursLasting[std::size_t(picture)];
    const auto compare = [&](const Small* a, const Small* b) {
        if (!a || !b) return;
        lasting = std::min(lasting, difference(*a, *b));
        colours = std::min(colours, colourDifference(*a, *b));
    };
    for (int k = 1; k <= behind; ++k) {
        compare(at(picture - 1), at(picture + k));
        compare(at(picture - 1 - k), at(picture));
    }
}

void CutFinder::add(const Image<Linear16>& picture) {
    SmallPicture looks;
    m_last.push_back(shrink(picture, &looks));
    m_gradual.add(looks);
    if (m_last.size() > 2 * behind + 2) {
        m_last.erase(m_last.begin());
        ++m_first;
    }
    m_step.push_back(m_last.size() > 1 ? difference(m_last[m_last.size() - 2], m_last.back()) : 0);
    m_bright.push_back(std::max(m_last.back().bright, m_last[m_last.size() > 1 ? m_last.size() - 2 : 0].bright));
    m_lasting.push_back(m_step.back());
    m_colours.push_back(m_last.size() > 1 ? colourDifference(m_last[m_last.size() - 2], m_last.back()) : 0);
    m_coloursLasting.push_back(m_colours.back());
    m_mean.push_back(m_last.back().bright);
    ++m_count;
    judgeFlash(m_count - 1 - behind);
}

double CutFinder::confidenceAt(std::int64_t n) const {
    const auto rise = [](double x, double middle, double slope) { return 1 / (1 + std::exp(-(x - middle) / slope)); };
    const double step = m_step[std::size_t(n)], colours = m_colours[std::size_t(n)];
    if (step < leastStep && colours < leastColours) return 0;
    // What its neighbours usually differ by; another cut close by does not count.
    const auto usual = [&](const std::vector<double>& of) {
        std::vector<double> near;
        for (std::int64_t k = n - 4; k <= n + 4; ++k)
            if (k != n && k > 0 && k < m_count) near.push_back(of[std::size_t(k)]);
        std::sort(near.begin(), near.end());
        return near.empty() ? 0 : near[near.size() * 2 / 3];
    };
    const double ratio = (step + 0.002) / (usual(m_step) + 0.004);
    const double lasting = step > 0 ? m_lasting[std::size_t(n)] / step : 0;
    // Dark pictures differ by little, and bright ones by much when but a hand goes by.
    const double share = step / (0.05 + m_bright[std::size_t(n)]);
    const double byBlocks = rise(std::log(ratio), std::log(3.0), 0.22) * rise(share, 0.1, 0.014) *
                            rise(step, 0.012, 0.002) * rise(lasting, 0.45, 0.06);
    // The colours of a picture hardly change while it is zoomed or turned; most cuts change them by more than half.
    const double colourRatio = (colours + 0.02) / (usual(m_colours) + 0.04);
    const double coloursLast = colours > 0 ? m_coloursLasting[std::size_t(n)] / colours : 0;
    const double byColours =
        rise(std::log(colourRatio), std::log(2.6), 0.15) * rise(colours, 0.25, 0.02) * rise(coloursLast, 0.45, 0.06);
    return std::max(byBlocks, byColours);
}

std::vector<FoundCut> CutFinder::hardCuts() const {
    std::vector<FoundCut> found;
    for (std::int64_t n = 1; n < m_count; ++n)
        if (const double confidence = confidenceAt(n); confidence >= leastConfidence)
            found.push_back({n, 0, confidence, n - 1, n});
    return found;
}

std::vector<FoundCut> CutFinder::finish() {
    for (auto n = std::max<std::int64_t>(1, m_count - behind); n < m_count; ++n) judgeFlash(n);
    const std::vector<FoundCut> hard = hardCuts();
    std::vector<FoundCut> found;
    // A flash on a cut begins and ends like one: both are the one cut in its middle.
    for (std::size_t i = 0; i < hard.size();) {
        std::size_t last = i;
        const auto isFlash = [&](std::int64_t from, std::int64_t to) {
            const double before = m_mean[std::size_t(from - 1)], after = m_mean[std::size_t(to)];
            for (auto n = from; n < to; ++n)
                if (m_mean[std::size_t(n)] < std::max(before, after) + flashOver) return false;
            return true;
        };
        for (std::size_t k = i + 1; k < hard.size() && hard[k].picture - hard[i].picture <= behind; ++k)
            if (isFlash(hard[i].picture, hard[k].picture)) last = k;
        FoundCut one = hard[i];
        if (last > i) {
            one.picture = (hard[i].picture + hard[last].picture) / 2;
            one.from = one.picture - 1, one.to = one.picture;
            for (std::size_t k = i; k <= last; ++k) one.confidence = std::max(one.confidence, hard[k].confidence);
        }
        found.push_back(one);
        i = last + 1;
    }
    for (const FoundGradual& g : m_gradual.finish()) {
        // What jumps within it is part of it, but for a sure cut.
        const auto isInside = [&](const FoundCut& cut) { return cut.picture > g.from && cut.picture <= g.to; };
        // Fast movement up to a cut looks like a short wipe.
        const auto isSureBeside = [&](const FoundCut& cut) {
            return cut.confidence >= 0.9 && cut.picture > g.from - 3 && cut.picture <= g.to + 3;
        };
        if (std::any_of(found.begin(), found.end(), isSureBeside)) continue;
        std::erase_if(found, isInside);
        found.push_back({(g.from + g.to + 1) / 2, 0, g.confidence, g.from, g.to});
    }
    std::sort(found.begin(), found.end(), [](const FoundCut& a, const FoundCut& b) { return a.picture < b.picture; });
    return found;
}

Expected<CutList> findCuts(const std::filesystem::path& path, const std::function<void(double)>& progress,
                           const Cancel& cancel) {
    auto reader = VideoReader::open(path, cancel);
    if (!reader) return tl::unexpected(reader.error());
    const MediaInfo& info = (*reader)->info();
    if (info.video->still)
        return fail(ErrorCode::BadInput, "a still picture has no cuts", path.string(), "choose a video");
    CutFinder finder;
    CutList list;
    list.pictures = info.video->frames;
    for (std::int64_t n = 0; n < list.pictures; ++n) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        auto picture = (*reader)->read(n);
        if (!picture) return tl::unexpected(picture.error());
        finder.add(*picture);
        list.times.push_back((*reader)->timeOf(n));
        if (progress && n % 8 == 0) progress(double(n) / double(list.pictures));
    }
    list.cuts = finder.finish();
    for (FoundCut& cut : list.cuts) cut.seconds = (*reader)->timeOf(cut.picture);
    return list;
}

} // namespace virga
