#include "core/base/timecode.h"

#include <cstdio>
#include <fmt/format.h>

namespace virga {
namespace {

std::int64_t countingRate(FrameRate rate) {
    return roundToInteger(rate);
}

// SMPTE ST 12-1, drop-frame: the numbers 0 and 1 (0 to 3 at 60) are left out in every minute but the tenth ones.
std::int64_t droppedPerMinute(FrameRate rate) {
    return countingRate(rate) / 15;
}

} // namespace

bool usesDropFrame(FrameRate rate) {
    return rate == Rational(30000, 1001) || rate == Rational(60000, 1001);
}

std::string timecodeOfFrame(std::int64_t frame, FrameRate rate) {
    return timecodeOfFrame(frame, rate, usesDropFrame(rate));
}

Expected<std::int64_t> frameOfTimecode(std::string_view text, FrameRate rate) {
    return frameOfTimecode(text, rate, usesDropFrame(rate));
}

std::string timecodeOfFrame(std::int64_t frame, FrameRate rate, bool drop) {
    const bool negative = frame < 0;
    const auto fps = countingRate(rate);
    std::int64_t n = negative ? -frame : frame;
    if (drop) {
        const auto d = droppedPerMinute(rate);
        const auto perMinute = fps * 60 - d, perTen = fps * 600 - d * 9;
        const auto tens = n / perTen, rest = n % perTen;
        n += d * 9 * tens + (rest >= d ? d * ((rest - d) / perMinute) : 0);
    }
    const auto ff = n % fps, s = n / fps;
    return fmt::format("{}{:02}:{:02}:{:02}{}{:02}", negative ? "-" : "", s / 3600, s / 60 % 60, s % 60,
                       drop ? ';' : ':', ff);
}

Expected<std::int64_t> frameOfTimecode(std::string_view text, FrameRate rate, bool drop) {
    int h = 0, m = 0, s = 0, f = 0, used = 0;
    char sep = 0;
    const std::string copy(text);
    const auto bad = [&](const char* why) {
        return fail(ErrorCode::BadInput, fmt::format("\"{}\" is not a timecode: {}", text, why), {},
                    "write it as hours:minutes:seconds:frames");
    };
    if (std::sscanf(copy.c_str(), "%2d:%2d:%2d%c%3d%n", &h, &m, &s, &sep, &f, &used) != 5 ||
        std::size_t(used) != copy.size() || (sep != ':' && sep != ';'))
        return bad("wrong form");
    const auto fps = countingRate(rate);
    if (h < 0 || m < 0 || m > 59 || s < 0 || s > 59 || f < 0 || f >= fps) return bad("a part is out of range");
    const auto minutes = std::int64_t(h) * 60 + m;
    std::int64_t frame = (minutes * 60 + s) * fps + f;
    if (drop) {
        const auto d = droppedPerMinute(rate);
        if (s == 0 && f < d && m % 10 != 0) return bad("drop-frame counting leaves this number out");
        frame -= d * (minutes - minutes / 10);
    }
    return frame;
}

} // namespace virga
