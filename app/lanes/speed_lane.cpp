#include "app/lanes/speed_lane.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/lanes/lane_chart.h"
#include "app/style/controls.h"
#include "app/style/theme.h"
#include "core/motion/stack_map.h"

namespace virga {

SpeedChart::SpeedChart(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setMinimumHeight(70);
    setAccessibleName(tr("On-screen speed"));
    connect(context, &LaneContext::changed, this, qOverload<>(&QWidget::update));
}

void SpeedChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().chart);
    const int cut = m_context->document()->cut();
    if (cut < 0) return;
    const auto project = m_context->document()->project();
    const FrameScale& frames = m_context->frames();
    paintFrameGrid(p, rect(), frames);
    const Stack& moves = transitionAt(*project, cut).moves;
    const Size size = project->settings.size;
    // One sample for every two pixels on each side; both sides share one scale.
    struct Sample {
        double x, speed;
    };
    std::vector<Sample> sides[2];
    double fastest = 5;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        auto& samples = sides[side == Side::Incoming];
        const double from = side == Side::Outgoing ? 0 : frames.xOf(0),
                     to = side == Side::Outgoing ? frames.xOf(0) : width();
        for (double x = from; x < to + 2; x += 2) {
            const double at = std::min(x, to);
            samples.push_back({at, instantSpeed(moves, side, frames.frameAt(at), size)});
            fastest = std::max(fastest, samples.back().speed);
        }
    }
    const double floor = height() - 12.0, ceiling = 12, perPercent = (floor - ceiling) / fastest;
    double step = 5;
    for (const double s : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0}) {
        step = s;
        if (s * perPercent >= 20) break;
    }
    p.setFont(numberFont(10));
    for (double v = 0; v <= fastest * 1.001; v += step) {
        const double y = std::floor(floor - v * perPercent) + 0.5;
        p.setPen(QPen(v == 0 ? theme().line : theme().grid, 1));
        p.drawLine(QPointF(0, y), QPointF(width(), y));
        p.setPen(theme().dim);
        p.drawText(QRectF(5, y - 13, 60, 12), Qt::AlignLeft | Qt::AlignVCenter, QString::number(v));
    }
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const auto& samples = sides[side == Side::Incoming];
        if (samples.empty()) continue;
        QColor c = side == Side::Outgoing ? theme().outgoing : theme().incoming;
        QPainterPath line(QPointF(samples.front().x, floor - samples.front().speed * perPercent));
        for (const Sample& s : samples) line.lineTo(s.x, floor - s.speed * perPercent);
        QPainterPath fill = line;
        fill.lineTo(samples.back().x, floor);
        fill.lineTo(samples.front().x, floor);
        QColor faint = c;
        faint.setAlphaF(0.24f);
        p.fillPath(fill, faint);
        p.setPen(QPen(c, 1.6));
        p.setBrush(Qt::NoBrush);
        p.drawPath(line);
    }
    paintCutAndPlayhead(p, rect(), *m_context);
    const double out = instantSpeed(moves, Side::Outgoing, 0, size), in = instantSpeed(moves, Side::Incoming, 0, size);
    if (std::max(out, in) > 0.02 && std::max(out, in) > 1.15 * std::min(out, in)) { // the step itself
        p.setPen(QPen(theme().breaks, 3, Qt::SolidLine, Qt::FlatCap));
        p.drawLine(QPointF(frames.xOf(0), floor - out * perPercent), QPointF(frames.xOf(0), floor - in * perPercent));
    }
}

SpeedHeader::SpeedHeader(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setFixedWidth(laneHeaderWidth);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 10, 6);
    column->setSpacing(2);
    column->addWidget(label(tr("On-screen speed"), "title", this));
    column->addWidget(label(tr("fastest point, % of frame width per frame"), "caption", this));
    column->addStretch(1);
    auto* row = new QHBoxLayout;
    m_step = label({}, "caption", this);
    row->addWidget(m_step);
    row->addStretch(1);
    m_match = new QPushButton(tr("match all"), this);
    m_match->setFixedHeight(22);
    m_match->setToolTip(tr("Give every channel's incoming side the speed of its outgoing side"));
    connect(m_match, &QPushButton::clicked, this, [this] {
        const QString why = matchAll(*m_context->document(), m_context->document()->cut());
        if (!why.isEmpty()) emit m_context->problem(why);
    });
    row->addWidget(m_match);
    column->addLayout(row);
    connect(context, &LaneContext::changed, this, &SpeedHeader::refresh);
    refresh();
}

void SpeedHeader::refresh() {
    const int cut = m_context->document()->cut();
    const auto project = m_context->document()->project();
    const bool any = cut >= 0 && !transitionAt(*project, cut).moves.empty();
    m_match->setEnabled(any);
    QString text;
    const char* role = "caption";
    if (any) {
        const Stack& moves = transitionAt(*project, cut).moves;
        const double out = instantSpeed(moves, Side::Outgoing, 0, project->settings.size),
                     in = instantSpeed(moves, Side::Incoming, 0, project->settings.size);
        if (std::max(out, in) < 0.02)
            text = tr("nothing moves at the cut");
        else if (std::max(out, in) <= 1.15 * std::min(out, in))
            text = tr("steady at the cut"), role = "fine";
        else if (std::min(out, in) < 0.02)
            text = out > in ? tr("stops at the cut") : tr("starts at the cut"), role = "breaks";
        else
            text = out > in ? tr("step at the cut %1 : 1").arg(out / in, 0, 'f', 1)
                            : tr("step at the cut 1 : %1").arg(in / out, 0, 'f', 1),
            role = "breaks";
    }
    m_step->setObjectName(role);
    m_step->setStyleSheet(QStringLiteral("color: %1; font-size: 11px;")
                              .arg((role == std::string_view("fine")     ? theme().fine
                                    : role == std::string_view("breaks") ? theme().breaks
                                                                         : theme().dim)
                                       .name()));
    m_step->setText(text);
}

void SpeedHeader::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRectF(width() - 1, 0, 1, height()), theme().line);
}

} // namespace virga
