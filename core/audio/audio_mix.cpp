#include "core/audio/audio_mix.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

#include "core/audio/heard.h"
#include "core/audio/limiter.h"
#include "core/audio/speed_sound.h"
#include "core/audio/wav.h"

namespace virga {
namespace {

constexpr std::int64_t fade = audioRate / 500; // 2 ms at a clip's ends, so that a cut does not click

struct Part {
    Stem stem = Stem::Clips;
    std::filesystem::path path;
    std::int64_t start, end; // in samples of the reel
    Rational sourceIn;       // seconds at start
    Rational speed = 1;
    std::optional<SoundCourse> course; // where the speed is not one constant forward one, or the pitch is kept
    bool keepsPitch = false, fadesWithSpeed = false;
    double gain = 1;
    std::int64_t fadeIn = fade, fadeOut = fade; // in samples; 0 where the same sound goes on
    double gainBefore = 0;                      // of the part that this one goes on from

    // Fades of equal power: two overlapping sounds stay equally loud together (common practice).
    float gainAt(std::int64_t sample) const {
        const auto ramp = [](std::int64_t at, std::int64_t length) {
            return at >= length ? 1.0 : std::sin(double(at) / double(length) * std::numbers::pi / 2);
        };
        if (fadeIn == 0 && sample - start < fade) // from the one gain to the other
            return float(gainBefore + (gain - gainBefore) * double(sample - start) / double(fade));
        return float(gain * ramp(sample - start, fadeIn) * ramp(end - 1 - sample, fadeOut));
    }
};

void joinCourses(Part& before, Part& after) {
    if (!before.course || !after.course || before.path != after.path || before.end != after.start) return;
    const auto at = double(after.start);
    if (std::abs(before.course->secondsAt(at) - after.course->secondsAt(at)) > 2.0 / audioRate ||
        std::abs(before.course->speedAt(at - 1) - after.course->speedAt(at)) > 0.05 || before.keepsPitch ||
        after.keepsPitch)
        return;
    before.fadeOut = 0;
    after.fadeIn = 0;
    after.gainBefore = before.gain;
}

// Where a shot was split in two, its sound goes on: no fade at the joint.
void joinNeighbours(Part& before, Part& after) {
    const Rational there = before.sourceIn + Rational(before.end - before.start, audioRate) * before.speed;
    const Rational apart = there - after.sourceIn;
    // Frames do not end on samples: half a sample at each end.
    const Rational most = Rational(1, audioRate) * before.speed;
    if (before.course || after.course) return joinCourses(before, after);
    if (before.path != after.path || before.end != after.start || before.speed != after.speed) return;
    if (apart > most || apart < Rational(0) - most) return;
    before.fadeOut = 0;
    after.fadeIn = 0;
    after.gainBefore = before.gain;
    after.sourceIn = there;
}

std::vector<Part> partsOf(const Project& project) {
    std::vector<Part> parts;
    const auto rate = project.settings.rate;
    std::int64_t at = 0;
    const auto add = [&](const Clip& clip, std::int64_t from, std::int64_t to, std::int64_t before, std::int64_t after,
                         std::int64_t fadeIn, std::int64_t fadeOut) {
        const Media* media = findMedia(project, clip.mediaId);
        if (!media || !media->sound || media->still || clip.muted || clip.gain <= 0) return;
        Part part{Stem::Clips, media->path, sampleOfFrame(from - before, rate), sampleOfFrame(to + after, rate)};
        const SpeedSound way = clip.speedSound;
        const bool keyed = hasSpeedKeys(clip), plain = !keyed && clip.speed == Rational(1);
        if (way == SpeedSound::Silent && !plain) return;
        if (!keyed && clip.speed == Rational(0)) return; // one moment has no sound
        part.sourceIn = ClipTime(clip, media, rate).at(-before);
        part.speed = clip.speed;
        if (way == SpeedSound::Automatic && !keyed && loudnessAt(clip.speed.toDouble()) < 1) return;
        if (keyed || clip.speed < Rational(0) || (way == SpeedSound::KeepsPitch && !plain)) {
            part.course.emplace(clip, from, rate);
            part.keepsPitch = way == SpeedSound::KeepsPitch;
            part.fadesWithSpeed = way == SpeedSound::Automatic;
        }
        part.gain = clip.gain;
        part.fadeIn = std::max(fade, sampleOfFrame(fadeIn, rate));
        part.fadeOut = std::max(fade, sampleOfFrame(fadeOut, rate));
        parts.push_back(std::move(part));
    };
    for (std::size_t i = 0; i < project.reel.size(); ++i) {
        const Clip& clip = project.reel[i];
        const auto end = at + clip.length;
        const Overlap in = i > 0 ? clip.transition.overlap : Overlap();
        const Overlap out = i + 1 < project.reel.size() ? project.reel[i + 1].transition.overlap : Overlap();
        const auto count = parts.size();
        add(clip, at, end, in.before, out.after, in.before + in.after, out.before + out.after);
        if (count > 0 && parts.size() > count && in.isEmpty()) joinNeighbours(parts[count - 1], parts[count]);
        at = end;
    }
    for (const Overlay& o : project.overlays) add(o.clip, o.start, std::min(o.end(), at), 0, 0, 0, 0);
    for (const Music& music : project.music) {
        const Media* media = findMedia(project, music.mediaId);
        if (!media || !media->sound || music.gain <= 0) continue;
        const auto start = sampleOfFrame(music.start, rate);
        auto length = media->duration > Rational(0)
                          ? roundToInteger((media->duration - music.sourceIn) * Rational(audioRate))
                          : sampleOfFrame(at, rate);
        if (music.length > 0) length = std::min(length, sampleOfFrame(music.start + music.length, rate) - start);
        Part part{Stem::Music, media->path, start, std::min(start + length, sampleOfFrame(at, rate)), music.sourceIn};
        part.gain = music.gain;
        part.fadeIn = std::max(fade, sampleOfFrame(music.fadeIn, rate));
        part.fadeOut = std::max(fade, sampleOfFrame(music.fadeOut, rate));
        if (part.end > part.start) parts.push_back(std::move(part));
    }
    return parts;
}

} // namespace

namespace {

bool isHeard(const Project& project) {
    return project.settings.heard.on && project.settings.heard.level > 0 && !project.reel.empty();
}

} // namespace

bool hasSound(const Project& project) {
    return isHeard(project) || !partsOf(project).empty();
}

bool hasSound(const Project& project, Stem stem) {
    if (stem == Stem::Movement) return isHeard(project);
    const auto parts = partsOf(project);
    return std::any_of(parts.begin(), parts.end(), [&](const Part& p) { return p.stem == stem; });
}

std::int64_t sampleOfFrame(std::int64_t frame, FrameRate rate) {
    return roundToInteger(Rational(frame) / rate * Rational(audioRate));
}

namespace {

// The sum of all parts, or of those of one stem, over a span of samples, as loud as it comes.
std::vector<float> sumOf(const Project& project, std::int64_t first, std::int64_t last, SoundPool& pool,
                         std::vector<Error>* problems, const Cancel& cancel, std::optional<Stem> only = std::nullopt) {
    std::vector<float> mix(std::size_t(last - first) * audioChannels, 0.0f);
    for (const Part& part : partsOf(project)) {
        const auto a = std::max(first, part.start), b = std::min(last, part.end);
        if (a >= b || (only && part.stem != *only)) continue;
        auto sound = !part.course
                         ? pool.read(part.path, part.sourceIn + Rational(a - part.start, audioRate) * part.speed, b - a,
                                     part.speed, cancel)
                     : part.keepsPitch ? soundAtItsPitch(*part.course, part.path, a, b, pool, cancel)
                                       : followedSound(*part.course, part.path, a, b, pool, cancel);
        if (!sound) {
            if (problems && sound.error().code != ErrorCode::Cancelled &&
                std::find(problems->begin(), problems->end(), sound.error()) == problems->end())
                problems->push_back(sound.error());
            continue;
        }
        for (auto i = a; i < b; ++i) {
            float gain = part.gainAt(i);
            if (part.fadesWithSpeed) gain *= loudnessAt(part.course->speedAt(double(i)));
            for (int c = 0; c < audioChannels; ++c)
                mix[std::size_t(i - first) * audioChannels + std::size_t(c)] +=
                    gain * (*sound)[std::size_t(i - a) * audioChannels + std::size_t(c)];
        }
    }
    if (isHeard(project) && only.value_or(Stem::Movement) == Stem::Movement) {
        // It ends with the reel, and begins with it.
        const auto a = std::max<std::int64_t>(first, 0),
                   b = std::min(last, sampleOfFrame(reelLength(project), project.settings.rate));
        if (a < b) {
            const std::vector<float> heard = heardSound(project, a, b);
            float* into = mix.data() + std::size_t(a - first) * audioChannels;
            for (std::size_t i = 0; i < heard.size(); ++i) into[i] += heard[i];
        }
    }
    return mix;
}

} // namespace

Mix mixStem(const Project& project, Stem stem, std::int64_t from, std::int64_t to, SoundPool& pool,
            std::vector<Error>* problems, const Cancel& cancel) {
    const auto first = sampleOfFrame(from, project.settings.rate),
               last = sampleOfFrame(std::max(from, to), project.settings.rate);
    Mix mix;
    mix.stereo =
        limited(sumOf(project, first - limiterReach, last + limiterReach, pool, problems, cancel, stem), &mix.gain);
    return mix;
}

Expected<int> writeStems(const Project& project, const std::filesystem::path& beside, SoundPool& pool,
                         const std::function<void(double)>& report, const Cancel& cancel) {
    int written = 0;
    for (const Stem stem : {Stem::Clips, Stem::Music, Stem::Movement}) {
        if (!hasSound(project, stem)) continue;
        std::vector<Error> problems;
        std::vector<float> whole;
        // In pieces of a second, so that it can be stopped.
        const std::int64_t length = reelLength(project),
                           piece = std::max<std::int64_t>(1, roundToInteger(project.settings.rate));
        for (std::int64_t at = 0; at < length; at += piece) {
            if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
            const Mix mix = mixStem(project, stem, at, std::min(length, at + piece), pool, &problems, cancel);
            if (!problems.empty()) return tl::unexpected(problems.front());
            whole.insert(whole.end(), mix.stereo.begin(), mix.stereo.end());
            if (report) report((int(stem) + double(at + piece) / double(length)) / 3);
        }
        if (auto done = writeWav(stemPath(beside, stem), whole); !done) return tl::unexpected(done.error());
        ++written;
    }
    return written;
}

std::filesystem::path stemPath(const std::filesystem::path& beside, Stem stem) {
    const char* name = stem == Stem::Clips ? "clips" : stem == Stem::Music ? "music" : "movement";
    return beside.parent_path() / (beside.stem().string() + "-" + name + ".wav");
}

Mix mixSound(const Project& project, std::int64_t from, std::int64_t to, SoundPool& pool, std::vector<Error>* problems,
             const Cancel& cancel) {
    const auto first = sampleOfFrame(from, project.settings.rate),
               last = sampleOfFrame(std::max(from, to), project.settings.rate);
    Mix mix;
    mix.stereo = limited(sumOf(project, first - limiterReach, last + limiterReach, pool, problems, cancel), &mix.gain);
    return mix;
}

std::string limiterNote(float gain) {
    if (gain >= 1) return {};
    return fmt::format("the sounds together were beyond full scale, by up to {:.1f} dB, and were turned down there",
                       -20 * std::log10(std::max(double(gain), 1e-3)));
}

} // namespace virga
