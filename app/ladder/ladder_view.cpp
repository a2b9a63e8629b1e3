#include "app/ladder/ladder_view.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

constexpr double gap = 6, cutGap = 12, margin = 10;

} // namespace

QString frameName(int frame) {
    return frame < 0   ? QStringLiteral("−%1").arg(-frame)
           : frame > 0 ? QStringLiteral("+%1").arg(frame)
                       : QStringLiteral("0");
}

LadderView::LadderView(Document* document, FrameService* frames, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_flow(flow) {
    setObjectName("ladder");
    setAccessibleName(tr("Ladder: the frames around the cut"));
    connect(document, &Document::shownChanged, this, &LadderView::refresh);
    connect(document, &Document::selectionChanged, this, &LadderView::refresh);
    connect(document, &Document::playheadChanged, this, qOverload<>(&QWidget::update));
    // What is dragged shows its speeds here a little later: the Picture goes first.
    m_later.setSingleShot(true);
    m_later.setInterval(80);
    connect(&m_later, &QTimer::timeout, this, qOverload<>(&QWidget::update));
    const auto soon = [this] { m_document->isDragging() ? m_later.start() : update(); };
    connect(flow, &FlowWatch::changed, this, soon);
    connect(flow, &FlowWatch::trialChanged, this, soon);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (!slot.startsWith("ladder-")) return;
        const int i = slot.mid(7).toInt();
        if (i < 0 || i >= int(m_rungs.size())) return;
        m_rungs[std::size_t(i)].image = result.image;
        update(frameRect(i).toAlignedRect().adjusted(-2, -2, 2, 2));
    });
}

int LadderView::count() const {
    // As wide as the height asks for, but never so small that nothing is seen.
    const double wide = std::clamp((height() - 46) * m_document->project()->settings.size.aspect(), 80.0, 112.0);
    const double fit = (width() - 2 * margin - cutGap + gap) / (wide + gap);
    return 2 * std::clamp(int(std::lround(fit / 2)), 2, 15);
}

QRectF LadderView::frameRect(int i) const {
    const int n = count();
    const double wide = (width() - 2 * margin - (n - 2) * gap - cutGap) / n;
    const double aspect = m_document->project()->settings.size.aspect();
    const double w = std::max(16.0, std::min(wide, (height() - 46.0) * aspect));
    const double x = margin + i * (wide + gap) + (i >= n / 2 ? cutGap - gap : 0);
    return QRectF(x + (wide - w) / 2, 24, w, w / aspect);
}

QImage LadderView::image(int i) const {
    return i >= 0 && i < int(m_rungs.size()) ? m_rungs[std::size_t(i)].image : QImage();
}

void LadderView::refresh() {
    const auto project = m_document->shown();
    const int cut = m_document->cut(), n = count();
    for (int i = n; i < int(m_rungs.size()); ++i) m_frames->drop(QStringLiteral("ladder-%1").arg(i));
    m_rungs.resize(std::size_t(n));
    const SeenSpeeds speeds(
        *project, StackPlace(cut),
        m_document->judgedShots().get()); // what may take longer is the Flow check's, in the background
    for (int i = 0; i < n; ++i) {
        Rung& rung = m_rungs[std::size_t(i)];
        const auto at = cut >= 0 && cut < cutCount(*project) ? cutFrame(*project, cut) : 0;
        const auto frame = at + firstFrame() + i;
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
                           m_document->isDragging() ? quickQuality : exactQuality, Urgency::Soon});
    }
    if (!m_document->isDragging() || !m_later.isActive()) update();
    if (m_document->isDragging() && !m_later.isActive()) m_later.start();
}

const FrameFacts* LadderView::factsAt(int frame) const {
    const int cut = m_document->cut(), clip = cut + (frame >= 0);
    const ReelFlow* trial = m_flow->trial();
    const ClipFlow* flow = trial && clip < int(trial->clips.size()) ? trial->clips[std::size_t(std::max(0, clip))].get()
                                                                    : m_flow->clip(clip);
    if (!flow || cut < 0) return nullptr;
    const std::int64_t n = frame < 0 ? flow->facts.length() + frame : frame;
    return n >= 0 && n < flow->facts.length() ? &flow->facts.at(n) : nullptr;
}

void LadderView::resizeEvent(QResizeEvent*) {
    refresh();
}

int LadderView::rungAt(QPointF at) const {
    for (int i = 0; i < int(m_rungs.size()); ++i)
        if (m_rungs[std::size_t(i)].there && frameRect(i).adjusted(-3, -20, 3, 12).contains(at)) return i;
    return -1;
}

void LadderView::mousePressEvent(QMouseEvent* event) {
    const int cut = m_document->cut(), i = rungAt(event->position());
    if (cut >= 0 && i >= 0) m_document->setPlayhead(cutFrame(*m_document->project(), cut) + firstFrame() + i);
}

void LadderView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (m_document->cut() >= 0 && event->button() == Qt::LeftButton) emit sheetWanted();
}

bool LadderView::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    auto* help = static_cast<QHelpEvent*>(event);
    const int i = rungAt(help->pos());
    const FrameFacts* facts = i < 0 ? nullptr : factsAt(firstFrame() + i);
    QString text =
        tr("The frames on both sides of the cut, as exported. Click one to go to it; a double click enlarges "
           "them all.");
    if (facts)
        text = tr("Frame %1: seen speed %2 %, blur %3 % of the width, copies %4 %, bare %5 %")
                   .arg(frameName(firstFrame() + i))
                   .arg(facts->speed, 0, 'f', 1)
                   .arg(facts->blur, 0, 'f', 1)
                   .arg(100 * std::max(0.0, facts->uncovered - facts->bare), 0, 'f', 0)
                   .arg(100 * facts->bare, 0, 'f', 1);
    showTip(help->globalPos(), text, this);
    return true;
}

void LadderView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().panel);
    const auto project = m_document->shown();
    const int cut = m_document->cut(), n = int(m_rungs.size());
    if (cut < 0 || cut >= cutCount(*project)) {
        p.setPen(theme().dim);
        p.setFont(textFont(12));
        p.drawText(rect(), Qt::AlignCenter, tr("Two clips make a cut; its frames appear here"));
        return;
    }
    double fastest = 10; // bars are relative to the fastest of them, but slow moves do not look fast
    for (const Rung& rung : m_rungs)
        if (rung.there) fastest = std::max(fastest, rung.speed);
    for (int i = 0; i < n; ++i) {
        const Rung& rung = m_rungs[std::size_t(i)];
        if (!rung.there) continue;
        const int frame = firstFrame() + i;
        const QColor side = frame < 0 ? theme().outgoing : theme().incoming;
        const QRectF r = frameRect(i);
        p.setFont(numberFont(11));
        p.setPen(side);
        p.drawText(QRectF(r.left(), 5, r.width(), 16), Qt::AlignLeft | Qt::AlignVCenter, frameName(frame));
        p.setPen(theme().dim);
        p.drawText(QRectF(r.left(), 5, r.width(), 16), Qt::AlignRight | Qt::AlignVCenter,
                   QStringLiteral("%1%").arg(rung.speed, 0, 'f', rung.speed < 9.95 && rung.speed > 0.005 ? 1 : 0));
        p.fillRect(r, Qt::black);
        if (!rung.image.isNull()) p.drawImage(r, rung.image);
        const FrameFacts* facts = factsAt(frame);
        if (facts && facts->edges != EdgeFill::Empty && facts->uncovered - facts->bare > 0.005) {
            const QString text = tr("%1 % copies").arg(100 * (facts->uncovered - facts->bare), 0, 'f', 0);
            p.setFont(textFont(10));
            const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
            const QRectF chip(r.right() - w - 2, r.bottom() - 16, w, 14);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(10, 12, 14, 170));
            p.drawRoundedRect(chip, 2, 2);
            p.setPen(QColor(0xe4, 0xe6, 0xe8));
            p.drawText(chip, Qt::AlignCenter, text);
        }
        if (cutFrame(*project, cut) + frame == m_document->playhead()) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().strong, 1.5));
            p.drawRect(r.adjusted(-1, -1, 1, 1));
        }
        const QRectF bar(r.left(), r.bottom() + 4, r.width(), 4);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().chart);
        p.drawRoundedRect(bar, 1.5, 1.5);
        p.setBrush(side);
        const auto length = [&](double value) { return std::clamp(bar.width() * value / fastest, 2.0, bar.width()); };
        if (rung.speed > 0.005)
            p.drawRoundedRect(QRectF(bar.left(), bar.top(), length(rung.speed), bar.height()), 1.5, 1.5);
        if (facts && facts->blur > 0.005) {
            QColor faint = side;
            faint.setAlphaF(0.6f);
            p.setBrush(faint);
            p.drawRect(QRectF(bar.left(), bar.bottom() + 1.5, length(facts->blur), 1.5));
        }
    }
    const QRectF left = frameRect(n / 2 - 1), right = frameRect(n / 2);
    p.fillRect(QRectF((left.right() + right.left()) / 2 - 1, 6, 2, left.bottom() + 8 - 6), theme().strong);
    p.setPen(theme().dim);
    p.setFont(textFont(10));
    if (height() > left.bottom() + 26)
        p.drawText(QRectF(10, left.bottom() + 12, width() - 20, 14), Qt::AlignRight | Qt::AlignVCenter,
                   width() > 560 ? tr("bar: seen speed, beneath it blur, % of frame width · double-click enlarges")
                                 : tr("bar: seen speed, % of frame width per frame"));
}

} // namespace virga
