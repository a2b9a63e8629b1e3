// What the pointer does in the Reel.
#include <QMouseEvent>
#include <cmath>

#include "app/commands/clip_commands.h"
#include "app/commands/reel_commands.h"
#include "app/reel/reel_view.h"

#include "app/document/words.h"
#include "app/style/plain_text.h"
#include "core/edit/layer_edits.h"
#include "core/recipe/link.h"

namespace virga {
namespace {

bool isLayer(ReelHit::What what) {
    return (what >= ReelHit::OnOverlay && what <= ReelHit::OnMusicTail) || what == ReelHit::OnMarker;
}

} // namespace

void ReelView::scrubTo(double x) {
    m_document->setPlayhead(std::int64_t(std::floor(scale().frameAt(x))));
}

void ReelView::updateCursor(const ReelHit& hit, Qt::KeyboardModifiers keys) {
    switch (hit.what) {
    case ReelHit::OnHead:
    case ReelHit::OnTail:
    case ReelHit::OnOverlayHead:
    case ReelHit::OnOverlayTail:
    case ReelHit::OnAdjustmentHead:
    case ReelHit::OnAdjustmentTail:
    case ReelHit::OnMusicHead:
    case ReelHit::OnMusicTail:
    case ReelHit::OnBeat:
        return setCursor(Qt::SizeHorCursor);
    case ReelHit::OnJoint:
    case ReelHit::OnSnap:
        return setCursor(Qt::PointingHandCursor);
    case ReelHit::OnClip:
        return setCursor(keys & Qt::AltModifier ? Qt::SplitHCursor : Qt::ArrowCursor);
    default:
        return setCursor(Qt::ArrowCursor);
    }
}

void ReelView::selectAt(const ReelHit& hit, Qt::KeyboardModifiers keys) {
    Selection s = m_document->selection();
    switch (hit.what) {
    case ReelHit::OnJoint:
        s = {Selection::CutSelected, hit.index, {}};
        break;
    case ReelHit::OnClip:
    case ReelHit::OnHead:
    case ReelHit::OnTail:
        if (s.kind == Selection::ClipSelected && keys & Qt::ControlModifier) {
            // Adds the clip, or takes it out again.
            auto all = s.all();
            if (const auto at = std::find(all.begin(), all.end(), hit.index); at != all.end()) {
                all.erase(at);
                if (all.empty()) return m_document->select({});
                s.index = all.back();
            } else {
                all.push_back(hit.index);
                s.index = hit.index;
            }
            std::erase(all, s.index);
            std::sort(all.begin(), all.end());
            s.others = all;
        } else if (s.kind == Selection::ClipSelected && keys & Qt::ShiftModifier) {
            const int from = std::min(s.index, hit.index), to = std::max(s.index, hit.index);
            s.others.clear();
            for (int i = from; i <= to; ++i)
                if (i != s.index) s.others.push_back(i);
        } else {
            s = {Selection::ClipSelected, hit.index, {}};
        }
        break;
    case ReelHit::OnOverlay:
    case ReelHit::OnOverlayHead:
    case ReelHit::OnOverlayTail:
        s = {Selection::OverlaySelected, hit.index, {}};
        break;
    case ReelHit::OnAdjustment:
    case ReelHit::OnAdjustmentHead:
    case ReelHit::OnAdjustmentTail:
        s = {Selection::AdjustmentSelected, hit.index, {}};
        break;
    case ReelHit::OnMusic:
    case ReelHit::OnMusicHead:
    case ReelHit::OnMusicTail:
        s = {Selection::MusicSelected, hit.index, {}};
        break;
    case ReelHit::OnMarker:
        s = {Selection::MarkerSelected, hit.index, {}};
        break;
    default:
        return;
    }
    m_document->select(s);
}

void ReelView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || m_document->project()->reel.empty()) return;
    m_pressAt = m_at = event->position();
    m_pressScale = scale();
    m_pressKeys = event->modifiers();
    m_pressed = hitTest(*m_document->project(), bands(), m_pressScale, m_at);
    switch (m_pressed.what) {
    case ReelHit::OnRuler:
    case ReelHit::OnFlow:
        m_gesture = Gesture::Scrub;
        scrubTo(m_at.x());
        break;
    case ReelHit::OnHeard:
        emit heardWanted();
        break;
    case ReelHit::OnOverview:
        m_gesture = Gesture::Overview;
        dragTo(m_at, {});
        break;
    case ReelHit::OnSnap:
        setSnap(!m_snap);
        break;
    case ReelHit::OnJoint:
        m_gesture = Gesture::Press;
        selectAt(m_pressed, {});
        m_document->setPlayhead(cutFrame(*m_document->project(), m_pressed.index));
        break;
    case ReelHit::Nowhere:
        m_gesture = Gesture::Press;
        break;
    default:
        m_gesture = Gesture::Press;
        if (isLayer(m_pressed.what)) selectAt(m_pressed, {});
        break;
    }
    redraw();
}

ReelView::Gesture ReelView::gestureFor(const ReelHit& hit, Qt::KeyboardModifiers keys) const {
    switch (hit.what) {
    case ReelHit::OnHead:
        return Gesture::TrimHead;
    case ReelHit::OnTail:
        return Gesture::TrimTail;
    case ReelHit::OnJoint:
        return keys & Qt::ShiftModifier ? Gesture::Overlap : Gesture::Roll;
    case ReelHit::OnClip:
        return keys & Qt::AltModifier ? Gesture::Slip : keys & Qt::ControlModifier ? Gesture::Copy : Gesture::Reorder;
    case ReelHit::OnBeat:
        return Gesture::Beat;
    case ReelHit::Nowhere:
        return Gesture::Box;
    default:
        return isLayer(hit.what) ? Gesture::Layer : Gesture::None;
    }
}

void ReelView::begin(Gesture gesture) {
    m_gesture = gesture;
    m_places = snapPlaces(*m_document->project());
    m_places.push_back({m_document->playhead(), SnapPlace::Playhead});
    m_snapped = {};
    if ((gesture == Gesture::Reorder || gesture == Gesture::Copy) &&
        !m_document->selection().contains(Selection::ClipSelected, m_pressed.index))
        m_document->select({Selection::ClipSelected, m_pressed.index, {}});
}

QString ReelView::jointText(int cut) const {
    const Project& project = *m_document->project();
    QString text = tr("Cut %1: click to select it, drag to move it").arg(cut + 1);
    const auto& link = transitionAt(project, cut).link;
    const Recipe* recipe = link ? findRecipe(project, link->recipe) : nullptr;
    if (!recipe) return text;
    text += "\n" + tr("Follows the recipe %1").arg(shown(recipe->name));
    const auto own = ownTexts(project, cut).size();
    if (own > 0) text += tr(", with %1 of its own").arg(counted(qint64(own), "change", "changes"));
    return text;
}

void ReelView::mouseMoveEvent(QMouseEvent* event) {
    m_at = event->position();
    if (m_gesture == Gesture::None) {
        const ReelHit hit = hitTest(*m_document->project(), bands(), scale(), m_at);
        updateCursor(hit, event->modifiers());
        if (hit == m_hover) return;
        m_hover = hit;
        setTip(this, hit.what == ReelHit::OnFlow    ? flowText(scale().frameAt(event->position().x()))
                     : hit.what == ReelHit::OnHeard ? heardText(hit.index)
                     : hit.what == ReelHit::OnJoint ? jointText(hit.index)
                     : hit.what == ReelHit::OnSnap  ? tr("Whether edges cling to beats, markers, cuts and the playhead")
                     : hit.what == ReelHit::OnBeat  ? tr("Drag to move this beat")
                                                    : QString());
        return redraw();
    }
    if (m_gesture == Gesture::Scrub) return scrubTo(m_at.x());
    if (m_gesture == Gesture::Press && (m_at - m_pressAt).manhattanLength() > 4)
        begin(gestureFor(m_pressed, m_pressKeys));
    dragTo(m_at, event->modifiers());
    redraw();
}

std::int64_t ReelView::cling(std::int64_t frame, bool free) {
    m_snapped = {};
    if (free || !m_snap) return frame;
    const Snapped s = snapTo(m_places, double(frame), 9 / m_pressScale.pixelsPerFrame);
    m_snapped = s;
    return s.frame;
}

std::vector<int> ReelView::movedClips() const {
    return m_document->selection().kind == Selection::ClipSelected ? m_document->selection().all()
                                                                   : std::vector<int>{m_pressed.index};
}

// An edge or a joint goes `frames` from where it was, or on to what it clings to.
void ReelView::dragEdge(std::int64_t frames, bool free) {
    const Project& origin = *m_document->dragOrigin();
    const int i = m_pressed.index;
    const auto start = clipStart(origin, i), end = start + origin.reel[std::size_t(i)].length;
    // Cuts that move along are nothing to cling to.
    if (m_gesture != Gesture::Roll)
        std::erase_if(m_places, [&](const SnapPlace& p) {
            return p.frame >= end && (p.kind == SnapPlace::Cut || p.kind == SnapPlace::Start);
        });
    else
        std::erase_if(m_places, [&](const SnapPlace& p) { return p.kind == SnapPlace::Cut && p.frame == end; });
    switch (m_gesture) {
    case Gesture::TrimTail:
        m_document->drag(withClipTrimmed(origin, i, Edge::Tail, cling(end + frames, free) - end));
        break;
    case Gesture::TrimHead: // the start stays in its place, so it is the end that can fall on a beat
        m_document->drag(withClipTrimmed(origin, i, Edge::Head, end - cling(end - frames, free)));
        break;
    case Gesture::Roll:
        m_document->drag(withCutRolled(origin, i, cling(end + frames, free) - end));
        m_document->setPlayhead(cutFrame(*m_document->project(), i));
        break;
    case Gesture::Overlap: {
        const Overlap before = transitionAt(origin, i).overlap;
        const auto wide = std::max<std::int64_t>(0, frames);
        // To the right both sides widen; to the left they narrow.
        Overlap now{before.before + wide, before.after + wide};
        if (frames < 0)
            now = {std::max<std::int64_t>(0, before.before + frames), std::max<std::int64_t>(0, before.after + frames)};
        m_document->drag(withOverlap(origin, i, now, transitionAt(origin, i).top));
        break;
    }
    default:
        break;
    }
}

void ReelView::dragLayer(std::int64_t frames, bool free) {
    const Project& origin = *m_document->dragOrigin();
    const int i = m_pressed.index;
    const auto byStart = [&](std::int64_t start, std::int64_t length) {
        const auto at = cling(start + frames, free);
        if (m_snapped.snapped || length <= 0) return at;
        return cling(start + length + frames, free) - length; // its end clings as well
    };
    switch (m_pressed.what) {
    case ReelHit::OnOverlay: {
        const Overlay& o = origin.overlays[std::size_t(i)];
        const int row = bands().overRowAt(m_at.y());
        m_document->drag(withOverlayMoved(origin, i, byStart(o.start, o.clip.length), row < 0 ? o.row : row));
        break;
    }
    case ReelHit::OnOverlayHead:
    case ReelHit::OnOverlayTail: {
        const bool head = m_pressed.what == ReelHit::OnOverlayHead;
        const Overlay& o = origin.overlays[std::size_t(i)];
        const auto edge = head ? o.start : o.end();
        m_document->drag(withOverlayTrimmed(origin, i, head, cling(edge + frames, free) - edge));
        break;
    }
    case ReelHit::OnAdjustment:
    case ReelHit::OnAdjustmentHead:
    case ReelHit::OnAdjustmentTail: {
        Adjustment a = origin.adjustments[std::size_t(i)];
        if (m_pressed.what == ReelHit::OnAdjustment) {
            a.start = byStart(a.start, a.length);
        } else if (m_pressed.what == ReelHit::OnAdjustmentTail) {
            a.length = std::max<std::int64_t>(1, cling(a.end() + frames, free) - a.start);
        } else {
            const auto end = a.end();
            a.start = std::clamp<std::int64_t>(cling(a.start + frames, free), 0, end - 1);
            a.length = end - a.start;
        }
        m_document->drag(withAdjustmentChanged(origin, i, a));
        break;
    }
    case ReelHit::OnMusic:
    case ReelHit::OnMusicHead:
    case ReelHit::OnMusicTail: {
        Music m = origin.music[std::size_t(i)];
        const auto length = musicLength(origin, m);
        const auto rate = origin.settings.rate;
        // The music's own beats move along: they are nothing to cling to.
        std::erase_if(m_places,
                      [](const SnapPlace& p) { return p.kind == SnapPlace::Beat || p.kind == SnapPlace::Bar; });
        if (m_pressed.what == ReelHit::OnMusic) {
            m.start = byStart(m.start, 0);
        } else if (m_pressed.what == ReelHit::OnMusicTail) {
            m.length = std::max<std::int64_t>(1, cling(m.start + length + frames, free) - m.start);
        } else {
            const auto by =
                std::clamp(cling(m.start + frames, free) - m.start, -floorToInteger(m.sourceIn * rate), length - 1);
            m.start += by;
            m.sourceIn = m.sourceIn + Rational(by) / rate;
            m.length = length - by;
        }
        m_document->drag(withMusicChanged(origin, i, m));
        break;
    }
    case ReelHit::OnMarker: {
        const auto at = origin.markers[std::size_t(i)].frame;
        std::erase_if(m_places, [&](const SnapPlace& p) { return p.kind == SnapPlace::Marker && p.frame == at; });
        m_document->drag(withMarkerMoved(origin, i, cling(at + frames, free)));
        break;
    }
    default:
        break;
    }
}

void ReelView::dragTo(QPointF at, Qt::KeyboardModifiers keys) {
    const auto frames = std::llround((at.x() - m_pressAt.x()) / m_pressScale.pixelsPerFrame);
    const bool free = keys & Qt::ShiftModifier;
    switch (m_gesture) {
    case Gesture::Reorder:
    case Gesture::Copy:
        m_dropPlace = placeAt(*m_document->project(), m_pressScale, at.x());
        m_dropRow = m_gesture == Gesture::Reorder && bands().tall ? bands().overRowAt(at.y()) : -1;
        break;
    case Gesture::TrimHead:
    case Gesture::TrimTail:
    case Gesture::Roll:
    case Gesture::Overlap:
        dragEdge(frames, free || m_gesture == Gesture::Overlap);
        break;
    case Gesture::Slip: {
        // The source goes with the hand: dragged to the right, earlier pictures come.
        Project next = *m_document->dragOrigin();
        const auto chosen = m_document->selection().contains(Selection::ClipSelected, m_pressed.index)
                                ? m_document->selection().all()
                                : std::vector<int>{m_pressed.index};
        for (const int i : chosen) next = withClipSlipped(next, i, -frames);
        m_document->drag(std::move(next));
        break;
    }
    case Gesture::Layer:
        dragLayer(frames, free);
        break;
    case Gesture::Beat: {
        const Project& origin = *m_document->dragOrigin();
        for (int i = 0; i < int(origin.music.size()); ++i) {
            Music m = origin.music[std::size_t(i)];
            if (!m.tempo) continue;
            m.tempo = withBeatAt(*m.tempo, m_pressed.index, musicSeconds(origin, m_pressScale.frameAt(at.x())));
            m_document->drag(withMusicChanged(origin, i, m));
            break;
        }
        break;
    }
    case Gesture::Overview: {
        const QRectF strip = bands().overview;
        const double part = (at.x() - strip.left()) / std::max(1.0, strip.width());
        const double frame = part * double(reelLength(*m_document->project()));
        panTo(width() / 2.0 - frame * m_scale.pixelsPerFrame);
        break;
    }
    default:
        break;
    }
}

void ReelView::selectBox() {
    const QRectF box = QRectF(m_pressAt, m_at).normalized();
    Selection s;
    for (int i = 0; i < int(m_document->project()->reel.size()); ++i)
        if (clipRect(i).intersects(box)) {
            if (s.kind == Selection::ClipSelected)
                s.others.push_back(i);
            else
                s = {Selection::ClipSelected, i, {}};
        }
    m_document->select(s);
}

QString ReelView::stepName(Gesture gesture) const {
    switch (gesture) {
    case Gesture::Roll:
        return tr("move cut");
    case Gesture::Overlap:
        return tr("overlap");
    case Gesture::Slip:
        return tr("slip clip");
    case Gesture::Beat:
        return tr("move beat");
    case Gesture::Layer:
        switch (m_pressed.what) {
        case ReelHit::OnOverlay:
            return tr("move overlay");
        case ReelHit::OnOverlayHead:
        case ReelHit::OnOverlayTail:
            return tr("trim overlay");
        case ReelHit::OnAdjustment:
            return tr("move adjustment");
        case ReelHit::OnMusic:
            return tr("move music");
        case ReelHit::OnMusicHead:
        case ReelHit::OnMusicTail:
            return tr("trim music");
        case ReelHit::OnMarker:
            return tr("move marker");
        default:
            return tr("trim adjustment");
        }
    default:
        return tr("trim clip");
    }
}

void ReelView::finish(Gesture gesture) {
    const int place = std::exchange(m_dropPlace, -1), row = std::exchange(m_dropRow, -1);
    m_snapped = {};
    switch (gesture) {
    case Gesture::Press:
        if (m_pressed.what == ReelHit::Nowhere)
            m_document->select({});
        else if (m_pressed.what == ReelHit::OnClip || m_pressed.what == ReelHit::OnHead ||
                 m_pressed.what == ReelHit::OnTail) {
            selectAt(m_pressed, m_pressKeys);
            if (!(m_pressKeys & (Qt::ControlModifier | Qt::ShiftModifier))) scrubTo(m_pressAt.x());
        }
        break;
    case Gesture::Reorder:
        if (row >= 0)
            liftToOverlay(*m_document);
        else if (place >= 0)
            moveClips(*m_document, movedClips(), place);
        break;
    case Gesture::Copy:
        if (place >= 0) copyClips(*m_document, movedClips(), place);
        break;
    case Gesture::Box:
        selectBox();
        break;
    case Gesture::None:
    case Gesture::Scrub:
    case Gesture::Overview:
        break;
    default:
        m_document->endDrag(stepName(gesture));
        break;
    }
}

void ReelView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    finish(std::exchange(m_gesture, Gesture::None));
    redraw();
}

void ReelView::mouseDoubleClickEvent(QMouseEvent* event) {
    const ReelHit hit = hitTest(*m_document->project(), bands(), scale(), event->position());
    if (hit.what == ReelHit::OnMarker || hit.what == ReelHit::OnClip || hit.what == ReelHit::OnOverlay ||
        hit.what == ReelHit::OnAdjustment) {
        selectAt(hit, {});
        emit renameWanted();
    }
}

} // namespace virga
