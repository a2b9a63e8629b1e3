#include "app/commands/reel_commands.h"

#include "app/commands/recipe_commands.h"
#include "app/document/preferences.h"
#include "app/document/words.h"

#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "core/decode/import_media.h"
#include "core/edit/clipboard.h"
#include "core/edit/layer_edits.h"
#include "core/edit/piece_edits.h"
#include "core/project/beats.h"

namespace virga {
namespace {

// An empty piece takes size and rate from what most of the shots that it gets ask for.
void takeSettings(Project& project, const std::vector<std::string>& ids) {
    if (!project.reel.empty()) return;
    SharedList<Media> media;
    for (const std::string& id : ids)
        if (const Media* m = findMedia(project, id)) media.push_back(*m);
    const PieceFormat format = formatOf(media, {project.settings.size, project.settings.rate});
    project.settings.size = format.size;
    project.settings.rate = format.rate;
}

void put(Document& document, Project next, const std::vector<std::string>& ids, int place, bool selectCut) {
    int at = place < 0 ? int(next.reel.size()) : std::min(place, int(next.reel.size())), clips = 0, music = 0;
    const int first = at;
    takeSettings(next, ids);
    for (const std::string& id : ids) {
        const Media* media = findMedia(next, id);
        if (!media) continue;
        if (media->hasPicture()) {
            const Media copy = *media;
            next = withClip(next, at++,
                            clipFor(next, copy, Rational(std::llround(Preferences::kept().stillSeconds * 1000), 1000)));
            ++clips;
        } else {
            next = withMusic(next, id);
            ++music;
        }
    }
    document.apply(clips == 0   ? QObject::tr("add music")
                   : clips == 1 ? QObject::tr("add clip")
                                : QObject::tr("add %1 clips").arg(clips),
                   std::move(next));
    if (clips == 0) return;
    const int cuts = cutCount(*document.project());
    if (cuts == 0) return document.select({Selection::ClipSelected, 0, {}});
    if (!selectCut) {
        Selection selection{Selection::ClipSelected, first, {}};
        for (int i = first + 1; i < first + clips; ++i) selection.others.push_back(i);
        document.select(selection);
        return;
    }
    const int cut = std::clamp(first - 1, 0, cuts - 1);
    document.select({Selection::CutSelected, cut, {}});
    document.setPlayhead(cutFrame(*document.project(), cut)); // what the lanes are about is what is seen
}

} // namespace

std::vector<int> chosenClips(const Document& document) {
    if (document.selection().kind == Selection::ClipSelected) return document.selection().all();
    const int clip = clipAt(*document.project(), document.playhead());
    return clip < 0 ? std::vector<int>() : std::vector<int>{clip};
}

void addFiles(Document& document, const std::vector<MediaInfo>& files, int place) {
    if (files.empty()) return;
    Project next = *document.project();
    std::vector<std::string> ids;
    for (const MediaInfo& info : files) {
        std::string id;
        next = withMedia(next, mediaFrom(info), &id);
        ids.push_back(id);
    }
    if (place == toTray)
        document.apply(QObject::tr("bring in %1").arg(counted(qint64(files.size()), "file", "files")), std::move(next));
    else
        put(document, std::move(next), ids, place, true);
}

void placeMedia(Document& document, const std::vector<std::string>& ids, int place) {
    put(document, *document.project(), ids, place, false);
}

void placeAsOverlay(Document& document, const std::vector<std::string>& ids, std::int64_t frame) {
    Project next = *document.project();
    for (const std::string& id : ids) {
        next = withOverlayAdded(next, id, frame);
        if (next.overlays.size() == document.project()->overlays.size()) continue;
        // A pop-up is what overlays are mostly for.
        next = withEntrance(next, int(next.overlays.size()) - 1, Side::Incoming, Entrance::PopUp, 8);
    }
    if (next.overlays.size() == document.project()->overlays.size()) return;
    const int last = int(next.overlays.size()) - 1;
    document.apply(QObject::tr("add overlay"), std::move(next));
    document.select({Selection::OverlaySelected, last, {}});
}

void moveClips(Document& document, const std::vector<int>& clips, int to) {
    int place = -1;
    Project next = withClipsMoved(*document.project(), clips, to, &place);
    document.apply(clips.size() == 1 ? QObject::tr("move clip") : QObject::tr("move %1 clips").arg(clips.size()),
                   std::move(next));
    if (place < 0) return;
    Selection selection{Selection::ClipSelected, place, {}};
    for (int i = place + 1; i < place + int(clips.size()); ++i) selection.others.push_back(i);
    document.select(selection);
}

void changePiece(Document& document, const Settings& wanted) {
    document.apply(QObject::tr("change the piece"), withPieceSettings(*document.project(), wanted));
}

void changeSettings(Document& document, const Settings& settings, const QString& name, const QString& mergeKey) {
    document.apply(name, withSettings(*document.project(), settings), mergeKey);
}

void deleteSelection(Document& document, bool closeGap) {
    const Selection s = document.selection();
    const Project& p = *document.project();
    switch (s.kind) {
    case Selection::ClipSelected: {
        const auto clips = s.all();
        const QString name =
            clips.size() == 1 ? QObject::tr("delete clip") : QObject::tr("delete %1 clips").arg(clips.size());
        document.apply(name, closeGap ? withoutClips(p, clips) : withClipsLifted(p, clips));
        break;
    }
    case Selection::CutSelected:
        clearTransition(document, s.index);
        break;
    case Selection::OverlaySelected:
        document.apply(QObject::tr("delete overlay"), withoutOverlay(p, s.index));
        break;
    case Selection::AdjustmentSelected:
        document.apply(QObject::tr("delete adjustment"), withoutAdjustment(p, s.index));
        break;
    case Selection::MusicSelected:
        document.apply(QObject::tr("remove music"), withoutMusic(p, s.index));
        break;
    case Selection::MarkerSelected:
        document.apply(QObject::tr("delete marker"), withoutMarker(p, s.index));
        break;
    case Selection::Nothing:
        break;
    }
}

void duplicateSelection(Document& document) {
    const Selection s = document.selection();
    const Project& p = *document.project();
    if (s.kind == Selection::ClipSelected) {
        SharedList<Clip> clips;
        for (const int i : s.all()) clips.push_back(p.reel[std::size_t(i)]);
        const int to = s.all().back() + 1;
        document.apply(QObject::tr("duplicate"), withClipsInserted(p, clips, to));
        Selection now{Selection::ClipSelected, to, {}};
        for (int i = 1; i < int(clips.size()); ++i) now.others.push_back(to + i);
        document.select(now);
    } else if (s.kind == Selection::OverlaySelected) {
        Overlay copy = p.overlays[std::size_t(s.index)];
        copy.start = copy.end();
        document.apply(QObject::tr("duplicate"), withOverlayPut(p, copy));
    }
}

void selectAllClips(Document& document) {
    const int clips = int(document.project()->reel.size());
    if (clips == 0) return;
    Selection s{Selection::ClipSelected, 0, {}};
    for (int i = 1; i < clips; ++i) s.others.push_back(i);
    document.select(s);
}

std::string copySelection(const Document& document) {
    const Selection s = document.selection();
    const Project& p = *document.project();
    switch (s.kind) {
    case Selection::ClipSelected:
        return copiedClips(p, s.all());
    case Selection::CutSelected:
        return copiedCut(p, s.index);
    case Selection::OverlaySelected:
        return copiedOverlay(p, s.index);
    case Selection::AdjustmentSelected:
        return copiedAdjustment(p, s.index);
    default:
        return {};
    }
}

QString paste(Document& document, const std::string& text) {
    const Selection s = document.selection();
    const Project& p = *document.project();
    const int here = clipAt(p, document.playhead());
    const int at = s.kind == Selection::ClipSelected  ? s.all().back() + 1
                   : s.kind == Selection::CutSelected ? s.index + 1
                   : here >= 0                        ? here + 1
                                                      : int(p.reel.size());
    auto done = pasted(p, text, at, document.playhead(), document.cut());
    if (!done) return QString::fromStdString(describe(done.error()));
    const char* const names[] = {QT_TR_NOOP("paste clips"), QT_TR_NOOP("paste overlay"), QT_TR_NOOP("paste adjustment"),
                                 QT_TR_NOOP("paste moves")};
    document.apply(QObject::tr(names[done->kind]), std::move(done->project));
    constexpr Selection::Kind kinds[] = {Selection::ClipSelected, Selection::OverlaySelected,
                                         Selection::AdjustmentSelected, Selection::CutSelected};
    Selection now{kinds[done->kind], done->first, {}};
    for (int i = 1; i < done->count; ++i) now.others.push_back(done->first + i);
    document.select(now);
    return {};
}

void splitAtPlayhead(Document& document) {
    const int clips = int(document.project()->reel.size());
    const auto frame = document.playhead();
    document.apply(QObject::tr("split clip"), withSplit(*document.project(), frame));
    if (int(document.project()->reel.size()) == clips) return;
    document.select({Selection::CutSelected, clipAt(*document.project(), frame) - 1, {}});
}

void setLengths(Document& document, std::int64_t frames) {
    Project next = *document.project();
    for (const int i : chosenClips(document)) next = withLength(next, i, frames);
    document.apply(QObject::tr("set length"), std::move(next));
}

QString cutSelectionToBeats(Document& document, int everyBeats) {
    const Project& p = *document.project();
    if (!hasBeats(p)) return QObject::tr("There are no beats yet: add music and find its beats first.");
    auto clips = document.selection().kind == Selection::ClipSelected ? document.selection().all() : std::vector<int>();
    if (clips.empty())
        for (int i = 0; i < int(p.reel.size()); ++i) clips.push_back(i); // nothing chosen: all
    Spread spread = cutToBeats(p, clips, everyBeats);
    document.apply(QObject::tr("cut to beats"), std::move(spread.project));
    if (spread.tooShort.empty()) return {};
    QStringList names;
    for (const int i : spread.tooShort) names << QString::fromStdString(p.reel[std::size_t(i)].name);
    return QObject::tr("Too short for their beat, cut to an earlier one where they could: %1.").arg(names.join(", "));
}

QString cascade(Document& document, std::int64_t apart, std::int64_t slideFrames, Direction direction) {
    const auto clips = chosenClips(document);
    if (clips.size() < 2) return QObject::tr("Choose two or more clips for a cascade.");
    Project next = withCascade(*document.project(), clips, apart, slideFrames, direction);
    document.apply(QObject::tr("cascade"), std::move(next));
    const int first = *std::min_element(clips.begin(), clips.end());
    document.select({Selection::CutSelected, first, {}});
    for (const SpareShortage& s : spareShortages(*document.project()))
        if (s.cut >= first && s.cut < first + int(clips.size()))
            return QObject::tr("Some shots run out while they are still seen; Flow tells which.");
    return {};
}

void setSpeeds(Document& document, Rational speed) {
    Project next = *document.project();
    for (const int i : chosenClips(document)) next = withSpeed(next, i, speed);
    document.apply(QObject::tr("set speed"), std::move(next), QStringLiteral("speed"));
}

void slipSelection(Document& document, std::int64_t frames) {
    Project next = *document.project();
    for (const int i : chosenClips(document)) next = withClipSlipped(next, i, frames);
    document.apply(QObject::tr("slip clip"), std::move(next), QStringLiteral("slip-keys"));
}

void rollCut(Document& document, int cut, std::int64_t frames) {
    document.apply(QObject::tr("move cut"), withCutRolled(*document.project(), cut, frames),
                   QStringLiteral("roll-keys"));
}

void crossfade(Document& document, int cut, std::int64_t frames) {
    document.apply(QObject::tr("crossfade"), withCrossfade(*document.project(), cut, frames));
}

void setAlone(Document& document, int cut, bool alone) {
    Transition transition = transitionAt(*document.project(), cut);
    transition.alone = alone;
    document.apply(QObject::tr("copies of the shot on top"), withTransition(*document.project(), cut, transition));
}

void setOverlap(Document& document, int cut, Overlap overlap, Side top) {
    document.apply(QObject::tr("overlap"), withOverlap(*document.project(), cut, overlap, top),
                   QStringLiteral("overlap-%1").arg(cut));
}

void liftToOverlay(Document& document) {
    const auto clips = chosenClips(document);
    if (clips.empty()) return;
    Project next = *document.project();
    for (const int i : clips) next = withClipLiftedToOverlay(next, i);
    if (next == *document.project()) return;
    document.apply(QObject::tr("lift to overlay"), std::move(next));
    document.select({Selection::OverlaySelected, int(document.project()->overlays.size()) - 1, {}});
}

void addAdjustment(Document& document) {
    const Project& p = *document.project();
    // Over the selected clips, or a second from the playhead on.
    std::int64_t start = document.playhead(),
                 length = std::max<std::int64_t>(
                     1, std::llround(Preferences::kept().adjustmentSeconds * p.settings.rate.toDouble()));
    if (document.selection().kind == Selection::ClipSelected) {
        start = clipStart(p, document.selection().all().front());
        length = clipStart(p, document.selection().all().back() + 1) - start;
    }
    document.apply(QObject::tr("add adjustment"), withAdjustmentAdded(p, start, length));
    document.select({Selection::AdjustmentSelected, int(document.project()->adjustments.size()) - 1, {}});
}

void addMarker(Document& document, const QString& name) {
    const auto frame = document.playhead();
    const QString given = name.isEmpty() ? QObject::tr("marker %1").arg(document.project()->markers.size() + 1) : name;
    document.apply(QObject::tr("add marker"), withMarker(*document.project(), frame, given.toStdString()));
    for (int i = 0; i < int(document.project()->markers.size()); ++i)
        if (document.project()->markers[std::size_t(i)].frame == frame)
            document.select({Selection::MarkerSelected, i, {}});
}

void insertGap(Document& document) {
    const auto clips = chosenClips(document);
    const int at = clips.empty() ? 0 : clips.front();
    document.apply(QObject::tr("insert gap"),
                   withGap(*document.project(), at, roundToInteger(document.project()->settings.rate)));
}

void setTempo(Document& document, int music, const std::optional<Tempo>& tempo, const QString& name,
              const QString& mergeKey) {
    if (music < 0 || music >= int(document.project()->music.size())) return;
    Music changed = document.project()->music[std::size_t(music)];
    changed.tempo = tempo;
    document.apply(name, withMusicChanged(*document.project(), music, changed), mergeKey);
}

} // namespace virga
