#include "core/effects/gaussian.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

constexpr double narrowest = 2.0; // standard deviations on a halved line: aliases are then below 1/1000

// N neighbouring lines worked on together; a sample is N vectors.
template <int N> struct Sample { Floats v[N]; };

template <int N> class Line {
public:
    Line(const GaussianPlan& plan, int length) : m_plan(plan), m_length(length) {
        const int reach = int(plan.weights.size()) - 1;
        // Enough beyond both ends for the widest step, a whole number of the coarsest samples.
        const int unit = 1 << plan.halvings;
        m_before = ((reach + 4) * unit + unit - 1) / unit * unit;
        const int whole = (m_before + length + (reach + 5) * unit + unit - 1) / unit * unit;
        m_levels.resize(std::size_t(plan.halvings) + 1);
        for (int k = 0; k <= plan.halvings; ++k) m_levels[std::size_t(k)].resize(std::size_t(whole >> k) + 8);
        m_out.resize(std::size_t(whole >> plan.halvings) + 8);
    }
    int before() const { return m_before; }
    int whole() const { return int(m_levels[0].size()) - 8; }
    Sample<N>& in(int i) { return m_levels[0][std::size_t(i)]; }
    const Sample<N>& out(int i) const { return (m_plan.halvings ? m_levels[0] : m_out)[std::size_t(i)]; }

    void blur() {
        for (int k = 0; k < m_plan.halvings; ++k)
            halve(m_levels[std::size_t(k)], m_levels[std::size_t(k) + 1], whole() >> (k + 1));
        filter(m_levels.back(), m_out, whole() >> m_plan.halvings);
        if (m_plan.halvings == 0) return;
        for (int k = m_plan.halvings; k-- > 0;)
            twice(k + 1 == m_plan.halvings ? m_out : m_levels[std::size_t(k) + 1], m_levels[std::size_t(k)],
                  whole() >> (k + 1));
    }

private:
    using Samples = std::vector<Sample<N>>;
    // Plain pointers: these loops are most of what a blur takes.
    static void halve(const Samples& from, Samples& to, int count) {
        const Sample<N>* in = from.data();
        Sample<N>* out = to.data();
        out[0] = in[0];
        for (int i = 1; i < count; ++i)
            for (int n = 0; n < N; ++n) {
                const Sample<N>* s = in + 2 * i;
                out[i].v[n] =
                    (s[-2].v[n] + s[2].v[n]) * 0.0625f + (s[-1].v[n] + s[1].v[n]) * 0.25f + s[0].v[n] * 0.375f;
            }
    }
    static void twice(const Samples& from, Samples& to, int count) {
        const Sample<N>* in = from.data();
        Sample<N>* out = to.data();
        for (int i = 1; i + 1 < count; ++i)
            for (int n = 0; n < N; ++n) {
                const Sample<N>* s = in + i;
                out[2 * i].v[n] = (s[-1].v[n] + s[1].v[n]) * 0.125f + s[0].v[n] * 0.75f;
                out[2 * i + 1].v[n] = (s[0].v[n] + s[1].v[n]) * 0.5f;
            }
    }
    // Four sums at once: neighbours where a sample is one vector.
    void filter(const Samples& from, Samples& to, int count) const {
        constexpr int together = 4 / N;
        const int reach = int(m_plan.weights.size()) - 1;
        const float* weights = m_plan.weights.data();
        const Sample<N>* in = from.data();
        Sample<N>* out = to.data();
        int i = reach;
        for (; i + together - 1 + reach < count; i += together) {
            Floats sum[together][N];
            for (int j = 0; j < together; ++j)
                for (int n = 0; n < N; ++n) sum[j][n] = in[i + j].v[n] * weights[0];
            for (int k = 1; k <= reach; ++k) {
                const Sample<N>*before = in + i - k, *behind = in + i + k;
                const float w = weights[k];
                for (int j = 0; j < together; ++j)
                    for (int n = 0; n < N; ++n) sum[j][n] += (before[j].v[n] + behind[j].v[n]) * w;
            }
            for (int j = 0; j < together; ++j)
                for (int n = 0; n < N; ++n) out[i + j].v[n] = sum[j][n];
        }
        for (; i + reach < count; ++i)
            for (int n = 0; n < N; ++n) {
                Floats sum = in[i].v[n] * weights[0];
                for (int k = 1; k <= reach; ++k) sum += (in[i - k].v[n] + in[i + k].v[n]) * weights[k];
                out[i].v[n] = sum;
            }
    }

    const GaussianPlan& m_plan;
    int m_length, m_before = 0;
    std::vector<Samples> m_levels;
    Samples m_out;
};

void blurRows(Canvas& canvas, const GaussianPlan& plan) {
    constexpr std::size_t together = 16;
    const int width = canvas.width();
    const std::size_t blocks = (std::size_t(canvas.height()) + together - 1) / together;
    inParallel(blocks, [&](std::size_t block) {
        Line<1> line(plan, width);
        const int before = line.before(), whole = line.whole();
        for (std::size_t k = 0; k < together; ++k) {
            const std::size_t y = block * together + k;
            if (y >= std::size_t(canvas.height())) break;
            LinearF* row = canvas.row(int(y));
            for (int i = 0; i < whole; ++i) line.in(i).v[0] = four::load(row[mirrored(i - before, width)]);
            line.blur();
            for (int x = 0; x < width; ++x) four::store(line.out(x + before).v[0], row[x]);
        }
    });
}

void blurColumns(Canvas& canvas, const GaussianPlan& plan) {
    constexpr int together = 4;
    const int height = canvas.height(), width = canvas.width();
    const std::size_t blocks = std::size_t((width + together - 1) / together);
    constexpr std::size_t blocksTogether = 8; // a line's memory serves for several
    inParallel((blocks + blocksTogether - 1) / blocksTogether, [&](std::size_t group) {
        Line<together> line(plan, height);
        const int before = line.before(), whole = line.whole();
        for (std::size_t b = group * blocksTogether; b < std::min(blocks, (group + 1) * blocksTogether); ++b) {
            const int x = int(b) * together, count = std::min(together, width - x);
            for (int i = 0; i < whole; ++i) {
                const LinearF* row = canvas.row(mirrored(i - before, height)) + x;
                for (int n = 0; n < count; ++n) line.in(i).v[n] = four::load(row[n]);
                for (int n = count; n < together; ++n) line.in(i).v[n] = Floats{};
            }
            line.blur();
            for (int y = 0; y < height; ++y)
                for (int n = 0; n < count; ++n) four::store(line.out(y + before).v[n], canvas.row(y)[x + n]);
        }
    });
}

} // namespace

GaussianPlan gaussianPlan(double sigma) {
    GaussianPlan plan;
    double variance = sigma * sigma;
    // A halving and its way back add a variance of 1 + 1 samples at their level.
    for (;;) {
        const double next = (variance - 2) / 4;
        if (next < narrowest * narrowest) break;
        variance = next;
        ++plan.halvings;
    }
    const double left = std::sqrt(variance);
    const int reach = std::max(1, int(std::ceil(left * 4)));
    double sum = 0;
    std::vector<double> weights;
    for (int k = 0; k <= reach; ++k) {
        weights.push_back(std::exp(-k * k / (2 * variance)));
        sum += (k ? 2 : 1) * weights.back();
    }
    for (const double w : weights) plan.weights.push_back(float(w / sum));
    return plan;
}

int gaussianReach(double sigma) {
    return int(std::ceil(3.5 * sigma));
}

void gaussianBlur(Canvas& canvas, double across, double down) {
    constexpr double least = 0.05;
    if (across >= least) blurRows(canvas, gaussianPlan(across));
    if (down >= least) blurColumns(canvas, gaussianPlan(down));
}

} // namespace virga
