#include "core/raster/simd/add_walks.h"

#include <algorithm>
#include <cstddef>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/raster/simd/add_walks.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace virga {
namespace HWY_NAMESPACE {
#if HWY_TARGET == HWY_SCALAR

void addWalksFast(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums) {
    addWalksPlainly(walks, edges, width, height, shift, sums);
}

#else
namespace hn = hwy::HWY_NAMESPACE;

constexpr int run = 16, depth = 8; // pixels side by side and walks for which addresses and weights are made at once

// Where the taps of each sample lie, in elements from the picture's start, and their weights in pairs of 16 bits: the
// upper and the lower one on the left, and on the right. The right taps are the next pixel and the lower ones the next
// row, but where the picture is repeated and starts anew.
struct Prepared {
    alignas(64) std::int32_t at[depth][run], left[depth][run], right[depth][run];
    alignas(64) std::int32_t topB[depth][run], lowA[depth][run], lowB[depth][run]; // repeated pictures only
};

using F = hn::CappedTag<float, run>;
using I = hn::RebindToSigned<F>;
using Floats = hn::VFromD<F>;
using Ints = hn::VFromD<I>;

struct Axis {
    Ints a, b;
    Floats f, inside;
};

template <EdgeFill fill, bool limited> HWY_INLINE Axis tapsAt(Floats u, int n, float low, float high) {
    const F df;
    const I di;
    const Floats size = hn::Set(df, float(n)), half = hn::Set(df, 0.5f);
    Axis axis;
    axis.inside = hn::Set(df, 1.0f);
    if constexpr (limited) {
        const Floats depthIn = hn::Min(hn::Sub(u, hn::Set(df, low)), hn::Sub(hn::Set(df, high), u));
        axis.inside = hn::Min(hn::Max(hn::Add(depthIn, half), hn::Zero(df)), hn::Set(df, 1.0f));
        u = hn::Min(hn::Max(u, hn::Set(df, low + 0.5f)), hn::Set(df, high - 0.5f));
    }
    if constexpr (fill == EdgeFill::Mirror) {
        const float period = 2.0f * float(n);
        const Floats t = hn::Sub(u, hn::Mul(hn::Set(df, period), hn::Floor(hn::Mul(u, hn::Set(df, 1.0f / period)))));
        u = hn::Sub(size, hn::Abs(hn::Sub(t, size)));
    }
    if constexpr (fill == EdgeFill::Repeat) {
        u = hn::Sub(u, hn::Mul(size, hn::Floor(hn::Mul(u, hn::Set(df, 1.0f / float(n))))));
        const Floats at = hn::Sub(u, half), whole = hn::Floor(at);
        const Ints zero = hn::Zero(di), last = hn::Set(di, n - 1), count = hn::Set(di, n);
        axis.a = hn::ConvertTo(di, whole);
        axis.b = hn::Add(axis.a, hn::Set(di, 1));
        axis.f = hn::Sub(at, whole);
        axis.a = hn::Add(axis.a, hn::IfThenElseZero(hn::Lt(axis.a, zero), count));
        axis.b = hn::Sub(axis.b, hn::IfThenElseZero(hn::Gt(axis.b, last), count));
        axis.a = hn::Min(hn::Max(axis.a, zero), last);
        axis.b = hn::Min(hn::Max(axis.b, zero), last);
        return axis;
    }
    const Floats at = hn::Sub(hn::Min(hn::Max(u, half), hn::Sub(size, half)), half);
    const Floats whole = hn::Max(hn::Min(hn::Floor(at), hn::Set(df, float(n) - 2.0f)), hn::Zero(df));
    axis.a = axis.b = hn::ConvertTo(di, whole);
    axis.f = hn::Sub(at, whole);
    return axis;
}

HWY_INLINE Floats polynomial(const float (&c)[4][4], float y, Floats x) {
    const F df;
    const auto row = [&](int i) { return hn::Set(df, ((c[3][i] * y + c[2][i]) * y + c[1][i]) * y + c[0][i]); };
    const Floats cubic = hn::Add(hn::Mul(row(3), x), row(2));
    return hn::Add(hn::Mul(hn::Add(hn::Mul(cubic, x), row(1)), x), row(0));
}

// Addresses and weights of `run` pixels of one walk, from pixel (x, y) of the block on.
template <EdgeFill fill, bool limited> HWY_INLINE void prepare(const Walk& w, int x, int y, int s, Prepared& to) {
    const F df;
    const I di;
    const Floats one = hn::Set(df, 1.0f), half = hn::Set(df, 0.5f);
    for (int i = 0; i < run; i += int(hn::Lanes(df))) {
        const Floats px = hn::ConvertTo(df, hn::Iota(di, x + i));
        Floats u, v;
        if (w.bend) {
            const Floats bx = hn::Sub(hn::Mul(hn::Add(px, half), hn::Set(df, w.bend->scaleX)), one);
            const float by = (float(y) + 0.5f) * w.bend->scaleY - 1.0f;
            u = polynomial(w.bend->u, by, bx);
            v = polynomial(w.bend->v, by, bx);
        } else {
            const Floats uy = hn::Set(df, float(y) * w.uy), vy = hn::Set(df, float(y) * w.vy);
            u = hn::Add(hn::Set(df, w.u), hn::Add(hn::Mul(px, hn::Set(df, w.ux)), uy));
            v = hn::Add(hn::Set(df, w.v), hn::Add(hn::Mul(px, hn::Set(df, w.vx)), vy));
        }
        const Axis h = tapsAt<fill, limited>(u, w.width, w.lowU, w.highU),
                   t = tapsAt<fill, limited>(v, w.height, w.lowV, w.highV);
        const Floats f = h.f, g = t.f, e = hn::Sub(one, g);
        Floats all = hn::Set(df, float(w.weight));
        Ints total = hn::Set(di, w.weight);
        if constexpr (limited) {
            all = hn::Mul(all, hn::Mul(h.inside, t.inside));
            total = hn::ConvertTo(di, hn::Add(all, half));
        }
        const Ints w01 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(f, e), all), half));
        const Ints w10 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(hn::Sub(one, f), g), all), half));
        const Ints w11 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(f, g), all), half));
        const Ints w00 = hn::Sub(hn::Sub(hn::Sub(total, w01), w10), w11);
        const Ints low16 = hn::Set(di, 0xffff), columns = hn::Set(di, w.width);
        const Ints rowA = hn::Mul(t.a, columns);
        hn::Store(hn::ShiftLeft<2>(hn::Add(rowA, h.a)), di, to.at[s] + i);
        if constexpr (fill == EdgeFill::Repeat) {
            const Ints rowB = hn::Mul(t.b, columns);
            hn::Store(hn::ShiftLeft<2>(hn::Add(rowA, h.b)), di, to.topB[s] + i);
            hn::Store(hn::ShiftLeft<2>(hn::Add(rowB, h.a)), di, to.lowA[s] + i);
            hn::Store(hn::ShiftLeft<2>(hn::Add(rowB, h.b)), di, to.lowB[s] + i);
        }
        hn::Store(hn::Or(hn::And(w00, low16), hn::ShiftLeft<16>(w10)), di, to.left[s] + i);
        hn::Store(hn::Or(hn::And(w01, low16), hn::ShiftLeft<16>(w11)), di, to.right[s] + i);
    }
}

using I16 = hn::Full128<std::int16_t>;
using I32 = hn::Full128<std::int32_t>;
using Four = hn::VFromD<I32>;
using Eight = hn::VFromD<I16>;

// sum + (a0 b0 + a1 b1, a2 b2 + a3 b3, ...)
HWY_INLINE Four addPairs(Eight a, Eight b, Four sum) {
    const I32 d;
#if HWY_ARCH_X86 && HWY_TARGET != HWY_EMU128
    Four none = hn::Zero(d);
    return hn::ReorderWidenMulAccumulate(d, a, b, sum, none); // here it keeps the order
#else
    const Four x = hn::BitCast(d, a), y = hn::BitCast(d, b);
    const auto low = [](Four v) { return hn::ShiftRight<16>(hn::ShiftLeft<16>(v)); };
    return hn::Add(sum, hn::Add(hn::Mul(low(x), low(y)), hn::Mul(hn::ShiftRight<16>(x), hn::ShiftRight<16>(y))));
#endif
}

template <EdgeFill fill>
HWY_INLINE Four addSample(const std::uint16_t* pixels, std::ptrdiff_t down, const Prepared& from, int s, int i,
                          Four sum) {
    const I16 d16;
    const I32 d32;
    const auto* p = reinterpret_cast<const std::int16_t*>(pixels);
    Eight left, right;
    if constexpr (fill == EdgeFill::Repeat) {
        left = hn::InterleaveLower(d16, hn::LoadU(d16, p + from.at[s][i]), hn::LoadU(d16, p + from.lowA[s][i]));
        right = hn::InterleaveLower(d16, hn::LoadU(d16, p + from.topB[s][i]), hn::LoadU(d16, p + from.lowB[s][i]));
    } else {
        p += from.at[s][i];
        const Eight top = hn::LoadU(d16, p), low = hn::LoadU(d16, p + down);
        left = hn::InterleaveLower(d16, top, low);
        right = hn::InterleaveUpper(d16, top, low);
    }
    sum = addPairs(left, hn::BitCast(d16, hn::Set(d32, from.left[s][i])), sum);
    return addPairs(right, hn::BitCast(d16, hn::Set(d32, from.right[s][i])), sum);
}

template <EdgeFill fill, bool limited>
HWY_INLINE void addBy(std::span<const Walk> walks, int width, int height, int shift, std::int32_t* sums) {
    const I32 d32;
    const Four half = hn::Set(d32, shift > 0 ? 1 << (shift - 1) : 0);
    const auto below = [](const Walk& w) { return w.height > 1 ? 4 * std::ptrdiff_t(w.width) : 0; };
    Prepared prepared;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; x += run) {
            const int pixels = std::min(run, width - x);
            std::int32_t* to = sums + 4 * (std::ptrdiff_t(y) * width + x);
            for (std::size_t first = 0; first < walks.size(); first += depth) {
                const int count = int(std::min(std::size_t(depth), walks.size() - first));
                const Walk* some = walks.data() + first;
                for (int s = 0; s < count; ++s) prepare<fill, limited>(some[s], x, y, s, prepared);
                for (int s = 0; s < count; s += 2) {
                    const Walk &one = some[s], &other = some[std::min(s + 1, count - 1)];
                    const std::ptrdiff_t downOne = below(one), downOther = below(other);
                    const bool two = s + 1 < count;
                    for (int i = 0; i < pixels; ++i) {
                        Four sum = addSample<fill>(one.pixels, downOne, prepared, s, i, half);
                        if (two) sum = addSample<fill>(other.pixels, downOther, prepared, s + 1, i, sum);
                        hn::StoreU(hn::Add(hn::LoadU(d32, to + 4 * i), hn::ShiftRightSame(sum, shift)), d32,
                                   to + 4 * i);
                    }
                }
            }
        }
}

void addWalksFast(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums) {
    const bool limited = edges.copies > 0;
    switch (edges.fill) {
    case EdgeFill::Empty:
        return addBy<EdgeFill::Hold, true>(walks, width, height, shift, sums);
    case EdgeFill::Hold:
        return addBy<EdgeFill::Hold, false>(walks, width, height, shift, sums);
    case EdgeFill::Repeat:
        if (limited) return addBy<EdgeFill::Repeat, true>(walks, width, height, shift, sums);
        return addBy<EdgeFill::Repeat, false>(walks, width, height, shift, sums);
    case EdgeFill::Mirror:
        if (limited) return addBy<EdgeFill::Mirror, true>(walks, width, height, shift, sums);
        return addBy<EdgeFill::Mirror, false>(walks, width, height, shift, sums);
    }
}
#endif

} // namespace HWY_NAMESPACE
} // namespace virga
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace virga {

HWY_EXPORT(addWalksFast);

void addWalks(std::span<const Walk> walks, Edges edges, int width, int height, int shift, std::int32_t* sums) {
    HWY_DYNAMIC_DISPATCH(addWalksFast)(walks, edges, width, height, shift, sums);
}

} // namespace virga
#endif
