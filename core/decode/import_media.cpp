#include "core/decode/import_media.h"

#include "core/base/file.h"
#include "core/base/fingerprint.h"

namespace virga {

Media mediaFrom(const MediaInfo& info) {
    Media media;
    media.path = wholePath(info.path);
    if (info.video) {
        media.size = info.video->size;
        media.pixelAspect = info.video->pixelAspect;
        media.rate = info.video->rate;
        media.still = info.video->still;
        media.duration = info.video->duration;
        media.interlaced = info.video->interlaced;
        media.colour = colourName(*info.video);
    } else if (info.audio) {
        media.duration = info.audio->duration;
    }
    media.fingerprint = info.fingerprint.empty() ? fingerprintOf(info.path) : info.fingerprint;
    media.timecode = info.timecode;
    media.sound = info.audio.has_value();
    return media;
}

} // namespace virga
