// A lane by keyboard, and its menus.
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/commands/key_commands.h"
#include "app/lanes/key_editor.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/shape_field.h"
#include "app/lanes/shape_menu.h"
#include "core/curve/curve_edit.h"

namespace virga {

void LaneChart::editActive() {
    if (m_context->selected().empty()) selectNearest();
    if (const auto key = m_context->active()) editKey(*key);
}

void LaneChart::editKey(const KeyAddress& key) {
    if (!isThere() || key.key >= int(channel().side(key.curve.side).keys.size())) return;
    const Key k = channel().side(key.curve.side).keys[std::size_t(key.key)];
    // Typed values go to all selected keys of this lane's unit; a time only to the one that is edited.
    KeySet keys;
    const auto project = m_context->document()->project();
    if (m_context->isSelected(key))
        for (const KeyAddress& s : m_context->selected())
            if (channelInfoAt(*project, s.curve).unit == info().unit) keys.push_back(s);
    if (keys.empty()) keys = {key};
    auto* editor = new KeyEditor(k.time, k.value, info(), project->settings.size, int(keys.size()), this);
    Document* document = m_context->document();
    connect(editor, &KeyEditor::valueEntered, this,
            [document, keys](double value) { setKeyValues(*document, keys, value); });
    connect(editor, &KeyEditor::timeEntered, this, [document, key](double time) { setKeyTime(*document, key, time); });
    editor->showAt(mapToGlobal(keyPoint(key.curve.side, key.key).toPoint() + QPoint(12, -10)));
}

void LaneChart::openShapes(const KeySet& keys) {
    const auto stretches = stretchesOf(*m_context->document()->project(), keys);
    if (stretches.empty()) return;
    auto* field = new ShapeField(m_context->document(), m_frames, stretches, this);
    // Above the lanes, at the right: the Picture, the Ladder and the curves stay in sight.
    const QWidget* lanes = window()->findChild<QWidget*>(QStringLiteral("lanes"));
    const QWidget* above = lanes ? lanes : this;
    field->showAt(above->mapToGlobal(QPoint(above->width() - 4, -2)));
}

void LaneChart::segmentMenu(const LaneHit& hit, const QPoint& globalAt) {
    Document* document = m_context->document();
    const CurveAddress at = address(hit.side);
    QMenu menu(this);
    KeySet keys = m_context->selected();
    if (hit.what == LaneHit::OnKey) {
        menu.addAction(tr("Type frame and value…"), this, [this, at, hit] { editKey({at, hit.key}); });
        menu.addAction(keys.size() > 1 ? tr("Delete keys") : tr("Delete key"), this,
                       [this, document] { deleteKeys(*document, m_context->selected()); });
        menu.addSeparator();
    } else {
        menu.addAction(tr("Add a key here"), this,
                       [this, hit] { addKey(hit.side, timeOn(hit.side, std::round(m_hoverFrame)), std::nullopt); });
        menu.addSeparator();
        keys = {{at, hit.key}, {at, hit.key + 1}};
    }
    const auto stretches = stretchesOf(*document->project(), keys);
    if (!stretches.empty()) {
        menu.addAction(tr("All shapes…"), this, [this, keys] { openShapes(keys); });
        menu.addSeparator();
        // What is pointed at is tried at once; leaving the menu without choosing brings back what was.
        fillShapeMenu(
            &menu,
            [document, stretches](const OfferedShape& shape) {
                document->drag(withEasingOn(*document->dragOrigin(), stretches, shape.easing));
            },
            [document, stretches](const OfferedShape& shape) {
                document->cancelDrag();
                setEasing(*document, stretches, shape.easing, tr("shape %1").arg(shape.label.toLower()));
            });
    }
    connect(&menu, &QMenu::aboutToHide, this, [document] { document->cancelDrag(); });
    if (!menu.isEmpty()) menu.exec(globalAt);
}

void LaneChart::contextMenuEvent(QContextMenuEvent* event) {
    if (event->reason() == QContextMenuEvent::Keyboard) {
        if (m_context->selected().empty()) selectNearest();
        const auto key = m_context->active();
        if (key && key->curve == address(key->curve.side))
            segmentMenu({LaneHit::OnKey, key->curve.side, key->key},
                        mapToGlobal(keyPoint(key->curve.side, key->key).toPoint()));
        return;
    }
    const LaneHit hit = hitAt(event->pos());
    m_hoverFrame = m_context->frames().frameAt(event->pos().x());
    if (hit.what == LaneHit::OnKey) {
        const KeyAddress key{address(hit.side), hit.key};
        if (!m_context->isSelected(key)) m_context->select({key});
        segmentMenu(hit, event->globalPos());
    } else if (hit.what == LaneHit::OnCurve) {
        segmentMenu(hit, event->globalPos());
    } else {
        event->ignore();
    }
}

void LaneChart::selectNearest() {
    if (!isThere()) return;
    std::optional<KeyAddress> nearest;
    double least = 1e300;
    for (const KeyAddress& k : keysOfLane(*m_context->document()->project(), m_context->place(), m_move, m_channel)) {
        const double t = channel().side(k.curve.side).keys[std::size_t(k.key)].time;
        const double far = std::abs(t - timeOn(k.curve.side, m_context->playhead()));
        if (far < least) least = far, nearest = k;
    }
    if (nearest)
        m_context->select({*nearest});
    else
        m_context->setCurrent(address(m_context->sideAt(m_context->playhead())));
}

void LaneChart::addKeyAtPlayhead() {
    if (!isThere()) return;
    const Side side = m_context->sideAt(m_context->playhead());
    addKey(side, timeOn(side, m_context->playhead()), std::nullopt);
}

// The keys of the lane in the order in which they lie on the axis.
bool LaneChart::stepKey(int by, bool adding) {
    KeySet keys = keysOfLane(*m_context->document()->project(), m_context->place(), m_move, m_channel);
    if (keys.empty()) return false;
    const auto frame = [&](const KeyAddress& k) {
        return m_axes.of(k.curve.side).xOf(channel().side(k.curve.side).keys[std::size_t(k.key)].time);
    };
    std::stable_sort(keys.begin(), keys.end(),
                     [&](const KeyAddress& a, const KeyAddress& b) { return frame(a) < frame(b); });
    const auto active = m_context->active();
    const auto at = active ? std::find(keys.begin(), keys.end(), *active) : keys.end();
    if (at == keys.end()) {
        selectNearest();
        return true;
    }
    const auto next = std::clamp<std::ptrdiff_t>(at - keys.begin() + by, 0, std::ptrdiff_t(keys.size()) - 1);
    const KeyAddress key = keys[std::size_t(next)];
    if (!adding) {
        m_context->select({key});
    } else {
        KeySet all = m_context->selected();
        std::erase(all, key);
        all.push_back(key);
        m_context->select(all);
    }
    return true;
}

void LaneChart::cycleHandle() {
    const auto key = m_context->active();
    if (!key || key->curve != address(key->curve.side)) return;
    const Curve& curve = channel().side(key->curve.side);
    std::vector<HandleRef> there;
    for (const bool leave : {false, true})
        if (handlePoint(key->curve.side, key->key, leave)) there.push_back({key->key, leave});
    if (there.empty() || curve.keys.empty()) return;
    const auto at = m_handle ? std::find(there.begin(), there.end(), *m_handle) : there.end();
    if (!m_handle)
        m_handle = there.front();
    else if (at + 1 < there.end())
        m_handle = *(at + 1);
    else
        m_handle.reset(); // and back to the key
    refresh();
}

void LaneChart::nudgeHandle(const QKeyEvent& event) {
    const auto key = m_context->active();
    if (!key || !m_handle || m_handle->key != key->key) return;
    const Curve& curve = channel().side(key->curve.side);
    const Key& k = curve.keys[std::size_t(key->key)];
    Handle handle = m_handle->leave ? k.leave : k.arrive;
    const double many = event.modifiers() & Qt::ShiftModifier ? 5 : 1;
    const double out = m_handle->leave ? 1 : -1; // the way that lengthens it
    // A step of rise is a hundredth of what the lane shows.
    const double step = (m_axes.values.high - m_axes.values.low) / 100;
    if (event.key() == Qt::Key_Right) handle.reach += out * 0.02 * many;
    if (event.key() == Qt::Key_Left) handle.reach -= out * 0.02 * many;
    if (event.key() == Qt::Key_Up) handle.rise += out * step * many;
    if (event.key() == Qt::Key_Down) handle.rise -= out * step * many;
    setCurve(*m_context->document(), key->curve,
             m_handle->leave ? withLeaveHandle(curve, key->key, handle) : withArriveHandle(curve, key->key, handle),
             tr("bend curve"), QStringLiteral("bend-%1-%2-%3").arg(objectName()).arg(key->key).arg(m_handle->leave));
}

void LaneChart::pullAtPlayhead(double part) {
    const Side side = m_context->sideAt(m_context->playhead());
    const double time = timeOn(side, m_context->playhead());
    const double speed =
        side == Side::Outgoing ? speedBefore(channel().side(side), time) : speedAfter(channel().side(side), time);
    const double y = m_axes.speeds.yOf(speed) - part * 0.42 * (height() - 20);
    const Kept kept = side == Side::Outgoing || isDrift() ? Kept::First : Kept::Last;
    setCurve(*m_context->document(), address(side),
             dragSpeed(channel(), side, time, y, m_axes.speeds, info(), kept, isJoint(), {true, false}),
             tr("pull speed"), QStringLiteral("pull-%1-%2").arg(objectName()).arg(time));
}

bool LaneChart::isOurs(const QKeyEvent& event) const {
    const int key = event.key();
    const bool plain = !(event.modifiers() & (Qt::ControlModifier | Qt::AltModifier));
    const bool arrow = key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down;
    if (arrow && plain) return !m_context->selected().empty();
    if ((arrow || key == Qt::Key_PageUp || key == Qt::Key_PageDown) && event.modifiers() & Qt::AltModifier &&
        !(event.modifiers() & Qt::ControlModifier))
        return true;
    if (key == Qt::Key_Delete || key == Qt::Key_Backspace) return plain && !m_context->selected().empty();
    if (event.matches(QKeySequence::SelectAll)) return true;
    return plain && (key == Qt::Key_Return || key == Qt::Key_Enter || key == Qt::Key_Insert || key == Qt::Key_H ||
                     key == Qt::Key_PageUp || key == Qt::Key_PageDown || key == Qt::Key_Escape);
}

bool LaneChart::event(QEvent* event) {
    // Keys that the window uses for other things are the lane's while it has the focus and something to do with them.
    if (event->type() == QEvent::ShortcutOverride && isThere() && isOurs(*static_cast<QKeyEvent*>(event))) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

bool LaneChart::nudge(const QKeyEvent& event) {
    if (m_handle) {
        nudgeHandle(event);
        return true;
    }
    const double many = event.modifiers() & Qt::ShiftModifier ? 10 : 1;
    const int key = event.key();
    nudgeKeys(*m_context->document(), m_context->selected(),
              key == Qt::Key_Left    ? -many
              : key == Qt::Key_Right ? many
                                     : 0,
              key == Qt::Key_Up     ? many
              : key == Qt::Key_Down ? -many
                                    : 0);
    return true;
}

void LaneChart::keyPressEvent(QKeyEvent* event) {
    if (!isThere() || !isOurs(*event)) return QWidget::keyPressEvent(event);
    const auto project = m_context->document()->project();
    if (event->matches(QKeySequence::SelectAll)) {
        const KeySet lane = keysOfLane(*project, m_context->place(), m_move, m_channel);
        const bool already = m_context->selected() == lane;
        return m_context->select(already ? keysOfStack(*project, m_context->place()) : lane);
    }
    const bool alt = event->modifiers() & Qt::AltModifier;
    switch (event->key()) {
    case Qt::Key_Escape:
        if (m_drag != Drag::None) return abandonDrag();
        if (m_handle) {
            m_handle.reset();
            return refresh();
        }
        return m_context->select({});
    case Qt::Key_Left:
    case Qt::Key_Right:
        if (alt)
            stepKey(event->key() == Qt::Key_Left ? -1 : 1, event->modifiers() & Qt::ShiftModifier);
        else
            nudge(*event);
        return;
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (alt)
            emit m_context->laneWanted(m_move, m_channel, event->key() == Qt::Key_Up ? -1 : 1);
        else
            nudge(*event);
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        return deleteKeys(*m_context->document(), m_context->selected());
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return editActive();
    case Qt::Key_Insert:
        return addKeyAtPlayhead();
    case Qt::Key_H:
        return cycleHandle();
    case Qt::Key_PageUp:
    case Qt::Key_PageDown: {
        const bool up = event->key() == Qt::Key_PageUp;
        if (alt) return zoomValues(up ? 1.2 : 1 / 1.2, (m_axes.values.low + m_axes.values.high) / 2);
        return pullAtPlayhead(up ? 0.05 : -0.05);
    }
    default:
        return QWidget::keyPressEvent(event);
    }
}

} // namespace virga
