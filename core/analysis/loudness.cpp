#include "core/analysis/loudness.h"

#include <algorithm>
#include <cmath>
#include <ebur128.h>
#include <memory>

#include "core/audio/audio_reader.h"

namespace virga {
namespace {

constexpr double mostSeconds = 1200;
constexpr int momentaryTenths = 4; // of a second: 400 ms

struct Closed {
    void operator()(ebur128_state* state) const { ebur128_destroy(&state); }
};

double bounded(double lufs) {
    return std::isfinite(lufs) ? std::max(lufs, LoudnessCourse::quietest) : LoudnessCourse::quietest;
}

} // namespace

double LoudnessCourse::above(double from, double to) const {
    const auto at = [&](double seconds) {
        return std::size_t(std::clamp(seconds * perSecond, 0.0, double(momentary.size())));
    };
    const std::size_t first = at(from), last = at(to);
    if (first >= last || whole <= quietest) return 0;
    double energy = 0; // loudness is a logarithm: its mean is that of the energies
    for (std::size_t i = first; i < last; ++i) energy += std::pow(10, momentary[i] / 10);
    return std::max(-30.0, 10 * std::log10(energy / double(last - first)) - whole);
}

Expected<LoudnessCourse> measureLoudness(const std::filesystem::path& path, Rational duration, const Cancel& cancel) {
    const auto reader = AudioReader::open(path, 1, cancel);
    if (!reader) return tl::unexpected(reader.error());
    const std::unique_ptr<ebur128_state, Closed> state(
        ebur128_init(audioChannels, audioRate, EBUR128_MODE_M | EBUR128_MODE_I));
    if (!state) return fail(ErrorCode::OutOfMemory, "there is not enough memory to measure this sound", path.string());
    LoudnessCourse course;
    const auto tenths = std::int64_t(std::clamp(duration.toDouble(), 0.0, mostSeconds) * LoudnessCourse::perSecond);
    constexpr std::int64_t step = audioRate / LoudnessCourse::perSecond;
    for (std::int64_t i = 0; i < tenths; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path.string());
        const auto sound = (*reader)->read(Rational(i, LoudnessCourse::perSecond), step, cancel);
        if (!sound) return tl::unexpected(sound.error());
        ebur128_add_frames_float(state.get(), sound->data(), std::size_t(step));
        double momentary = -HUGE_VAL;
        if (i + 1 >= momentaryTenths) {
            ebur128_loudness_momentary(state.get(), &momentary);
            course.momentary.push_back(bounded(momentary));
        }
    }
    double whole = -HUGE_VAL;
    ebur128_loudness_global(state.get(), &whole);
    course.whole = bounded(whole);
    return course;
}

LoudnessCourses loudnessOfMusic(const Project& project, const Cancel& cancel) {
    LoudnessCourses courses;
    for (const Music& music : project.music) {
        const Media* media = findMedia(project, music.mediaId);
        if (!media || courses.contains(music.mediaId)) continue;
        if (auto course = measureLoudness(media->path, media->duration, cancel))
            courses.emplace(music.mediaId, std::move(*course));
    }
    return courses;
}

std::vector<double> loudnessAtCuts(const Project& project, const LoudnessCourses& courses) {
    if (courses.empty()) return {};
    const auto starts = clipStarts(project);
    const double rate = project.settings.rate.toDouble();
    std::vector<double> all(std::size_t(std::max(0, cutCount(project))), 0);
    for (std::size_t cut = 0; cut < all.size(); ++cut)
        for (const Music& music : project.music) {
            const auto course = courses.find(music.mediaId);
            const std::int64_t after = starts[cut + 1] - music.start;
            if (course == courses.end() || after < 0 || after >= musicLength(project, music)) continue;
            const double from = music.sourceIn.toDouble() + double(after) / rate;
            all[cut] = course->second.above(from, from + 1);
        }
    return all;
}

} // namespace virga
