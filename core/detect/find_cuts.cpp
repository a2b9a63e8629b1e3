#include "core/detect/find_cuts.h"

#include <algorithm>
#include <cmath>

#include "core/media/video_reader.h"
#include "core/raster/kept_light.h"

namespace virga {
namespace {

constexpr int blockWidth = 8, blockHeight = 6, reach = 6; // pixels of the small picture

} // namespace

CutFinder::Small CutFinder::shrink(const Image<Linear16>& picture) {
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

// A flash comes and goes: what was before it is there again after it. Looked for from both of its ends.
void CutFinder::judgeFlash(std::int64_t picture) {
    if (picture < 1 || m_step[std::size_t(picture)] < 0.008) return;
    const auto at = [&](std::int64_t n) -> const Small* {
        const auto i = n - m_first;
        return i < 0 || i >= std::int64_t(m_last.size()) ? nullptr : &m_last[std::size_t(i)];
    };
    double& lasting = m_lasting[std::size_t(picture)];
    for (int k = 1; k <= behind; ++k) {
        if (at(picture - 1) && at(picture + k))
            lasting = std::min(lasting, difference(*at(picture - 1), *at(picture + k)));
        if (at(picture) && at(picture - 1 - k))
            lasting = std::min(lasting, difference(*at(picture - 1 - k), *at(picture)));
    }
}

void CutFinder::add(const Image<Linear16>& picture) {
    m_last.push_back(shrink(picture));
    if (m_last.size() > 2 * behind + 2) {
        m_last.erase(m_last.begin());
        ++m_first;
    }
    m_step.push_back(m_last.size() > 1 ? difference(m_last[m_last.size() - 2], m_last.back()) : 0);
    m_bright.push_back(std::max(m_last.back().bright, m_last[m_last.size() > 1 ? m_last.size() - 2 : 0].bright));
    m_lasting.push_back(m_step.back());
    ++m_count;
    judgeFlash(m_count - 1 - behind);
}

std::vector<FoundCut> CutFinder::finish() {
    for (auto n = std::max<std::int64_t>(1, m_count - behind); n < m_count; ++n) judgeFlash(n);
    std::vector<FoundCut> found;
    for (std::int64_t n = 1; n < m_count; ++n) {
        const double step = m_step[std::size_t(n)];
        if (step < 0.008) continue;
        std::vector<double> near;
        for (std::int64_t k = n - 4; k <= n + 4; ++k)
            if (k != n && k > 0 && k < m_count) near.push_back(m_step[std::size_t(k)]);
        std::sort(near.begin(), near.end());
        // What its neighbours usually differ by; another cut close by does not count.
        const double usual = near.empty() ? 0 : near[near.size() * 2 / 3];
        const double ratio = (step + 0.002) / (usual + 0.004);
        const double lasting = m_lasting[std::size_t(n)] / step;
        const auto rise = [](double x, double middle, double slope) {
            return 1 / (1 + std::exp(-(x - middle) / slope));
        };
        // Dark pictures differ by little, and bright ones by much when but a hand goes by.
        const double share = step / (0.05 + m_bright[std::size_t(n)]);
        const double confidence = rise(std::log(ratio), std::log(3.0), 0.22) * rise(share, 0.1, 0.014) *
                                  rise(step, 0.012, 0.002) * rise(lasting, 0.45, 0.06);
        if (confidence >= leastConfidence) found.push_back({n, 0, confidence});
    }
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
