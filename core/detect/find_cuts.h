#pragma once
// The cuts of one flat video found again: where one picture differs from the one before far more than its neighbours
// do, after allowing for movement, and stays different (a flash does not). Hard cuts only. May run on any thread.
#include <filesystem>
#include <functional>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/raster/image.h"
#include "core/time/rational.h"

namespace virga {

struct FoundCut {
    std::int64_t picture = 0; // the first of the new shot
    Rational seconds;         // from the video's first picture
    double confidence = 0;    // 0 to 1; from 0.5 on it is taken for a cut
    bool operator==(const FoundCut&) const = default;
};

struct CutList {
    std::vector<FoundCut> cuts;  // all candidates, in order
    std::vector<Rational> times; // when each picture starts, in seconds from the first one
    std::int64_t pictures = 0;   // how many the video has
};

inline constexpr double leastConfidence = 0.15; // weaker candidates are not listed
inline constexpr double surely = 0.5;

/// Takes pictures in their order; may be fed from anywhere.
class CutFinder {
public:
    void add(const Image<Linear16>& picture);
    /// The candidates, by picture number; their seconds are left 0.
    std::vector<FoundCut> finish();

private:
    static constexpr int width = 64, height = 36, behind = 3;
    struct Small {
        std::vector<float> y, u, v; // width * height each, 0 to 1
        double bright = 0;          // the mean of y
    };
    static Small shrink(const Image<Linear16>& picture);
    static double difference(const Small& a, const Small& b);
    void judgeFlash(std::int64_t picture);

    std::vector<Small> m_last; // the last pictures, oldest first
    std::int64_t m_first = 0;  // the number of m_last.front()
    std::int64_t m_count = 0;
    std::vector<double> m_step;    // difference of each picture to the one before
    std::vector<double> m_bright;  // the brighter one of those two
    std::vector<double> m_lasting; // and the least of the one before to the three after
};

/// Reads a whole video. `progress` gets 0 to 1. Errors: as VideoReader; BadInput for a still; Cancelled.
Expected<CutList> findCuts(const std::filesystem::path& path, const std::function<void(double)>& progress = {},
                           const Cancel& cancel = {});

} // namespace virga
