#pragma once
// Movement heard: a sound made of how fast the picture is seen to go. Noise whose level and brightness follow the
// speed, whose place between the speakers follows its direction, and, where it is asked for, a low beat where the speed
// peaks. The same samples for every span they are asked in, on every run; nothing is kept. May run on any thread.
#include <cstdint>
#include <vector>

#include "core/geom/screen_map.h"
#include "core/project/project.h"

namespace virga {

/// How fast and where to the reel is seen to go around a stretch of it.
class HeardCourse {
public:
    /// Of the frames [from, to) and as many around them as are heard in there.
    HeardCourse(const Project& project, std::int64_t from, std::int64_t to);

    /// What is heard at a time of the reel, in frames: 0 for nothing, 1 for a movement as fast as they usually get
    /// (28 % of the frame's width a frame at 25 frames a second: common practice), held below 1.3.
    double strengthAt(double frame) const;
    /// From -1, all left, to 1.
    double placeAt(double frame) const;
    /// The frames of low beats, in order.
    const std::vector<std::int64_t>& thuds() const { return m_thuds; }

private:
    double at(const std::vector<double>& values, double frame) const;
    std::int64_t m_first = 0;
    double m_reach = 0; // frames of swelling
    std::vector<double> m_strengths, m_places;
    std::vector<std::int64_t> m_thuds;
};

/// Interleaved stereo for the samples [first, last) of the reel, at audioRate; silent where it is off. REQUIRES:
/// first >= 0.
std::vector<float> heardSound(const Project& project, std::int64_t first, std::int64_t last);

} // namespace virga
