#include "app/picture/picture_view.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/document/edit_focus.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/edit/layer_edits.h"
#include "core/plan/clip_facts.h"

namespace virga {

PictureView::PictureView(Document* document, FrameService* frames, Player* player, QWidget* parent, const QString& slot)
    : QWidget(parent), m_document(document), m_frames(frames), m_player(player), m_handles(document),
      m_faces(document, frames), m_trust(document, frames, this), m_slot(slot) {
    setObjectName("picture");
    setAccessibleName(tr("Picture"));
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    const auto repaint = qOverload<>(&QWidget::update);
    connect(&m_handles, &PictureHandles::changed, this, repaint);
    connect(&m_faces, &Faces::changed, this, repaint);
    connect(document->focus(), &EditFocus::changed, this, repaint);
    connect(document, &Document::selectionChanged, this, repaint);
    buildFacesBar();
    m_sharpen.setSingleShot(true);
    m_sharpen.setInterval(90);
    connect(&m_trust, &PictureTrust::changed, this, qOverload<>(&QWidget::update));
    connect(&m_sharpen, &QTimer::timeout, this, &PictureView::sharpen);
    connect(document, &Document::shownChanged, this, &PictureView::refresh);
    connect(document, &Document::playheadChanged, this, &PictureView::refresh);
    connect(player, &Player::playingChanged, this, &PictureView::refresh);
    connect(frames, &FrameService::ready, this, [this](const QString& from, const FrameResult& result) {
        const bool quick = from == m_slot;
        if (!quick && from != m_slot + "-exact") return;
        // A quick picture may be a frame late while something is dragged; an exact one is for this frame or for
        // nothing.
        if (!quick && (result.frame != m_document->playhead() || result.project != projectShown())) return;
        if (quick && m_exact) return; // one that was under way before the exact one came
        if (m_player->isPlaying()) {  // nothing is shown late
            if (result.frame != m_document->playhead()) return;
            m_player->tellShown(result.frame);
        }
        m_shown = result.frame;
        m_exact = !quick && !result.error;
        m_error = result.error ? QString::fromStdString(describe(*result.error)) : QString();
        m_image = result.image;
        if (quick) adapt(result.milliseconds);
        if (quick && !m_player->isPlaying()) m_sharpen.start(); // 90 ms of rest behind the last quick one
        // While something is dragged, the picture does not wait for what else is to be painted.
        if (m_exact && !m_player->isPlaying()) m_trust.look(m_image.size());
        emit shown();
        m_document->isDragging() && isVisible() ? this->repaint() : update();
    });
}

void PictureView::buildFacesBar() {
    m_facesBar = new QWidget(this);
    m_facesBar->setObjectName("panel");
    m_facesBar->setAttribute(Qt::WA_StyledBackground);
    m_facesBar->setCursor(Qt::ArrowCursor);
    auto* row = new QHBoxLayout(m_facesBar);
    row->setContentsMargins(4, 3, 4, 3);
    row->setSpacing(6);
    m_ways = new Choices({{tr("split"), {}, tr("Outgoing left of the line, incoming right of it; drag the line")},
                          {tr("mix"), {}, tr("Half of each")},
                          {tr("difference"), {}, tr("Black where both are alike")},
                          {tr("flicker"), {}, tr("One after the other")}},
                         m_facesBar);
    m_ways->setCurrent(0);
    connect(m_ways, &Choices::chosen, this, [this](int i) { m_faces.setWay(Faces::Way(i)); });
    row->addWidget(m_ways);
    auto* find = new QPushButton(tr("Find"), m_facesBar);
    find->setFixedHeight(26);
    setTip(find, tr("Puts both marks on what the two shots have in common"));
    connect(find, &QPushButton::clicked, &m_faces, &Faces::find);
    row->addWidget(find);
    auto* follow = new QPushButton(tr("Follow"), m_facesBar);
    follow->setFixedHeight(26);
    follow->setFixedWidth(76);
    setTip(follow, tr("Follows both subjects through their shots; what was set by hand stays"));
    connect(follow, &QPushButton::clicked, this, [this] { m_faces.isBusy() ? m_faces.stop() : m_faces.follow(); });
    row->addWidget(follow);
    const auto tellBusy = [this, find, follow] {
        const bool busy = m_faces.isBusy();
        find->setEnabled(!busy);
        follow->setText(busy ? tr("Stop %1 %").arg(int(m_faces.job()->part() * 100)) : tr("Follow"));
    };
    connect(m_faces.job(), &Job::runningChanged, this, tellBusy);
    connect(m_faces.job(), &Job::progress, this, tellBusy);
    connect(&m_faces, &Faces::told, this, &PictureView::problem);
    auto* lineUp = new QPushButton(tr("Line up"), m_facesBar);
    lineUp->setFixedHeight(26);
    setTip(lineUp, tr("Scales, turns and places the incoming shot so that its mark lies on the outgoing one's"));
    connect(lineUp, &QPushButton::clicked, this, [this] {
        const QString why = m_faces.lineUp();
        if (!why.isEmpty()) emit problem(why);
    });
    row->addWidget(lineUp);
    m_facesBar->hide();
}

void PictureView::placeFacesBar() {
    m_facesBar->setVisible(m_mode == FacesMode);
    m_facesBar->adjustSize();
    const QRectF r = frameRect();
    m_facesBar->move(int(r.center().x()) - m_facesBar->width() / 2, int(r.bottom()) - m_facesBar->height() - 6);
}

// What is dragged is to be seen within a display frame or two: where a picture took too long, the next one is smaller.
void PictureView::adapt(double milliseconds) {
    constexpr double tooLong = 18, soonEnough = 7;
    if (milliseconds <= 0 || !m_document->isDragging()) return;
    if (milliseconds > tooLong && m_coarser < 4) ++m_coarser;
    if (milliseconds < soonEnough && m_coarser > 0) --m_coarser;
}

QSize PictureView::quickSize() const {
    const Size full = m_document->project()->settings.size;
    const double shown = frameRect().width() * devicePixelRatioF();
    // The size on screen, in few steps, and never more than the piece itself.
    const double coarser = m_document->isDragging() ? std::pow(0.75, m_coarser) : 1.0;
    const double k = std::clamp(std::ceil(shown / full.width * 8) / 8 * coarser, 0.125, 1.0);
    return {std::max(16, int(std::lround(full.width * k))), std::max(16, int(std::lround(full.height * k)))};
}

namespace {

constexpr double surroundScale = 0.42; // of the frame in the surround

// The same project seen from farther away: an adjustment over all of it zooms out. Its finishing is left out when it is
// rendered, which would treat what lies beyond the frame.
Project fromFarther(const Project& project) {
    Project out = project;
    out.overlays.clear();
    std::erase_if(out.adjustments, [](const Adjustment& a) { return a.bars.has_value(); });
    Adjustment away;
    away.id = "surround";
    away.length = std::max<std::int64_t>(1, reelLength(project));
    away.moves = {makeMove(MoveKind::Zoom, "surround-zoom")};
    away.moves[0].channels[0].incoming.keys = {Key{0, surroundScale}};
    out.adjustments.push_back(std::move(away));
    return out;
}

} // namespace

Snapshot PictureView::projectShown() {
    Snapshot project = m_document->shown();
    if (m_mode != SurroundMode) return project;
    if (m_surroundOf != project) {
        m_surroundOf = project;
        m_surround = std::make_shared<const Project>(fromFarther(*project));
    }
    return m_surround;
}

FrameRequest PictureView::request(bool exact) {
    const Snapshot project = projectShown();
    const Size full = project->settings.size;
    const QSize size = exact ? QSize(full.width, full.height) : quickSize();
    Quality quality = exact ? exactQuality : m_player->isPlaying() ? m_player->quality() : quickQuality;
    if (m_mode == SurroundMode) quality.finishing = false;
    return {project, m_document->playhead(), size, quality, exact ? Urgency::Sharpen : Urgency::Now};
}

void PictureView::refresh() {
    const auto project = m_document->shown();
    if (project->reel.empty()) {
        m_frames->drop(m_slot);
        m_image = {};
        m_error.clear();
        m_shown = -1;
        m_exact = false;
        m_sharpen.stop();
        update();
        emit shown();
        return;
    }
    m_exact = false;
    if (!m_document->isDragging()) m_player->setSize(quickSize());
    const FrameRequest exact = request(true);
    if (!m_player->isPlaying() && !m_frames->kept(exact).isNull()) {
        m_frames->drop(m_slot);
        m_sharpen.stop();
        m_frames->request(m_slot + "-exact", exact);
        return;
    }
    m_frames->drop(m_slot + "-exact");
    m_sharpen.stop(); // the exact one would only be in the quick one's way
    m_frames->request(m_slot, request(false));
}

void PictureView::sharpen() {
    if (m_player->isPlaying()) return;
    m_frames->request(m_slot + "-exact", request(true));
}

void PictureView::setMode(Mode mode) {
    if (mode == m_mode) return;
    m_handles.cancel();
    m_mode = mode;
    m_faces.setShown(mode == FacesMode);
    placeFacesBar();
    refresh();
    update();
    emit modeChanged();
}

void PictureView::setGrid(bool on) {
    m_grid = on;
    update();
}

void PictureView::setTrust(bool on) {
    m_trust.setOn(on);
    if (on && m_exact) m_trust.look(m_image.size());
    update();
}

void PictureView::setSafeAreas(bool on) {
    m_safe = on;
    update();
}

void PictureView::setActualSize(bool on) {
    m_actual = on;
    m_handles.cancel();
    update();
}

void PictureView::setShowHandles(bool on) {
    m_showHandles = on;
    update();
}

QRectF PictureView::frameRect() const {
    const double aspect = m_document->project()->settings.size.aspect();
    const QRectF room = QRectF(rect()).adjusted(14, 11, -14, -4);
    double w = room.width(), h = w / aspect;
    if (h > room.height()) h = room.height(), w = h * aspect;
    return QRectF(std::round(room.center().x() - w / 2), std::round(room.center().y() - h / 2), std::round(w),
                  std::round(h));
}

QRectF PictureView::outline() const {
    const QRectF r = frameRect();
    if (m_mode != SurroundMode) return r;
    const QSizeF size = r.size() * surroundScale;
    return {r.center() - QPointF(size.width() / 2, size.height() / 2), size};
}

void PictureView::resizeEvent(QResizeEvent*) {
    placeFacesBar();
    refresh();
}

void PictureView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || m_document->project()->reel.empty()) return;
    if (m_mode == FacesMode) {
        m_faces.setFrame(frameRect());
        m_faces.press(event->position());
        return;
    }
    if (m_actual && m_mode == FrameMode) {
        m_panned = event->position();
        return setCursor(Qt::ClosedHandCursor);
    }
    if (!m_showHandles || m_player->isPlaying()) return;
    m_handles.setFrame(outline());
    m_handles.press(event->position());
    setCursor(m_handles.cursor(event->position()));
}

void PictureView::mouseMoveEvent(QMouseEvent* event) {
    if (m_mode == FacesMode) return m_faces.drag(event->position());
    m_pointer = event->position();
    if (m_actual && m_mode == FrameMode) {
        if (m_panned) {
            const Size size = m_document->project()->settings.size;
            const QPointF by = (event->position() - *m_panned) * devicePixelRatioF();
            m_centre = {std::clamp(m_centre.x() - by.x() / size.width, 0.0, 1.0),
                        std::clamp(m_centre.y() - by.y() / size.height, 0.0, 1.0)};
            m_panned = event->position();
        } else {
            setCursor(Qt::CrossCursor);
        }
        return update();
    }
    m_handles.setFrame(outline());
    if (m_handles.isDragging()) return m_handles.drag(event->position(), event->modifiers() & Qt::ShiftModifier);
    const bool on = m_showHandles && !m_player->isPlaying();
    m_handles.setHover(on ? std::optional(event->position()) : std::nullopt);
    setCursor(on ? m_handles.cursor(event->position()) : Qt::ArrowCursor);
}

void PictureView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    if (m_mode == FacesMode) return m_faces.release();
    if (m_panned) {
        m_panned.reset();
        return setCursor(Qt::CrossCursor);
    }
    m_handles.release();
    setCursor(m_handles.cursor(event->position()));
}

void PictureView::wheelEvent(QWheelEvent* event) {
    if (m_mode == FacesMode || m_actual || !m_showHandles || m_player->isPlaying() ||
        !frameRect().contains(event->position()))
        return event->ignore();
    m_handles.setFrame(outline());
    m_handles.wheel(event->angleDelta().y() / 120.0, event->modifiers() & Qt::ShiftModifier);
    event->accept();
}

void PictureView::leaveEvent(QEvent*) {
    m_handles.setHover(std::nullopt);
}

bool PictureView::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape &&
        m_handles.isDragging()) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

void PictureView::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && m_handles.isDragging()) return m_handles.cancel();
    if (event->key() == Qt::Key_Escape && isWindow()) { // alone on a screen
        close();
        return;
    }
    QWidget::keyPressEvent(event);
}

void PictureView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().window);
    const QRectF r = frameRect();
    if (m_mode == FacesMode && m_document->cut() >= 0) {
        m_faces.setFrame(r);
        return m_faces.paint(p);
    }
    if (m_actual && m_mode == FrameMode && m_error.isEmpty()) return paintActual(p, r);
    paintFrame(p, r);
    if (m_document->shown()->reel.empty() || !m_error.isEmpty()) return;
    m_handles.setFrame(outline());
    if (m_mode == SurroundMode) paintSurround(p, r);
    p.save();
    if (m_mode == FrameMode) p.setClipRect(r.adjusted(-8, -8, 8, 8));
    m_handles.paint(p, m_showHandles && !m_player->isPlaying() && (underMouse() || m_mode == SurroundMode));
    p.restore();
    if (m_mode == FrameMode && !m_player->isPlaying()) m_trust.paint(p, r);
    paintGuides(p, outline());
    paintName(p, r);
}

} // namespace virga
