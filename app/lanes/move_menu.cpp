#include "app/lanes/move_menu.h"

#include "app/document/words.h"

#include <QApplication>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QScreen>
#include <QVBoxLayout>
#include <algorithm>

#include "app/commands/cut_commands.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/moving_tile.h"
#include "app/style/theme.h"

namespace virga {
MoveMenu::MoveMenu(Document* document, FrameService* frames, StackPlace place, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_document(document), m_frames(frames), m_place(place) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("moveMenu");
    setAccessibleName(tr("Moves to add"));
    setStyleSheet(QStringLiteral("#moveMenu { background: %1; border: 1px solid %2; border-radius: 4px; }")
                      .arg(theme().raised.name(), theme().line.name()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 10, 12, 8);
    column->setSpacing(4);
    std::vector<const MoveInfo*> movement, finishing;
    for (const MoveInfo& info : allMoves()) (info.role == MoveRole::Finishing ? finishing : movement).push_back(&info);
    for (const Side side : {Side::Outgoing, Side::Incoming})
        if (hasCurve(*document->project(), {place, shotSpeed, 0, side})) {
            movement.push_back(&moveInfo(MoveKind::ShotSpeed)); // something here runs
            break;
        }
    addGroup(tr("movement"), movement, column);
    column->addSpacing(6);
    addGroup(tr("finish"), finishing, column);
    m_hint = tr("Click to add what the picture shows; Shift adds an empty lane.");
    m_told = label(m_hint, "caption", this);
    column->addSpacing(4);
    column->addWidget(m_told);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (!slot.startsWith("moves-") || result.image.isNull()) return;
        const QStringList parts = slot.split('-');
        const auto index = std::size_t(parts.value(1).toInt());
        if (index < m_entries.size()) m_entries[index].tile->setFrame(parts.value(2).toInt(), result.image);
    });
}

MoveMenu::~MoveMenu() {
    m_frames->drop("moves-");
}

void MoveMenu::addGroup(const QString& title, const std::vector<const MoveInfo*>& kinds, QVBoxLayout* column) {
    column->addWidget(label(title, "caption", this));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    for (int i = 0; i < int(kinds.size()); ++i) {
        const MoveInfo& info = *kinds[std::size_t(i)];
        auto* tile = new MovingTile(framesEach, m_place.kind == StackPlace::Cut ? 3 : 6, this);
        tile->setWidest(80);
        tile->setFixedSize(84, 67);
        tile->setText(textOf(info.label));
        tile->setIcon(icon(textOf(info.icon)));
        tile->setAccessibleName(tr("Add %1").arg(textOf(info.label).toLower()));
        tile->installEventFilter(this);
        const std::size_t index = m_entries.size();
        connect(tile, &QAbstractButton::clicked, this, [this, kind = info.kind] { choose(kind); });
        connect(tile, &MovingTile::pointedAt, this,
                [this, index, purpose = textOf(info.purpose), name = textOf(info.label)] {
                    m_told->setText(QStringLiteral("%1 %2.").arg(name, purpose));
                    ask(index, true);
                });
        grid->addWidget(tile, i / columns, i % columns);
        const auto shown = std::make_shared<const Project>(withUsualMove(*m_document->project(), m_place, info.kind));
        m_entries.push_back({info.kind, tile, shown, m_rows + i / columns, i % columns});
    }
    grid->setColumnStretch(columns, 1);
    m_rows += (int(kinds.size()) + columns - 1) / columns;
    column->addLayout(grid);
}

// Around a cut, or from where its stack begins.
std::int64_t MoveMenu::frameAt(int i) const {
    const auto project = m_document->project();
    const std::int64_t origin = originOf(*project, m_place);
    const std::int64_t frame = m_place.kind == StackPlace::Cut ? origin - 5 + i : origin + i;
    return std::clamp<std::int64_t>(frame, 0, std::max<std::int64_t>(0, reelLength(*project) - 1));
}

void MoveMenu::ask(std::size_t index, bool whole) {
    Entry& entry = m_entries[index];
    const QSize size = entry.tile->pictureSize() * devicePixelRatioF();
    for (int i = 0; i < framesEach; ++i) {
        const bool rest = i == entry.tile->atRest();
        if ((!rest && !whole) || entry.tile->hasFrame(i)) continue;
        m_frames->request(QStringLiteral("moves-%1-%2").arg(index).arg(i),
                          {entry.shown, frameAt(i), size, quickQuality, whole ? Urgency::Soon : Urgency::Pictures});
    }
}

void MoveMenu::showBelow(QWidget* button) {
    adjustSize();
    // Within the window where it fits there, else within the screen.
    QRect room = button->window()->frameGeometry();
    if (room.height() < height() || room.width() < width())
        if (const QScreen* screen = button->screen()) room = screen->availableGeometry();
    QPoint at = button->mapToGlobal(QPoint(0, button->height() + 2));
    if (at.y() + height() > room.bottom()) at.setY(button->mapToGlobal(QPoint(0, -2)).y() - height());
    at.setX(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - width())));
    at.setY(std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - height())));
    move(at);
    show();
    for (std::size_t i = 0; i < m_entries.size(); ++i) ask(i, false);
    setFocus();
}

MovingTile* MoveMenu::tile(MoveKind kind) const {
    for (const Entry& e : m_entries)
        if (e.kind == kind) return e.tile;
    return nullptr;
}

void MoveMenu::choose(MoveKind kind) {
    const bool empty = QApplication::keyboardModifiers() & Qt::ShiftModifier;
    Document* document = m_document;
    const StackPlace place = m_place;
    if (kind == MoveKind::ShotSpeed) emit speedWanted();
    close();                                          // deleted later
    if (kind == MoveKind::ShotSpeed && empty) return; // its lane is there now
    empty ? addMove(*document, place, kind) : addUsualMove(*document, place, kind);
}

void MoveMenu::step(int across, int down) {
    const auto now =
        std::find_if(m_entries.begin(), m_entries.end(), [](const Entry& e) { return e.tile->hasFocus(); });
    if (now == m_entries.end()) return m_entries.front().tile->setFocus(Qt::OtherFocusReason);
    if (across != 0) {
        const auto to =
            std::clamp<std::ptrdiff_t>(now - m_entries.begin() + across, 0, std::ptrdiff_t(m_entries.size()) - 1);
        return m_entries[std::size_t(to)].tile->setFocus(Qt::OtherFocusReason);
    }
    // The nearest one of the next row.
    const Entry* best = nullptr;
    for (const Entry& e : m_entries)
        if (e.row == now->row + down &&
            (!best || std::abs(e.column - now->column) < std::abs(best->column - now->column)))
            best = &e;
    if (best) best->tile->setFocus(Qt::OtherFocusReason);
}

// Buttons would move the focus by arrows in their own way.
bool MoveMenu::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QFrame::eventFilter(watched, event);
    auto* key = static_cast<QKeyEvent*>(event);
    switch (key->key()) {
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down:
    case Qt::Key_Return:
    case Qt::Key_Enter:
        keyPressEvent(key);
        return true;
    default:
        return QFrame::eventFilter(watched, event);
    }
}

void MoveMenu::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        return step(-1, 0);
    case Qt::Key_Right:
        return step(1, 0);
    case Qt::Key_Up:
        return step(0, -1);
    case Qt::Key_Down:
        return step(0, 1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        for (const Entry& e : m_entries)
            if (e.tile->hasFocus()) return choose(e.kind);
        return;
    default:
        return QFrame::keyPressEvent(event); // Escape closes a popup
    }
}

} // namespace virga
