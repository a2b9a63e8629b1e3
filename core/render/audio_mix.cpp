#include "core/render/audio_mix.h"

#include <algorithm>

#include "core/media/audio_reader.h"

namespace virga {
namespace {

constexpr std::int64_t fade = audioRate / 500; // 2 ms at a clip's ends, so that a cut does not click

struct Part {
    std::filesystem::path path;
    std::int64_t start, end; // in samples of the reel
    Rational sourceIn;       // seconds at start
    double gain;
};

std::vector<Part> partsOf(const Project& project) {
    std::vector<Part> parts;
    const auto rate = project.settings.rate;
    std::int64_t at = 0;
    for (const Clip& clip : project.reel) {
        const Media* media = findMedia(project, clip.mediaId);
        const auto end = at + clip.length;
        if (media && media->sound && !media->still && !clip.muted && clip.gain > 0)
            parts.push_back({media->path, sampleOfFrame(at, rate), sampleOfFrame(end, rate), clip.sourceIn, clip.gain});
        at = end;
    }
    for (const Music& music : project.music) {
        const Media* media = findMedia(project, music.mediaId);
        if (!media || !media->sound || music.gain <= 0) continue;
        const auto start = sampleOfFrame(music.start, rate);
        const auto length = media->duration > Rational(0)
                                ? roundToInteger((media->duration - music.sourceIn) * Rational(audioRate))
                                : sampleOfFrame(at, rate);
        parts.push_back(
            {media->path, start, std::min(start + length, sampleOfFrame(at, rate)), music.sourceIn, music.gain});
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
        auto sound = readAudio(part.path, part.sourceIn + Rational(a - part.start, audioRate), b - a, cancel);
        if (!sound) {
            if (problems && sound.error().code != ErrorCode::Cancelled) problems->push_back(sound.error());
            continue;
        }
        for (auto i = a; i < b; ++i) {
            const auto edge = std::min(i - part.start, part.end - 1 - i);
            const float gain = float(part.gain) * (edge >= fade ? 1.0f : float(edge) / float(fade));
            for (int c = 0; c < audioChannels; ++c)
                mix[std::size_t(i - first) * audioChannels + std::size_t(c)] +=
                    gain * (*sound)[std::size_t(i - a) * audioChannels + std::size_t(c)];
        }
    }
    for (float& v : mix) v = std::clamp(v, -1.0f, 1.0f);
    return mix;
}

} // namespace virga
