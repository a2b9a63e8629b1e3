#include "core/optical_flow/made_up.h"

#include <array>

#include "core/base/parallel.h"
#include "core/optical_flow/optical_flow_grid.h"
#include "core/raster/four.h"

namespace virga {
namespace {

using four::Floats;

// Catmull and Rom's cubic ("A class of local interpolating splines", 1974); outside as at the border.
std::array<float, 4> weightsAt(float u) {
    return {((-0.5F * u + 1) * u - 0.5F) * u, (1.5F * u - 2.5F) * u * u + 1, ((-1.5F * u + 2) * u + 0.5F) * u,
            (0.5F * u - 0.5F) * u * u};
}

Floats cubicAt(const Image<Linear16>& picture, double x, double y) {
    const int w = picture.width(), h = picture.height();
    x = std::clamp(x, 0.0, w - 1.0), y = std::clamp(y, 0.0, h - 1.0);
    const int x0 = int(x), y0 = int(y);
    const auto wx = weightsAt(float(x - x0)), wy = weightsAt(float(y - y0));
    const bool inside = x0 > 0 && x0 + 2 < w;
    const int xs[] = {std::max(x0 - 1, 0), x0, std::min(x0 + 1, w - 1), std::min(x0 + 2, w - 1)};
    Floats sum = {};
    for (int j = 0; j < 4; ++j) {
        const Linear16* row = picture.row(std::clamp(y0 + j - 1, 0, h - 1));
        Floats line;
        if (inside) {
            const Linear16* p = row + x0 - 1;
            line = four::load(p[0]) * wx[0] + four::load(p[1]) * wx[1] + four::load(p[2]) * wx[2] +
                   four::load(p[3]) * wx[3];
        } else {
            line = four::load(row[xs[0]]) * wx[0] + four::load(row[xs[1]]) * wx[1] + four::load(row[xs[2]]) * wx[2] +
                   four::load(row[xs[3]]) * wx[3];
        }
        sum += line * wy[std::size_t(j)];
    }
    return sum;
}

// No colour beyond its alpha.
Linear16 stored(Floats c) {
    const float alpha = std::clamp(c[3] + 0.5F, 0.0F, float(linearOne));
    const Floats zero = {}, most = zero + alpha;
    c += 0.5F;
    c = c > zero ? c : zero;
    c = c < most ? c : most;
    Linear16 out;
    four::store(__builtin_convertvector(c, four::Ints), out);
    return out;
}

// A pixel's place on the grid, for reading it bilinearly.
struct GridPlace {
    GridPlace(int x, int y, double sx, double sy, int w, int h) {
        const double gx = std::clamp((x + 0.5) / sx - 0.5, 0.0, w - 1.0),
                     gy = std::clamp((y + 0.5) / sy - 0.5, 0.0, h - 1.0);
        const int x0 = int(gx), y0 = int(gy), x1 = std::min(x0 + 1, w - 1), y1 = std::min(y0 + 1, h - 1);
        u = float(gx - x0), v = float(gy - y0);
        a = std::size_t(y0 * w + x0), b = std::size_t(y0 * w + x1), c = std::size_t(y1 * w + x0),
        d = std::size_t(y1 * w + x1);
    }
    float in(const std::vector<float>& of) const {
        const float top = of[a] + (of[b] - of[a]) * u, low = of[c] + (of[d] - of[c]) * u;
        return top + (low - top) * v;
    }
    std::size_t a, b, c, d;
    float u, v;
};

// What is known of a moment between two pictures, in each cell of the grid.
struct Moment {
    std::vector<float> x, y;          // the way from the first picture to the second, in cells, of what is seen here
    std::vector<float> first, second; // how far each picture is to be trusted here
};

// Every cell of both pictures thrown to where it is at the moment, its way and its trust with it. What nothing is
// thrown to takes the way of both fields where they are.
Moment momentAt(const FlowPair& flow, double part) {
    const int w = flow.grid.width, h = flow.grid.height;
    const std::size_t count = std::size_t(w) * std::size_t(h);
    std::array<std::vector<float>, 2> trust{trustOf(flow, true), trustOf(flow, false)};
    struct Thrown {
        std::vector<float> x, y, trust, weight;
    };
    std::array<Thrown, 2> thrown;
    inParallel(2, [&](std::size_t from) {
        Thrown& t = thrown[from];
        for (auto* v : {&t.x, &t.y, &t.trust, &t.weight}) v->assign(count, 0.0F);
        const FlowField& field = from == 0 ? flow.forward : flow.backward;
        const double share = from == 0 ? part : 1 - part;
        for (int y = 0; y < h; ++y)
            for (int x = 0; x < w; ++x) {
                const Point f = flowAt(field, flow.grid, x, y);
                const float sure = trust[from][std::size_t(y) * std::size_t(w) + std::size_t(x)];
                const double px = x + f.x * share, py = y + f.y * share;
                const int x0 = int(std::floor(px)), y0 = int(std::floor(py));
                const auto fx = float(from == 0 ? f.x : -f.x), fy = float(from == 0 ? f.y : -f.y);
                for (int j = 0; j < 2; ++j)
                    for (int i = 0; i < 2; ++i) {
                        const int cx = x0 + i, cy = y0 + j;
                        if (cx < 0 || cy < 0 || cx >= w || cy >= h) continue;
                        const auto near = float((1 - std::abs(px - cx)) * (1 - std::abs(py - cy)));
                        const float weight = near * (0.02F + sure);
                        const std::size_t at = std::size_t(cy) * std::size_t(w) + std::size_t(cx);
                        t.x[at] += weight * fx, t.y[at] += weight * fy;
                        t.trust[at] += weight * sure, t.weight[at] += weight;
                    }
            }
    });
    Moment moment;
    for (auto* v : {&moment.x, &moment.y, &moment.first, &moment.second}) v->resize(count);
    inParallel(std::size_t(h), [&](std::size_t y) {
        for (int x = 0; x < w; ++x) {
            const std::size_t i = y * std::size_t(w) + std::size_t(x);
            const Thrown &a = thrown[0], &b = thrown[1];
            const auto ga = float(1 - part), gb = float(part);
            const float wa = a.weight[i] * ga, wb = b.weight[i] * gb;
            const float all = wa + wb;
            if (all > 1e-3F) {
                moment.x[i] = (a.x[i] * ga + b.x[i] * gb) / all, moment.y[i] = (a.y[i] * ga + b.y[i] * gb) / all;
            } else {
                const Point f = flowAt(flow.forward, flow.grid, x, int(y)),
                            g = flowAt(flow.backward, flow.grid, x, int(y));
                moment.x[i] = float(f.x * (1 - part) - g.x * part), moment.y[i] = float(f.y * (1 - part) - g.y * part);
            }
            moment.first[i] = a.weight[i] > 1e-3F ? a.trust[i] / a.weight[i] * std::min(1.0F, a.weight[i]) : 0;
            moment.second[i] = b.weight[i] > 1e-3F ? b.trust[i] / b.weight[i] * std::min(1.0F, b.weight[i]) : 0;
        }
    });
    return moment;
}

} // namespace

Image<Linear16> mixed(const Image<Linear16>& first, const Image<Linear16>& second, double part) {
    Image<Linear16> out(first.size());
    const int weight = int(std::lround(std::clamp(part, 0.0, 1.0) * 32768)), rest = 32768 - weight;
    inParallel(std::size_t(out.height()), [&](std::size_t y) {
        const Linear16 *a = first.row(int(y)), *b = second.row(int(y));
        Linear16* to = out.row(int(y));
        const auto mix = [&](int p, int q) { return std::uint16_t((p * rest + q * weight + 16384) >> 15); };
        for (int x = 0; x < out.width(); ++x)
            to[x] = {mix(a[x].r, b[x].r), mix(a[x].g, b[x].g), mix(a[x].b, b[x].b), mix(a[x].a, b[x].a)};
    });
    return out;
}

std::vector<float> trustAt(const FlowPair& flow, double part) {
    const Moment moment = momentAt(flow, part);
    std::vector<float> trust(moment.first.size());
    const double given = std::clamp(2 * (1 - flow.untrusted / mostUntrusted), 0.0, 1.0);
    for (std::size_t i = 0; i < trust.size(); ++i)
        trust[i] = std::max(moment.first[i], moment.second[i]) * float(given);
    return trust;
}

Image<Linear16> madeUp(const Image<Linear16>& first, const Image<Linear16>& second, const FlowPair& flow, double part) {
    // From half the limit on, the plain mix comes in.
    const auto plain = float(std::clamp(2 * flow.untrusted / mostUntrusted - 1, 0.0, 1.0));
    if (plain >= 1 || flow.isEmpty()) return mixed(first, second, part);
    const Moment moment = momentAt(flow, part);
    const int w = flow.grid.width, h = flow.grid.height;
    Image<Linear16> out(first.size());
    const double sx = double(first.width()) / w, sy = double(first.height()) / h;
    const auto t = float(part);
    inParallel(std::size_t(out.height()), [&](std::size_t row) {
        const int y = int(row);
        for (int x = 0; x < out.width(); ++x) {
            const GridPlace at(x, y, sx, sy, w, h);
            const auto in = [&](const std::vector<float>& of) { return at.in(of); };
            const double fx = in(moment.x) * sx, fy = in(moment.y) * sy;
            const float sureFirst = in(moment.first), sureSecond = in(moment.second);
            // By time and by trust; where neither is to be trusted, the nearer one.
            const float near = t < 0.5F ? 0 : t > 0.5F ? 1 : 0.5F;
            const float wa = (1 - t) * sureFirst, wb = t * sureSecond, sure = std::max(sureFirst, sureSecond);
            const float byTrust = wa + wb > 1e-6F ? wb / (wa + wb) : t;
            const float share = byTrust * sure + (near * 0.5F + t * 0.5F) * (1 - sure);
            const Floats p = cubicAt(first, x - fx * part, y - fy * part);
            const Floats q = cubicAt(second, x + fx * (1 - part), y + fy * (1 - part));
            Floats made = p + (q - p) * share;
            if (plain > 0) {
                const Floats m = four::load(first.at(x, y)), n = four::load(second.at(x, y));
                made += (m + (n - m) * t - made) * plain;
            }
            out.at(x, y) = stored(made);
        }
    });
    return out;
}

Image<Linear16> smeared(const Image<Linear16>& picture, const FlowPair& flow, double part, double frames) {
    Image<Linear16> out(picture.size());
    const Moment moment = momentAt(flow, part);
    const int w = flow.grid.width, h = flow.grid.height;
    const double sx = double(picture.width()) / w, sy = double(picture.height()) / h;
    inParallel(std::size_t(out.height()), [&](std::size_t row) {
        const int y = int(row);
        for (int x = 0; x < out.width(); ++x) {
            const GridPlace at(x, y, sx, sy, w, h);
            const auto sure = double(std::max(at.in(moment.first), at.in(moment.second)));
            const double dx = at.in(moment.x) * sx * frames * sure, dy = at.in(moment.y) * sy * frames * sure;
            // One sample a pixel and a half of the way; evenly over the time that the shutter is open.
            const int count = std::clamp(int(std::ceil(std::hypot(dx, dy) / 1.5)) | 1, 1, 63);
            if (count == 1) {
                out.at(x, y) = picture.at(x, y);
                continue;
            }
            Floats sum = {};
            for (int i = 0; i < count; ++i) {
                const double along = (i + 0.5) / count - 0.5;
                sum += cubicAt(picture, x - dx * along, y - dy * along);
            }
            out.at(x, y) = stored(sum / float(count));
        }
    });
    return out;
}

} // namespace virga
