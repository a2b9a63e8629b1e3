#include "core/edit/edits.h"

#include <algorithm>

#include "core/base/sequence_path.h"
#include "core/project/clip_time.h"

namespace virga {

Project withMedia(const Project& project, Media media, std::string* id) {
    for (const Media& m : project.media)
        if (m.path == media.path || (!m.fingerprint.empty() && m.fingerprint == media.fingerprint)) {
            if (id) *id = m.id;
            return project;
        }
    Project out = project;
    media.id = freshId(project, "media-");
    if (id) *id = media.id;
    out.media.push_back(std::move(media));
    return out;
}

Clip clipFor(const Project& project, const Media& media, Rational stillSeconds) {
    Clip clip;
    clip.mediaId = media.id;
    clip.name = mediaName(media.path);
    const auto rate = project.settings.rate;
    if (sequenceOf(media.path)) clip.speed = std::clamp(rate / media.rate, slowestSpeed, fastestSpeed);
    clip.length = media.still ? std::max<std::int64_t>(1, roundToInteger(stillSeconds * rate))
                              : std::max<std::int64_t>(1, 1 + ClipTime(clip, &media, rate).spare().after);
    return clip;
}

Project withClip(const Project& project, int at, Clip clip) {
    Project out = project;
    clip.id = freshId(project, "clip-");
    at = std::clamp(at, 0, int(out.reel.size()));
    out.reel.insert(out.reel.begin() + at, std::move(clip));
    return out;
}

Project withoutClip(const Project& project, int clip) {
    Project out = project;
    if (hasClip(project, clip)) out.reel.erase(out.reel.begin() + clip);
    return out;
}

Project withClipTrimmed(const Project& project, int clip, Edge edge, std::int64_t frames) {
    if (!hasClip(project, clip)) return project;
    Project out = project;
    Clip& c = out.reel[std::size_t(clip)];
    const Spare spare = spareFrames(project, c);
    if (edge == Edge::Tail) {
        frames = std::clamp(frames, 1 - c.length, std::max<std::int64_t>(0, spare.after));
        c = withTailCut(std::move(c), -frames);
    } else {
        frames = std::clamp(frames, -spare.before, c.length - 1);
        c = withHeadCut(project, std::move(c), frames);
    }
    return out;
}

Project withClipChanged(const Project& project, int clip, const Clip& changed) {
    Project out = project;
    if (hasClip(project, clip)) out.reel[std::size_t(clip)] = changed;
    return out;
}

Project withSettings(const Project& project, const Settings& settings) {
    Project out = project;
    out.settings = settings;
    return out;
}

Project withMusic(const Project& project, const std::string& mediaId) {
    Project out = project;
    Music music;
    music.id = freshId(project, "music-");
    music.mediaId = mediaId;
    if (!out.music.empty()) music.start = out.music.back().start + musicLength(project, out.music.back());
    out.music.push_back(std::move(music));
    return out;
}

Project withoutMusic(const Project& project, int music) {
    Project out = project;
    if (music >= 0 && music < int(out.music.size())) out.music.erase(out.music.begin() + music);
    return out;
}

bool isUsed(const Project& project, const std::string& mediaId) {
    const auto is = [&](const auto& user) { return user.mediaId == mediaId; };
    return std::any_of(project.reel.begin(), project.reel.end(), is) ||
           std::any_of(project.music.begin(), project.music.end(), is) ||
           std::any_of(project.overlays.begin(), project.overlays.end(), [&](const Overlay& o) { return is(o.clip); });
}

Project withoutMedia(const Project& project, const std::string& id) {
    Project out = project;
    if (!isUsed(project, id)) erase_if(out.media, [&](const Media& m) { return m.id == id; });
    return out;
}

Project withMediaRelinked(const Project& project, const std::string& id, const Media& found) {
    Project out = project;
    for (Media& m : out.media)
        if (m.id == id) {
            m = found;
            m.id = id;
        }
    return out;
}

Project withMusicChanged(const Project& project, int music, const Music& changed) {
    Project out = project;
    if (music >= 0 && music < int(out.music.size())) out.music[std::size_t(music)] = changed;
    return out;
}

} // namespace virga
