#include "app/lanes/parameter_panel.h"

#include "app/document/words.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QComboBox>
#include <QGridLayout>
#include <QToolButton>

#include "app/commands/cut_commands.h"
#include "app/lanes/key_editor.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/project/limits.h"

namespace virga {
namespace {

constexpr int fieldWidth = 86;

} // namespace

ParameterPanel::ParameterPanel(LaneContext* context, int move, QWidget* parent)
    : QWidget(parent), m_context(context), m_move(move) {
    setObjectName("parameters");
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(8, 2, 0, 6);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    grid->setColumnStretch(0, 1);
    const MoveInfo& info = moveInfo(this->move()->kind);
    int row = 0;
    for (int p = 0; p < int(info.parameters.size()); ++p) {
        const ParameterInfo& parameter = info.parameters[std::size_t(p)];
        m_rows.emplace_back();
        QWidget* control = build(parameter, p);
        auto* caption = label(textOf(parameter.label), "caption", this);
        if (!parameter.hint.empty()) {
            setTip(caption, textOf(parameter.hint));
            setTip(control, textOf(parameter.hint));
        }
        control->setAccessibleName(QStringLiteral("%1, %2").arg(textOf(info.label), textOf(parameter.label)));
        if (!m_rows.back().check) control->setFixedWidth(fieldWidth);
        grid->addWidget(caption, row, 0);
        grid->addWidget(control, row++, 1, m_rows.back().check ? Qt::AlignLeft : Qt::Alignment());
    }
    if (!info.anchor.empty())
        for (const int axis : {0, 1}) {
            auto* field = new NumberField(this);
            field->setUnit(axis == 0 ? QStringLiteral("w") : QStringLiteral("h"), 3, 0.01);
            field->setRange(-farthestPlace, farthestPlace);
            const Size size = context->document()->project()->settings.size;
            field->setUnits({{"px", 1.0 / (axis == 0 ? size.width : size.height)}, {"%", 0.01}});
            field->setFixedWidth(fieldWidth);
            const QString caption = tr(axis == 0 ? "%1 across" : "%1 down").arg(textOf(info.anchor));
            field->setAccessibleName(QStringLiteral("%1, %2").arg(textOf(info.label), caption));
            connect(field, &NumberField::edited, this, [this, axis](double value) {
                setMoveAnchor(*m_context->document(), m_context->place(), m_move, axis, value);
            });
            grid->addWidget(label(caption, "caption", this), row, 0);
            grid->addWidget(field, row++, 1);
            m_anchor[axis] = field;
        }
    connect(context, &LaneContext::changed, this, &ParameterPanel::refresh);
    refresh();
}

const Move* ParameterPanel::move() const {
    const Stack* stack = m_context->stack();
    return stack && m_move < int(stack->size()) ? &(*stack)[std::size_t(m_move)] : nullptr;
}

QWidget* ParameterPanel::build(const ParameterInfo& info, int parameter) {
    Row& row = m_rows[std::size_t(parameter)];
    switch (info.look) {
    case ParameterInfo::Look::Choice:
        row.choice = new QComboBox(this);
        for (const std::string_view word : info.choices) row.choice->addItem(textOf(word));
        connect(row.choice, &QComboBox::activated, this, [this, parameter](int i) { enter(parameter, i); });
        return row.choice;
    case ParameterInfo::Look::Switch:
        row.check = new QCheckBox(this);
        connect(row.check, &QCheckBox::clicked, this, [this, parameter](bool on) { enter(parameter, on); });
        return row.check;
    case ParameterInfo::Look::Colour:
        row.colour = new QToolButton(this);
        row.colour->setFixedHeight(20);
        connect(row.colour, &QToolButton::clicked, this, [this, parameter] { pickColour(parameter); });
        return row.colour;
    case ParameterInfo::Look::Number:
        break;
    }
    row.field = new NumberField(this);
    setUpParameterField(row.field, info, m_context->document()->project()->settings.size);
    connect(row.field, &NumberField::edited, this, [this, parameter](double value) { enter(parameter, value); });
    return row.field;
}

void ParameterPanel::enter(int parameter, double value) {
    setMoveParameter(*m_context->document(), m_context->place(), m_move, parameter, value);
}

void ParameterPanel::pickColour(int parameter) {
    const Move* m = move();
    if (!m) return;
    const QColor now = QColor::fromRgb(QRgb(m->parameters[std::size_t(parameter)]));
    const QColor chosen = QColorDialog::getColor(now, this, tr("Colour"));
    if (chosen.isValid()) enter(parameter, double(chosen.rgb() & 0xffffff));
}

void ParameterPanel::refresh() {
    const Move* m = move();
    if (!m || m->parameters.size() < m_rows.size()) return;
    for (std::size_t p = 0; p < m_rows.size(); ++p) {
        const double value = m->parameters[p];
        Row& row = m_rows[p];
        if (row.field && (!row.field->hasValue() || row.field->value() != value)) row.field->setValue(value);
        if (row.choice && row.choice->currentIndex() != int(value)) row.choice->setCurrentIndex(int(value));
        if (row.check) row.check->setChecked(value > 0);
        if (row.colour)
            row.colour->setStyleSheet(QStringLiteral("background: %1; border: 1px solid %2; border-radius: 3px;")
                                          .arg(QColor::fromRgb(QRgb(value)).name(), theme().line.name()));
    }
    for (const int axis : {0, 1}) {
        const double value = axis == 0 ? m->anchor.x : m->anchor.y;
        if (NumberField* field = m_anchor[axis]; field && (!field->hasValue() || field->value() != value))
            field->setValue(value);
    }
}

} // namespace virga
