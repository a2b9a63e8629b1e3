#include "app/lanes/lanes_view.h"

#include <QHBoxLayout>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWheelEvent>

#include "app/commands/cut_commands.h"
#include "app/lanes/lane_chart.h"
#include "app/lanes/lane_header.h"
#include "app/lanes/lane_ruler.h"
#include "app/lanes/speed_lane.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/theme.h"

namespace virga {

LanesView::LanesView(Document* document, QWidget* parent)
    : QWidget(parent), m_document(document), m_context(new LaneContext(document, this)) {
    setObjectName("lanes");
    setAccessibleName(tr("Lanes"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* top = new QHBoxLayout;
    top->setSpacing(0);
    auto* corner = new QWidget(this);
    corner->setFixedSize(laneHeaderWidth, 24);
    auto* cornerRow = new QHBoxLayout(corner);
    cornerRow->setContentsMargins(12, 0, 6, 0);
    m_title = new ElidedLabel(corner);
    m_title->setObjectName("heading");
    cornerRow->addWidget(m_title, 1);
    auto* add = new QToolButton(corner);
    add->setObjectName("quiet");
    add->setText(tr("+ move"));
    add->setToolTip(tr("Add a move to this cut"));
    add->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(add);
    for (const MoveInfo& info : allMoves())
        menu->addAction(icon("move-" + QString::fromUtf8(info.name.data(), int(info.name.size()))),
                        QString::fromUtf8(info.label.data(), int(info.label.size())), this,
                        [this, kind = info.kind] { addMove(*m_document, m_document->cut(), kind); });
    add->setMenu(menu);
    add->setStyleSheet("QToolButton::menu-indicator { image: none; }");
    cornerRow->addWidget(add);
    top->addWidget(corner);
    top->addWidget(new LaneRuler(m_context, this), 1);
    column->addLayout(top);
    m_scroll = new QScrollArea(this);
    m_scroll->setWidgetResizable(true);
    m_scroll->setFrameShape(QFrame::NoFrame);
    m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_scroll, 1);
    auto* speedRow = new QHBoxLayout;
    speedRow->setSpacing(0);
    auto* speedHeader = new SpeedHeader(m_context, this);
    auto* speedChart = new SpeedChart(m_context, this);
    speedHeader->setFixedHeight(86);
    speedChart->setFixedHeight(86);
    speedRow->addWidget(speedHeader);
    speedRow->addWidget(speedChart, 1);
    column->addLayout(speedRow);
    connect(m_context, &LaneContext::problem, this, &LanesView::problem);
    connect(document, &Document::projectChanged, this, &LanesView::rebuild);
    connect(document, &Document::selectionChanged, this, [this] {
        rebuild();
        fit();
    });
    connect(document, &Document::projectChanged, add, [this, add] { add->setEnabled(m_document->cut() >= 0); });
    connect(document, &Document::selectionChanged, add, [this, add] { add->setEnabled(m_document->cut() >= 0); });
    add->setEnabled(false);
    rebuild();
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

void LanesView::fit() {
    m_context->fit(std::max(200, width() - laneHeaderWidth));
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
    const int cut = m_document->cut();
    m_title->setFullText(cut < 0 ? tr("No cut yet")
                                 : tr("Cut %1 · %2 → %3")
                                       .arg(cut + 1)
                                       .arg(QString::fromStdString(project->reel[std::size_t(cut)].name),
                                            QString::fromStdString(project->reel[std::size_t(cut) + 1].name)));
}

void LanesView::rebuild() {
    refreshTitle();
    const auto project = m_document->project();
    const int cut = m_document->cut();
    // Rows are kept while the cut has the same moves: fields keep their focus while values change.
    QString key = theme().name + QString::number(cut);
    if (cut >= 0)
        for (const Move& move : transitionAt(*project, cut).moves)
            key += QString::fromStdString("|" + move.id + move.kindName);
    if (key == m_builtFor) return;
    m_builtFor = key;
    m_lanes.clear();
    m_rows = new QWidget;
    m_column = new QVBoxLayout(m_rows);
    m_column->setContentsMargins(0, 0, 0, 0);
    m_column->setSpacing(0);
    if (cut >= 0) {
        const Stack& moves = transitionAt(*project, cut).moves;
        for (int m = 0; m < int(moves.size()); ++m)
            for (int c = 0; c < int(moveInfo(moves[std::size_t(m)].kind).channels.size()); ++c) {
                auto* row = new QHBoxLayout;
                row->setSpacing(0);
                Row lane{m, c, new LaneHeader(m_context, m, c, m_rows), new LaneChart(m_context, m, c, m_rows)};
                lane.header->setMinimumHeight(86);
                lane.chart->setMinimumHeight(86);
                row->addWidget(lane.header);
                row->addWidget(lane.chart, 1);
                m_column->addLayout(row, 1);
                m_lanes.push_back(lane);
            }
    }
    if (m_lanes.empty()) {
        auto* row = new QHBoxLayout;
        row->setContentsMargins(laneHeaderWidth + 24, 12, 24, 12);
        row->setSpacing(8);
        auto* words = label(cut < 0 ? tr("The moves of a cut are shaped here. Add two clips first.")
                                    : tr("This cut has no move yet."),
                            "caption", m_rows);
        row->addWidget(words);
        if (cut >= 0)
            for (const MoveInfo& info : allMoves()) {
                auto* button = new QPushButton(
                    icon("move-" + QString::fromUtf8(info.name.data(), int(info.name.size()))),
                    tr("Add %1").arg(QString::fromUtf8(info.label.data(), int(info.label.size())).toLower()), m_rows);
                connect(button, &QPushButton::clicked, this,
                        [this, kind = info.kind] { addMove(*m_document, m_document->cut(), kind); });
                row->addWidget(button);
            }
        row->addStretch(1);
        m_column->addStretch(1);
        m_column->addLayout(row);
        m_column->addStretch(1);
    }
    if (QWidget* old = m_scroll->takeWidget()) {
        old->hide();
        old->deleteLater(); // a button in it may be the one that was just clicked
    }
    m_scroll->setWidget(m_rows);
    m_rows->show();
}

} // namespace virga
