#pragma once
// Exact time: rational numbers of 64 bits, frame rates, and the mapping between frames and seconds. A frame index is an
// integer, a source time a Rational in seconds. Total: an overflow rounds to the nearest representable value.
#include <compare>
#include <cstdint>
#include <string>
#include <string_view>

#include "core/base/error.h"

namespace virga {

struct Rational {
    std::int64_t num = 0;
    std::int64_t den = 1; // > 0; the fraction is in lowest terms

    constexpr Rational() = default;
    constexpr Rational(std::int64_t whole) : num(whole) {}
    /// REQUIRES: d != 0.
    Rational(std::int64_t n, std::int64_t d);

    double toDouble() const { return double(num) / double(den); }
    bool operator==(const Rational&) const = default;
    std::strong_ordering operator<=>(const Rational& other) const;
};

Rational operator+(Rational a, Rational b);
Rational operator-(Rational a, Rational b);
Rational operator*(Rational a, Rational b);
Rational operator/(Rational a, Rational b); // REQUIRES: b != 0

/// The nearest integer, halves upward.
std::int64_t roundToInteger(Rational value);
/// The largest integer not above the value.
std::int64_t floorToInteger(Rational value);

/// "30000/1001" or "25".
std::string toText(Rational value);
/// Reads "25", "30000/1001", "29.97" (taken as 30000/1001, like the other rates n·1000/1001). Errors: BadInput.
Expected<Rational> rationalFromText(std::string_view text);

/// Frames per second. A rate is a positive Rational between 1 and 1000, its parts of 31 bits.
using FrameRate = Rational;
bool isUsableRate(FrameRate rate);

/// The time of a frame's start, in seconds.
inline Rational secondsOfFrame(std::int64_t frame, FrameRate rate) {
    return Rational(frame) / rate;
}

} // namespace virga
