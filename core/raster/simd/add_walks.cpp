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

void addWalksFast(std::span<const Walk> walks, EdgeFill edges, int width, int height, int shift, std::int32_t* sums) {
    addWalksPlainly(walks, edges, width, height, shift, sums);
}

#else
namespace hn = hwy::HWY_NAMESPACE;

constexpr int run = 16, depth = 8; // pixels side by side and walks for which addresses and weights are made at once

// Where the four taps of each sample lie, in elements from the picture's start, and their weights in pairs of 16 bits.
struct Prepared {
    alignas(64) std::int32_t topA[depth][run], topB[depth][run], lowA[depth][run], lowB[depth][run];
    alignas(64) std::int32_t top[depth][run], low[depth][run];
};

using F = hn::CappedTag<float, run>;
using I = hn::RebindToSigned<F>;
using Floats = hn::VFromD<F>;
using Ints = hn::VFromD<I>;
using Which = hn::MFromD<I>;

struct Axis {
    Ints a, b;
    Floats f;
    Which first, second; // for empty edges
};

template <EdgeFill edges> HWY_INLINE Axis tapsAt(Floats u, int n) {
    const F df;
    const I di;
    const Floats size = hn::Set(df, float(n));
    if constexpr (edges == EdgeFill::Mirror) {
        const float period = 2.0f * float(n);
        const Floats t = hn::Sub(u, hn::Mul(hn::Set(df, period), hn::Floor(hn::Mul(u, hn::Set(df, 1.0f / period)))));
        u = hn::Sub(size, hn::Abs(hn::Sub(t, size)));
    } else if constexpr (edges == EdgeFill::Repeat) {
        u = hn::Sub(u, hn::Mul(size, hn::Floor(hn::Mul(u, hn::Set(df, 1.0f / float(n))))));
    } else if constexpr (edges == EdgeFill::Hold) {
        u = hn::Min(hn::Max(u, hn::Set(df, 0.5f)), hn::Set(df, float(n) - 0.5f));
    } else {
        u = hn::Min(hn::Max(u, hn::Set(df, -2.0f)), hn::Set(df, float(n) + 2.0f));
    }
    const Floats at = hn::Sub(u, hn::Set(df, 0.5f)), whole = hn::Floor(at);
    const Ints zero = hn::Zero(di), last = hn::Set(di, n - 1), below = hn::Set(di, -1), count = hn::Set(di, n);
    Axis axis{hn::ConvertTo(di, whole), zero, hn::Sub(at, whole), hn::Eq(zero, zero), hn::Eq(zero, zero)};
    axis.b = hn::Add(axis.a, hn::Set(di, 1));
    if constexpr (edges == EdgeFill::Empty) {
        axis.first = hn::And(hn::Gt(axis.a, below), hn::Lt(axis.a, count));
        axis.second = hn::And(hn::Gt(axis.b, below), hn::Lt(axis.b, count));
    }
    if constexpr (edges == EdgeFill::Repeat) {
        axis.a = hn::Add(axis.a, hn::IfThenElseZero(hn::Lt(axis.a, zero), count));
        axis.b = hn::Sub(axis.b, hn::IfThenElseZero(hn::Gt(axis.b, last), count));
    }
    axis.a = hn::Min(hn::Max(axis.a, zero), last);
    axis.b = hn::Min(hn::Max(axis.b, zero), last);
    return axis;
}

// Addresses and weights of `run` pixels of one walk, from pixel (x, y) of the block on.
template <EdgeFill edges> HWY_INLINE void prepare(const Walk& w, int x, int y, int s, Prepared& to) {
    const F df;
    const I di;
    const Floats ux = hn::Set(df, w.ux), vx = hn::Set(df, w.vx), uy = hn::Set(df, float(y) * w.uy),
                 vy = hn::Set(df, float(y) * w.vy), all = hn::Set(df, float(w.weight)), one = hn::Set(df, 1.0f),
                 half = hn::Set(df, 0.5f);
    for (int i = 0; i < run; i += int(hn::Lanes(df))) {
        const Floats px = hn::ConvertTo(df, hn::Iota(di, x + i));
        const Floats u = hn::Add(hn::Set(df, w.u), hn::Add(hn::Mul(px, ux), uy));
        const Floats v = hn::Add(hn::Set(df, w.v), hn::Add(hn::Mul(px, vx), vy));
        const Axis h = tapsAt<edges>(u, w.width), t = tapsAt<edges>(v, w.height);
        const Floats f = h.f, g = t.f, e = hn::Sub(one, g);
        Ints w01 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(f, e), all), half));
        Ints w10 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(hn::Sub(one, f), g), all), half));
        Ints w11 = hn::ConvertTo(di, hn::Add(hn::Mul(hn::Mul(f, g), all), half));
        Ints w00 = hn::Sub(hn::Sub(hn::Sub(hn::Set(di, w.weight), w01), w10), w11);
        if constexpr (edges == EdgeFill::Empty) {
            w00 = hn::IfThenElseZero(hn::And(t.first, h.first), w00);
            w01 = hn::IfThenElseZero(hn::And(t.first, h.second), w01);
            w10 = hn::IfThenElseZero(hn::And(t.second, h.first), w10);
            w11 = hn::IfThenElseZero(hn::And(t.second, h.second), w11);
        }
        const Ints low16 = hn::Set(di, 0xffff), columns = hn::Set(di, w.width);
        const Ints rowA = hn::Mul(t.a, columns), rowB = hn::Mul(t.b, columns);
        hn::Store(hn::ShiftLeft<2>(hn::Add(rowA, h.a)), di, to.topA[s] + i);
        hn::Store(hn::ShiftLeft<2>(hn::Add(rowA, h.b)), di, to.topB[s] + i);
        hn::Store(hn::ShiftLeft<2>(hn::Add(rowB, h.a)), di, to.lowA[s] + i);
        hn::Store(hn::ShiftLeft<2>(hn::Add(rowB, h.b)), di, to.lowB[s] + i);
        hn::Store(hn::Or(hn::And(w00, low16), hn::ShiftLeft<16>(w01)), di, to.top[s] + i);
        hn::Store(hn::Or(hn::And(w10, low16), hn::ShiftLeft<16>(w11)), di, to.low[s] + i);
    }
}

using I16 = hn::Full128<std::int16_t>;
using I32 = hn::Full128<std::int32_t>;
using Four = hn::VFromD<I32>;

// a0 b0 + a1 b1, a2 b2 + a3 b3, ...
HWY_INLINE Four pairSums(hn::VFromD<I16> a, hn::VFromD<I16> b) {
    const I32 d;
#if HWY_ARCH_X86 && HWY_TARGET != HWY_EMU128
    Four none = hn::Zero(d);
    return hn::ReorderWidenMulAccumulate(d, a, b, hn::Zero(d), none); // here it keeps the order
#else
    const Four x = hn::BitCast(d, a), y = hn::BitCast(d, b);
    const auto low = [](Four v) { return hn::ShiftRight<16>(hn::ShiftLeft<16>(v)); };
    return hn::Add(hn::Mul(low(x), low(y)), hn::Mul(hn::ShiftRight<16>(x), hn::ShiftRight<16>(y)));
#endif
}

HWY_INLINE Four sampleAt(const std::uint16_t* pixels, const Prepared& from, int s, int i) {
    const I16 d16;
    const I32 d32;
    const auto* p = reinterpret_cast<const std::int16_t*>(pixels);
    const auto top = hn::InterleaveLower(d16, hn::LoadU(d16, p + from.topA[s][i]), hn::LoadU(d16, p + from.topB[s][i]));
    const auto low = hn::InterleaveLower(d16, hn::LoadU(d16, p + from.lowA[s][i]), hn::LoadU(d16, p + from.lowB[s][i]));
    return hn::Add(pairSums(top, hn::BitCast(d16, hn::Set(d32, from.top[s][i]))),
                   pairSums(low, hn::BitCast(d16, hn::Set(d32, from.low[s][i]))));
}

template <EdgeFill edges>
HWY_INLINE void addBy(std::span<const Walk> walks, int width, int height, int shift, std::int32_t* sums) {
    const I32 d32;
    const Four half = hn::Set(d32, shift > 0 ? 1 << (shift - 1) : 0);
    Prepared prepared;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; x += run) {
            const int pixels = std::min(run, width - x);
            std::int32_t* to = sums + 4 * (std::ptrdiff_t(y) * width + x);
            for (std::size_t first = 0; first < walks.size(); first += depth) {
                const int count = int(std::min(std::size_t(depth), walks.size() - first));
                const Walk* some = walks.data() + first;
                for (int s = 0; s < count; ++s) prepare<edges>(some[s], x, y, s, prepared);
                for (int i = 0; i < pixels; ++i) {
                    Four sum = hn::LoadU(d32, to + 4 * i);
                    int s = 0;
                    for (; s + 1 < count; s += 2)
                        sum = hn::Add(
                            sum, hn::ShiftRightSame(hn::Add(hn::Add(sampleAt(some[s].pixels, prepared, s, i),
                                                                    sampleAt(some[s + 1].pixels, prepared, s + 1, i)),
                                                            half),
                                                    shift));
                    if (s < count)
                        sum = hn::Add(
                            sum, hn::ShiftRightSame(hn::Add(sampleAt(some[s].pixels, prepared, s, i), half), shift));
                    hn::StoreU(sum, d32, to + 4 * i);
                }
            }
        }
}

void addWalksFast(std::span<const Walk> walks, EdgeFill edges, int width, int height, int shift, std::int32_t* sums) {
    switch (edges) {
    case EdgeFill::Empty:
        return addBy<EdgeFill::Empty>(walks, width, height, shift, sums);
    case EdgeFill::Hold:
        return addBy<EdgeFill::Hold>(walks, width, height, shift, sums);
    case EdgeFill::Repeat:
        return addBy<EdgeFill::Repeat>(walks, width, height, shift, sums);
    case EdgeFill::Mirror:
        return addBy<EdgeFill::Mirror>(walks, width, height, shift, sums);
    }
}
#endif

} // namespace HWY_NAMESPACE
} // namespace virga
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace virga {

HWY_EXPORT(addWalksFast);

void addWalks(std::span<const Walk> walks, EdgeFill edges, int width, int height, int shift, std::int32_t* sums) {
    HWY_DYNAMIC_DISPATCH(addWalksFast)(walks, edges, width, height, shift, sums);
}

} // namespace virga
#endif
