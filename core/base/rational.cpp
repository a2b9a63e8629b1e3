#include "core/base/rational.h"

#include <cassert>
#include <charconv>
#include <cmath>
#include <numeric>

namespace virga {
namespace {

using Wide = __int128;

// Brings a wide fraction into 64 bits: exact when it fits after cancelling, otherwise the nearest with a smaller
// denominator.
Rational fromWide(Wide num, Wide den) {
    if (den < 0) num = -num, den = -den;
    Wide a = num < 0 ? -num : num, b = den;
    while (b != 0) {
        const Wide r = a % b;
        a = b;
        b = r;
    }
    if (a > 1) num /= a, den /= a;
    constexpr Wide limit = INT64_MAX;
    while (num > limit || num < -limit || den > limit) num /= 2, den = den > 1 ? den / 2 : 1;
    Rational out;
    out.num = std::int64_t(num);
    out.den = std::int64_t(den);
    if (const auto g = std::gcd(out.num, out.den); g > 1) out.num /= g, out.den /= g;
    return out;
}

} // namespace

Rational::Rational(std::int64_t n, std::int64_t d) {
    assert(d != 0);
    *this = fromWide(n, d);
}

std::strong_ordering Rational::operator<=>(const Rational& other) const {
    const Wide left = Wide(num) * other.den, right = Wide(other.num) * den;
    return left < right   ? std::strong_ordering::less
           : left > right ? std::strong_ordering::greater
                          : std::strong_ordering::equal;
}

Rational operator+(Rational a, Rational b) {
    return fromWide(Wide(a.num) * b.den + Wide(b.num) * a.den, Wide(a.den) * b.den);
}
Rational operator-(Rational a, Rational b) {
    return fromWide(Wide(a.num) * b.den - Wide(b.num) * a.den, Wide(a.den) * b.den);
}
Rational operator*(Rational a, Rational b) {
    return fromWide(Wide(a.num) * b.num, Wide(a.den) * b.den);
}
Rational operator/(Rational a, Rational b) {
    assert(b.num != 0);
    return fromWide(Wide(a.num) * b.den, Wide(a.den) * b.num);
}

std::int64_t floorToInteger(Rational value) {
    const auto q = value.num / value.den;
    return value.num % value.den < 0 ? q - 1 : q;
}

std::int64_t roundToInteger(Rational value) {
    return floorToInteger(value + Rational(1, 2));
}

std::string toText(Rational value) {
    return value.den == 1 ? std::to_string(value.num) : std::to_string(value.num) + "/" + std::to_string(value.den);
}

Expected<Rational> rationalFromText(std::string_view text) {
    const auto bad = [&] {
        return fail(ErrorCode::BadInput, "\"" + std::string(text) + "\" is not a number or a fraction", {},
                    "write it like 25, 29.97 or 30000/1001");
    };
    const char* const end = text.data() + text.size();
    std::int64_t num = 0;
    auto [at, ec] = std::from_chars(text.data(), end, num);
    if (ec == std::errc() && at == end) return Rational(num);
    if (ec == std::errc() && *at == '/') {
        std::int64_t den = 0;
        const auto [last, ec2] = std::from_chars(at + 1, end, den);
        if (ec2 == std::errc() && last == end && den > 0) return Rational(num, den);
        return bad();
    }
    double value = 0;
    const auto [last, ec3] = std::from_chars(text.data(), end, value);
    if (ec3 != std::errc() || last != end || !std::isfinite(value) || std::abs(value) > 1e9) return bad();
    const double whole = std::ceil(value); // 23.976, 29.97 and 59.94 mean n * 1000 / 1001
    if (value > 0 && std::abs(whole * 1000.0 / 1001.0 - value) < 0.005 && whole - value > 1e-6)
        return Rational(std::int64_t(whole) * 1000, 1001);
    return Rational(std::llround(value * 1e6), 1000000);
}

bool isUsableRate(FrameRate rate) {
    // Files and codecs hold 32 bits of each part.
    constexpr std::int64_t largest = INT32_MAX;
    if (rate.num > largest || rate.den > largest) return false;
    return rate >= Rational(1) && rate <= Rational(1000);
}

} // namespace virga
