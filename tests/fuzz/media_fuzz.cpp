// A media file of any kind: found out about, its first, middle and last pictures decoded, a tenth of a second of its
// sound read. What is large is only found out about, so that a run has bounded time and memory.
#include "core/audio/audio_reader.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    return fuzz::quietMedia();
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const fuzz::MemoryFile file(data, size);
    const auto info = probe(file.path());
    if (!info) return fuzz::requireTold(info.error()), 0;
    if (info->video) {
        const VideoInfo& video = *info->video;
        fuzz::require(video.size.width > 0 && video.size.height > 0, "a picture has a size");
        fuzz::require(video.still || video.frames > 0, "a film has pictures");
        fuzz::require(video.rate.num > 0, "a film has a rate");
        if (std::int64_t(video.size.width) * video.size.height > 1 << 20) return 0;
        auto reader = VideoReader::open(file.path());
        if (!reader) return fuzz::requireTold(reader.error()), 0;
        const std::int64_t last = video.still ? 0 : video.frames - 1;
        for (const std::int64_t index : {std::int64_t(0), last, last / 2}) {
            const Rational when = (*reader)->timeOf(index);
            fuzz::require((*reader)->indexAt(when) == index, "a picture is on screen at its time");
            if (const auto picture = (*reader)->read(index); !picture)
                fuzz::requireTold(picture.error());
            else
                fuzz::require(picture->width() == video.size.width && picture->height() == video.size.height,
                              "a picture has the size that was told");
        }
    }
    if (info->audio) {
        auto reader = AudioReader::open(file.path());
        if (!reader) return fuzz::requireTold(reader.error()), 0;
        const auto sound = (*reader)->read(Rational(1, 4), audioRate / 10);
        if (!sound) return fuzz::requireTold(sound.error()), 0;
        fuzz::require(sound->size() == std::size_t(2 * audioRate / 10), "as many samples as were asked for");
    }
    return 0;
}
