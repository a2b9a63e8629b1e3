#include "app/commands/speed_commands.h"

#include "app/commands/reel_commands.h"
#include "core/project/beats.h"

namespace virga {

QString rampAtCut(Document& document, int cut, const Ramp* out, const Ramp* in, Keeps keeps) {
    const Project& project = *document.project();
    Project next = withRampsAtCut(project, cut, out, in);
    if (next == project) return QObject::tr("There is no shot at this cut whose speed could change.");
    if (keeps == Keeps::Source)
        for (const int i : {cut, cut + 1}) {
            const Clip& before = project.reel[std::size_t(i)];
            Clip& now = next.reel[std::size_t(i)];
            if (now == before) continue;
            now.sourceIn = before.sourceIn;
            now = withSourceKept(next, before, std::move(now));
        }
    document.apply(out && in ? QObject::tr("ramp through the cut")
                   : out     ? QObject::tr("ramp into the cut")
                             : QObject::tr("ramp out of the cut"),
                   std::move(next), QStringLiteral("ramp%1").arg(cut));
    return {};
}

void removeRamps(Document& document, int cut) {
    if (cut < 0 || cut >= cutCount(*document.project())) return;
    Project next = *document.project();
    Clip &out = next.reel[std::size_t(cut)], &in = next.reel[std::size_t(cut) + 1];
    out = withoutRamp(std::move(out), Side::Outgoing);
    in = withoutRamp(std::move(in), Side::Incoming);
    document.apply(QObject::tr("remove ramps"), std::move(next));
}

namespace {

// The clip that an edit at the playhead means, and the frame in it.
struct Place {
    Clip* clip = nullptr;
    std::int64_t frame = 0, start = 0;
};
Place placeIn(Project& project, const Document& document) {
    const Selection s = document.selection();
    if (s.kind == Selection::OverlaySelected && s.index < int(project.overlays.size())) {
        Overlay& o = project.overlays[std::size_t(s.index)];
        return {&o.clip, document.playhead() - o.start, o.start};
    }
    const int i = clipAt(project, document.playhead());
    if (i < 0) return {};
    const auto start = clipStart(project, i);
    return {&project.reel[std::size_t(i)], document.playhead() - start, start};
}

} // namespace

void holdFrame(Document& document, std::int64_t frames) {
    Project next = *document.project();
    const Place place = placeIn(next, document);
    if (!place.clip) return;
    *place.clip = withFrameHeld(next, *place.clip, place.frame, frames);
    document.apply(QObject::tr("hold frame"), std::move(next));
}

void changeChosenClips(Document& document, const QString& name, const std::function<Clip(const Project&, Clip)>& change,
                       const QString& mergeKey) {
    const Project& project = *document.project();
    Project next = project;
    const Selection s = document.selection();
    if (s.kind == Selection::OverlaySelected && s.index < int(next.overlays.size())) {
        Clip& clip = next.overlays[std::size_t(s.index)].clip;
        clip = change(project, clip);
    } else {
        for (const int i : chosenClips(document)) {
            Clip& clip = next.reel[std::size_t(i)];
            clip = change(project, clip);
        }
    }
    document.apply(name, std::move(next), mergeKey);
}

void runChosenBackwards(Document& document) {
    changeChosenClips(document, QObject::tr("run backwards"), runBackwards);
}

QString landMoment(Document& document, std::int64_t reelFrame) {
    Project next = *document.project();
    const Place place = placeIn(next, document);
    if (!place.clip) return QObject::tr("There is no shot at the playhead.");
    const auto landed = withMomentPinned(next, *place.clip, place.frame, reelFrame - place.start);
    if (!landed) return QString::fromStdString(describe(landed.error()));
    *place.clip = *landed;
    document.apply(QObject::tr("land moment"), std::move(next));
    document.setPlayhead(reelFrame); // it is seen there now
    return {};
}

QString landOnBeat(Document& document, int step) {
    const Project& project = *document.project();
    if (!hasBeats(project)) return QObject::tr("There is no beat to land on: give a music a tempo first.");
    const std::int64_t head = document.playhead();
    int beat = beatAtFrame(project, head);
    while (step > 0 ? beatFrame(project, beat) <= head : beatFrame(project, beat) >= head) beat += step;
    return landMoment(document, beatFrame(project, beat));
}

} // namespace virga
