#include "app/lanes/lane_chart.h"

#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "core/curve/curve_edit.h"

namespace virga {

LaneChart::LaneChart(LaneContext* context, FrameService* frames, int move, int channel, QWidget* parent)
    : QWidget(parent), m_context(context), m_frames(frames), m_move(move), m_channel(channel) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(context, &LaneContext::changed, this, &LaneChart::refresh);
    setObjectName(QStringLiteral("lane-%1-%2").arg(move).arg(channel));
    if (isThere())
        setAccessibleName(tr("Lane %1").arg(QString::fromUtf8(info().label.data(), int(info().label.size()))));
    refresh();
}

bool LaneChart::isThere() const {
    const auto project = m_context->document()->project();
    return hasCurve(*project, address(Side::Incoming)) || hasCurve(*project, address(Side::Outgoing));
}
const Move& LaneChart::moveShown() const {
    return *m_context->moveAt(m_move);
}
const Channel& LaneChart::channel() const {
    return moveShown().channels[std::size_t(m_channel)];
}
const ChannelInfo& LaneChart::info() const {
    return moveInfo(moveShown().kind).channels[std::size_t(m_channel)];
}

SideKeys LaneChart::selected() const {
    SideKeys keys;
    for (const Side side : {Side::Outgoing, Side::Incoming}) keys.of(side) = m_context->selectedIn(address(side));
    return keys;
}

double LaneChart::timeOn(Side side, double frame) const {
    return frame - sideOrigin(*m_context->document()->project(), m_context->place(), side);
}

void LaneChart::resizeEvent(QResizeEvent*) {
    refresh();
}

void LaneChart::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    refresh();
}

void LaneChart::focusOutEvent(QFocusEvent* event) {
    QWidget::focusOutEvent(event);
    m_handle.reset();
    refresh();
}

QPointF LaneChart::keyPoint(Side side, int key) const {
    const Key& k = channel().side(side).keys[std::size_t(key)];
    return {m_axes.of(side).xOf(k.time), m_axes.values.yOf(k.value)};
}

std::optional<QPointF> LaneChart::handlePoint(Side side, int key, bool leave) const {
    const Curve& curve = channel().side(side);
    const auto at = leave ? leaveHandleAt(curve, key, m_axes.of(side), m_axes.values)
                          : arriveHandleAt(curve, key, m_axes.of(side), m_axes.values);
    if (!at) return std::nullopt;
    return QPointF(at->x, at->y);
}

QPointF LaneChart::speedPoint(Side side, double time) const {
    const Curve& curve = channel().side(side);
    const double speed = side == Side::Outgoing ? speedBefore(curve, time) : speedAfter(curve, time);
    return {m_axes.of(side).xOf(time), m_axes.speeds.yOf(speed)};
}

KeySet LaneChart::keysIn(const QRect& global) const {
    KeySet keys;
    if (!isThere() || !isVisible()) return keys;
    const QRectF box(mapFromGlobal(global.topLeft()), QSizeF(global.size()));
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const bool folded = m_context->look(m_move, m_channel).folded;
        ValueScale values = m_axes.values;
        if (folded) { // all in one row
            if (box.top() > height() / 2.0 || box.bottom() < height() / 2.0) continue;
            for (const int i :
                 keysInBox(channel().side(side), m_axes.of(side), values, box.left(), -1e9, box.right(), 1e9))
                keys.push_back({address(side), i});
            continue;
        }
        for (const int i :
             keysInBox(channel().side(side), m_axes.of(side), values, box.left(), box.top(), box.right(), box.bottom()))
            keys.push_back({address(side), i});
    }
    return keys;
}

LaneHit LaneChart::hitAt(QPointF at) const {
    if (!isThere()) return {};
    if (!m_context->look(m_move, m_channel).folded)
        return hitLane(channel(), m_axes, at.x(), at.y(), selected(), isDrift());
    for (const Side side : {Side::Incoming, Side::Outgoing})
        for (int i = 0; i < int(channel().side(side).keys.size()); ++i)
            if (std::abs(m_axes.of(side).xOf(channel().side(side).keys[std::size_t(i)].time) - at.x()) <= 6)
                return {LaneHit::OnKey, side, i};
    return {};
}

void LaneChart::pressKey(const LaneHit& hit, Qt::KeyboardModifiers modifiers) {
    const KeyAddress key{address(hit.side), hit.key};
    m_pressWasSelected = m_context->isSelected(key);
    if (modifiers & Qt::ControlModifier) {
        if (!m_pressWasSelected) m_context->toggle(key);
    } else if (modifiers & Qt::ShiftModifier && !m_pressWasSelected && m_context->active() &&
               m_context->active()->curve == key.curve) {
        // From the active key to this one.
        KeySet keys;
        const int from = m_context->active()->key, step = from < key.key ? 1 : -1;
        for (int i = from; i != key.key; i += step) keys.push_back({key.curve, i});
        keys.push_back(key);
        m_context->select(keys);
    } else if (!m_pressWasSelected) {
        m_context->select({key});
    }
    m_drag = Drag::Keys;
}

void LaneChart::mousePressEvent(QMouseEvent* event) {
    if (!isThere() || m_drag != Drag::None) return;
    m_pressAt = event->position();
    m_pressModifiers = event->modifiers();
    m_pressFrames = m_context->frames();
    m_moved = false;
    m_handle.reset();
    if (event->button() == Qt::MiddleButton) {
        m_drag = Drag::Pan;
        setCursor(Qt::ClosedHandCursor);
        return;
    }
    if (event->button() != Qt::LeftButton) return;
    m_pressed = hitAt(m_pressAt);
    m_context->setCurrent(address(m_pressed.what == LaneHit::Nowhere
                                      ? m_context->sideAt(m_context->frames().frameAt(m_pressAt.x()))
                                      : m_pressed.side));
    const bool holds = m_pressed.what == LaneHit::OnCurve && m_pressed.key < 0;
    switch (m_pressed.what) {
    case LaneHit::OnKey:
        pressKey(m_pressed, event->modifiers());
        break;
    case LaneHit::OnLeave:
    case LaneHit::OnArrive:
        m_drag = Drag::BendHandle;
        break;
    case LaneHit::OnSpeed:
        m_pressTime = m_axes.of(m_pressed.side).frameAt(m_pressAt.x());
        m_hoverFrame = m_context->frames().frameAt(m_pressAt.x());
        m_drag = Drag::PullSpeed;
        break;
    case LaneHit::OnCurve:
    case LaneHit::Nowhere:
        if (!holds && m_pressed.what == LaneHit::OnCurve) { // a segment is its two keys
            const CurveAddress at = address(m_pressed.side);
            const KeySet ends{{at, m_pressed.key}, {at, m_pressed.key + 1}};
            if (event->modifiers() & Qt::ControlModifier) {
                KeySet keys = m_context->selected();
                for (const KeyAddress& k : ends)
                    if (!m_context->isSelected(k)) keys.push_back(k);
                m_context->select(keys);
            } else if (!m_context->isSelected(ends[0]) || !m_context->isSelected(ends[1])) {
                m_context->select(ends);
            }
            m_pressWasSelected = false;
            m_drag = Drag::Keys;
            break;
        }
        m_boxBefore = event->modifiers() & Qt::ControlModifier ? m_context->selected() : KeySet{};
        m_context->select(m_boxBefore);
        m_drag = Drag::Box;
        break;
    }
    refresh();
}

void LaneChart::dragTo(QPointF at, Qt::KeyboardModifiers modifiers) {
    Document* document = m_context->document();
    const Project& before = *document->dragOrigin();
    const DragManner manner{bool(modifiers & Qt::ShiftModifier), bool(modifiers & Qt::ControlModifier)};
    const Side side = m_pressed.side;
    const auto laneBefore = [&] { return channelAt(before, address(side)); };
    switch (m_drag) {
    case Drag::Keys: {
        const int key = std::max(0, m_pressed.key);
        const bool folded = m_context->look(m_move, m_channel).folded;
        auto result = dragKeys(before, {{address(side), key}, m_context->selected()}, at.x() - m_pressAt.x(),
                               folded ? 0 : at.y() - m_pressAt.y(), m_context->frames(), m_axes.values,
                               m_context->playhead(), manner);
        m_context->setGuide(result.guide);
        document->drag(std::move(result.project));
        break;
    }
    case Drag::BendHandle:
        document->drag(withCurve(before, address(side),
                                 dragHandle(laneBefore(), side, {m_pressed.key, m_pressed.what == LaneHit::OnLeave},
                                            at.x(), at.y(), m_axes.of(side), m_axes.values, isJoint(), manner)));
        break;
    case Drag::PullSpeed: {
        // The line was grasped a little above or below itself.
        const Curve curve = laneBefore().side(side);
        const double speed = side == Side::Outgoing ? speedBefore(curve, m_pressTime) : speedAfter(curve, m_pressTime);
        const double y = m_axes.speeds.yOf(speed) + at.y() - m_pressAt.y();
        const Kept kept = side == Side::Outgoing || isDrift() ? Kept::First : Kept::Last;
        document->drag(
            withCurve(before, address(side),
                      dragSpeed(laneBefore(), side, m_pressTime, y, m_axes.speeds, info(), kept, isJoint(), manner)));
        break;
    }
    case Drag::Box:
        m_context->setBox(QRect(mapToGlobal(m_pressAt.toPoint()), mapToGlobal(at.toPoint())).normalized());
        m_context->select(m_boxBefore);
        emit m_context->boxDragged(m_context->box());
        break;
    case Drag::Pan: {
        FrameScale frames = m_pressFrames;
        frames.zeroX += at.x() - m_pressAt.x();
        m_context->setFrames(frames);
        break;
    }
    case Drag::None:
        break;
    }
}

void LaneChart::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    if (m_drag != Drag::None) {
        if (!m_moved && (at - m_pressAt).manhattanLength() < 3) return;
        m_moved = true;
        dragTo(at, event->modifiers());
        refresh();
        return;
    }
    m_hover = hitAt(at);
    m_hoverFrame = m_context->frames().frameAt(at.x());
    const bool grasps =
        m_hover.what == LaneHit::OnKey || m_hover.what == LaneHit::OnLeave || m_hover.what == LaneHit::OnArrive;
    setCursor(grasps ? Qt::PointingHandCursor : m_hover.what == LaneHit::OnSpeed ? Qt::SizeVerCursor : Qt::ArrowCursor);
    refresh();
}

void LaneChart::finishDrag() {
    const Drag drag = std::exchange(m_drag, Drag::None);
    Document* document = m_context->document();
    m_context->setGuide({});
    switch (drag) {
    case Drag::Keys:
        if (!m_moved && m_pressed.what == LaneHit::OnKey) { // a click
            const KeyAddress key{address(m_pressed.side), m_pressed.key};
            if (m_pressModifiers & Qt::ControlModifier) {
                if (m_pressWasSelected) m_context->toggle(key);
            } else if (!(m_pressModifiers & Qt::ShiftModifier)) {
                m_context->select({key});
            }
        }
        document->endDrag(m_context->selected().size() > 1 ? tr("move keys") : tr("move key"));
        break;
    case Drag::BendHandle:
        document->endDrag(tr("bend curve"));
        break;
    case Drag::PullSpeed:
        document->endDrag(tr("pull speed"));
        break;
    case Drag::Box:
        m_context->setBox({});
        break;
    case Drag::Pan:
        unsetCursor();
        break;
    case Drag::None:
        break;
    }
    m_moved = false;
    m_pressed = {};
    refresh();
}

void LaneChart::mouseReleaseEvent(QMouseEvent* event) {
    if (m_drag == Drag::None || event->button() != (m_drag == Drag::Pan ? Qt::MiddleButton : Qt::LeftButton)) return;
    finishDrag();
}

void LaneChart::abandonDrag() {
    if (m_drag == Drag::Box) m_context->select(m_boxBefore);
    m_drag = Drag::None;
    m_moved = false;
    m_pressed = {};
    m_context->setBox({});
    m_context->setGuide({});
    m_context->document()->cancelDrag();
    refresh();
}

void LaneChart::addKey(Side side, double time, std::optional<double> value) {
    if (!isThere() || !hasSide(address(side)) || !hasCurve(*m_context->document()->project(), address(side))) return;
    const Curve curve = channel().side(side);
    int added = -1;
    Curve next = withKeyAdded(curve, time, info().neutral, &added);
    if (next == curve) { // there is one already
        m_context->select({{address(side), added}});
        return;
    }
    if (value) { // on empty ground the key goes where the pointer is
        const double grain = std::pow(10.0, -info().decimals);
        next = withKeyMoved(next, added, time,
                            std::clamp(std::round(*value / grain) * grain, info().lowest, info().highest));
    }
    setCurve(*m_context->document(), address(side), next, tr("add key"));
    m_context->select({{address(side), added}});
}

void LaneChart::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !isThere()) return;
    abandonDrag();
    const QPointF at = event->position();
    const LaneHit hit = hitAt(at);
    const double frame = std::round(m_context->frames().frameAt(at.x()));
    if (hit.what == LaneHit::OnKey)
        editKey({address(hit.side), hit.key});
    else if (hit.what == LaneHit::OnCurve)
        addKey(hit.side, timeOn(hit.side, frame), std::nullopt);
    else if (hit.what == LaneHit::Nowhere || hit.what == LaneHit::OnSpeed) {
        const Side side = m_context->sideAt(frame);
        addKey(side, timeOn(side, frame), m_axes.values.valueAt(at.y()));
    }
}

void LaneChart::zoomValues(double factor, double about) {
    LaneLook look = m_context->look(m_move, m_channel);
    look.held = ValueRange{about + (m_axes.values.low - about) / factor, about + (m_axes.values.high - about) / factor};
    if (look.held->high - look.held->low > 1e-4 && look.held->high - look.held->low < 1e5)
        m_context->setLook(m_move, m_channel, look);
}

void LaneChart::wheelEvent(QWheelEvent* event) {
    const QPoint by = event->angleDelta();
    const int turned = std::abs(by.y()) > std::abs(by.x()) ? by.y() : by.x();
    if (event->modifiers() & Qt::AltModifier) { // the values, about the one under the pointer; they are then held
        zoomValues(std::pow(1.0015, turned), m_axes.values.spaceAt(event->position().y()));
    } else if (event->modifiers() & Qt::ControlModifier) {
        m_context->setFrames(m_context->frames().zoomed(std::pow(1.0015, turned), event->position().x()));
    } else if (std::abs(by.x()) > std::abs(by.y()) || event->modifiers() & Qt::ShiftModifier) {
        FrameScale frames = m_context->frames();
        frames.zeroX += turned * 0.5;
        m_context->setFrames(frames);
    } else {
        event->ignore(); // the list of lanes scrolls, or the view pans
        return;
    }
    event->accept();
}

void LaneChart::leaveEvent(QEvent*) {
    m_hover = {};
    refresh();
}

} // namespace virga
