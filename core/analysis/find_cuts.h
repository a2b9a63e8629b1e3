#pragma once
// The cuts of one flat video found again. A hard cut is where one picture differs from the one before far more than its
// neighbours do, and stays different (a flash does not): in its blocks, after allowing for movement, or in its colours,
// which fast zooms and spins hardly change. Gradual ones are dissolves, wipes and fades; see gradual_finder.h. May run
// on any thread.
#include <filesystem>
#include <functional>
#include <vector>

#include "core/analysis/gradual_finder.h"
#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/raster/image.h"

namespace virga {

struct FoundCut {
    std::int64_t picture = 0; // the first of the new shot; of a gradual one the middle
    Rational seconds;         // from the video's first picture
    double confidence = 0;    // 0 to 1; from 0.5 on it is taken for a cut
    std::int64_t from = 0;    // the last picture that shows the old shot alone
    std::int64_t to = 0;      // the first that shows the new one alone
    bool isGradual() const { return to - from > 1; }
    bool operator==(const FoundCut&) const = default;
};

struct CutList {
    std::vector<FoundCut> cuts;  // all candidates, in order; everywhere they are counted from 1 by this list
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
    static constexpr int width = SmallPicture::width, height = SmallPicture::height;
    static constexpr int behind = 7; // pictures that a flash lasts at most, and one
    static constexpr int levels = 6; // of each colour in a histogram
    struct Small {
        std::vector<float> y, u, v; // width * height each, 0 to 1
        double bright = 0;          // the mean of y
        std::array<float, std::size_t(levels) * levels * levels>
            colours{}; // share of the picture, each spread over its eight neighbours
    };
    static Small shrink(const Image<Linear16>& picture, SmallPicture* looks);
    static double colourDifference(const Small& a, const Small& b);
    double confidenceAt(std::int64_t picture) const; // that there is a hard cut, by all that is known so far
    std::vector<FoundCut> hardCuts() const;
    static double difference(const Small& a, const Small& b);
    void judgeFlash(std::int64_t picture);

    std::vector<Small> m_last; // the last pictures, oldest first
    std::int64_t m_first = 0;  // the number of m_last.front()
    std::int64_t m_count = 0;
    std::vector<double> m_step;    // difference of each picture to the one before
    std::vector<double> m_bright;  // the brighter one of those two
    std::vector<double> m_lasting; // the least of the one before to those after, and from those before to the one after
    std::vector<double> m_colours, m_coloursLasting; // the same of their colours: half the sum of differences, 0 to 1
    std::vector<double> m_mean;                      // how bright each picture is
    GradualFinder m_gradual;
};

/// Reads a whole video. `progress` gets 0 to 1. Errors: as VideoReader; BadInput for a still; Cancelled.
Expected<CutList> findCuts(const std::filesystem::path& path, const std::function<void(double)>& progress = {},
                           const Cancel& cancel = {});

} // namespace virga
