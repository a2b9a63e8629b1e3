#include "core/render/audio_mix.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/media/audio_reader.h"

namespace virga {
namespace {

constexpr std::int64_t fade = audioRate / 500; // 2 ms at a clip's ends, so that a cut does not click

struct Part {
    std::filesystem::path path;
    std::int64_t start, end; // in samples of the reel
    Rational sourceIn;       // seconds at start
    Rational speed = 1;
    double gain = 1;
    std::int64_t fadeIn = fade, fadeOut = fade; // in samples

    // Fades of equal power: two overlapping sounds stay equally loud together (common practice).
    float gainAt(std::int64_t sample) const {
        const auto ramp = [](std::int64_t at, std::int64_t length) {
            return at >= length ? 1.0 : std::sin(double(at) / double(length) * std::numbers::pi / 2);
        };
        return float(gain * ramp(sample - start, fadeIn) * ramp(end - 1 - sample, fadeOut));
    }
};

std::vector<Part> partsOf(const Project& project) {
    std::vector<Part> parts;
    const auto rate = project.settings.rate;
    std::int64_t at = 0;
    const auto add = [&](const Clip& clip, std::int64_t from, std::int64_t to, std::int64_t before, std::int64_t after,
                         std::int64_t fadeIn, std::int64_t fadeOut) {
        const Media* media = findMedia(project, clip.mediaId);
        if (!media || !media->sound || media->still || clip.muted || clip.gain <= 0) return;
        Part part{media->path, sampleOfFrame(from - before, rate), sampleOfFrame(to + after, rate)};
        part.sourceIn = clip.sourceIn - Rational(before) * clip.speed / rate;
        part.speed = clip.speed;
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
        add(clip, at, end, in.before, out.after, in.before + in.after, out.before + out.after);
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
        Part part{media->path, start, std::min(start + length, sampleOfFrame(at, rate)), music.sourceIn};
        part.gain = music.gain;
        part.fadeIn = std::max(fade, sampleOfFrame(music.fadeIn, rate));
        part.fadeOut = std::max(fade, sampleOfFrame(music.fadeOut, rate));
        if (part.end > part.start) parts.push_back(std::move(part));
    }
    return parts;
}

} // namespace

bool hasSound(const Project& project) {
    return !partsOf(project).empty();
}

std::int64_t sampleOfFrame(std::int64_t frame, FrameRate rate) {
    return roundToInteger(Rational(frame) / rate * Rational(audioRate));
}

std::vector<float> mixSound(const Project& project, std::int64_t from, std::int64_t to, std::vector<Error>* problems,
                            const Cancel& cancel) {
    const auto first = sampleOfFrame(from, project.settings.rate),
               last = sampleOfFrame(std::max(from, to), project.settings.rate);
    std::vector<float> mix(std::size_t(last - first) * audioChannels, 0.0f);
    for (const Part& part : partsOf(project)) {
        const auto a = std::max(first, part.start), b = std::min(last, part.end);
        if (a >= b) continue;
        auto sound = readAudio(part.path, part.sourceIn + Rational(a - part.start, audioRate) * part.speed, b - a,
                               cancel, part.speed);
        if (!sound) {
            if (problems && sound.error().code != ErrorCode::Cancelled) problems->push_back(sound.error());
            continue;
        }
        for (auto i = a; i < b; ++i) {
            const float gain = part.gainAt(i);
            for (int c = 0; c < audioChannels; ++c)
                mix[std::size_t(i - first) * audioChannels + std::size_t(c)] +=
                    gain * (*sound)[std::size_t(i - a) * audioChannels + std::size_t(c)];
        }
    }
    for (float& v : mix) v = std::clamp(v, -1.0f, 1.0f);
    return mix;
}

} // namespace virga
