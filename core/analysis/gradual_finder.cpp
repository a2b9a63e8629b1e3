#include "core/analysis/gradual_finder.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

// Pictures from the old shot's last to the new one's first; a transition of any length between lies well in one of
// them.
constexpr std::array<int, 7> lengths = {6, 9, 13, 18, 25, 34, 46};
constexpr int longest = 46, widest = 60;          // pictures of a window, and of one that was widened
constexpr std::int64_t stretch = 3000;            // pictures that are kept before they are searched
constexpr double leastChange = 0.06;              // of a cell, where 1 is from black to white
constexpr double mostJump = 0.4, mostBack = 0.12; // of the way in one picture; back in all
constexpr double usualResidual = 0.15, likenessOfOthers = 0.2, likenessOfOne = 0.42; // of different shots; of one shot
constexpr double mostDoubt = 1.15;
constexpr double noDetail = -2;    // no correlation
constexpr float oneColour = 0.03F; // deviation over the cells
constexpr int leastTiles = 3;      // with detail, of twelve
constexpr int leastPictures = 4;
constexpr std::int64_t joined = 8, joinedOverOneColour = 12; // pictures between two halves of one transition
constexpr int near = 6, tileWidth = 16, tileHeight = 12;     // of the local correlation, in points
constexpr float leastDetail = 0.12F;                         // of a block that can be compared

} // namespace

void GradualFinder::add(const SmallPicture& picture) {
    constexpr int w = SmallPicture::width, h = SmallPicture::height;
    Kept kept;
    std::array<float, std::size_t(w) * h> luma;
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const auto i = std::size_t(y * w + x);
            const float r = picture.red[i] / 255.0F, g = picture.green[i] / 255.0F, b = picture.blue[i] / 255.0F;
            luma[i] = 0.2126F * r + 0.7152F * g + 0.0722F * b; // ITU-R BT.709
            const auto cell = std::size_t(y / (h / down) * across + x / (w / across)) * channels;
            constexpr float share = 1.0F / ((w / across) * (h / down));
            kept.means[cell] += r * share, kept.means[cell + 1] += g * share, kept.means[cell + 2] += b * share;
        }
    for (int c = 0; c < channels; ++c) {
        double sum = 0, squares = 0;
        for (int i = 0; i < cells; ++i) {
            const double v = kept.means[std::size_t(i * channels + c)];
            sum += v, squares += v * v;
        }
        kept.contrast += float(std::sqrt(std::max(0.0, squares / cells - sum * sum / cells / cells)) / channels);
    }
    constexpr int around = 2; // a mean of 5 x 5 points, the border repeated
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            float sum = 0;
            for (int dy = -around; dy <= around; ++dy)
                for (int dx = -around; dx <= around; ++dx)
                    sum += luma[std::size_t(std::clamp(y + dy, 0, h - 1) * w + std::clamp(x + dx, 0, w - 1))];
            kept.detail[std::size_t(y * w + x)] = luma[std::size_t(y * w + x)] - sum / 25;
        }
    m_kept.push_back(kept);
    if (std::int64_t(m_kept.size()) < stretch) return;
    search(end() - widest);
    const std::int64_t keep = 2 * widest; // what lies before the next window may belong to it
    m_kept.erase(m_kept.begin(), m_kept.end() - keep);
    m_first = m_first + stretch - keep;
}

// How the cells between two pictures are blends of them: whether they may be a transition, and how well.
bool GradualFinder::measure(std::int64_t a, std::int64_t b, Window* window) const {
    const auto &from = at(a).means, &to = at(b).means;
    std::array<float, std::size_t(cells)> weight;
    double size = 0, all = 0;
    int changed = 0;
    for (std::size_t i = 0; i < std::size_t(cells); ++i) {
        float w = 0;
        for (std::size_t c = 0; c < channels; ++c) {
            const float d = to[i * channels + c] - from[i * channels + c];
            w += d * d;
        }
        weight[i] = w;
        size += std::sqrt(w) / cells;
        changed += w > float(leastChange * leastChange);
        all += w;
    }
    if (size < leastChange || changed * 2 < cells) return false;
    double residual = 0, last = 0, jump = 0, back = 0;
    for (auto n = a + 1; n <= b; ++n) {
        double way = n == b ? all : 0;
        if (n < b) {
            const auto& here = at(n).means;
            for (std::size_t i = 0; i < std::size_t(cells); ++i) {
                float dot = 0;
                for (std::size_t c = 0; c < channels; ++c) {
                    const auto k = i * channels + c;
                    dot += (here[k] - from[k]) * (to[k] - from[k]);
                }
                const float share = std::clamp(dot / (weight[i] + 1e-6F), 0.0F, 1.0F);
                way += share * weight[i];
                for (std::size_t c = 0; c < channels; ++c) {
                    const auto k = i * channels + c;
                    const float r = here[k] - from[k] - share * (to[k] - from[k]);
                    residual += r * r;
                }
            }
        }
        const double now = way / all, step = now - last;
        jump = std::max(jump, step), back += std::max(0.0, -step);
        last = now;
    }
    // A cell that goes evenly from one end to the other has a mean of share (1 - share) of a sixth.
    window->residual = residual / (all * double(b - a - 1) / 6);
    window->a = a, window->b = b;
    window->score = size * (1 - 3 * window->residual);
    return window->residual < usualResidual && jump < mostJump && back < mostBack;
}

double GradualFinder::residual(std::int64_t a, std::int64_t b) const {
    Window window;
    measure(a, b, &window);
    return window.b > window.a ? window.residual : 1;
}

// Normalised correlation of the details of blocks, each where it fits best nearby; the mean over blocks with detail.
double GradualFinder::likeness(std::int64_t a, std::int64_t b) const {
    constexpr int w = SmallPicture::width, h = SmallPicture::height;
    const auto &one = at(a).detail, &other = at(b).detail;
    double sum = 0;
    int count = 0;
    for (int by = 0; by < h; by += tileHeight)
        for (int bx = 0; bx < w; bx += tileWidth) {
            float own = 0;
            for (int y = 0; y < tileHeight; ++y)
                for (int x = 0; x < tileWidth; ++x) {
                    const float v = one[std::size_t((by + y) * w + bx + x)];
                    own += v * v;
                }
            own = std::sqrt(own);
            if (own < leastDetail) continue;
            float best = -1;
            for (int dy = -near; dy <= near; ++dy) {
                if (by + dy < 0 || by + dy + tileHeight > h) continue;
                for (int dx = -near; dx <= near; ++dx) {
                    if (bx + dx < 0 || bx + dx + tileWidth > w) continue;
                    float dot = 0, theirs = 0;
                    for (int y = 0; y < tileHeight; ++y)
                        for (int x = 0; x < tileWidth; ++x) {
                            const float v = other[std::size_t((by + dy + y) * w + bx + dx + x)];
                            dot += v * one[std::size_t((by + y) * w + bx + x)], theirs += v * v;
                        }
                    best = std::max(best, dot / (own * std::sqrt(theirs) + 1e-3F));
                }
            }
            sum += best;
            ++count;
        }
    return count >= leastTiles ? sum / count : noDetail;
}

// How far the way from a to b is gone at each picture of the window.
std::vector<double> GradualFinder::progress(std::int64_t a, std::int64_t b) const {
    const auto &from = at(a).means, &to = at(b).means;
    std::vector<double> way;
    for (auto n = a; n <= b; ++n) {
        const auto& here = at(n).means;
        double sum = 0, all = 0;
        for (std::size_t i = 0; i < std::size_t(cells); ++i) {
            double dot = 0, w = 0;
            for (std::size_t c = 0; c < channels; ++c) {
                const auto k = i * channels + c;
                const double d = to[k] - from[k];
                dot += (here[k] - from[k]) * d, w += d * d;
            }
            sum += std::clamp(dot / (w + 1e-6), 0.0, 1.0) * w;
            all += w;
        }
        way.push_back(sum / all);
    }
    return way;
}

// The straight ramp that lies nearest to the way gone tells where it begins and ends; the window grows where it does
// not hold all of it.
void GradualFinder::locate(std::int64_t a, std::int64_t b, std::int64_t* from, std::int64_t* to) const {
    constexpr int rounds = 6;
    for (int round = 0; round < rounds; ++round) {
        const auto way = progress(a, b);
        const int n = int(way.size());
        double least = 1e9;
        int first = 0, last = n - 1;
        for (int s = 0; s + 2 < n; ++s)
            for (int e = s + 2; e < n; ++e) {
                double off = 0;
                for (int i = 0; i < n && off < least; ++i) {
                    const double d = way[std::size_t(i)] - std::clamp(double(i - s) / (e - s), 0.0, 1.0);
                    off += d * d;
                }
                if (off < least) least = off, first = s, last = e;
            }
        *from = a + first, *to = a + last;
        const auto wideA = first <= 1 ? std::max(m_first, a - 3) : a;
        const auto wideB = last >= n - 2 ? std::min(end() - 1, b + 3) : b;
        if ((wideA == a && wideB == b) || wideB - wideA > widest || residual(wideA, wideB) > usualResidual) return;
        a = wideA, b = wideB;
    }
}

void GradualFinder::search(std::int64_t until) {
    std::vector<Window> windows;
    for (auto a = std::max(m_first, m_begun); a < until; ++a)
        for (const int length : lengths)
            if (Window window; a + length < end() && measure(a, a + length, &window)) windows.push_back(window);
    m_begun = until;
    std::stable_sort(windows.begin(), windows.end(),
                     [](const Window& x, const Window& y) { return x.score > y.score; });
    const auto isTaken = [&](std::int64_t a, std::int64_t b) {
        return std::any_of(m_found.begin(), m_found.end(),
                           [&](const FoundGradual& f) { return a < f.to && b > f.from; });
    };
    for (const Window& window : windows) {
        if (isTaken(window.a, window.b)) continue;
        // A picture of one colour is like none; a blurred one tells nothing.
        double one = likeness(window.a, window.b), other = likeness(window.b, window.a);
        if (one == noDetail) one = at(window.a).contrast < oneColour ? 0 : other;
        if (other == noDetail) other = at(window.b).contrast < oneColour ? 0 : one;
        if (one == noDetail) continue;
        const double alike = std::max(likenessOfOthers, (one + other) / 2);
        const double doubt =
            window.residual / usualResidual + (alike - likenessOfOthers) / (likenessOfOne - likenessOfOthers);
        if (doubt > mostDoubt) continue;
        FoundGradual found;
        locate(window.a, window.b, &found.from, &found.to);
        if (found.to - found.from < leastPictures || isTaken(found.from, found.to)) continue;
        found.confidence = 1 - doubt / (2 * mostDoubt);
        m_found.push_back(found);
    }
}

// Two halves of one transition are one: both ways of a fade over one colour, and parts of a long wipe.
void GradualFinder::merge(std::vector<FoundGradual>& found) const {
    std::vector<FoundGradual> whole;
    for (const FoundGradual& f : found) {
        const auto gap = whole.empty() ? joinedOverOneColour + 1 : f.from - whole.back().to;
        bool one = gap <= joined;
        if (!one && gap <= joinedOverOneColour && whole.back().from >= m_first && f.to < end()) {
            const float least = 0.25F * std::min(at(whole.back().from).contrast, at(f.to).contrast);
            for (auto n = whole.back().to; n <= f.from; ++n) one = one || at(n).contrast < least;
        }
        if (one)
            whole.back().to = f.to, whole.back().confidence = std::min(whole.back().confidence, f.confidence);
        else
            whole.push_back(f);
    }
    found = std::move(whole);
}

std::vector<FoundGradual> GradualFinder::finish() {
    search(end());
    std::sort(m_found.begin(), m_found.end(), [](const auto& a, const auto& b) { return a.from < b.from; });
    merge(m_found);
    return m_found;
}

} // namespace virga
