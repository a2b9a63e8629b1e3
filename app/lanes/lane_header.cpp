#include "app/lanes/lane_header.h"

#include <QContextMenuEvent>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>

#include "app/commands/cut_commands.h"
#include "app/lanes/key_editor.h"
#include "app/lanes/shape_menu.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/number_field.h"
#include "app/style/theme.h"
#include "core/curve/curve_edit.h"

namespace virga {

LaneHeader::LaneHeader(LaneContext* context, int move, int channel, QWidget* parent)
    : QWidget(parent), m_context(context), m_move(move), m_channel(channel) {
    setFixedWidth(laneHeaderWidth);
    const auto project = context->document()->project();
    const ChannelInfo& info = channelInfoAt(*project, address(Side::Outgoing));
    const QString name = QString::fromUtf8(info.label.data(), int(info.label.size()));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 5, 10, 4);
    column->setSpacing(3);
    auto* head = new QHBoxLayout;
    head->setSpacing(0);
    m_title = label(name, "title", this);
    head->addWidget(m_title);
    head->addStretch(1);
    m_eye = iconButton("eye", tr("Turn this move off or on"), this, 24);
    m_eye->setObjectName("quiet");
    connect(m_eye, &QToolButton::clicked, this, [this] {
        const auto p = m_context->document()->project();
        setMoveEnabled(*m_context->document(), m_context->document()->cut(), m_move,
                       !transitionAt(*p, m_context->document()->cut()).moves[std::size_t(m_move)].enabled);
    });
    head->addWidget(m_eye);
    auto* more = iconButton("more", tr("More for this move"), this, 24);
    more->setObjectName("quiet");
    connect(more, &QToolButton::clicked, this, [this, more] {
        QMenu menu(this);
        fillMenu(&menu);
        menu.exec(more->mapToGlobal(QPoint(0, more->height())));
    });
    head->addWidget(more);
    column->addLayout(head);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(3);
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const int row = side == Side::Incoming;
        for (const bool end : {false, true}) {
            auto* field = new NumberField(this);
            setUpChannelField(field, info, project->settings.size);
            field->setSide(side == Side::Outgoing ? "outgoing" : "incoming");
            field->setEmptyText(QStringLiteral("–"));
            const QString what = side == Side::Outgoing ? (end ? tr("%1, outgoing end") : tr("%1, outgoing start"))
                                                        : (end ? tr("%1, incoming end") : tr("%1, incoming start"));
            field->setAccessibleName(what.arg(name));
            field->setToolTip(tr("%1. Takes arithmetic and units.").arg(what.arg(name)));
            connect(field, &NumberField::edited, this, [this, side, end](double value) { enter(side, end, value); });
            grid->addWidget(field, row, end ? 2 : 0);
            m_fields[row][end] = field;
        }
        grid->addWidget(label(QStringLiteral("→"), "caption", this), row, 1);
        m_shapes[row] = new ShapeChip(this);
        connect(m_shapes[row], &ShapeChip::chosen, this, [this, side](const Shape& shape, const QString& shapeName) {
            const CurveAddress at = address(side);
            Curve curve = curveAt(*m_context->document()->project(), at);
            for (int i = 0; i + 1 < int(curve.keys.size()); ++i) curve = withShape(curve, i, shape);
            setCurve(*m_context->document(), at, curve, tr("shape %1").arg(shapeName.toLower()));
        });
        grid->addWidget(m_shapes[row], row, 3);
    }
    m_match = new QPushButton(tr("match\nspeed"), this);
    m_match->setFixedSize(50, 43);
    m_match->setStyleSheet("font-size: 10px; padding: 0;");
    m_match->setToolTip(tr("Give the incoming side the speed that the outgoing side has at the cut"));
    m_match->setAccessibleName(tr("Match speed of %1").arg(name));
    connect(m_match, &QPushButton::clicked, this, [this] {
        const QString why = matchSpeed(*m_context->document(), m_context->document()->cut(), m_move, m_channel);
        if (!why.isEmpty()) emit m_context->problem(why);
    });
    grid->addWidget(m_match, 0, 4, 2, 1);
    column->addLayout(grid);
    column->addStretch(1);
    connect(context, &LaneContext::changed, this, &LaneHeader::refresh);
    refresh();
}

void LaneHeader::enter(Side side, bool end, double value) {
    const auto project = m_context->document()->project();
    const CurveAddress at = address(side);
    if (!hasCurve(*project, at)) return;
    const Curve& curve = curveAt(*project, at);
    const double neutral = channelInfoAt(*project, at).neutral;
    const double first = curve.isEmpty() ? neutral : curve.keys.front().value,
                 last = curve.isEmpty() ? neutral : curve.keys.back().value;
    setSideValues(*m_context->document(), at, end ? first : value, end ? value : last);
}

void LaneHeader::refresh() {
    const auto project = m_context->document()->project();
    if (!hasCurve(*project, address(Side::Outgoing))) return;
    const Move& move = transitionAt(*project, m_context->document()->cut()).moves[std::size_t(m_move)];
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const int row = side == Side::Incoming;
        const Curve& curve = curveAt(*project, address(side));
        for (const bool end : {false, true}) {
            if (curve.isEmpty())
                m_fields[row][end]->clearValue();
            else
                m_fields[row][end]->setValue(end ? curve.keys.back().value : curve.keys.front().value);
        }
        const int last = int(curve.keys.size()) - 2;
        auto shape = last >= 0 ? shapeOf(curve, side == Side::Outgoing ? last : 0) : std::nullopt;
        if (last >= 0 && !shape) shape = Shape{Interpolation::Linear};
        m_shapes[row]->setShape(shape, side == Side::Outgoing ? theme().outgoing : theme().incoming);
    }
    m_match->setEnabled(curveAt(*project, address(Side::Outgoing)).keys.size() >= 2);
    const QString icon = move.enabled ? "eye" : "eye-off";
    m_eye->setIcon(virga::icon(icon));
    m_title->setEnabled(move.enabled);
}

void LaneHeader::fillMenu(QMenu* menu) {
    Document* document = m_context->document();
    const auto project = document->project();
    const int cut = document->cut();
    const Move& move = transitionAt(*project, cut).moves[std::size_t(m_move)];
    if (move.kind == MoveKind::Zoom) {
        auto* even = menu->addAction(tr("Even zoom"));
        even->setCheckable(true);
        even->setChecked(move.even);
        even->setToolTip(tr("Equal steps look equal"));
        connect(even, &QAction::triggered, this,
                [this, document, cut](bool on) { setEvenZoom(*document, cut, m_move, on); });
        menu->addSeparator();
    }
    for (const Side side : {Side::Outgoing, Side::Incoming})
        menu->addAction(side == Side::Outgoing ? tr("Clear the outgoing side") : tr("Clear the incoming side"), this,
                        [this, document, side] {
                            Curve empty = curveAt(*document->project(), address(side));
                            empty.keys.clear();
                            setCurve(*document, address(side), empty, tr("clear side"));
                        });
    menu->addSeparator();
    menu->addAction(tr("Remove this move"), this, [this, document, cut] { removeMove(*document, cut, m_move); });
}

void LaneHeader::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    fillMenu(&menu);
    menu.exec(event->globalPos());
}

void LaneHeader::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRectF(0, height() - 1, width(), 1), theme().line);
    p.fillRect(QRectF(width() - 1, 0, 1, height()), theme().line);
}

} // namespace virga
