#include "app/lanes/lane_chart.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/lanes/key_editor.h"
#include "app/lanes/shape_menu.h"
#include "core/curve/curve_edit.h"

namespace virga {

LaneChart::LaneChart(LaneContext* context, int move, int channel, QWidget* parent)
    : QWidget(parent), m_context(context), m_move(move), m_channel(channel) {
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumHeight(60);
    connect(context, &LaneContext::changed, this, [this] {
        refit();
        update();
    });
    refit();
    setObjectName(QStringLiteral("lane-%1-%2").arg(move).arg(channel));
    if (isThere())
        setAccessibleName(tr("Lane %1").arg(QString::fromUtf8(info().label.data(), int(info().label.size()))));
}

bool LaneChart::isThere() const {
    return hasCurve(*m_context->document()->project(), address(Side::Outgoing));
}
const Move& LaneChart::move() const {
    return transitionAt(*m_context->document()->project(), m_context->document()->cut()).moves[std::size_t(m_move)];
}
const Channel& LaneChart::channel() const {
    return move().channels[std::size_t(m_channel)];
}
const ChannelInfo& LaneChart::info() const {
    return moveInfo(move().kind).channels[std::size_t(m_channel)];
}

std::optional<SelectedKey> LaneChart::selected() const {
    const auto& s = m_context->selectedKey();
    if (!s || s->curve.place != StackPlace(m_context->document()->cut()) || s->curve.move != m_move ||
        s->curve.channel != m_channel)
        return std::nullopt;
    return SelectedKey{s->curve.side, s->key};
}

void LaneChart::refit() {
    // The scale is held while something is dragged, so that nothing slides away from under the pointer.
    if (m_dragging || !isThere()) return;
    m_values = ValueScale::fitting(channel(), info(), spaceOf(move(), m_channel), 20, height() - 10);
}

void LaneChart::resizeEvent(QResizeEvent*) {
    refit();
}

QPointF LaneChart::keyPoint(Side side, int key) const {
    const Key& k = channel().side(side).keys[std::size_t(key)];
    return {m_context->frames().xOf(k.time), m_values.yOf(k.value)};
}

std::optional<QPointF> LaneChart::handlePoint(Side side, int key, bool leave) const {
    const Curve& curve = channel().side(side);
    const auto at = leave ? leaveHandleAt(curve, key, m_context->frames(), m_values)
                          : arriveHandleAt(curve, key, m_context->frames(), m_values);
    if (!at) return std::nullopt;
    return QPointF(at->x, at->y);
}

LaneHit LaneChart::hitAt(QPointF at) const {
    return isThere() ? hitLane(channel(), m_context->frames(), m_values, at.x(), at.y(), selected()) : LaneHit{};
}

void LaneChart::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !isThere()) return;
    m_pressAt = event->position();
    m_pressed = hitAt(m_pressAt);
    if (m_pressed.what == LaneHit::Nowhere || m_pressed.what == LaneHit::OnCurve) {
        m_context->selectKey(std::nullopt);
        return;
    }
    if (m_pressed.what == LaneHit::OnKey)
        m_context->selectKey(LaneContext::KeyAddress{address(m_pressed.side), m_pressed.key});
    m_before = channel().side(m_pressed.side);
    m_dragging = true;
}

void LaneChart::dragKey(QPointF at, Qt::KeyboardModifiers modifiers) {
    const FrameScale& frames = m_context->frames();
    const Key& from = m_before.keys[std::size_t(m_pressed.key)];
    const bool free = modifiers & Qt::ShiftModifier;
    double time = from.time + (at.x() - m_pressAt.x()) / frames.pixelsPerFrame;
    double y = m_values.yOf(from.value) + (at.y() - m_pressAt.y());
    if (modifiers & Qt::ControlModifier) { // one axis only: the one that has moved farther
        if (std::abs(at.x() - m_pressAt.x()) > std::abs(at.y() - m_pressAt.y()))
            y = m_values.yOf(from.value);
        else
            time = from.time;
    }
    double value = std::abs(at.y() - m_pressAt.y()) < 0.5 ? from.value : m_values.valueAt(y);
    if (!free) {
        time = std::round(time);
        // To rest, to where it was, and to the other side's value at the cut, within four pixels.
        const Curve& other = channel().side(m_pressed.side == Side::Outgoing ? Side::Incoming : Side::Outgoing);
        double snaps[3] = {info().neutral, from.value, other.isEmpty() ? info().neutral : evaluate(other, 0)};
        for (const double snap : snaps)
            if (std::abs(m_values.yOf(snap) - y) < 4) {
                value = snap;
                break;
            }
        const double grain = std::pow(10.0, -info().decimals);
        value = std::round(value / grain) * grain;
        // Keys stay a frame apart.
        if (m_pressed.key > 0) time = std::max(time, m_before.keys[std::size_t(m_pressed.key) - 1].time + 1);
        if (m_pressed.key + 1 < int(m_before.keys.size()))
            time = std::min(time, m_before.keys[std::size_t(m_pressed.key) + 1].time - 1);
    }
    value = std::clamp(value, info().lowest, info().highest);
    m_context->document()->drag(withCurve(*m_context->document()->dragOrigin(), address(m_pressed.side),
                                          withKeyMoved(m_before, m_pressed.key, time, value)));
}

void LaneChart::dragHandle(QPointF at, Qt::KeyboardModifiers) {
    const bool leave = m_pressed.what == LaneHit::OnLeave;
    const int key = m_pressed.key;
    const Key& k = m_before.keys[std::size_t(key)];
    const Key& other = m_before.keys[std::size_t(leave ? key + 1 : key - 1)];
    const double duration = std::abs(other.time - k.time);
    const double time = m_context->frames().frameAt(at.x()), level = m_values.spaceAt(at.y()),
                 here = toSpace(k.value, m_before.space);
    Handle handle;
    handle.reach = std::clamp((leave ? time - k.time : k.time - time) / duration, 0.0, 1.0);
    handle.rise = leave ? level - here : here - level;
    if (std::abs(m_values.yOfSpace(level) - m_values.yOfSpace(here)) < 4) handle.rise = 0; // flat
    const Curve next = leave ? withLeaveHandle(m_before, key, handle) : withArriveHandle(m_before, key, handle);
    m_context->document()->drag(withCurve(*m_context->document()->dragOrigin(), address(m_pressed.side), next));
}

void LaneChart::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    if (!m_dragging) {
        const LaneHit hit = hitAt(at);
        if (!(hit == m_hover)) {
            m_hover = hit;
            setCursor(hit.what == LaneHit::OnKey || hit.what == LaneHit::OnLeave || hit.what == LaneHit::OnArrive
                          ? Qt::PointingHandCursor
                          : Qt::ArrowCursor);
            update();
        }
        return;
    }
    if (!m_context->document()->isDragging() && (at - m_pressAt).manhattanLength() < 3) return;
    if (m_pressed.what == LaneHit::OnKey)
        dragKey(at, event->modifiers());
    else
        dragHandle(at, event->modifiers());
}

void LaneChart::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !m_dragging) return;
    m_dragging = false;
    m_context->document()->endDrag(m_pressed.what == LaneHit::OnKey ? tr("move key") : tr("bend curve"));
    refit();
    update();
}

void LaneChart::addKeyAt(QPointF at) {
    const double frame = std::round(m_context->frames().frameAt(at.x()));
    const LaneHit hit = hitAt(at);
    const Side side = hit.what == LaneHit::OnCurve ? hit.side : frame < 0 ? Side::Outgoing : Side::Incoming;
    const Curve& curve = channel().side(side);
    int added = -1;
    Curve next = withKeyAdded(curve, frame, info().neutral, &added);
    if (next == curve) return;
    if (hit.what != LaneHit::OnCurve) { // on empty ground the key goes where the pointer is
        const double grain = std::pow(10.0, -info().decimals);
        next = withKeyMoved(
            next, added, frame,
            std::clamp(std::round(m_values.valueAt(at.y()) / grain) * grain, info().lowest, info().highest));
    }
    setCurve(*m_context->document(), address(side), next, tr("add key"));
    m_context->selectKey(LaneContext::KeyAddress{address(side), added});
}

void LaneChart::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !isThere()) return;
    const LaneHit hit = hitAt(event->position());
    if (hit.what == LaneHit::OnKey) {
        m_dragging = false;
        m_context->document()->cancelDrag();
        editKey(hit.side, hit.key);
    } else if (hit.what == LaneHit::OnCurve || hit.what == LaneHit::Nowhere) {
        addKeyAt(event->position());
    }
}

void LaneChart::removeKey(Side side, int key) {
    m_context->selectKey(std::nullopt);
    setCurve(*m_context->document(), address(side), withKeyRemoved(channel().side(side), key), tr("delete key"));
}

void LaneChart::editKey(Side side, int key) {
    const Key k = channel().side(side).keys[std::size_t(key)];
    auto* editor = new KeyEditor(k.time, k.value, info(), m_context->document()->project()->settings.size, this);
    connect(editor, &KeyEditor::entered, this, [this, side, key](double time, double value) {
        if (!isThere() || key >= int(channel().side(side).keys.size())) return;
        setCurve(*m_context->document(), address(side), withKeyMoved(channel().side(side), key, time, value),
                 tr("change key"), QStringLiteral("type-key"));
    });
    editor->showAt(mapToGlobal(keyPoint(side, key).toPoint() + QPoint(12, -10)));
}

void LaneChart::segmentMenu(const LaneHit& hit, const QPoint& globalAt) {
    const CurveAddress at = address(hit.side);
    QMenu menu(this);
    if (hit.what == LaneHit::OnKey) {
        menu.addAction(tr("Type frame and value…"), this, [this, hit] { editKey(hit.side, hit.key); });
        menu.addAction(tr("Delete key"), this, [this, hit] { removeKey(hit.side, hit.key); });
        menu.addSeparator();
    }
    const Curve& curve = curveAt(*m_context->document()->project(), at);
    const int segment = hit.what == LaneHit::OnKey ? std::min(hit.key, int(curve.keys.size()) - 2) : hit.key;
    if (segment >= 0 && segment + 1 < int(curve.keys.size()))
        fillShapeMenu(&menu, [this, at, segment](const NamedShape& shape) {
            setCurve(*m_context->document(), at,
                     withShape(curveAt(*m_context->document()->project(), at), segment, shape.shape),
                     tr("shape %1").arg(QString::fromUtf8(shape.label.data(), int(shape.label.size())).toLower()));
        });
    if (!menu.isEmpty()) menu.exec(globalAt);
}

void LaneChart::contextMenuEvent(QContextMenuEvent* event) {
    const LaneHit hit = hitAt(event->pos());
    if (hit.what == LaneHit::OnKey || hit.what == LaneHit::OnCurve)
        segmentMenu(hit, event->globalPos());
    else
        event->ignore();
}

void LaneChart::wheelEvent(QWheelEvent* event) {
    const QPoint by = event->angleDelta();
    if (event->modifiers() & Qt::ControlModifier) {
        m_context->setFrames(m_context->frames().zoomed(std::pow(1.0015, by.y()), event->position().x()));
    } else if (std::abs(by.x()) > std::abs(by.y()) || event->modifiers() & Qt::ShiftModifier) {
        FrameScale frames = m_context->frames();
        frames.zeroX += (by.x() != 0 ? by.x() : by.y()) * 0.5;
        m_context->setFrames(frames);
    } else {
        event->ignore(); // the list of lanes scrolls, or the view pans
        return;
    }
    event->accept();
}

bool LaneChart::event(QEvent* event) {
    // The arrows step frames in the whole window, but nudge the key here while one is selected.
    if (event->type() == QEvent::ShortcutOverride && selected()) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down ||
            key == Qt::Key_Delete || key == Qt::Key_Backspace) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void LaneChart::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) {
        m_dragging = false;
        m_context->document()->cancelDrag();
        m_context->selectKey(std::nullopt);
        return;
    }
    const auto s = selected();
    if (!s || !isThere()) return QWidget::keyPressEvent(event);
    const Curve& curve = channel().side(s->side);
    const Key& k = curve.keys[std::size_t(s->key)];
    const double many = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    const auto nudge = [&](double frames, double steps) {
        const double value = std::clamp(k.value + steps * info().step, info().lowest, info().highest);
        setCurve(*m_context->document(), address(s->side),
                 withKeyMoved(curve, s->key, k.time + frames, std::round(value * 1e6) / 1e6), tr("move key"),
                 QStringLiteral("nudge-%1-%2-%3-%4").arg(m_move).arg(m_channel).arg(int(s->side)).arg(s->key));
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return nudge(-many, 0);
    case Qt::Key_Right:
        return nudge(many, 0);
    case Qt::Key_Up:
        return nudge(0, many);
    case Qt::Key_Down:
        return nudge(0, -many);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        return removeKey(s->side, s->key);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return editKey(s->side, s->key);
    default:
        return QWidget::keyPressEvent(event);
    }
}

void LaneChart::leaveEvent(QEvent*) {
    m_hover = {};
    update();
}

} // namespace virga
