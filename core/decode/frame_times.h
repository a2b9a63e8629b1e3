#pragma once
// When each picture of a stream is on screen, from its time stamps. A container's clock is coarse (Matroska and Flash
// count milliseconds): stamps that lie within half a tick of a constant rate are that rate, exactly; others stay as
// they are and may be half a tick out. Pure functions of numbers.
#include <cstdint>
#include <span>
#include <vector>

#include "core/base/rational.h"

namespace virga {

struct FrameTimes {
    std::vector<Rational> starts; // seconds from the first picture's start; ascending, the first is 0
    Rational end;                 // seconds from the first picture's start to the last one's end
    FrameRate rate = 25;          // the rate a person would name
    bool variable = false;        // pictures do not follow each other at that rate
    Rational slack;               // seconds that a start may be out by: half a tick, or 0 where the rate is exact

    /// The picture on screen at a time; the first or last one outside. REQUIRES: there are pictures.
    std::int64_t indexAt(Rational seconds) const;
};

/// `stamps` ascending and unique, in ticks of `tick` seconds; `lastDuration` in ticks, 0 where it is not known;
/// `announced` are rates that the file itself names, tried first. REQUIRES: at least one stamp, tick > 0.
FrameTimes frameTimesOf(std::span<const std::int64_t> stamps, Rational tick, std::int64_t lastDuration,
                        std::span<const Rational> announced);

} // namespace virga
