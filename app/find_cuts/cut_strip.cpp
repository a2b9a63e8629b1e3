#include "app/find_cuts/cut_strip.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/style/icons.h"
#include "app/style/theme.h"
#include "core/base/timecode.h"

namespace virga {
namespace {
constexpr int cardWidth = 196, cardHeight = 84, gap = 8;
}

CutStrip::CutStrip(Thumbnails* thumbnails, const Media& media, QWidget* parent)
    : QWidget(parent), m_thumbnails(thumbnails), m_media(media) {
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Found cuts"));
    connect(thumbnails, &Thumbnails::ready, this, qOverload<>(&QWidget::update));
}

Rational CutStrip::timeOf(std::int64_t picture) const {
    if (picture >= 0 && picture < std::int64_t(m_times.size())) return m_times[std::size_t(picture)];
    return Rational(picture) / m_media.rate;
}

void CutStrip::setTimes(std::vector<Rational> times) {
    m_times = std::move(times);
}

int CutStrip::columns() const {
    return std::max(1, (width() + gap) / (cardWidth + gap));
}

QRect CutStrip::cardRect(int i) const {
    return {i % columns() * (cardWidth + gap), i / columns() * (cardHeight + gap), cardWidth, cardHeight};
}

void CutStrip::fit() {
    const int rows = (int(m_items.size()) + columns() - 1) / columns();
    setMinimumHeight(std::max(1, rows) * (cardHeight + gap));
    update();
}

void CutStrip::setItems(std::vector<Item> items) {
    m_items = std::move(items);
    m_current = m_items.empty() ? -1 : 0;
    fit();
    emit changed();
}

void CutStrip::setLeast(double confidence) {
    for (Item& item : m_items)
        if (!item.byHand) item.taken = item.confidence >= confidence;
    update();
    emit changed();
}

void CutStrip::add(std::int64_t picture) {
    if (picture < 1 || picture >= std::int64_t(m_times.size())) return;
    const auto at = std::lower_bound(m_items.begin(), m_items.end(), picture,
                                     [](const Item& i, std::int64_t p) { return i.picture < p; });
    m_current = int(at - m_items.begin());
    if (at != m_items.end() && at->picture == picture)
        at->taken = at->byHand = true;
    else
        m_items.insert(at, {picture, 1, true, true, 0, 0});
    fit();
    emit changed();
}

void CutStrip::resizeEvent(QResizeEvent*) {
    fit();
}

void CutStrip::contextMenuEvent(QContextMenuEvent* event) {
    for (int i = 0; i < int(m_items.size()); ++i) {
        if (!cardRect(i).contains(event->pos())) continue;
        m_current = i;
        update();
        QMenu menu(this);
        menu.addAction(tr("Trace this transition…"), this,
                       [this, i] { emit traceWanted(m_items[std::size_t(i)].picture); });
        menu.exec(event->globalPos());
        return;
    }
}

void CutStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    for (int i = 0; i < int(m_items.size()); ++i) {
        if (!cardRect(i).contains(event->position().toPoint())) continue;
        Item& item = m_items[std::size_t(i)];
        m_current = i;
        item.taken = !item.taken;
        item.byHand = true;
        update();
        emit changed();
    }
}

void CutStrip::keyPressEvent(QKeyEvent* event) {
    if (m_current < 0) return QWidget::keyPressEvent(event);
    Item& item = m_items[std::size_t(m_current)];
    const int step = event->key() == Qt::Key_Left ? -1 : event->key() == Qt::Key_Right ? 1 : 0;
    if (step != 0 && event->modifiers() & Qt::ShiftModifier) { // the cut itself moves, up to its neighbours
        const auto least = m_current > 0 ? m_items[std::size_t(m_current) - 1].picture + 1 : 1;
        const auto most = m_current + 1 < int(m_items.size()) ? m_items[std::size_t(m_current) + 1].picture - 1
                                                              : std::int64_t(m_times.size()) - 1;
        const auto moved = std::clamp(item.picture + step, least, most);
        if (moved != item.picture) item.picture = moved, item.byHand = item.taken = true;
    } else if (step != 0) {
        m_current = std::clamp(m_current + step, 0, int(m_items.size()) - 1);
    } else if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Space) {
        item.taken = event->key() == Qt::Key_Space && !item.taken;
        item.byHand = true;
    } else {
        return QWidget::keyPressEvent(event);
    }
    update();
    emit changed();
}

void CutStrip::paintEvent(QPaintEvent* event) {
    QPainter p(this);
    p.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    for (int i = 0; i < int(m_items.size()); ++i) {
        const QRect card = cardRect(i);
        if (!card.intersects(event->rect())) continue;
        const Item& item = m_items[std::size_t(i)];
        const QRectF r = QRectF(card).adjusted(0.5, 0.5, -0.5, -0.5);
        p.setPen(
            QPen(i == m_current && hasFocus() ? theme().strong : theme().line, i == m_current && hasFocus() ? 1.5 : 1));
        p.setBrush(theme().raised);
        p.drawRoundedRect(r, 4, 4);
        p.setOpacity(item.taken ? 1 : 0.35);
        const double w = (r.width() - 12) / 2, h = w * 9 / 16;
        for (int side = 0; side < 2; ++side) {
            const QRectF where(r.left() + 4 + side * (w + 4), r.top() + 4, w, h);
            p.fillRect(where, theme().chart);
            const QImage image = m_thumbnails->get(
                m_media, timeOf(side == 0 ? item.picture - 1 - item.before : item.picture + item.after),
                QSize(192, 108));
            if (!image.isNull()) p.drawImage(where, image);
            p.fillRect(QRectF(where.left(), where.bottom() - 2, where.width(), 2),
                       side == 0 ? theme().outgoing : theme().incoming);
        }
        const QRectF line(r.left() + 6, r.top() + 6 + h, r.width() - 12, r.height() - h - 8);
        p.setFont(numberFont(11));
        p.setPen(theme().text);
        const QString where = item.before + item.after > 0
                                  ? tr("%1–%2").arg(item.picture - 1 - item.before).arg(item.picture + item.after)
                                  : QString::number(item.picture);
        p.drawText(line, Qt::AlignLeft | Qt::AlignVCenter, where);
        p.setPen(theme().dim);
        const QString how =
            item.byHand && item.confidence >= 1 ? tr("by hand") : tr("%1 % sure").arg(int(item.confidence * 100 + 0.5));
        p.drawText(line.adjusted(0, 0, -20, 0), Qt::AlignRight | Qt::AlignVCenter, how);
        p.setOpacity(1);
        if (item.taken) drawIcon(p, "tick", QRectF(line.right() - 13, line.center().y() - 6, 12, 12), theme().fine);
    }
}

} // namespace virga
