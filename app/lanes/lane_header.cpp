#include "app/lanes/lane_header.h"

#include "app/document/words.h"

#include <QContextMenuEvent>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <algorithm>

#include "app/commands/cut_commands.h"
#include "app/commands/key_commands.h"
#include "app/lanes/key_editor.h"
#include "app/lanes/lane_picture.h"
#include "app/lanes/parameter_panel.h"
#include "app/lanes/shape_menu.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/curve/easing_library.h"

namespace virga {
namespace {

constexpr int resizeGrip = 4;

const Move* moveAt(const LaneContext& context, int move) {
    return context.moveAt(move);
}

} // namespace

LaneHeader::LaneHeader(LaneContext* context, int move, int channel, QWidget* parent)
    : QWidget(parent), m_context(context), m_move(move), m_channel(channel) {
    setFixedWidth(laneHeaderWidth);
    setMouseTracking(true);
    const auto project = context->document()->project();
    const ChannelInfo& info = moveInfo(moveAt(*context, move)->kind).channels[std::size_t(channel)];
    QString name = textOf(info.label);
    int nth = 1; // several moves of a kind are told apart
    for (int m = 0; m < move; ++m) nth += (*context->stack())[std::size_t(m)].kind == moveAt(*context, move)->kind;
    if (nth > 1) name += QStringLiteral(" %1").arg(nth);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 0, 10, 0);
    column->setSpacing(0);
    buildHead(name);
    m_body = new QWidget(this);
    m_body->setMouseTracking(true);
    column->addWidget(m_body);
    if (m_unfold) {
        m_parameters = new ParameterPanel(context, move, this);
        m_parameters->hide();
        column->addWidget(m_parameters);
    }
    column->addStretch(1);
    auto* grid = new QGridLayout(m_body);
    grid->setContentsMargins(8, 1, 0, 4);
    grid->setHorizontalSpacing(4);
    grid->setVerticalSpacing(3);
    int row = 0;
    for (const Side side : {Side::Outgoing, Side::Incoming})
        if (hasSide(address(side)) && hasCurve(*project, address(side))) buildSide(side, row++, name);
    if (context->place().kind == StackPlace::Cut && moveInfo(moveAt(*context, move)->kind).part) {
        m_match = new QPushButton(tr("match\nspeed"), m_body);
        m_match->setFixedSize(50, 43);
        m_match->setStyleSheet("font-size: 10px; padding: 0;");
        setTip(m_match, tr("Give the incoming side the speed that the outgoing side has at the cut"));
        m_match->setAccessibleName(tr("Match speed of %1").arg(name));
        connect(m_match, &QPushButton::clicked, this, [this] {
            const QString why = matchSpeed(*m_context->document(), m_context->place().index, m_move, m_channel);
            if (!why.isEmpty()) emit m_context->problem(why);
        });
        grid->addWidget(m_match, 0, 4, 2, 1);
    } else {
        grid->setColumnStretch(4, 1);
    }
    connect(context, &LaneContext::changed, this, &LaneHeader::refresh);
    refresh();
}

void LaneHeader::buildHead(const QString& name) {
    auto* head = new QHBoxLayout;
    head->setContentsMargins(0, 1, 0, 0);
    head->setSpacing(0);
    const auto quiet = [&](const char* icon, const QString& tip, int size) {
        auto* b = iconButton(icon, tip, this, size);
        b->setObjectName("quiet");
        head->addWidget(b);
        return b;
    };
    m_fold = quiet("unfolded", tr("Fold the lane %1").arg(name), 20);
    connect(m_fold, &QToolButton::clicked, this, [this] { setFolded(!m_context->look(m_move, m_channel).folded); });
    m_title = label(name, "title", this);
    m_title->setAttribute(Qt::WA_TransparentForMouseEvents); // it is taken hold of through the header
    head->addWidget(m_title);
    head->addStretch(1);
    const Move* move = moveAt(*m_context, m_move);
    if (m_channel == 0 && move && ParameterPanel::hasAny(moveInfo(move->kind))) {
        m_unfold = quiet("tune", tr("What of %1 does not change over time").arg(name), 22);
        m_unfold->setCheckable(true);
        connect(m_unfold, &QToolButton::clicked, this, [this](bool on) {
            LaneLook look = m_context->look(m_move, m_channel);
            look.parameters = on;
            look.folded = look.folded && !on;
            m_context->setLook(m_move, m_channel, look);
        });
    }
    m_solo = quiet("solo", tr("Only this move: %1").arg(name), 22);
    connect(m_solo, &QToolButton::clicked, this, [this] {
        if (const Move* m = moveAt(*m_context, m_move))
            setMoveSolo(*m_context->document(), m_context->place(), m_move, !m->solo);
    });
    m_eye = quiet("eye", tr("Turn this move off or on"), 22);
    connect(m_eye, &QToolButton::clicked, this, [this] {
        if (const Move* m = moveAt(*m_context, m_move))
            setMoveEnabled(*m_context->document(), m_context->place(), m_move, !m->enabled);
    });
    if (m_move == shotSpeed) m_solo->hide(), m_eye->hide(); // a shot always has a speed
    m_more = quiet("more", tr("More for this lane"), 22);
    connect(m_more, &QToolButton::clicked, this, [this] {
        QMenu menu(this);
        fillMenu(&menu);
        menu.exec(m_more->mapToGlobal(QPoint(0, m_more->height())));
    });
    static_cast<QVBoxLayout*>(layout())->addLayout(head);
}

void LaneHeader::buildSide(Side side, int row, const QString& name) {
    const auto project = m_context->document()->project();
    const ChannelInfo& info = channelInfoAt(*project, address(side));
    auto* grid = static_cast<QGridLayout*>(m_body->layout());
    const bool drift = m_context->place().kind == StackPlace::Drift && m_move != shotSpeed;
    const bool atCut = m_context->place().kind == StackPlace::Cut;
    const QString sideName = drift ? tr("drift")
                             : m_move == shotSpeed && !atCut
                                 ? (side == Side::Outgoing ? tr("at its end") : tr("at its start"))
                             : side == Side::Outgoing ? (atCut ? tr("outgoing") : tr("exit"))
                                                      : (atCut ? tr("incoming") : tr("entrance"));
    const int s = side == Side::Incoming;
    for (const bool end : {false, true}) {
        auto* field = new NumberField(m_body);
        setUpChannelField(field, info, project->settings.size);
        if (!drift) field->setSide(side == Side::Outgoing ? "outgoing" : "incoming");
        field->setEmptyText(QStringLiteral("–"));
        const QString what = (end ? tr("%1, %2 end") : tr("%1, %2 start")).arg(name, sideName);
        field->setAccessibleName(what);
        setTip(field, tr("%1. Takes arithmetic and units.").arg(what));
        connect(field, &NumberField::edited, this, [this, side, end](double value) { enter(side, end, value); });
        grid->addWidget(field, row, end ? 2 : 0);
        m_fields[s][end] = field;
    }
    grid->addWidget(label(QStringLiteral("→"), "caption", m_body), row, 1);
    m_shapes[s] = new ShapeChip(m_body);
    m_shapes[s]->setAccessibleName(tr("Shape of %1, %2").arg(name, sideName));
    connect(m_shapes[s], &QToolButton::clicked, this, [this, side] { emit shapesWanted(side); });
    grid->addWidget(m_shapes[s], row, 3);
}

void LaneHeader::setFolded(bool folded) {
    LaneLook look = m_context->look(m_move, m_channel);
    look.folded = folded;
    m_context->setLook(m_move, m_channel, look);
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

void LaneHeader::refreshSide(Side side) {
    const int s = side == Side::Incoming;
    if (!m_fields[s][0] || !hasCurve(*m_context->document()->project(), address(side))) return;
    const Curve& curve = curveAt(*m_context->document()->project(), address(side));
    if (m_shown[s] == curve && m_shownTheme == theme().name) return;
    m_shown[s] = curve;
    for (const bool end : {false, true}) {
        NumberField* field = m_fields[s][end];
        if (curve.isEmpty())
            field->clearValue();
        else
            field->setValue(end ? curve.keys.back().value : curve.keys.front().value);
    }
    // The segment at the cut speaks for the side; a shape of several segments is shown whole.
    const int last = int(curve.keys.size()) - 1;
    std::optional<Easing> easing;
    if (last >= 1) {
        const KeyRun run = runAround(curve, side == Side::Outgoing ? last - 1 : 0);
        easing = easingOf(curve, run.first, run.last);
        if (!easing) easing = easingOf(Shape{Interpolation::Linear});
    }
    m_shapes[s]->setEasing(easing, m_context->place().kind == StackPlace::Drift ? theme().text
                                   : side == Side::Outgoing                     ? theme().outgoing
                                                                                : theme().incoming);
}

void LaneHeader::refresh() {
    const Move* move = moveAt(*m_context, m_move);
    const auto there = m_context->document()->project();
    if (!move || !(hasCurve(*there, address(Side::Incoming)) || hasCurve(*there, address(Side::Outgoing)))) return;
    for (const Side side : {Side::Outgoing, Side::Incoming}) refreshSide(side);
    m_shownTheme = theme().name;
    const auto project = m_context->document()->project();
    if (m_match) m_match->setEnabled(curveAt(*project, address(Side::Outgoing)).keys.size() >= 2);
    const auto show = [](QToolButton* button, const QString& name) {
        if (button->property("iconName").toString() == name) return;
        button->setProperty("iconName", name);
        button->setIcon(icon(name));
    };
    show(m_eye, move->enabled ? "eye" : "eye-off");
    show(m_solo, move->solo ? "solo-on" : "solo");
    m_own = m_context->place().kind == StackPlace::Cut
                ? ownOfLane(*m_context->document()->project(), m_context->place().index, m_move, m_channel)
                : OwnOfLane{};
    setTip(this, m_own.any() ? tr("A yellow dot: changed at this cut, does not follow its recipe") : QString());
    update();
    m_title->setEnabled(m_move == shotSpeed || isOn(*m_context->stack(), *move));
    const bool folded = m_context->look(m_move, m_channel).folded;
    show(m_fold, folded ? "folded" : "unfolded");
    m_body->setVisible(!folded);
    if (!m_parameters) return;
    const bool shown = m_context->look(m_move, m_channel).parameters;
    m_unfold->setChecked(shown);
    m_parameters->setVisible(shown && !folded);
}

int LaneHeader::neededHeight() const {
    const LaneLook look = m_context->look(m_move, m_channel);
    return m_parameters && look.parameters ? laneHeight + m_parameters->sizeHint().height() : laneHeight;
}

void LaneHeader::fillMenu(QMenu* menu) {
    const Move* move = moveAt(*m_context, m_move);
    if (!move) return;
    Document* document = m_context->document();
    const StackPlace place = m_context->place();
    const auto check = [&](const QString& text, bool on, auto action) {
        QAction* a = menu->addAction(text);
        a->setCheckable(true);
        a->setChecked(on);
        connect(a, &QAction::triggered, this, action);
    };
    const MoveInfo& info = moveInfo(move->kind);
    const auto sentence = [](std::string_view text) {
        QString s = textOf(text);
        return s.isEmpty() ? s : s[0].toUpper() + s.mid(1);
    };
    if (!info.even.empty())
        check(sentence(info.even), move->even,
              [this, document, place](bool on) { setEvenZoom(*document, place, m_move, on); });
    if (info.part)
        check(tr("Hold at its ends"), move->holds,
              [this, document, place](bool on) { setHolds(*document, place, m_move, on); });
    const LaneLook look = m_context->look(m_move, m_channel);
    check(tr("Hold the value axis"), look.held.has_value(), [this, look, document](bool on) {
        LaneLook next = look;
        next.held.reset();
        if (on) {
            const auto& channel = moveInfo(moveAt(*m_context, m_move)->kind).channels[std::size_t(m_channel)];
            const Move& shown = *moveAt(*m_context, m_move);
            const ValueScale v =
                ValueScale::fitting(shown.channels[std::size_t(m_channel)], channel, spaceOf(shown, m_channel), 0, 1);
            next.held = ValueRange{v.low, v.high};
        }
        m_context->setLook(m_move, m_channel, next);
    });
    check(tr("Folded"), look.folded, [this](bool on) { setFolded(on); });
    for (const int by : {40, -40}) {
        const int next = std::clamp((look.height > 0 ? look.height : height()) + by, laneHeight, 500);
        auto* a = menu->addAction(by > 0 ? tr("Taller") : tr("Lower"), this, [this, look, next] {
            LaneLook changed = look;
            changed.height = next;
            m_context->setLook(m_move, m_channel, changed);
        });
        a->setEnabled(!look.folded && next != height());
    }
    if (look.height > 0)
        menu->addAction(tr("Usual height"), this, [this, look] {
            LaneLook next = look;
            next.height = 0;
            m_context->setLook(m_move, m_channel, next);
        });
    menu->addSeparator();
    const int count = int(m_context->stack()->size());
    auto* up = menu->addAction(tr("Move up"), this,
                               [this, document, place] { moveInStack(*document, place, m_move, m_move - 1); });
    auto* down = menu->addAction(tr("Move down"), this,
                                 [this, document, place] { moveInStack(*document, place, m_move, m_move + 1); });
    up->setEnabled(m_move > 0);
    down->setEnabled(m_move >= 0 && m_move + 1 < count);
    menu->addSeparator();
    menu->addAction(tr("Select all its keys"), this, [this, document, place] {
        m_context->select(keysOfLane(*document->project(), place, m_move, m_channel));
    });
    if (m_match)
        for (const bool keepValues : {true, false}) {
            auto* a = menu->addAction(
                keepValues ? tr("Match speed by the first handle") : tr("Match speed by the start value"), this,
                [this, document, place, keepValues] {
                    const QString why = matchSpeed(*document, place.index, m_move, m_channel, keepValues);
                    if (!why.isEmpty()) emit m_context->problem(why);
                });
            a->setEnabled(m_match->isEnabled());
        }
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        if (!hasSide(place, side) || place.kind != StackPlace::Cut || !m_fields[side == Side::Incoming][0]) continue;
        const bool out = side == Side::Outgoing;
        auto* a = menu->addAction(
            out ? tr("Carry the outgoing side on") : tr("Lead up to the incoming side"), this, [this, document, side] {
                mirrorKeys(*document, keysOf(*document->project(), address(side)), m_move != shotSpeed);
            });
        a->setEnabled(!curveAt(*document->project(), address(side)).isEmpty());
    }
    menu->addSeparator();
    for (const Side side : {Side::Outgoing, Side::Incoming})
        if (m_fields[side == Side::Incoming][0])
            menu->addAction(place.kind == StackPlace::Drift && m_move != shotSpeed ? tr("Clear its keys")
                            : side == Side::Outgoing                               ? tr("Clear the outgoing side")
                                                                                   : tr("Clear the incoming side"),
                            this, [this, document, side] {
                                Curve empty = curveAt(*document->project(), address(side));
                                empty.keys.clear();
                                setCurve(*document, address(side), empty, tr("clear side"));
                            });
    if (m_move == shotSpeed) {
        menu->addAction(tr("Remove all speed keys"), this, [this, document] {
            clearCurves(*document, {address(Side::Outgoing), address(Side::Incoming)}, tr("remove speed keys"));
        });
        return;
    }
    menu->addAction(tr("Remove this move"), this, [this, document, place] { removeMove(*document, place, m_move); });
}

void LaneHeader::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu(this);
    fillMenu(&menu);
    menu.exec(event->globalPos());
}

void LaneHeader::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    m_pressAt = event->globalPosition().toPoint();
    m_pressHeight = height();
    m_drag = event->position().y() >= height() - resizeGrip && !m_context->look(m_move, m_channel).folded
                 ? Drag::Resize
                 : Drag::Pressed;
}

void LaneHeader::mouseMoveEvent(QMouseEvent* event) {
    const QPoint at = event->globalPosition().toPoint();
    if (m_drag == Drag::None) {
        const bool grip = event->position().y() >= height() - resizeGrip;
        setCursor(grip && !m_context->look(m_move, m_channel).folded ? Qt::SizeVerCursor : Qt::ArrowCursor);
        return;
    }
    if (m_drag == Drag::Resize) {
        LaneLook look = m_context->look(m_move, m_channel);
        look.height = std::clamp(m_pressHeight + at.y() - m_pressAt.y(), laneHeight, 500);
        m_context->setLook(m_move, m_channel, look);
        return;
    }
    if (m_drag == Drag::Pressed && std::abs(at.y() - m_pressAt.y()) < 6) return;
    m_drag = Drag::Carry;
    setCursor(Qt::ClosedHandCursor);
    emit carried(m_move, at, false);
}

void LaneHeader::mouseReleaseEvent(QMouseEvent* event) {
    const Drag drag = std::exchange(m_drag, Drag::None);
    unsetCursor();
    if (drag == Drag::Carry) emit carried(m_move, event->globalPosition().toPoint(), true);
}

void LaneHeader::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && event->position().y() < foldedHeight)
        setFolded(!m_context->look(m_move, m_channel).folded);
}

void LaneHeader::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    p.fillRect(QRectF(0, height() - 1, width(), 1), theme().line);
    p.fillRect(QRectF(width() - 1, 0, 1, height()), theme().line);
    // What is the cut's own and does not follow its recipe.
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().playhead);
    const auto mark = [&](const QWidget* beside) {
        if (beside && beside->isVisible())
            p.drawEllipse(QPointF(5.5, beside->mapTo(this, QPoint(0, beside->height() / 2)).y()), 2.2, 2.2);
    };
    if (m_own.outgoing) mark(m_fields[0][0]);
    if (m_own.incoming) mark(m_fields[1][0]);
    if (m_own.rest || (m_own.any() && !m_body->isVisible())) mark(m_title);
}

} // namespace virga
