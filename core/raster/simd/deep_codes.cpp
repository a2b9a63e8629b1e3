#include "core/raster/simd/deep_codes.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/raster/simd/deep_codes.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace virga {
namespace HWY_NAMESPACE {
#if HWY_TARGET == HWY_SCALAR

void deepCodesFast(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve) {
    deepCodesPlainly(from, to, count, span, curve);
}

#else
namespace hn = hwy::HWY_NAMESPACE;

void deepCodesFast(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve) {
    const hn::CappedTag<float, 16> df;
    const hn::RebindToSigned<decltype(df)> di;
    const hn::Rebind<std::uint16_t, decltype(df)> du;
    using Floats = hn::VFromD<decltype(df)>;
    const int lanes = int(hn::Lanes(df)), all = 4 * count;
    const auto isAlpha = hn::MaskFromVec(
        hn::BitCast(df, hn::VecFromMask(di, hn::Eq(hn::And(hn::Iota(di, 0), hn::Set(di, 3)), hn::Set(di, 3)))));
    const Floats lowest = hn::Set(df, -curve.floor), highest = hn::Set(df, curve.ceiling), zero = hn::Zero(df),
                 half = hn::Set(df, 0.5f), one = hn::Set(df, 1.0f), most = hn::Set(df, 65535.0f),
                 least = hn::Set(df, 1.0f / (1 << DeepCurve::octaves));
    int i = 0;
    for (; i + lanes <= all; i += lanes) {
        const Floats kept = hn::LoadU(df, from + i);
        Floats v = hn::Sub(hn::Mul(kept, hn::Set(df, span)), hn::Mul(hn::Set(df, curve.floor), hn::Broadcast<3>(kept)));
        v = hn::IfThenElse(hn::Gt(v, lowest), v, lowest); // what is not a number, too
        v = hn::IfThenElse(hn::Lt(v, highest), v, highest);
        const Floats size = hn::Abs(v);
        const auto bits = hn::Sub(hn::BitCast(di, size), hn::Set(di, std::int32_t(DeepCurve::firstBits)));
        const auto at = hn::Max(hn::ShiftRight<15>(bits), hn::Zero(di)); // below the table: another way is taken
        const Floats part = hn::Mul(hn::ConvertTo(df, hn::And(bits, hn::Set(di, 0x7fff))), hn::Set(df, 1.0f / 0x8000));
        const Floats here = hn::GatherIndex(df, curve.table, at), next = hn::GatherIndex(df, curve.table + 1, at);
        Floats rise = hn::Add(here, hn::Mul(hn::Sub(next, here), part));
        rise = hn::IfThenElse(hn::Lt(size, least), hn::Mul(size, hn::Set(df, curve.straight)), rise);
        Floats code = hn::Add(hn::Add(hn::Set(df, curve.black), hn::CopySign(rise, v)), half);
        code = hn::Min(hn::Max(code, zero), most);
        const Floats share = hn::IfThenElse(hn::Gt(kept, zero), hn::Min(kept, one), zero);
        code = hn::IfThenElse(isAlpha, hn::Add(hn::Mul(share, most), half), code);
        hn::StoreU(hn::DemoteTo(du, hn::ConvertTo(di, code)), du, to + i);
    }
    deepCodesPlainly(from + i, to + i, (all - i) / 4, span, curve);
}
#endif

} // namespace HWY_NAMESPACE
} // namespace virga
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace virga {

HWY_EXPORT(deepCodesFast);

void deepCodes(const float* from, std::uint16_t* to, int count, float span, const DeepCurve& curve) {
    HWY_DYNAMIC_DISPATCH(deepCodesFast)(from, to, count, span, curve);
}

} // namespace virga
#endif
