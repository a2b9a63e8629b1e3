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
#include "app/style/theme.h"
#include "core/edit/layer_edits.h"
#include "core/flow/clip_facts.h"

namespace virga {

PictureView::PictureView(Document* document, FrameService* frames, Player* player, QWidget* parent, const QString& slot)
    : QWidget(parent), m_document(document), m_frames(frames), m_player(player), m_handles(document),
      m_faces(document, frames), m_slot(slot) {
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
    connect(&m_sharpen, &QTimer::timeout, this, &PictureView::sharpen);
    connect(document, &Document::shownChanged, this, &PictureView::refresh);
    connect(document, &Document::playheadChanged, this, &PictureView::refresh);
    connect(player, &Player::playingChanged, this, &PictureView::refresh);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        const bool quick = slot == m_slot;
        if (!quick && slot != m_slot + "-exact") return;
        // A quick picture may be a frame late while something is dragged; an exact one is for this frame or for
        // nothing.
        if (!quick && result.frame != m_document->playhead()) return;
        if (quick && m_exact) return; // one that was under way before the exact one came
        if (m_player->isPlaying()) {  // nothing is shown late
            if (result.frame != m_document->playhead()) return;
            m_player->tellShown(result.frame);
        }
        m_shown = result.frame;
        m_exact = !quick && !result.error;
        m_error = result.error ? QString::fromStdString(describe(*result.error)) : QString();
        m_image = result.image;
        update();
        emit shown();
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
    auto* lineUp = new QPushButton(tr("Line up"), m_facesBar);
    lineUp->setFixedHeight(26);
    lineUp->setToolTip(tr("Scales and places the incoming shot so that its mark lies on the outgoing one's"));
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

QSize PictureView::quickSize() const {
    const Size full = m_document->project()->settings.size;
    const double shown = frameRect().width() * devicePixelRatioF();
    // The size on screen, in few steps, and never more than the piece itself.
    const double k = std::clamp(std::ceil(shown / full.width * 8) / 8, 0.125, 1.0);
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
    const Snapshot project = m_document->shown();
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
    m_player->setSize(quickSize());
    const FrameRequest exact = request(true);
    if (!m_player->isPlaying() && !m_frames->kept(exact).isNull()) {
        m_frames->drop(m_slot);
        m_sharpen.stop();
        m_frames->request(m_slot + "-exact", exact);
        return;
    }
    m_frames->drop(m_slot + "-exact");
    m_frames->request(m_slot, request(false));
    if (m_player->isPlaying())
        m_sharpen.stop();
    else
        m_sharpen.start();
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

void PictureView::setSafeAreas(bool on) {
    m_safe = on;
    update();
}

void PictureView::setActualSize(bool on) {
    m_actual = on;
    m_handles.cancel();
    update();
}

// The piece's pixel under a point of the view.
QPointF PictureView::pixelAt(QPointF at) const {
    const QRectF r = frameRect();
    const Size size = m_document->project()->settings.size;
    if (!m_actual) return {(at.x() - r.left()) * size.width / r.width(), (at.y() - r.top()) * size.height / r.height()};
    const double dpr = devicePixelRatioF();
    return {(at.x() - r.center().x()) * dpr + m_centre.x() * size.width,
            (at.y() - r.center().y()) * dpr + m_centre.y() * size.height};
}

QString PictureView::pixelText(QPointF at) const {
    const QPointF p = pixelAt(at);
    const QPoint pixel(int(std::floor(p.x())), int(std::floor(p.y())));
    if (!m_exact || !m_image.rect().contains(pixel)) return {};
    const QColor c = m_image.pixelColor(pixel);
    return tr("%1, %2: R %3  G %4  B %5").arg(pixel.x()).arg(pixel.y()).arg(c.red()).arg(c.green()).arg(c.blue());
}

// The pixels themselves; beside them the ones around the pointer, eight times as large.
void PictureView::paintActual(QPainter& p, const QRectF& r) {
    p.fillRect(r, Qt::black);
    if (m_image.isNull()) return;
    const double dpr = devicePixelRatioF();
    const Size size = m_document->project()->settings.size;
    const double scale = double(size.width) / m_image.width() / dpr; // a quick picture is smaller
    p.save();
    p.setClipRect(r);
    p.setRenderHint(QPainter::SmoothPixmapTransform, false);
    const QPointF corner(std::round(r.center().x() - m_centre.x() * size.width / dpr),
                         std::round(r.center().y() - m_centre.y() * size.height / dpr));
    p.drawImage(QRectF(corner, QSizeF(m_image.size()) * scale), m_image);
    if (m_exact && underMouse()) {
        const QPointF at = pixelAt(m_pointer);
        constexpr int across = 15, zoom = 8;
        const QRect from(int(std::floor(at.x())) - across / 2, int(std::floor(at.y())) - across / 2, across, across);
        const QRectF to(r.right() - across * zoom - 8, r.top() + 8, across * zoom, across * zoom);
        p.fillRect(to, Qt::black);
        p.drawImage(to, m_image.copy(from));
        p.setPen(QPen(Qt::white, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(to);
        p.drawRect(QRectF(to.left() + (across / 2) * zoom, to.top() + (across / 2) * zoom, zoom, zoom));
        const QString text = pixelText(m_pointer);
        if (!text.isEmpty()) {
            p.setFont(numberFont(11));
            const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
            const QRectF chip(r.right() - w - 8, to.bottom() + 6, w, 19);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(10, 12, 14, 215));
            p.drawRoundedRect(chip, 3, 3);
            p.setPen(QColor(0xe4, 0xe6, 0xe8));
            p.drawText(chip, Qt::AlignCenter, text);
        }
    }
    p.restore();
}

// Thirds; and the areas that every screen shows: nine tenths of the frame for the action, eight tenths for words
// (common practice; SMPTE RP 218 has 90 and 80 % of the frame).
void PictureView::paintGuides(QPainter& p, const QRectF& r) {
    const auto line = [&](const QPointF& a, const QPointF& b) {
        for (const QPen& pen : {QPen(QColor(0, 0, 0, 110), 2.4), QPen(QColor(0xff, 0xff, 0xff, 120), 1)}) {
            p.setPen(pen);
            p.drawLine(a, b);
        }
    };
    if (m_grid)
        for (const double part : {1 / 3.0, 2 / 3.0}) {
            line({r.left() + part * r.width(), r.top()}, {r.left() + part * r.width(), r.bottom()});
            line({r.left(), r.top() + part * r.height()}, {r.right(), r.top() + part * r.height()});
        }
    if (!m_safe) return;
    p.setBrush(Qt::NoBrush);
    for (const double part : {0.9, 0.8}) {
        const QSizeF size = r.size() * part;
        const QRectF area(r.center() - QPointF(size.width() / 2, size.height() / 2), size);
        for (const QPen& pen : {QPen(QColor(0, 0, 0, 110), 2.4),
                                QPen(QColor(0xff, 0xff, 0xff, 150), 1, part < 0.85 ? Qt::DashLine : Qt::SolidLine)}) {
            p.setPen(pen);
            p.drawRect(area);
        }
    }
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

QString PictureView::coverText() const {
    const Snapshot project = m_document->shown();
    if (project->reel.empty()) return {};
    const FrameFacts facts = factsOf(*project, m_document->playhead());
    const double copies = facts.edges == EdgeFill::Empty ? 0 : std::max(0.0, facts.uncovered - facts.bare);
    return tr("copies %1 % of this frame, bare %2 %")
        .arg(100 * copies, 0, 'f', copies > 0 && copies < 0.1 ? 1 : 0)
        .arg(100 * facts.bare, 0, 'f', facts.bare > 0 && facts.bare < 0.1 ? 1 : 0);
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
    paintGuides(p, outline());
    paintName(p, r);
}

// What lies beyond the source's own picture is dimmed, and more so beyond the frame.
void PictureView::paintSurround(QPainter& p, const QRectF& r) {
    const QRectF frame = outline();
    const Snapshot project = m_document->shown();
    const Size size = project->settings.size;
    const FramePlan plan = planFrame(*project, m_document->playhead());
    const LayerPlan* layer = layerOfClip(plan, clipAt(*project, m_document->playhead()));
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setClipRect(r);
    const auto borderOf = [&](double left, double top, double right, double bottom) {
        QPolygonF border;
        const ScreenMap map = mapAt(*layer, double(layer->frame), size);
        const Point corners[] = {{left, top}, {right, top}, {right, bottom}, {left, bottom}};
        for (int c = 0; c < 4; ++c)
            for (int k = 0; k < 24; ++k) { // lenses bend it
                const Point at = map.toScreen(corners[c] + (corners[(c + 1) % 4] - corners[c]) * (k / 24.0));
                if (std::isfinite(at.length()))
                    border << QPointF(frame.left() + at.x * frame.width() / size.width,
                                      frame.top() + at.y * frame.height() / size.height);
            }
        return border;
    };
    QPainterPath all, own, inside;
    all.addRect(r);
    inside.addRect(frame);
    if (layer && !layer->source.isEmpty() && mapAt(*layer, double(layer->frame), size).isVisible()) {
        const double w = layer->source.width, h = layer->source.height;
        const QPolygonF border = borderOf(0, 0, w, h);
        own.addPolygon(border);
        own.closeSubpath();
        p.fillPath(all.subtracted(own), QColor(0, 0, 0, 110));
        p.fillPath(all.subtracted(inside), QColor(0, 0, 0, 80));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0xff, 0xff, 0xff, 90), 1));
        p.drawPath(own);
        if (const int n = layer->edges.copies; n > 0 && layer->edges.isPeriodic()) { // where the copies end
            p.setPen(QPen(theme().look, 1.4, Qt::DashLine));
            p.drawPolygon(borderOf(-n * w, -n * h, (n + 1) * w, (n + 1) * h));
        }
    } else {
        p.fillPath(all.subtracted(inside), QColor(0, 0, 0, 120));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(Qt::white, 1.6));
    p.drawRect(frame);
    p.restore();
    const int copies = project->settings.copies;
    const QString text =
        coverText() + (copies > 0 ? tr(" · limit of copies: %1").arg(copies) : tr(" · limit of copies: none"));
    p.setFont(textFont(11));
    const QRectF chip(r.left() + 8, r.bottom() - 27, QFontMetricsF(p.font()).horizontalAdvance(text) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(theme().look);
    p.drawText(chip, Qt::AlignCenter, text);
}

void PictureView::paintFrame(QPainter& p, const QRectF& r) {
    p.fillRect(r, Qt::black);
    const auto project = m_document->shown();
    if (!m_image.isNull()) {
        const QSize device = (r.size() * devicePixelRatioF()).toSize();
        // Qt scales down by two taps only; a smooth scaling first keeps fine texture quiet.
        if (m_image.width() > device.width() * 5 / 4)
            p.drawImage(r, m_image.scaled(device, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
        else
            p.drawImage(r, m_image);
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (project->reel.empty()) {
        p.setPen(QColor(0x9a, 0xa1, 0xa9));
        p.setFont(textFont(12));
        p.drawText(r, Qt::AlignCenter, tr("The picture appears here"));
        return;
    }
    if (!m_error.isEmpty()) {
        p.fillRect(r, QColor(20, 22, 25, 235));
        p.setPen(theme().breaks.lighter(120));
        p.setFont(textFont(13, QFont::DemiBold));
        const QRectF inner = r.adjusted(32, 24, -32, -24);
        p.drawText(inner, Qt::AlignHCenter | Qt::AlignTop, tr("This frame cannot be shown"));
        p.setPen(QColor(0xe4, 0xe6, 0xe8));
        p.setFont(textFont(12));
        p.drawText(inner.adjusted(0, 30, 0, 0), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWrapAnywhere, m_error);
    }
}

// Which frame it is, counted from the cut it belongs to.
void PictureView::paintName(QPainter& p, const QRectF& r) {
    const auto project = m_document->shown();
    const auto frame = m_document->playhead();
    const int cut = m_document->cut();
    QString text = tr("frame %1").arg(frame);
    QColor colour = theme().text;
    if (cut >= 0) {
        const auto n = frame - cutFrame(*project, cut);
        const int clip = clipAt(*project, frame);
        if (clip == cut || clip == cut + 1) {
            text = tr("frame %1 of cut %2")
                       .arg(n < 0   ? QStringLiteral("−%1").arg(-n)
                            : n > 0 ? QStringLiteral("+%1").arg(n)
                                    : QStringLiteral("0"))
                       .arg(cut + 1);
            colour = n < 0 ? QColor(0xf0, 0xa3, 0x5a) : QColor(0x5c, 0xc6, 0xc9);
        }
    }
    p.setFont(numberFont(11));
    const QRectF chip(r.left() + 8, r.top() + 8, QFontMetricsF(p.font()).horizontalAdvance(text) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(theme().name == "day" && colour == theme().text ? QColor(0xe4, 0xe6, 0xe8) : colour);
    p.drawText(chip, Qt::AlignCenter, text);
}

} // namespace virga
