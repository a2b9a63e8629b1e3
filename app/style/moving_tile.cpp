#include "app/style/moving_tile.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>

#include "app/style/theme.h"

namespace virga {

MovingTile::MovingTile(int frameCount, int atRest, QWidget* parent)
    : QAbstractButton(parent), m_frames(std::size_t(frameCount)), m_atRest(atRest), m_shown(atRest) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    m_timer.setInterval(80);
    connect(&m_timer, &QTimer::timeout, this, [this] {
        m_shown = (m_shown + 1) % this->frameCount();
        update();
    });
}

QSize MovingTile::pictureSize() const {
    const int w = std::clamp(width() - 4, 16, m_widest); // the texts below it have their room
    return {w, w * 9 / 16};
}

void MovingTile::setFrame(int index, const QImage& image) {
    if (index >= 0 && index < frameCount()) m_frames[std::size_t(index)] = image;
    update();
}

void MovingTile::clearFrames() {
    for (QImage& image : m_frames) image = {};
    update();
}

void MovingTile::setSecondLine(const QString& text) {
    m_second = text;
    updateGeometry();
    update();
}

void MovingTile::setNote(const QString& text) {
    m_note = text;
    update();
}

void MovingTile::setAlwaysMoving(bool on) {
    m_always = on;
    play(on || hasFocus() || underMouse());
}

void MovingTile::play(bool on) {
    on = on || m_always;
    if (on == m_timer.isActive()) return;
    m_shown = on ? 0 : m_atRest;
    on ? m_timer.start() : m_timer.stop();
    update();
}

void MovingTile::enterEvent(QEnterEvent*) {
    emit pointedAt();
    play(true);
}
void MovingTile::leaveEvent(QEvent*) {
    play(hasFocus());
}
void MovingTile::focusInEvent(QFocusEvent* event) {
    QAbstractButton::focusInEvent(event);
    emit pointedAt();
    play(true);
}
void MovingTile::focusOutEvent(QFocusEvent* event) {
    QAbstractButton::focusOutEvent(event);
    play(underMouse());
}

void MovingTile::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const QRectF r(2, 2, pictureSize().width(), pictureSize().height());
    QPainterPath path;
    path.addRoundedRect(r, 3, 3);
    p.fillPath(path, theme().chart);
    p.setOpacity(isEnabled() ? 1 : 0.4);
    // A frame that is not there yet: the one at rest.
    const QImage& now = m_frames[std::size_t(m_shown)];
    const QImage& image = now.isNull() ? m_frames[std::size_t(m_atRest)] : now;
    if (!image.isNull()) {
        p.setClipPath(path);
        p.drawImage(r, image);
        p.setClipping(false);
    } else if (!icon().isNull()) {
        icon().paint(&p, r.toRect().adjusted(8, 8, -8, -8));
    }
    const bool hot = isEnabled() && (underMouse() || hasFocus());
    p.setPen(QPen(isDown() ? theme().strong : hot ? theme().dim : theme().line, hot ? 1.5 : 1));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(r, 3, 3);
    if (m_pictureOnly) return;
    p.setPen(theme().text);
    p.setFont(textFont(11, QFont::Medium));
    const QRectF line(2, r.bottom() + 3, width() - 4, 16);
    const QFontMetricsF small(numberFont(10));
    const double noted = m_note.isEmpty() || r.width() < 130 ? 0 : small.horizontalAdvance(m_note) + 6;
    const QRectF name(line.left(), line.top(), r.width() - noted, line.height());
    p.drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(text(), Qt::ElideRight, int(name.width())));
    if (noted > 0) {
        p.setPen(theme().dim);
        p.setFont(numberFont(10));
        p.drawText(QRectF(r.left(), line.top(), r.width(), line.height()), Qt::AlignRight | Qt::AlignVCenter, m_note);
    }
    if (m_second.isEmpty()) return;
    p.setPen(theme().dim);
    p.setFont(textFont(10));
    p.drawText(line.translated(0, 15), Qt::AlignLeft | Qt::AlignVCenter,
               p.fontMetrics().elidedText(m_second, Qt::ElideRight, int(line.width())));
}

} // namespace virga
