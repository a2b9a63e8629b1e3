#include "app/reel/reel_view.h"

#include <QContextMenuEvent>
#include <QDragEnterEvent>
#include <QKeyEvent>
#include <QMimeData>
#include <QPixmapCache>
#include <QToolButton>
#include <QUrl>
#include <QWheelEvent>
#include <cmath>

#include "app/commands/reel_commands.h"
#include "app/reel/empty_reel.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"

namespace virga {

ReelView::ReelView(Document* document, Thumbnails* thumbnails, Waveforms* waveforms, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_thumbnails(thumbnails), m_waveforms(waveforms), m_flow(flow),
      m_heard(new HeardWatch(document, this)), m_empty(new EmptyReel(this)),
      m_grow(iconButton("grow", tr("Larger, for assembling"), this, 20)) {
    setObjectName("reel");
    setAccessibleName(tr("Reel"));
    setAccessibleDescription(tr("The clips in their order, with the cuts between them"));
    QPixmapCache::setCacheLimit(64 << 10); // kilobytes: scaled pictures of what is in sight
    setMouseTracking(true);
    setAcceptDrops(true);
    setFocusPolicy(Qt::ClickFocus);
    m_grow->setObjectName("quiet");
    m_grow->setFocusPolicy(Qt::TabFocus);
    connect(m_grow, &QToolButton::clicked, this, [this] { emit growWanted(!m_grown); });
    const auto repaint = [this] { redraw(); };
    const auto stale = [this] { m_overview = {}; };
    connect(document, &Document::projectChanged, this, stale);
    connect(document, &Document::selectionChanged, this, stale);
    connect(thumbnails, &Thumbnails::ready, this, stale);
    connect(document, &Document::projectChanged, this, [this] {
        m_empty->setVisible(m_document->project()->reel.empty());
        updateSoon();
    });
    m_later.setSingleShot(true);
    m_later.setInterval(80);
    connect(&m_later, &QTimer::timeout, this, repaint);
    connect(document, &Document::opened, this, &ReelView::fit);
    connect(document, &Document::selectionChanged, this, repaint);
    connect(document, &Document::playheadChanged, this, [this] {
        if (m_gesture == Gesture::None) reveal(m_document->playhead());
        update(); // it lies over the rest
    });
    connect(thumbnails, &Thumbnails::ready, this, repaint);
    connect(document, &Document::markedChanged, this, repaint);
    connect(waveforms, &Waveforms::ready, this, repaint);
    connect(flow, &FlowWatch::changed, this, &ReelView::updateSoon);
    connect(m_heard, &HeardWatch::changed, this, repaint);
    connect(flow, &FlowWatch::trialChanged, this, &ReelView::updateSoon);
    connect(m_empty, &EmptyReel::addWanted, this, &ReelView::addWanted);
    connect(m_empty, &EmptyReel::demoWanted, this, &ReelView::demoWanted);
}

void ReelView::redraw() {
    m_layer = {};
    update();
}

void ReelView::changeEvent(QEvent* event) {
    if (event->type() == QEvent::StyleChange || event->type() == QEvent::PaletteChange) m_layer = {};
    QWidget::changeEvent(event);
}

// What is dragged elsewhere shows here a little later: the Picture goes first.
void ReelView::updateSoon() {
    if (!m_document->isDragging() || m_gesture != Gesture::None) return redraw();
    if (!m_later.isActive()) m_later.start();
}

const ReelLayout& ReelView::bands() const {
    const std::tuple now(width(), height(), m_zoomed);
    if (m_bandsOf != m_document->project() || m_bandsFor != now) {
        m_bandsOf = m_document->project();
        m_bandsFor = now;
        m_bands = ReelLayout::of(*m_bandsOf, width(), height(), m_zoomed, m_flowLine);
    }
    return m_bands;
}

ReelScale ReelView::scale() const {
    // While an edge is dragged the scale stays, so that the edge stays under the pointer.
    if (m_gesture != Gesture::None && m_gesture != Gesture::Scrub && m_gesture != Gesture::Overview)
        return m_pressScale;
    if (m_zoomed) return m_scale;
    const double gutter = height() >= ReelLayout::tallFrom ? 60 : 12;
    ReelScale s = ReelScale::fitting(reelLength(*m_document->project()), width() - (gutter - 12));
    s.left = gutter;
    return s;
}

const std::vector<std::int64_t>& ReelView::starts() const {
    if (m_startsOf != m_document->project()) {
        m_startsOf = m_document->project();
        m_starts = clipStarts(*m_startsOf);
    }
    return m_starts;
}

QRectF ReelView::clipRect(int clip) const {
    const ReelLayout& l = bands();
    const double bottom = std::max(l.clips.bottom(), l.sound.bottom());
    const ReelScale s = scale();
    const double a = s.xOf(double(starts()[std::size_t(clip)])), b = s.xOf(double(starts()[std::size_t(clip) + 1]));
    return QRectF(a, l.clips.top(), b - a, bottom - l.clips.top());
}

QRectF ReelView::overlayRect(int overlay) const {
    const Overlay& o = m_document->project()->overlays[std::size_t(overlay)];
    const ReelLayout& l = bands();
    return l.spanIn(l.overRow(o.row), scale(), double(o.start), double(o.end()));
}

QPoint ReelView::jointCentre(int cut) const {
    const ReelLayout& l = bands();
    const double bottom = std::max(l.clips.bottom(), l.sound.bottom());
    return QPointF(scale().xOf(double(cutFrame(*m_document->project(), cut))), (l.clips.top() + bottom) / 2).toPoint();
}

void ReelView::setReadyFrames(const ReadyFrames* ready) {
    m_readyFrames = ready;
    connect(ready, &ReadyFrames::changed, this, &ReelView::redraw);
}

void ReelView::setBusyText(const QString& text) {
    m_busy = text;
    redraw();
}

void ReelView::setSnap(bool on) {
    if (on == m_snap) return;
    m_snap = on;
    emit snapChanged(on);
    redraw();
}

void ReelView::setGrown(bool grown) {
    m_grown = grown;
    m_grow->setProperty("iconName", grown ? "shrink" : "grow");
    m_grow->setIcon(icon(grown ? "shrink" : "grow"));
    setTip(m_grow, grown ? tr("Smaller, for working at a cut") : tr("Larger, for assembling"));
    m_grow->setAccessibleName(m_grow->toolTip());
}

void ReelView::fit() {
    m_zoomed = false;
    m_thumbnails->forgetWaiting();
    redraw();
}

void ReelView::zoomBy(double factor) {
    const ReelScale before = scale();
    const double gutter = bands().gutter;
    const double about = std::clamp(before.xOf(double(m_document->playhead())), gutter, double(width()));
    const double least = ReelScale::fitting(reelLength(*m_document->project()), width() - (gutter - 12)).pixelsPerFrame;
    m_scale = before.zoomed(factor, about, least);
    m_zoomed = m_scale.pixelsPerFrame > least * 1.001;
    panTo(m_scale.left);
}

// Keeps some of the reel in sight, and no empty stretch at its start.
void ReelView::panTo(double left) {
    const double gutter = bands().gutter;
    const double length = double(reelLength(*m_document->project())) * m_scale.pixelsPerFrame;
    m_scale.left = std::clamp(left, std::min(gutter, width() * 0.8 - length), gutter);
    m_thumbnails->forgetWaiting();
    redraw();
}

void ReelView::reveal(std::int64_t frame) {
    if (!m_zoomed) return;
    const double x = m_scale.xOf(double(frame)), gutter = bands().gutter;
    if (x >= gutter && x <= width() - 12) return;
    panTo(m_scale.left + (gutter + width() * 0.15 - x));
}

void ReelView::wheelEvent(QWheelEvent* event) {
    if (m_document->project()->reel.empty() || m_gesture != Gesture::None) return;
    const double steps = (event->angleDelta().y() != 0 ? event->angleDelta().y() : event->angleDelta().x()) / 120.0;
    const double gutter = bands().gutter;
    const double least = ReelScale::fitting(reelLength(*m_document->project()), width() - (gutter - 12)).pixelsPerFrame;
    if (event->modifiers() & Qt::ControlModifier) {
        m_scale = scale().zoomed(std::pow(1.25, steps), event->position().x(), least);
        m_zoomed = m_scale.pixelsPerFrame > least * 1.001;
        panTo(m_scale.left);
    } else if (m_zoomed) {
        panTo(m_scale.left + steps * 80);
    }
    event->accept();
}

void ReelView::resizeEvent(QResizeEvent*) {
    m_empty->setGeometry(rect());
    m_grow->setVisible(width() > 400);
    const bool tall = height() >= ReelLayout::tallFrom;
    m_grow->move(width() - 28, tall ? height() - 21 : 1);
    if (m_zoomed) panTo(m_scale.left);
}

void ReelView::leaveEvent(QEvent*) {
    m_hover = {};
    redraw();
}

void ReelView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && m_gesture != Gesture::None) {
        m_gesture = Gesture::None;
        m_dropPlace = -1;
        m_snapped = {};
        m_document->cancelDrag();
        redraw();
        return;
    }
    QWidget::keyPressEvent(event);
}

void ReelView::contextMenuEvent(QContextMenuEvent* event) {
    const ReelHit hit = hitTest(*m_document->project(), bands(), scale(), event->pos());
    // A right click on one of several chosen clips means all of them.
    const bool chosen =
        hit.what == ReelHit::OnClip && m_document->selection().contains(Selection::ClipSelected, hit.index);
    if (!chosen) selectAt(hit, {});
    emit contextMenuWanted(event->globalPos());
}

void ReelView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls() || event->mimeData()->hasFormat(mediaMimeType)) event->acceptProposedAction();
}

void ReelView::dragMoveEvent(QDragMoveEvent* event) {
    m_at = event->position();
    const ReelLayout& l = bands();
    m_dropRow = event->mimeData()->hasFormat(mediaMimeType) && !m_document->project()->reel.empty()
                    ? l.overRowAt(event->position().y())
                    : -1;
    m_dropPlace = m_dropRow >= 0 ? -1 : placeAt(*m_document->project(), scale(), event->position().x());
    event->acceptProposedAction();
    redraw();
}

void ReelView::dragLeaveEvent(QDragLeaveEvent*) {
    m_dropPlace = m_dropRow = -1;
    redraw();
}

void ReelView::dropEvent(QDropEvent* event) {
    const int place = std::exchange(m_dropPlace, -1), row = std::exchange(m_dropRow, -1);
    redraw();
    if (event->mimeData()->hasFormat(mediaMimeType)) {
        std::vector<std::string> ids;
        for (const QByteArray& id : event->mimeData()->data(mediaMimeType).split('\n'))
            if (!id.isEmpty()) ids.push_back(id.toStdString());
        event->acceptProposedAction();
        if (row >= 0)
            placeAsOverlay(*m_document, ids,
                           std::max<std::int64_t>(0, std::llround(scale().frameAt(event->position().x()))));
        else
            placeMedia(*m_document, ids, place);
        return;
    }
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    emit filesDropped(paths, place);
}

} // namespace virga
