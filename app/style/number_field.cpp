#include "app/style/number_field.h"
#include "app/style/plain_text.h"

#include <QKeyEvent>
#include <QStyle>
#include <algorithm>
#include <cmath>

namespace virga {

NumberField::NumberField(QWidget* parent) : QLineEdit(parent) {
    setObjectName("number");
    setAlignment(Qt::AlignRight);
    setFixedHeight(20);
    connect(this, &QLineEdit::editingFinished, this, &NumberField::commit);
    connect(this, &QLineEdit::textEdited, this, [this] { setWrong({}); });
}

void NumberField::setRange(double lowest, double highest) {
    m_lowest = lowest, m_highest = highest;
}

void NumberField::setUnit(const QString& unit, int decimals, double step) {
    m_unit = unit, m_decimals = decimals, m_step = step;
    if (!hasFocus() || !isModified()) showValue();
}

void NumberField::setEmptyText(const QString& text) {
    setPlaceholderText(text);
}

void NumberField::setValue(double value) {
    if (m_has && value == m_value && !isModified()) return;
    m_value = value;
    m_has = true;
    if (!hasFocus() || !isModified()) showValue();
}

void NumberField::clearValue() {
    m_has = false;
    if (!hasFocus() || !isModified()) showValue();
}

void NumberField::setSide(const char* side) {
    setProperty("side", side);
    style()->unpolish(this);
    style()->polish(this);
}

QString NumberField::textFor(double value) const {
    QString text = QString::number(value, 'f', m_decimals);
    // Two places stay; further ones, and a single one, only where they say something.
    if (m_decimals > 2)
        while (text.endsWith('0') && text.size() - text.indexOf('.') > 3) text.chop(1);
    else if (m_decimals == 1 && text.endsWith(".0"))
        text.chop(2);
    if (text.startsWith('-') && text.toDouble() == 0) text.remove(0, 1);
    return text + m_unit;
}

void NumberField::showValue() {
    setText(m_has ? textFor(m_value) : QString());
    setModified(false);
    setWrong({});
    if (hasFocus()) selectAll();
}

void NumberField::setWrong(const QString& why) {
    if (m_tip.isNull()) m_tip = toolTip();
    const bool wrong = !why.isEmpty();
    if (property("wrong").toBool() != wrong) {
        setProperty("wrong", wrong);
        style()->unpolish(this);
        style()->polish(this);
        setTip(this, wrong ? why : m_tip);
    }
}

void NumberField::commit() {
    if (!isModified()) return;
    QString typed = text().trimmed();
    if (typed.isEmpty()) return showValue();
    Units units = m_units;
    if (!m_unit.trimmed().isEmpty()) units.push_back({m_unit.trimmed().toStdString(), 1.0});
    const auto value = evaluateExpression(typed.toStdString(), units);
    if (!value) return setWrong(QString::fromStdString(describe(value.error())));
    if (*value < m_lowest || *value > m_highest)
        return setWrong(tr("Type a value from %1 to %2").arg(textFor(m_lowest), textFor(m_highest)));
    setModified(false);
    const bool changed = !m_has || std::abs(*value - m_value) > 1e-12;
    m_value = *value;
    m_has = true;
    showValue();
    if (changed) emit edited(m_value);
}

void NumberField::nudge(double steps) {
    if (!m_has || isReadOnly() || !isEnabled()) return;
    const double next = std::clamp(m_value + steps * m_step, m_lowest, m_highest);
    setModified(false);
    m_value = std::round(next * 1e9) / 1e9;
    showValue();
    emit edited(m_value);
}

bool NumberField::event(QEvent* event) {
    // While nothing is being typed, undo and redo are the piece's and not the field's.
    if (event->type() == QEvent::ShortcutOverride && !isModified()) {
        auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo) ||
            (key->key() == Qt::Key_Z && key->modifiers() == (Qt::ControlModifier | Qt::ShiftModifier))) {
            event->ignore();
            return false;
        }
    }
    return QLineEdit::event(event);
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    const double big = event->modifiers() & Qt::ShiftModifier ? 10 : 1;
    if (event->key() == Qt::Key_Up) return nudge(big);
    if (event->key() == Qt::Key_Down) return nudge(-big);
    if (event->key() == Qt::Key_Escape) {
        showValue();
        clearFocus();
        return;
    }
    QLineEdit::keyPressEvent(event);
    if (event->key() != Qt::Key_Return && event->key() != Qt::Key_Enter) return;
    event->accept();                               // it enters the number, and presses no button of a dialog
    if (!property("wrong").toBool()) clearFocus(); // the keys belong to the window again
}

void NumberField::focusInEvent(QFocusEvent* event) {
    QLineEdit::focusInEvent(event);
    selectAll();
}

void NumberField::wheelEvent(QWheelEvent* event) {
    event->ignore();
} // the list behind it scrolls; values do not jump

} // namespace virga
