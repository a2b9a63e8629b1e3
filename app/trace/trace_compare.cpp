#include "app/trace/trace_compare.h"

#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

TraceCompare::TraceCompare(QWidget* parent) : QWidget(parent) {
    setAccessibleName(tr("The original and your shots, playing together"));
    setTip(this, tr("Click to stop and go on"));
    connect(&m_timer, &QTimer::timeout, this, &TraceCompare::next);
    m_timer.setTimerType(Qt::PreciseTimer);
}

void TraceCompare::setSpan(qint64 first, qint64 last, double rate) {
    m_first = first, m_last = last;
    m_frame = std::clamp(m_frame, first, last);
    m_timer.setInterval(int(std::lround(1000 / std::clamp(rate, 1.0, 120.0))));
}

void TraceCompare::setOriginal(const QMap<std::int64_t, QImage>& pictures) {
    m_original = pictures;
    update();
}

void TraceCompare::setOwn(const QMap<std::int64_t, QImage>& pictures, const QString& words) {
    m_own = pictures;
    m_words = words;
    update();
}

void TraceCompare::setPlaying(bool on) {
    on ? m_timer.start() : m_timer.stop();
    update();
}

void TraceCompare::setFrame(qint64 frame) {
    m_frame = std::clamp(frame, m_first, m_last);
    update();
    emit frameChanged(m_frame);
}

void TraceCompare::next() {
    setFrame(m_frame >= m_last ? m_first : m_frame + 1);
}

void TraceCompare::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const int gap = 12, caption = 20;
    const double wide = std::min((width() - gap) / 2.0, (height() - caption) * 16.0 / 9);
    const double tall = wide * 9 / 16;
    const auto paint = [&](double left, const QMap<std::int64_t, QImage>& pictures, const QString& name,
                           const QString& words) {
        const QRectF box(left, caption, wide, tall);
        p.setPen(theme().dim);
        p.setFont(textFont(11));
        p.drawText(QRectF(left, 0, wide, caption - 3), Qt::AlignLeft | Qt::AlignVCenter, name);
        p.fillRect(box, theme().chart);
        const QImage image = pictures.value(m_frame);
        if (!image.isNull()) {
            // Inside, as wide or as tall as it is.
            QSizeF size = image.size();
            size.scale(box.size(), Qt::KeepAspectRatio);
            p.drawImage(QRectF(box.center() - QPointF(size.width() / 2, size.height() / 2), size), image);
        } else if (!words.isEmpty()) {
            p.drawText(box.adjusted(14, 0, -14, 0), Qt::AlignCenter | Qt::TextWordWrap, words);
        }
    };
    paint(0, m_original, tr("the original"), {});
    paint(wide + gap, m_own, tr("on your shots"), m_words);
    p.setFont(numberFont(11));
    p.setPen(m_frame < 0 ? theme().outgoing : theme().incoming);
    p.drawText(QRectF(0, 0, wide, caption - 3), Qt::AlignRight | Qt::AlignVCenter,
               QString::number(m_frame).replace('-', QChar(0x2212)) + (isPlaying() ? QString() : tr("  stopped")));
}

void TraceCompare::mousePressEvent(QMouseEvent*) {
    setPlaying(!isPlaying());
}

} // namespace virga
