#pragma once
// How loud the music is at each cut, as an ear takes it: momentary loudness by EBU Tech 3341 (2016), whose filter and
// gate are ITU-R BS.1770-4's; libebur128 measures. May run on any thread.
#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

struct LoudnessCourse {
    static constexpr int perSecond = 10;
    std::vector<double> momentary; // LUFS of the 400 ms that begin at each tenth of a second; quietest where silent
    double whole = 0;              // LUFS, gated; quietest where all is silent
    static constexpr double quietest = -70;

    /// The mean over [from, to) seconds in LU above the whole; 0 where the file does not sound.
    double above(double from, double to) const;
};

/// Of a sound file's first twenty minutes. Errors: as AudioReader; Cancelled.
Expected<LoudnessCourse> measureLoudness(const std::filesystem::path& path, Rational duration,
                                         const Cancel& cancel = {});

/// What was measured of each medium, by its id.
using LoudnessCourses = std::map<std::string, LoudnessCourse>;
/// Of all music of a project; what cannot be read is left out.
LoudnessCourses loudnessOfMusic(const Project& project, const Cancel& cancel = {});

/// How loud the music is in the second that follows each cut, in LU above the whole of its piece; 0 where none plays.
/// Empty where nothing is known of any music.
std::vector<double> loudnessAtCuts(const Project& project, const LoudnessCourses& courses);

} // namespace virga
