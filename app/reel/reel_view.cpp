#include "app/reel/reel_view.h"

#include <QContextMenuEvent>
#include <QDragEnterEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QUrl>
#include <cmath>

#include "app/commands/reel_commands.h"
#include "app/reel/empty_reel.h"

namespace virga {

ReelView::ReelView(Document* document, Thumbnails* thumbnails, Waveforms* waveforms, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_thumbnails(thumbnails), m_waveforms(waveforms), m_flow(flow),
      m_empty(new EmptyReel(this)) {
    setObjectName("reel");
    setAccessibleName(tr("Reel"));
    setAccessibleDescription(tr("The clips in their order, with the cuts between them"));
    setMouseTracking(true);
    setAcceptDrops(true);
    setFocusPolicy(Qt::ClickFocus);
    const auto repaint = qOverload<>(&QWidget::update);
    connect(document, &Document::projectChanged, this, [this] {
        m_empty->setVisible(m_document->project()->reel.empty());
        update();
    });
    connect(document, &Document::selectionChanged, this, repaint);
    connect(document, &Document::playheadChanged, this, repaint);
    connect(thumbnails, &Thumbnails::ready, this, repaint);
    connect(waveforms, &Waveforms::ready, this, repaint);
    connect(flow, &FlowWatch::changed, this, repaint);
    connect(m_empty, &EmptyReel::addWanted, this, &ReelView::addWanted);
    connect(m_empty, &EmptyReel::demoWanted, this, &ReelView::demoWanted);
}

ReelScale ReelView::scale() const {
    // While an edge is trimmed the scale stays, so that the edge stays under the pointer.
    if (m_gesture == Gesture::TrimHead || m_gesture == Gesture::TrimTail) return m_pressScale;
    return ReelScale::fitting(reelLength(*m_document->project()), width());
}

QRectF ReelView::waveBand() const {
    if (m_document->project()->music.empty()) return {};
    return QRectF(0, height() - 32, width(), 26);
}

QRectF ReelView::clipsBand() const {
    const double bottom = m_document->project()->music.empty() ? height() - 10.0 : height() - 36.0;
    return QRectF(0, 22, width(), std::max(20.0, bottom - 22));
}

QRectF ReelView::clipRect(int clip) const {
    const auto project = m_document->project();
    const ReelScale s = scale();
    const double a = s.xOf(double(clipStart(*project, clip))), b = s.xOf(double(clipStart(*project, clip + 1)));
    return QRectF(a, clipsBand().top(), b - a, clipsBand().height());
}

QPoint ReelView::jointCentre(int cut) const {
    return QPointF(scale().xOf(double(cutFrame(*m_document->project(), cut))), clipsBand().center().y()).toPoint();
}

void ReelView::setBusyText(const QString& text) {
    m_busy = text;
    update();
}

void ReelView::resizeEvent(QResizeEvent*) {
    m_empty->setGeometry(rect());
}

void ReelView::scrubTo(double x) {
    m_document->setPlayhead(std::int64_t(std::floor(scale().frameAt(x))));
}

void ReelView::updateCursor(const ReelHit& hit) {
    const bool edge = hit.what == ReelHit::OnHead || hit.what == ReelHit::OnTail;
    setCursor(edge ? Qt::SizeHorCursor : hit.what == ReelHit::OnJoint ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void ReelView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || m_document->project()->reel.empty()) return;
    m_pressAt = m_at = event->position();
    m_pressScale = scale();
    const QRectF band = clipsBand();
    m_pressed = hitTest(*m_document->project(), m_pressScale, m_at.x(), m_at.y(), band.top(), band.height());
    switch (m_pressed.what) {
    case ReelHit::Nowhere:
        m_gesture = Gesture::Scrub;
        scrubTo(m_at.x());
        break;
    case ReelHit::OnJoint:
        m_document->select({Selection::CutSelected, m_pressed.index});
        m_document->setPlayhead(cutFrame(*m_document->project(), m_pressed.index));
        break;
    case ReelHit::OnHead:
    case ReelHit::OnTail: // selected where it is a click only; a trim leaves the selection
    case ReelHit::OnClip:
        m_gesture = Gesture::Press;
        break;
    }
    update();
}

void ReelView::mouseMoveEvent(QMouseEvent* event) {
    m_at = event->position();
    const auto project = m_document->project();
    if (m_gesture == Gesture::None) {
        const QRectF band = clipsBand();
        const ReelHit hit = hitTest(*project, scale(), m_at.x(), m_at.y(), band.top(), band.height());
        if (!(hit == m_hover)) {
            m_hover = hit;
            updateCursor(hit);
            setToolTip(hit.what == ReelHit::OnJoint ? tr("Cut %1: click to select it").arg(hit.index + 1) : QString());
            update();
        }
        return;
    }
    if (m_gesture == Gesture::Scrub) return scrubTo(m_at.x());
    if (m_gesture == Gesture::Press && std::abs(m_at.x() - m_pressAt.x()) > 4)
        m_gesture = m_pressed.what == ReelHit::OnHead   ? Gesture::TrimHead
                    : m_pressed.what == ReelHit::OnTail ? Gesture::TrimTail
                                                        : Gesture::Reorder;
    if (m_gesture == Gesture::Reorder) m_dropPlace = placeAt(*project, scale(), m_at.x());
    if (m_gesture == Gesture::TrimHead || m_gesture == Gesture::TrimTail) {
        const auto frames = std::llround((m_at.x() - m_pressAt.x()) / m_pressScale.pixelsPerFrame);
        const auto edge = m_gesture == Gesture::TrimHead ? Edge::Head : Edge::Tail;
        m_document->drag(withClipTrimmed(*m_document->dragOrigin(), m_pressed.index, edge, frames));
    }
    update();
}

void ReelView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const Gesture gesture = std::exchange(m_gesture, Gesture::None);
    const int place = std::exchange(m_dropPlace, -1);
    if (gesture == Gesture::Press) {
        m_document->select({Selection::ClipSelected, m_pressed.index});
        scrubTo(m_pressAt.x());
    } else if (gesture == Gesture::Reorder && place >= 0) {
        moveClip(*m_document, m_pressed.index, place);
    } else if (gesture == Gesture::TrimHead || gesture == Gesture::TrimTail) {
        m_document->endDrag(tr("trim clip"));
    }
    update();
}

void ReelView::leaveEvent(QEvent*) {
    m_hover = {};
    update();
}

void ReelView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && m_gesture != Gesture::None) {
        m_gesture = Gesture::None;
        m_dropPlace = -1;
        m_document->cancelDrag();
        update();
        return;
    }
    QWidget::keyPressEvent(event);
}

void ReelView::contextMenuEvent(QContextMenuEvent* event) {
    const QRectF band = clipsBand();
    const ReelHit hit =
        hitTest(*m_document->project(), scale(), event->pos().x(), event->pos().y(), band.top(), band.height());
    if (hit.what == ReelHit::OnJoint)
        m_document->select({Selection::CutSelected, hit.index});
    else if (hit.what != ReelHit::Nowhere)
        m_document->select({Selection::ClipSelected, hit.index});
    emit contextMenuWanted(event->globalPos());
}

void ReelView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void ReelView::dragMoveEvent(QDragMoveEvent* event) {
    m_dropPlace = placeAt(*m_document->project(), scale(), event->position().x());
    event->acceptProposedAction();
    update();
}

void ReelView::dragLeaveEvent(QDragLeaveEvent*) {
    m_dropPlace = -1;
    update();
}

void ReelView::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    const int place = std::exchange(m_dropPlace, -1);
    update();
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    emit filesDropped(paths, place);
}

} // namespace virga
