#include "app/ladder/ladder_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"
#include "core/plan/seen_speed.h"

namespace virga {

LadderView::LadderView(Document* document, FrameService* frames, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames) {
    setObjectName("ladder");
    setAccessibleName(tr("Ladder: six frames around the cut"));
    setToolTip(tr("The frames on both sides of the cut, as exported. Click one to go to it."));
    connect(document, &Document::shownChanged, this, &LadderView::refresh);
    connect(document, &Document::selectionChanged, this, &LadderView::refresh);
    connect(document, &Document::playheadChanged, this, qOverload<>(&QWidget::update));
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (!slot.startsWith("ladder-")) return;
        const int i = slot.mid(7).toInt();
        if (i < 0 || i >= count) return;
        m_rungs[std::size_t(i)].image = result.image;
        update();
    });
}

QRectF LadderView::frameRect(int i) const {
    const double gap = 6, cutGap = 12, margin = 10;
    const double w = (width() - 2 * margin - (count - 2) * gap - cutGap) / count;
    const double x = margin + i * (w + gap) + (i >= -firstFrame ? cutGap - gap : 0);
    const double h = std::min(w / m_document->project()->settings.size.aspect(), height() - 46.0);
    return QRectF(x, 24, w, std::max(10.0, h));
}

void LadderView::refresh() {
    const auto project = m_document->shown();
    const int cut = m_document->cut();
    const SeenSpeeds speeds(*project, StackPlace(cut)); // what may take longer is the Flow check's, in the background
    for (int i = 0; i < count; ++i) {
        Rung& rung = m_rungs[std::size_t(i)];
        const auto at = cut >= 0 ? cutFrame(*project, cut) : 0;
        const auto frame = at + firstFrame + i;
        const int clip = clipAt(*project, frame);
        rung.there = cut >= 0 && (clip == cut || clip == cut + 1);
        if (!rung.there) {
            rung.image = {};
            m_frames->drop(QStringLiteral("ladder-%1").arg(i));
            continue;
        }
        rung.speed = speeds.at(frame < at ? Side::Outgoing : Side::Incoming, double(frame - at));
        const QRectF r = frameRect(i);
        const double dpr = devicePixelRatioF();
        m_frames->request(QStringLiteral("ladder-%1").arg(i),
                          {project, frame, QSize(int(std::lround(r.width() * dpr)), int(std::lround(r.height() * dpr))),
                           exactQuality, Urgency::Soon});
    }
    update();
}

void LadderView::resizeEvent(QResizeEvent*) {
    refresh();
}

void LadderView::mousePressEvent(QMouseEvent* event) {
    const auto project = m_document->shown();
    const int cut = m_document->cut();
    if (cut < 0) return;
    for (int i = 0; i < count; ++i)
        if (m_rungs[std::size_t(i)].there && frameRect(i).adjusted(-3, -20, 3, 12).contains(event->position()))
            m_document->setPlayhead(cutFrame(*project, cut) + firstFrame + i);
}

void LadderView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().panel);
    const auto project = m_document->shown();
    const int cut = m_document->cut();
    if (cut < 0) {
        p.setPen(theme().dim);
        p.setFont(textFont(12));
        p.drawText(rect(), Qt::AlignCenter, tr("Two clips make a cut; its frames appear here"));
        return;
    }
    double fastest = 10; // bars are relative to the fastest of the six, but slow moves do not look fast
    for (const Rung& rung : m_rungs)
        if (rung.there) fastest = std::max(fastest, rung.speed);
    for (int i = 0; i < count; ++i) {
        const Rung& rung = m_rungs[std::size_t(i)];
        if (!rung.there) continue;
        const int n = firstFrame + i;
        const QColor side = n < 0 ? theme().outgoing : theme().incoming;
        const QRectF r = frameRect(i);
        p.setFont(numberFont(11));
        p.setPen(side);
        p.drawText(QRectF(r.left(), 5, r.width(), 16), Qt::AlignLeft | Qt::AlignVCenter,
                   n < 0   ? QStringLiteral("−%1").arg(-n)
                   : n > 0 ? QStringLiteral("+%1").arg(n)
                           : QStringLiteral("0"));
        p.setPen(theme().dim);
        p.drawText(QRectF(r.left(), 5, r.width(), 16), Qt::AlignRight | Qt::AlignVCenter,
                   QStringLiteral("%1%").arg(rung.speed, 0, 'f', rung.speed < 9.95 && rung.speed > 0.005 ? 1 : 0));
        p.fillRect(r, Qt::black);
        if (!rung.image.isNull()) p.drawImage(r, rung.image);
        if (cutFrame(*project, cut) + n == m_document->playhead()) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().strong, 1.5));
            p.drawRect(r.adjusted(-1, -1, 1, 1));
        }
        const QRectF bar(r.left(), r.bottom() + 4, r.width(), 4);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().chart);
        p.drawRoundedRect(bar, 1.5, 1.5);
        p.setBrush(side);
        if (rung.speed > 0.005)
            p.drawRoundedRect(
                QRectF(bar.left(), bar.top(), std::max(2.0, bar.width() * rung.speed / fastest), bar.height()), 1.5,
                1.5);
    }
    const QRectF left = frameRect(-firstFrame - 1), right = frameRect(-firstFrame);
    p.fillRect(QRectF((left.right() + right.left()) / 2 - 1, 6, 2, left.bottom() + 8 - 6), theme().strong);
    p.setPen(theme().dim);
    p.setFont(textFont(10));
    if (height() > left.bottom() + 24)
        p.drawText(QRectF(10, left.bottom() + 10, width() - 20, 14), Qt::AlignRight | Qt::AlignVCenter,
                   tr("bar: seen speed, % of frame width per frame"));
}

} // namespace virga
