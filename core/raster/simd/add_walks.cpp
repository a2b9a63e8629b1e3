#include "core/raster/simd/add_walks.h"

#include <algorithm>
#include <cstddef>
#include <vector>

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

constexpr int run = 64, depth = 8; // pixels side by side and walks for which addresses and weights are made at once

// Where the taps of each sample lie, in elements from the picture's start, and their weights in pairs of 16 bits: the
// upper and the lower one on the left, and on the right. The right taps are the next pixel and the lower ones the next
// row, but where the picture is repeated and starts anew.
struct Prepared {
    alignas(64) std::int32_t at[depth][run], left[depth][run], right[depth][run];
    alignas(64) std::int32_t topB[depth][run], lowA[depth][run], lowB[depth][run]; // repeated pictures only
    alignas(64) std::int32_t both[run][4]; // the weights of two walks: both left ones, both right ones
};

using F = hn::CappedTag<float, 16>;
using I = hn::RebindToSigned<F>;
using Floats = hn::VFromD<F>;
using Ints = hn::VFromD<I>;

// Adding this leaves the nearest integer in the lowest bits of a float: |values| below 2^22.
constexpr float magic = 12582912.0f; // 1.5 * 2^23
constexpr std::int32_t magicBits = 0x4b400000;

struct Axis {
    Ints a, b;
    Floats f, inside;
};

template <EdgeFill fill, bool limited>
HWY_INLINE Axis tapsAt(Floats u, int n, float period, float inverse, float low, float high, float ramp) {
    const F df;
    const I di;
    const Floats half = hn::Set(df, 0.5f);
    Axis axis;
    if constexpr (limited) {
        const Floats depthIn = hn::Min(hn::Sub(u, hn::Set(df, low)), hn::Sub(hn::Set(df, high), u));
        const Floats share = hn::Add(hn::Mul(depthIn, hn::Set(df, ramp)), half);
        axis.inside = hn::Min(hn::Max(share, hn::Zero(df)), hn::Set(df, 1.0f));
        u = hn::Min(hn::Max(u, hn::Set(df, low + 0.5f)), hn::Set(df, high - 0.5f));
    } else {
        axis.inside = half; // nobody asks
    }
    if constexpr (fill == EdgeFill::Mirror) { // the fold |u - 2W round(u / 2W)|
        const Floats by = hn::Add(hn::Mul(u, hn::Set(df, inverse)), hn::Set(df, magic));
        u = hn::Abs(hn::Sub(u, hn::Mul(hn::Sub(by, hn::Set(df, magic)), hn::Set(df, period))));
    }
    if constexpr (fill == EdgeFill::Repeat) {
        const Floats by = hn::Floor(hn::Mul(u, hn::Set(df, inverse)));
        u = hn::Sub(u, hn::Mul(by, hn::Set(df, period)));
    } else {
        u = hn::Min(hn::Max(u, half), hn::Set(df, float(n) - 0.5f));
    }
    // The tap before u - 1/2; where that is a whole number either neighbour may be, with the whole weight.
    Floats whole = hn::Add(u, hn::Set(df, magic - 1.0f));
    if constexpr (fill != EdgeFill::Repeat) whole = hn::Min(whole, hn::Set(df, magic + float(std::max(n - 2, 0))));
    axis.a = hn::Sub(hn::BitCast(di, whole), hn::Set(di, magicBits));
    axis.f = hn::Sub(hn::Sub(u, half), hn::Sub(whole, hn::Set(df, magic)));
    if constexpr (fill == EdgeFill::Repeat) {
        const Ints zero = hn::Zero(di), last = hn::Set(di, n - 1), count = hn::Set(di, n);
        axis.b = hn::Add(axis.a, hn::Set(di, 1));
        axis.a = hn::Add(axis.a, hn::IfThenElseZero(hn::Lt(axis.a, zero), count));
        axis.b = hn::Sub(axis.b, hn::IfThenElseZero(hn::Gt(axis.b, last), count));
        axis.a = hn::Min(hn::Max(axis.a, zero), last);
        axis.b = hn::Min(hn::Max(axis.b, zero), last);
    } else {
        axis.b = axis.a; // the next one: nobody asks
    }
    return axis;
}

HWY_INLINE Floats polynomial(const float (&c)[4][4], float y, Floats x) {
    const F df;
    const auto row = [&](int i) { return hn::Set(df, ((c[3][i] * y + c[2][i]) * y + c[1][i]) * y + c[0][i]); };
    const Floats cubic = hn::Add(hn::Mul(row(3), x), row(2));
    return hn::Add(hn::Mul(hn::Add(hn::Mul(cubic, x), row(1)), x), row(0));
}

// What all pixels of a walk share.
struct Ready {
    float periodU, periodV, inverseU, inverseV;
};

HWY_INLINE Ready readyFor(const Walk& w, EdgeFill fill) {
    const float times = fill == EdgeFill::Mirror ? 2.0f : 1.0f;
    const float u = times * float(w.width), v = times * float(w.height);
    return {u, v, 1.0f / u, 1.0f / v};
}

// Addresses and weights of `pixels` (and up to 15 more) pixels of one walk, from pixel (x, y) of the block on.
template <EdgeFill fill, bool limited>
HWY_INLINE void prepare(const Walk& w, const Ready& r, int x, int y, int pixels, int s, Prepared& to) {
    const F df;
    const I di;
    const float startU = w.u + float(y) * w.uy, startV = w.v + float(y) * w.vy;
    for (int i = 0; i < pixels; i += int(hn::Lanes(df))) {
        const Floats px = hn::ConvertTo(df, hn::Iota(di, x + i));
        Floats u, v;
        if (w.bend) {
            const Floats bx =
                hn::Sub(hn::Mul(hn::Add(px, hn::Set(df, 0.5f)), hn::Set(df, w.bend->scaleX)), hn::Set(df, 1.0f));
            const float by = (float(y) + 0.5f) * w.bend->scaleY - 1.0f;
            u = polynomial(w.bend->u, by, bx);
            v = polynomial(w.bend->v, by, bx);
        } else {
            u = hn::Add(hn::Mul(px, hn::Set(df, w.ux)), hn::Set(df, startU));
            v = hn::Add(hn::Mul(px, hn::Set(df, w.vx)), hn::Set(df, startV));
        }
        const Axis h = tapsAt<fill, limited>(u, w.width, r.periodU, r.inverseU, w.lowU, w.highU, w.rampU),
                   t = tapsAt<fill, limited>(v, w.height, r.periodV, r.inverseV, w.lowV, w.highV, w.rampV);
        Floats all = hn::Set(df, float(w.weight));
        const Floats toInt = hn::Set(df, magic);
        Ints total = hn::Set(di, w.weight + magicBits);
        if constexpr (limited) {
            all = hn::Mul(all, hn::Mul(h.inside, t.inside));
            const Floats rounded = hn::Add(all, toInt);
            total = hn::BitCast(di, rounded);
            all = hn::Sub(rounded, toInt);
        }
        // Of the right column, of the lower row, and of the pixel in both; the others by subtraction, so that the sum
        // is exact. The bits that make floats integers cancel out.
        const Floats right = hn::Mul(h.f, all);
        const Ints column = hn::BitCast(di, hn::Add(right, toInt));
        const Ints row = hn::BitCast(di, hn::Add(hn::Mul(t.f, all), toInt));
        const Ints w11 = hn::BitCast(di, hn::Add(hn::Mul(right, t.f), toInt));
        const Ints w01 = hn::Sub(column, w11), w10 = hn::Sub(row, w11), w00 = hn::Sub(hn::Sub(total, column), w10);
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
        const std::int16_t* below = p + down;
        const std::ptrdiff_t at = from.at[s][i];
        const Eight top = hn::LoadU(d16, p + at), low = hn::LoadU(d16, below + at);
        left = hn::InterleaveLower(d16, top, low);
        right = hn::InterleaveUpper(d16, top, low);
    }
    sum = addPairs(left, hn::BitCast(d16, hn::Set(d32, from.left[s][i])), sum);
    return addPairs(right, hn::BitCast(d16, hn::Set(d32, from.right[s][i])), sum);
}

// Two walks for all pixels of a run; the second may be the first again, without weight.
template <EdgeFill fill>
HWY_INLINE void addTwo(const Walk& one, const Walk& other, bool two, Prepared& from, int s, int pixels, int shift,
                       std::int32_t* to) {
    const I32 d32;
    const Four half = hn::Set(d32, shift > 0 ? 1 << (shift - 1) : 0);
    const auto below = [](const Walk& w) { return w.height > 1 ? 4 * std::ptrdiff_t(w.width) : 0; };
    const std::ptrdiff_t downOne = below(one), downOther = below(other);
#if HWY_ARCH_X86 && HWY_CAP_GE256
    if constexpr (fill != EdgeFill::Repeat) { // both walks side by side in one register
        const I di;
        for (int i = 0; i < pixels; i += int(hn::Lanes(di))) {
            const Ints zero = hn::Zero(di);
            const Ints left = two ? hn::Load(di, from.left[s + 1] + i) : zero,
                       right = two ? hn::Load(di, from.right[s + 1] + i) : zero;
            hn::StoreInterleaved4(hn::Load(di, from.left[s] + i), left, hn::Load(di, from.right[s] + i), right, di,
                                  from.both[i]);
        }
        const std::int32_t *atOne = from.at[s], *atOther = from.at[two ? s + 1 : s];
        const hn::Full256<std::int16_t> w16;
        const hn::Full256<std::int32_t> w32;
        const hn::Full256<std::uint8_t> w8;
        const I16 d16;
        alignas(32) static constexpr std::uint8_t leftOf[32] = {0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3, 0, 1, 2, 3,
                                                                4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7, 4, 5, 6, 7};
        const auto leftPattern = hn::Load(w8, leftOf), rightPattern = hn::Add(leftPattern, hn::Set(w8, 8));
        const auto* p = reinterpret_cast<const std::int16_t*>(one.pixels);
        const auto* q = reinterpret_cast<const std::int16_t*>(other.pixels);
        const std::int16_t *pLow = p + downOne, *qLow = q + downOther;
        for (int i = 0; i < pixels; ++i) {
            const std::ptrdiff_t a = atOne[i], b = atOther[i];
            const auto top = hn::Combine(w16, hn::LoadU(d16, q + b), hn::LoadU(d16, p + a));
            const auto low = hn::Combine(w16, hn::LoadU(d16, qLow + b), hn::LoadU(d16, pLow + a));
            const auto weights = hn::BitCast(w8, hn::LoadDup128(w32, from.both[i]));
            const auto left = hn::BitCast(w16, hn::TableLookupBytes(weights, leftPattern));
            const auto right = hn::BitCast(w16, hn::TableLookupBytes(weights, rightPattern));
            auto none = hn::Zero(w32);
            auto sum =
                hn::ReorderWidenMulAccumulate(w32, hn::InterleaveLower(w16, top, low), left, hn::Zero(w32), none);
            sum = hn::ReorderWidenMulAccumulate(w32, hn::InterleaveUpper(w16, top, low), right, sum, none);
            const Four four = hn::Add(hn::Add(hn::LowerHalf(sum), hn::UpperHalf(I32(), sum)), half);
            hn::StoreU(hn::Add(hn::LoadU(d32, to + 4 * i), hn::ShiftRightSame(four, shift)), d32, to + 4 * i);
        }
        return;
    }
#endif
    for (int i = 0; i < pixels; ++i) {
        Four sum = addSample<fill>(one.pixels, downOne, from, s, i, half);
        if (two) sum = addSample<fill>(other.pixels, downOther, from, s + 1, i, sum);
        hn::StoreU(hn::Add(hn::LoadU(d32, to + 4 * i), hn::ShiftRightSame(sum, shift)), d32, to + 4 * i);
    }
}

template <EdgeFill fill, bool limited>
HWY_INLINE void addBy(std::span<const Walk> walks, int width, int height, int shift, std::int32_t* sums) {
    Prepared prepared;
    std::vector<Ready> ready;
    for (const Walk& walk : walks) ready.push_back(readyFor(walk, fill));
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; x += run) {
            const int pixels = std::min(run, width - x);
            std::int32_t* to = sums + 4 * (std::ptrdiff_t(y) * width + x);
            for (std::size_t first = 0; first < walks.size(); first += depth) {
                const int count = int(std::min(std::size_t(depth), walks.size() - first));
                const Walk* some = walks.data() + first;
                for (int s = 0; s < count; ++s)
                    prepare<fill, limited>(some[s], ready[first + std::size_t(s)], x, y, pixels, s, prepared);
                for (int s = 0; s < count; s += 2)
                    addTwo<fill>(some[s], some[std::min(s + 1, count - 1)], s + 1 < count, prepared, s, pixels, shift,
                                 to);
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
