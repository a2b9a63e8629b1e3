#include "app/lanes/speed_lane.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/lanes/lane_picture.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/motion/stack_speed.h"
#include "core/plan/cut_match.h"

namespace virga {
namespace {

constexpr double ceiling = 12, below = 12; // room above and under the chart

std::vector<Side> sidesOf(StackPlace place) {
    if (place.kind == StackPlace::Drift) return {Side::Incoming};
    return {Side::Outgoing, Side::Incoming};
}

} // namespace

SpeedChart::SpeedChart(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setObjectName(QStringLiteral("speedChart"));
    setMinimumHeight(70);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Seen speed"));
    setTip(this, tr("Pull the line up or down: the moves follow"));
    connect(context, &LaneContext::changed, this, qOverload<>(&QWidget::update));
}

// What a frame shows counts: behind the last frame before a cut the line stays where that frame has it.
double SpeedChart::speedAt(const SeenSpeeds& speeds, Side side, double time) const {
    if (m_context->place().kind == StackPlace::Cut)
        time = side == Side::Outgoing ? std::min(time, -1.0) : std::max(time, 0.0);
    return speeds.at(side, time);
}

// Both sides share one scale, which is held during a drag.
void SpeedChart::sample() {
    const auto project = m_context->document()->project();
    const Stack* stack = m_context->stack();
    const StackPlace place = m_context->place();
    if (!stack) return;
    const bool dragging = m_context->document()->isDragging();
    if (project == m_sampledProject && m_context->shots() == m_sampledShots && dragging == m_sampledDragging &&
        place == m_sampledPlace && m_context->frames() == m_sampledFrames && width() == m_sampledWidth)
        return;
    m_sampledShots = m_context->shots();
    m_sampledDragging = dragging;
    m_sampledProject = project, m_sampledPlace = place, m_sampledFrames = m_context->frames(), m_sampledWidth = width();
    const SeenSpeeds speeds(*project, place, m_context->shots());
    double fastest = place.kind == StackPlace::Cut ? 5 : 0.5;
    const double cut = m_context->frames().xOf(0);
    for (auto& samples : m_sides) samples.clear();
    const auto in = sideSpan(*project, place, Side::Incoming);
    for (const Side side : sidesOf(place)) {
        auto& samples = m_sides[side == Side::Incoming];
        double from = 0, to = width();
        if (place.kind == StackPlace::Cut)
            (side == Side::Outgoing ? to : from) = cut;
        else // both act together; each is drawn over its half
            from = side == Side::Outgoing ? m_context->frames().xOf(in.to / 2) : m_context->frames().xOf(0),
            to = side == Side::Outgoing || place.kind == StackPlace::Drift ? m_context->frames().xOf(in.to)
                                                                           : m_context->frames().xOf(in.to / 2);
        from = std::max(from, 0.0), to = std::min(to, double(width()));
        if (to <= from) continue;
        const auto speed = [&](double x) { return speedAt(speeds, side, timeOn(side, x)); };
        // Where it is bent by more than half a pixel it is looked at more closely.
        const double enough = 0.5 * std::max(m_fastest, 1e-3) / std::max(1.0, height() - ceiling - below);
        const double closest = m_context->document()->isDragging() ? 12 : 3; // pixels
        const auto add = [&](const auto& self, const Sample& a, const Sample& b) -> void {
            const double x = (a.x + b.x) / 2;
            if (b.x - a.x > closest) {
                const Sample middle{x, speed(x)};
                if (b.x - a.x > 24 || std::abs(middle.speed - (a.speed + b.speed) / 2) > enough) {
                    self(self, a, middle);
                    return self(self, middle, b);
                }
            }
            samples.push_back(b);
            fastest = std::max(fastest, b.speed);
        };
        samples.push_back({from, speed(from)});
        fastest = std::max(fastest, samples.back().speed);
        for (double x = from; x < to; x += 32) {
            const Sample last = samples.back();
            add(add, last, {std::min(x + 32, to), speed(std::min(x + 32, to))});
        }
    }
    if (!m_context->document()->isDragging()) m_fastest = fastest;
}

double SpeedChart::yOf(double speed) const {
    const double floor = height() - below;
    return std::max(-50.0, floor - speed / m_fastest * (floor - ceiling));
}

QPointF SpeedChart::pointAt(Side side, double time) const {
    const SeenSpeeds speeds(*m_context->document()->project(), m_context->place(), m_context->shots());
    return {m_context->frames(side).xOf(time), yOf(speedAt(speeds, side, time))};
}

void SpeedChart::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().chart);
    p.fillRect(QRect(0, 0, width(), 1), theme().line);
    const Stack* stack = m_context->stack();
    if (!stack) return;
    sample();
    const FrameScale& frames = m_context->frames();
    const bool atCut = m_context->place().kind == StackPlace::Cut;
    paintFrameGrid(p, rect(), frames);
    p.setRenderHint(QPainter::Antialiasing);
    const double floor = height() - below, perPercent = (floor - ceiling) / m_fastest;
    double step = 1000;
    for (const double s : {0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0})
        if (s * perPercent >= 20) {
            step = s;
            break;
        }
    p.setFont(numberFont(10));
    for (double v = 0; v <= m_fastest * 1.001; v += step) {
        const double y = std::floor(floor - v * perPercent) + 0.5;
        p.setPen(QPen(v == 0 ? theme().line : theme().grid, 1));
        p.drawLine(QPointF(0, y), QPointF(width(), y));
        p.setPen(theme().dim);
        p.drawText(QRectF(5, y - 13, 60, 12), Qt::AlignLeft | Qt::AlignVCenter, QString::number(v));
    }
    for (const Side side : sidesOf(m_context->place())) {
        const auto& samples = m_sides[side == Side::Incoming];
        if (samples.empty()) continue;
        const QColor c = m_context->place().kind == StackPlace::Drift ? theme().text
                         : side == Side::Outgoing                     ? theme().outgoing
                                                                      : theme().incoming;
        QPolygonF line;
        for (const Sample& s : samples) line << QPointF(s.x, yOf(s.speed));
        QPolygonF fill = line;
        fill << QPointF(samples.back().x, floor) << QPointF(samples.front().x, floor);
        const bool hot = m_pressed ? m_pressed == side : m_hover == side;
        QColor faint = c;
        faint.setAlphaF(hot ? 0.34f : 0.24f);
        p.setPen(Qt::NoPen);
        p.setBrush(faint);
        p.drawPolygon(fill);
        p.setPen(QPen(c, hot ? 2.2 : 1.6));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(line);
        if (atCut && frames.xOf(1) - frames.xOf(0) >= 7) { // what each frame shows
            const SeenSpeeds speeds(*m_context->document()->project(), m_context->place(), m_context->shots());
            const SideSpan span = sideSpan(*m_context->document()->project(), m_context->place(), side);
            p.setPen(Qt::NoPen);
            p.setBrush(c);
            for (double n = std::max(span.from, std::floor(frames.frameAt(0))); n < span.to && frames.xOf(n) < width();
                 ++n)
                p.drawEllipse(QPointF(frames.xOf(n), yOf(speedAt(speeds, side, n))), 2.2, 2.2);
        }
    }
    if (atCut) paintCutLine(p, rect(), frames.xOf(0));
    paintPlayhead(p, rect(), frames.xOf(m_context->playhead()));
    if (atCut) {
        const SeenSpeeds speeds(*m_context->document()->project(), m_context->place(), m_context->shots());
        const double out = speedAt(speeds, Side::Outgoing, -1), in = speedAt(speeds, Side::Incoming, 0);
        const FlowLimits& limits = m_context->document()->project()->settings.flow;
        if (std::max(out, in) > limits.still &&
            std::max(out, in) > limits.step * std::min(out, in)) { // the step itself
            p.setPen(QPen(theme().breaks, 3, Qt::SolidLine, Qt::FlatCap));
            p.drawLine(QPointF(frames.xOf(0), yOf(out)), QPointF(frames.xOf(0), yOf(in)));
        }
    }
    const auto told = m_pressed ? m_pressed : m_hover;
    if (told) {
        const double time = m_pressed ? m_pressTime : timeOn(*told, m_hoverX);
        const QPointF at = pointAt(*told, time);
        const double speed =
            speedAt(SeenSpeeds(*m_context->document()->project(), m_context->place(), m_context->shots()), *told, time);
        const QString text = tr("%1 % a frame").arg(speed, 0, 'f', speed < 10 ? 1 : 0);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
        QRectF chip(at.x() + 8, at.y() - 18, w, 15);
        if (chip.right() > width() - 4) chip.moveRight(at.x() - 8);
        chip.moveTop(std::clamp(chip.top(), 2.0, height() - 18.0));
        QColor back = theme().chart;
        back.setAlphaF(0.86f);
        p.setPen(Qt::NoPen);
        p.setBrush(back);
        p.drawRoundedRect(chip, 2, 2);
        p.setPen(theme().text);
        p.drawText(chip, Qt::AlignCenter, text);
    }
    if (hasFocus()) p.fillRect(QRectF(0, 0, 2, height()), theme().dim);
}

std::optional<Side> SpeedChart::sideUnder(QPointF at) const {
    const double still = m_context->document()->project()->settings.flow.still;
    for (const Side side : sidesOf(m_context->place())) {
        const auto& samples = m_sides[side == Side::Incoming];
        for (std::size_t i = 0; i + 1 < samples.size(); ++i) {
            if (at.x() < samples[i].x || at.x() > samples[i + 1].x) continue;
            const double low = std::min(yOf(samples[i].speed), yOf(samples[i + 1].speed)),
                         high = std::max(yOf(samples[i].speed), yOf(samples[i + 1].speed));
            // What stands still cannot be pulled: nothing tells which way it should go.
            if (at.y() >= low - 6 && at.y() <= high + 6 && std::max(samples[i].speed, samples[i + 1].speed) > still)
                return side;
        }
    }
    return std::nullopt;
}

Project SpeedChart::pulled(const Project& before, Side side, double time, double speed, bool free) const {
    const StackPlace place = m_context->place();
    const Stack* stack = stackAt(before, place);
    if (!stack) return before;
    if (!free && place.kind == StackPlace::Cut && std::abs(time) < 0.5) { // to the other side's speed
        const double other = speedAt(SeenSpeeds(before, place, m_context->shots()),
                                     side == Side::Outgoing ? Side::Incoming : Side::Outgoing, 0);
        if (std::abs(yOf(other) - yOf(speed)) < 4) speed = other, time = 0;
    }
    const Kept kept = side == Side::Outgoing || place.kind == StackPlace::Drift ? Kept::First : Kept::Last;
    const auto measured = [&](const Stack& shaped) {
        const Project with = withStack(before, place, shaped);
        return speedAt(SeenSpeeds(with, place, m_context->shots()), side, time);
    };
    return withStack(before, place, withScreenSpeedPulled(*stack, side, time, std::max(0.0, speed), kept, measured));
}

void SpeedChart::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !m_context->stack()) return;
    sample();
    m_pressed = sideUnder(event->position());
    m_pressAt = event->position();
    m_moved = false;
    if (m_pressed) m_pressTime = timeOn(*m_pressed, m_pressAt.x());
    update();
}

void SpeedChart::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    if (!m_pressed) {
        m_hover = sideUnder(at);
        m_hoverX = at.x();
        setCursor(m_hover ? Qt::SizeVerCursor : Qt::ArrowCursor);
        update();
        return;
    }
    if (!m_moved && std::abs(at.y() - m_pressAt.y()) < 3) return;
    m_moved = true;
    Document* document = m_context->document();
    const Project& before = *document->dragOrigin();
    const double floor = height() - below, perPercent = (floor - ceiling) / m_fastest;
    const double speed = speedAt(SeenSpeeds(before, m_context->place()), *m_pressed, m_pressTime) -
                         (at.y() - m_pressAt.y()) / perPercent;
    document->drag(pulled(before, *m_pressed, m_pressTime, speed, event->modifiers() & Qt::ShiftModifier));
}

void SpeedChart::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !m_pressed) return;
    m_pressed.reset();
    m_context->document()->endDrag(tr("pull speed"));
    m_sampledWidth = 0; // the scale may fit itself again
    update();
}

void SpeedChart::wheelEvent(QWheelEvent* event) {
    if (!(event->modifiers() & Qt::ControlModifier)) return event->ignore();
    m_context->setFrames(m_context->frames().zoomed(std::pow(1.0015, event->angleDelta().y()), event->position().x()));
    event->accept();
}

void SpeedChart::leaveEvent(QEvent*) {
    m_hover.reset();
    update();
}

bool SpeedChart::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_PageUp || key == Qt::Key_PageDown || (key == Qt::Key_Escape && m_pressed)) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void SpeedChart::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && m_pressed) {
        m_pressed.reset();
        m_context->document()->cancelDrag();
        return update();
    }
    const bool up = event->key() == Qt::Key_PageUp;
    if ((!up && event->key() != Qt::Key_PageDown) || !m_context->stack()) return QWidget::keyPressEvent(event);
    // Five per cent faster or slower at the playhead.
    const Project& before = *m_context->document()->project();
    const double frame = m_context->playhead();
    const StackPlace place = m_context->place();
    const Side side = m_context->sideAt(frame);
    const double time = frame - sideOrigin(before, place, side),
                 speed = speedAt(SeenSpeeds(before, place, m_context->shots()), side, time);
    pullSpeed(*m_context->document(), pulled(before, side, time, speed * (up ? 1.05 : 1 / 1.05), true), frame);
}

SpeedHeader::SpeedHeader(LaneContext* context, QWidget* parent) : QWidget(parent), m_context(context) {
    setFixedWidth(laneHeaderWidth);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 10, 6);
    column->setSpacing(2);
    column->addWidget(label(tr("Seen speed"), "title", this));
    column->addWidget(label(tr("fastest point, % of frame width per frame"), "caption", this));
    column->addStretch(1);
    auto* row = new QHBoxLayout;
    m_step = label({}, "caption", this);
    row->addWidget(m_step);
    row->addStretch(1);
    m_match = new QPushButton(tr("match all"), this);
    m_match->setFixedHeight(22);
    setTip(m_match, tr("Make speed and direction of the whole picture carry on through the cut"));
    connect(m_match, &QPushButton::clicked, this, [this] {
        const QString why = matchAll(*m_context->document(), m_context->place().index);
        if (!why.isEmpty()) emit m_context->problem(why);
    });
    row->addWidget(m_match);
    column->addLayout(row);
    connect(context, &LaneContext::changed, this, &SpeedHeader::refresh);
    refresh();
}

void SpeedHeader::refresh() {
    const Stack* stack = m_context->stack();
    const auto project = m_context->document()->project();
    const bool atCut = m_context->place().kind == StackPlace::Cut, any = atCut && stack && !stack->empty();
    m_match->setEnabled(any);
    m_match->setVisible(atCut);
    QString text;
    QColor colour = theme().dim;
    if (any) {
        // As the check judges it: by the piece's limits, with what the shots do where they count.
        const FlowLimits& limits = project->settings.flow;
        const CutVelocities speeds =
            velocitiesAtCut(*project, reelIndex(*project), m_context->place().index, m_context->shots());
        const double out = speeds.speedOut, in = speeds.speedIn, fast = std::max(out, in), slow = std::min(out, in);
        if (fast < limits.still)
            text = tr("nothing moves at the cut");
        else if (slow < limits.still)
            text = out > in ? tr("stops at the cut") : tr("starts at the cut"), colour = theme().breaks;
        else if (fast > limits.step * slow)
            text = out > in ? tr("step at the cut %1 : 1").arg(out / in, 0, 'f', 1)
                            : tr("step at the cut 1 : %1").arg(in / out, 0, 'f', 1),
            colour = theme().breaks;
        else if (speeds.difference > limits.turn * fast)
            text = tr("other direction after it"), colour = theme().breaks;
        else
            text = tr("steady at the cut"), colour = theme().fine;
    }
    const QString sheet = QStringLiteral("color: %1; font-size: 11px;").arg(colour.name());
    if (m_step->styleSheet() != sheet) m_step->setStyleSheet(sheet);
    m_step->setText(text);
}

void SpeedHeader::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRect(0, 0, width(), 1), theme().line);
    p.fillRect(QRectF(width() - 1, 0, 1, height()), theme().line);
}

} // namespace virga
