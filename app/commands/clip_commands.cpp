#include "app/commands/clip_commands.h"

#include "core/edit/line_up.h"
#include "core/edit/piece_edits.h"
#include "core/edit/reel_edits.h"

namespace virga {

ClipTarget chosenTarget(const Document& document) {
    const Selection s = document.selection();
    if (s.kind == Selection::OverlaySelected) return {true, s.index};
    if (s.kind == Selection::ClipSelected) return {false, s.index};
    return {false, clipAt(*document.project(), document.playhead())};
}

const Clip* clipOf(const Project& project, ClipTarget target) {
    if (target.index < 0) return nullptr;
    return target.overlay ? &project.overlays[std::size_t(target.index)].clip
                          : &project.reel[std::size_t(target.index)];
}

void setClipLength(Document& document, ClipTarget target, std::int64_t frames) {
    const Clip* clip = clipOf(*document.project(), target);
    if (!clip) return;
    const Project& project = *document.project();
    document.apply(QObject::tr("change length"),
                   target.overlay ? withOverlayTrimmed(project, target.index, false, frames - clip->length)
                                  : withLength(project, target.index, frames),
                   "length");
}

void changeClips(Document& document, ClipTarget target, const QString& name, const std::function<void(Clip&)>& change,
                 const QString& mergeKey) {
    if (target.index < 0) return;
    Project next = *document.project();
    if (target.overlay) {
        change(next.overlays[std::size_t(target.index)].clip);
    } else {
        const bool many = document.selection().kind == Selection::ClipSelected;
        for (const int i : many ? document.selection().all() : std::vector<int>{target.index})
            change(next.reel[std::size_t(i)]);
    }
    document.apply(name, std::move(next), mergeKey.isEmpty() ? QString() : mergeKey + QString::number(target.index));
}

void setEntrance(Document& document, int overlay, Side side, Entrance entrance, int frames) {
    document.apply(side == Side::Incoming ? QObject::tr("entrance") : QObject::tr("exit"),
                   withEntrance(*document.project(), overlay, side, entrance, frames));
}

void trimSelection(Document& document, Edge edge, std::int64_t frames) {
    Project next = *document.project();
    for (const int i : document.selection().all()) next = withClipTrimmed(next, i, edge, frames);
    document.apply(QObject::tr("trim clip"), std::move(next), "trim-keys");
}

void copyClips(Document& document, const std::vector<int>& clips, int place) {
    SharedList<Clip> copies;
    for (const int i : clips) copies.push_back(document.project()->reel[std::size_t(i)]);
    document.apply(QObject::tr("duplicate"), withClipsInserted(*document.project(), copies, place));
    Selection now{Selection::ClipSelected, place, {}};
    for (int i = 1; i < int(copies.size()); ++i) now.others.push_back(place + i);
    document.select(now);
}

void changeAdjustment(Document& document, const QString& name, const std::function<void(Adjustment&)>& change,
                      const QString& mergeKey) {
    const int index = document.selection().index;
    Adjustment a = document.project()->adjustments[std::size_t(index)];
    change(a);
    document.apply(name, withAdjustmentChanged(*document.project(), index, a), mergeKey);
}

void renameMarker(Document& document, int marker, const QString& name) {
    const Project& project = *document.project();
    document.apply(QObject::tr("rename marker"),
                   withMarker(project, project.markers[std::size_t(marker)].frame, name.toStdString()));
}

void moveMarker(Document& document, int marker, std::int64_t frame) {
    document.apply(QObject::tr("move marker"), withMarkerMoved(*document.project(), marker, frame));
}

bool setSubjects(Document& document, int cut, const FoundSubjects& subjects, const QString& name) {
    Project next = *document.project();
    const std::size_t at = std::size_t(cut);
    const auto& then = subjects.found->reel;
    if (at + 1 >= next.reel.size() || !(next.reel[at] == then[at]) || !(next.reel[at + 1] == then[at + 1]))
        return false;
    if (subjects.out) next.reel[at].subjectOut = subjects.out;
    if (subjects.in) next.reel[at + 1].subjectIn = subjects.in;
    document.apply(name, std::move(next));
    return true;
}

QString lineUpSubjects(Document& document, int cut) {
    auto done = withSubjectsLinedUp(*document.project(), cut);
    if (!done) return QString::fromStdString(describe(done.error()));
    document.apply(QObject::tr("line up"), std::move(*done));
    return {};
}

} // namespace virga
