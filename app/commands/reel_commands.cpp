#include "app/commands/reel_commands.h"

#include <algorithm>

#include "app/commands/cut_commands.h"
#include "core/plan/import_media.h"

namespace virga {

void addFiles(Document& document, const std::vector<MediaInfo>& files, int place) {
    if (files.empty()) return;
    Project next = *document.project();
    int at = place < 0 ? int(next.reel.size()) : std::min(place, int(next.reel.size())), clips = 0, music = 0;
    const int first = at;
    for (const MediaInfo& info : files) {
        if (next.reel.empty() && info.video) {
            // Even sides, as video wants them.
            const Size s = info.video->size;
            next.settings.size = {std::clamp((s.width + 1) / 2 * 2, 16, 8192),
                                  std::clamp((s.height + 1) / 2 * 2, 16, 8192)};
            if (!info.video->still) next.settings.rate = info.video->rate;
        }
        std::string id;
        next = withMedia(next, mediaFrom(info), &id);
        if (info.video) {
            next = withClip(next, at++, clipFor(next, *findMedia(next, id)));
            ++clips;
        } else {
            next = withMusic(next, id);
            ++music;
        }
    }
    const QString name = clips == 0   ? QObject::tr("add music")
                         : clips == 1 ? QObject::tr("add clip")
                                      : QObject::tr("add %1 clips").arg(clips);
    document.apply(name, std::move(next));
    if (clips == 0) return;
    const int cuts = cutCount(*document.project());
    if (cuts == 0) return document.select({Selection::ClipSelected, 0});
    const int cut = std::clamp(first - 1, 0, cuts - 1);
    document.select({Selection::CutSelected, cut});
    document.setPlayhead(cutFrame(*document.project(), cut)); // what the lanes are about is what is seen
}

void deleteClip(Document& document, int clip) {
    document.apply(QObject::tr("delete clip"), withoutClip(*document.project(), clip));
}

void moveClip(Document& document, int from, int to) {
    document.apply(QObject::tr("move clip"), withClipMoved(*document.project(), from, to));
    document.select({Selection::ClipSelected, to > from ? to - 1 : to});
}

void changeClip(Document& document, int clip, const Clip& changed, const QString& name, const QString& mergeKey) {
    document.apply(name, withClipChanged(*document.project(), clip, changed), mergeKey);
}

void changeSettings(Document& document, const Settings& settings, const QString& name, const QString& mergeKey) {
    document.apply(name, withSettings(*document.project(), settings), mergeKey);
}

void deleteSelection(Document& document) {
    const Selection s = document.selection();
    if (s.kind == Selection::ClipSelected)
        deleteClip(document, s.index);
    else if (s.kind == Selection::CutSelected)
        clearTransition(document, s.index);
}

} // namespace virga
