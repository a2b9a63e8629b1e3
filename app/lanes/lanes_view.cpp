#include "app/lanes/lanes_view.h"

#include "app/document/words.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>

#include "app/commands/cut_commands.h"
#include "app/commands/key_commands.h"
#include "app/document/kept_shapes.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lane_ruler.h"
#include "app/lanes/move_menu.h"
#include "app/lanes/speed_lane.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/curve/css_easing.h"

namespace virga {

LanesView::LanesView(Document* document, FrameService* frames, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_context(new LaneContext(document, this)) {
    setObjectName("lanes");
    setAccessibleName(tr("Lanes"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* top = new QHBoxLayout;
    top->setSpacing(0);
    top->addWidget(buildCorner());
    top->addWidget(new LaneRuler(m_context, this), 1);
    column->addLayout(top);
    m_scroll = new QScrollArea(this);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setFocusPolicy(Qt::NoFocus);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_scroll, 1);
    auto* speedRow = new QHBoxLayout;
    speedRow->setSpacing(0);
    auto* speedHeader = new SpeedHeader(m_context, this);
    m_speed = new SpeedChart(m_context, this);
    speedHeader->setFixedHeight(laneHeight);
    m_speed->setFixedHeight(laneHeight);
    speedRow->addWidget(speedHeader);
    speedRow->addWidget(m_speed, 1);
    column->addLayout(speedRow);
    m_place = new QFrame(this);
    m_place->setStyleSheet(QStringLiteral("background: %1;").arg(theme().strong.name()));
    m_place->hide();
    connect(m_context, &LaneContext::problem, this, &LanesView::problem);
    connect(m_context, &LaneContext::looksChanged, this, [this] {
        rebuild(); // a lane may have come
        showLooks();
    });
    connect(m_context, &LaneContext::boxDragged, this, [this](const QRect& box) {
        KeySet keys = m_context->selected(); // those from before the box
        for (const Row& row : m_lanes)
            for (const KeyAddress& k : row.chart->keysIn(box))
                if (std::find(keys.begin(), keys.end(), k) == keys.end()) keys.push_back(k);
        m_context->select(keys);
    });
    connect(m_context, &LaneContext::laneWanted, this, [this](int move, int channel, int by) {
        for (std::size_t i = 0; i < m_lanes.size(); ++i) {
            if (m_lanes[i].move != move || m_lanes[i].channel != channel) continue;
            const auto to = std::clamp<std::ptrdiff_t>(std::ptrdiff_t(i) + by, 0, std::ptrdiff_t(m_lanes.size()) - 1);
            LaneChart* chart = m_lanes[std::size_t(to)].chart;
            chart->setFocus(Qt::OtherFocusReason);
            m_scroll->ensureWidgetVisible(chart, 0, 0);
            return chart->selectNearest();
        }
    });
    connect(document, &Document::projectChanged, this, &LanesView::rebuild);
    connect(document, &Document::selectionChanged, this, [this] {
        rebuild();
        fit();
    });
    rebuild();
}

QWidget* LanesView::buildCorner() {
    auto* corner = new QWidget(this);
    corner->setFixedSize(laneHeaderWidth, 24);
    auto* row = new QHBoxLayout(corner);
    row->setContentsMargins(12, 0, 6, 0);
    m_title = new ElidedLabel(corner);
    m_title->setObjectName("heading");
    row->addWidget(m_title, 1);
    m_add = new QToolButton(corner);
    m_add->setObjectName("quiet");
    m_add->setText(tr("+ move"));
    setTip(m_add, tr("Add a move"));
    m_add->setAccessibleName(tr("Add a move"));
    connect(m_add, &QToolButton::clicked, this, [this] { offerMoves(m_add); });
    m_add->setEnabled(false);
    row->addWidget(m_add);
    return corner;
}

void LanesView::offerMoves(QWidget* below) {
    if (!m_context->stack()) return;
    auto* menu = new MoveMenu(m_document, m_frames, m_context->place(), this);
    connect(menu, &MoveMenu::speedWanted, m_context, &LaneContext::wantSpeed);
    menu->showBelow(below);
}

LaneChart* LanesView::chart(int move, int channel) const {
    for (const Row& row : m_lanes)
        if (row.move == move && row.channel == channel) return row.chart;
    return nullptr;
}

LaneHeader* LanesView::header(int move, int channel) const {
    for (const Row& row : m_lanes)
        if (row.move == move && row.channel == channel) return row.header;
    return nullptr;
}

bool LanesView::hasFocusInside() const {
    const QWidget* focus = window()->focusWidget();
    return focus && isAncestorOf(focus);
}

int LanesView::chartWidth() const {
    return std::max(200, width() - laneHeaderWidth);
}

void LanesView::fit() {
    m_context->fit(chartWidth());
}

void LanesView::fitSelection() {
    m_context->fitSelection(chartWidth());
}

void LanesView::zoomBy(double factor) {
    const FrameScale& frames = m_context->frames();
    const double head = frames.xOf(m_context->playhead());
    m_context->setFrames(frames.zoomed(factor, head >= 0 && head <= chartWidth() ? head : chartWidth() / 2.0));
}

void LanesView::panBy(double part) {
    FrameScale frames = m_context->frames();
    frames.zeroX -= part * chartWidth();
    m_context->setFrames(frames);
}

void LanesView::focusLanes() {
    if (m_lanes.empty()) return;
    const CurveAddress at = m_context->current();
    LaneChart* to = chart(at.move, at.channel);
    if (!to) to = m_lanes.front().chart;
    to->setFocus(Qt::ShortcutFocusReason);
    if (!hasKeys()) to->selectNearest();
}

void LanesView::openShapes() {
    if (m_lanes.empty()) return;
    if (const QString said = KeptShapes::instance().problem(); !said.isEmpty()) emit problem(said);
    KeySet keys = m_context->selected();
    if (keys.empty()) keys = keysOf(*m_document->project(), m_context->current());
    if (!keys.empty()) m_lanes.front().chart->openShapes(keys);
}

void LanesView::addKeyAtPlayhead() {
    const CurveAddress at = m_context->current();
    LaneChart* to = chart(at.move, at.channel);
    if (!to && !m_lanes.empty()) to = m_lanes.front().chart;
    if (!to) return;
    to->setFocus(Qt::ShortcutFocusReason);
    to->addKeyAtPlayhead();
}

QString LanesView::paste(const std::string& text, bool atPlayhead, bool mirrored) {
    if (!holdsKeys(text)) { // perhaps the shape of something, as text
        const auto easing = easingFromCss(text);
        if (!easing) return tr("There are no keys on the clipboard, and no shape as CSS text.");
        const auto stretches = stretchesOf(*m_document->project(), m_context->selected());
        if (stretches.empty()) return tr("Select the keys between which the shape should lie.");
        setEasing(*m_document, stretches, *easing, tr("paste shape"));
        return {};
    }
    PasteTarget target{m_context->current(), std::nullopt, mirrored};
    if (!m_context->wasPointedAt()) target.curve.move = -1; // into the lanes of their names
    if (atPlayhead)
        target.firstAt =
            m_context->playhead() - sideOrigin(*m_document->project(), target.curve.place, target.curve.side);
    const auto keys = pasteKeys(*m_document, text, target);
    if (!keys) return QString::fromStdString(describe(keys.error()));
    m_context->select(*keys);
    return {};
}

void LanesView::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (!m_fitted || event->oldSize().width() != width()) fit();
    m_fitted = true;
}

void LanesView::wheelEvent(QWheelEvent* event) {
    // What the lanes do not use: up and down pans in time where there is nothing to scroll.
    if (m_scroll->verticalScrollBar()->maximum() > 0) return QWidget::wheelEvent(event);
    FrameScale frames = m_context->frames();
    frames.zeroX += event->angleDelta().y() * 0.5;
    m_context->setFrames(frames);
    event->accept();
}

void LanesView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().chart);
    p.fillRect(QRect(0, 0, laneHeaderWidth, height()), theme().panel);
    p.fillRect(QRect(0, 23, laneHeaderWidth, 1), theme().line);
    p.fillRect(QRect(laneHeaderWidth - 1, 0, 1, height()), theme().line);
}

void LanesView::refreshTitle() {
    const auto project = m_document->project();
    const StackPlace place = m_context->place();
    m_add->setEnabled(m_context->stack() != nullptr);
    if (!m_context->stack()) return m_title->setFullText(tr("No cut yet"));
    const auto i = std::size_t(place.index);
    const auto text = [](const std::string& s) { return QString::fromStdString(s); };
    switch (place.kind) {
    case StackPlace::Cut:
        return m_title->setFullText(tr("Cut %1 · %2 → %3")
                                        .arg(place.index + 1)
                                        .arg(text(project->reel[i].name), text(project->reel[i + 1].name)));
    case StackPlace::Drift:
        return m_title->setFullText(tr("Drift of %1").arg(text(project->reel[i].name)));
    case StackPlace::Overlay:
        return m_title->setFullText(tr("Overlay %1").arg(text(project->overlays[i].clip.name)));
    case StackPlace::Adjustment:
        return m_title->setFullText(tr("Adjustment %1").arg(text(project->adjustments[i].name)));
    }
}

void LanesView::addRow(int move, int channel) {
    auto* row = new QHBoxLayout;
    row->setSpacing(0);
    Row lane{move, channel, new LaneHeader(m_context, move, channel, m_rows),
             new LaneChart(m_context, m_frames, move, channel, m_rows)};
    connect(lane.header, &LaneHeader::shapesWanted, this, [this, chart = lane.chart](Side side) {
        m_context->select(keysOf(*m_document->project(), chart->address(side)));
        openShapes();
    });
    connect(lane.header, &LaneHeader::carried, this, &LanesView::carry);
    row->addWidget(lane.header);
    row->addWidget(lane.chart, 1);
    m_column->addLayout(row, 1);
    m_lanes.push_back(lane);
}

void LanesView::addEmptyState() {
    const bool any = m_context->stack() != nullptr;
    auto* row = new QHBoxLayout;
    row->setContentsMargins(laneHeaderWidth + 24, 12, 24, 12);
    row->setSpacing(8);
    row->addWidget(label(!any ? tr("The moves of a cut are shaped here. Add two clips first.")
                         : m_context->place().kind == StackPlace::Cut     ? tr("This cut has no move yet.")
                         : m_context->place().kind == StackPlace::Drift   ? tr("This clip does not move by itself.")
                         : m_context->place().kind == StackPlace::Overlay ? tr("This overlay does not move.")
                                                                          : tr("This adjustment moves nothing."),
                         "caption", m_rows));
    if (any) { // the plainest three, and all others behind one button
        for (std::size_t i = 0; i < 3; ++i) {
            const MoveInfo& info = allMoves()[i];
            auto* button =
                new QPushButton(icon(textOf(info.icon)), tr("Add %1").arg(textOf(info.label).toLower()), m_rows);
            connect(button, &QPushButton::clicked, this,
                    [this, kind = info.kind] { addMove(*m_document, m_context->place(), kind); });
            row->addWidget(button);
        }
        auto* more = new QPushButton(tr("All moves and finishing…"), m_rows);
        connect(more, &QPushButton::clicked, this, [this, more] { offerMoves(more); });
        row->addWidget(more);
    }
    row->addStretch(1);
    m_column->addStretch(1);
    m_column->addLayout(row);
    m_column->addStretch(1);
}

void LanesView::rebuild() {
    refreshTitle();
    // Rows are kept while the place has the same moves: fields keep their focus while values change.
    const StackPlace place = m_context->place();
    QString key = theme().name + QStringLiteral("%1/%2").arg(int(place.kind)).arg(place.index);
    const Stack* moves = m_context->stack();
    if (moves)
        for (const Move& move : *moves) key += QString::fromStdString("|" + move.id + move.kindName);
    const bool speed = m_context->showsSpeed();
    if (speed) // its header has rows for the shots that have one
        for (const Side side : {Side::Outgoing, Side::Incoming})
            key += hasCurve(*m_document->project(), {place, shotSpeed, 0, side}) ? "|speed" : "|-";
    if (key == m_builtFor) return;
    m_builtFor = key;
    const int scrolled = m_scroll->verticalScrollBar()->value();
    m_lanes.clear();
    m_rows = new QWidget;
    m_column = new QVBoxLayout(m_rows);
    m_column->setContentsMargins(0, 0, 0, 0);
    m_column->setSpacing(0);
    if (moves)
        for (int m = 0; m < int(moves->size()); ++m)
            for (int c = 0; c < int(moveInfo((*moves)[std::size_t(m)].kind).channels.size()); ++c) addRow(m, c);
    if (speed) addRow(shotSpeed, 0);
    if (m_lanes.empty())
        addEmptyState();
    else
        m_column->addStretch(0); // what is folded or resized leaves room below
    showLooks();
    if (QWidget* old = m_scroll->takeWidget()) {
        old->hide();
        old->deleteLater(); // a button in it may be the one that was just clicked
    }
    m_scroll->setWidget(m_rows);
    m_rows->show();
    m_scroll->verticalScrollBar()->setValue(scrolled);
}

void LanesView::showLooks() {
    for (const Row& row : m_lanes) {
        const LaneLook look = m_context->look(row.move, row.channel);
        for (QWidget* w : {static_cast<QWidget*>(row.header), static_cast<QWidget*>(row.chart)}) {
            const int needed = row.header->neededHeight(); // with its parameters, where they are unfolded
            const int height = look.folded ? foldedHeight : look.height > 0 ? std::max(look.height, needed) : 0;
            w->setMinimumHeight(height > 0 ? height : needed);
            w->setMaximumHeight(height > 0 ? height : QWIDGETSIZE_MAX);
        }
    }
}

// A carried move lands where the pointer is among the others; a line shows where.
void LanesView::carry(int move, const QPoint& globalAt, bool dropped) {
    m_place->hide();
    if (m_lanes.empty()) return;
    const int y = m_rows->mapFromGlobal(globalAt).y();
    int to = m_lanes.back().move, line = m_rows->height();
    for (const Row& row : m_lanes) {
        const QRect r = row.header->geometry();
        if (y >= r.bottom()) continue;
        to = row.move;
        // The whole move is passed by: its line lies before its first lane, or behind its last when going down.
        for (const Row& other : m_lanes)
            if (other.move == to)
                line = to > move ? other.header->geometry().bottom() : std::min(line, other.header->geometry().top());
        break;
    }
    if (move == shotSpeed || to == shotSpeed) return; // it belongs to the shots
    if (dropped) return moveInStack(*m_document, m_context->place(), move, to);
    const int top = m_rows->mapTo(this, QPoint(0, line)).y();
    m_place->setGeometry(0, std::clamp(top - 1, 24, height() - 3), width(), 2);
    m_place->setVisible(to != move);
    m_place->raise();
}

} // namespace virga
