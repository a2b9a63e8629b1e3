#include "app/commands/media_commands.h"

#include "app/document/words.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/piece_edits.h"

namespace virga {
namespace {

QString readEditStep(const QString& file) {
    return QObject::tr("read edit %1").arg(file);
}

} // namespace

void takeEdit(Document& document, const QString& file, Project edit) {
    document.apply(readEditStep(file), std::move(edit), "read-edit");
    if (document.project()->reel.empty()) return;
    document.select(cutCount(*document.project()) > 0 ? Selection{Selection::CutSelected, 0, {}}
                                                      : Selection{Selection::ClipSelected, 0, {}});
}

void takeProbed(Document& document, const QString& file, const std::vector<std::pair<std::string, Media>>& probed) {
    Project next = *document.project();
    for (const auto& [id, media] : probed) {
        const Media* old = findMedia(next, id);
        if (old && old->path == media.path) next = withMediaProbed(next, id, media);
    }
    document.apply(readEditStep(file), std::move(next), "read-edit");
}

void relink(Document& document, const std::string& id, const Media& found) {
    document.apply(QObject::tr("relink"), withMediaRelinked(*document.project(), id, found));
}

void relinkAll(Document& document, const std::map<std::filesystem::path, std::filesystem::path>& found) {
    Project next = *document.project();
    for (Media& m : next.media)
        if (const auto at = found.find(m.path); at != found.end()) m.path = at->second;
    document.apply(QObject::tr("relink %1").arg(counted(qint64(found.size()), "file", "files")), std::move(next));
}

void takeCollected(Document& document, const Project& collected) {
    Project next = *document.project();
    for (Media& m : next.media)
        if (const Media* copy = findMedia(collected, m.id)) m.path = copy->path;
    document.apply(QObject::tr("collect media"), std::move(next));
}

void takeOutMedia(Document& document, const std::vector<std::string>& ids) {
    Project next = *document.project();
    for (const auto& id : ids) next = withoutMedia(next, id);
    document.apply(QObject::tr("take out media"), std::move(next));
}

void takePicturesApart(Document& document, const std::string& id) {
    document.apply(QObject::tr("take pictures apart"), withoutMedia(*document.project(), id));
}

void partAtCuts(Document& document, const Media& media, const std::vector<CutTimes>& cuts) {
    Parted parted = partedAtCuts(*document.project(), media, cuts);
    if (parted.count == 0) return;
    document.apply(QObject::tr("split at found cuts"), std::move(parted.project));
    Selection selection{Selection::ClipSelected, parted.first, {}};
    for (int i = 1; i < parted.count; ++i) selection.others.push_back(parted.first + i);
    document.select(selection);
}

void cropBars(Document& document, const std::string& mediaId) {
    document.apply(QObject::tr("crop bars"), withBarsCropped(*document.project(), mediaId));
}

void removeMusic(Document& document, int music) {
    document.apply(QObject::tr("remove music"), withoutMusic(*document.project(), music));
}

void changeMusic(Document& document, int music, const Music& changed, const QString& name, const QString& mergeKey) {
    document.apply(name, withMusicChanged(*document.project(), music, changed), mergeKey);
}

} // namespace virga
