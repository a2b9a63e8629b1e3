#pragma once
// A field for one number: shows it with its unit, takes arithmetic ("5*960px", "16/9"), nudges by the arrow keys. A
// wrong entry is marked, explained in the tooltip, and never loses what was typed; Escape brings the value back.
#include <QLineEdit>

#include "core/base/expression.h"

namespace virga {

class NumberField : public QLineEdit {
    Q_OBJECT
public:
    explicit NumberField(QWidget* parent = nullptr);

    void setRange(double lowest, double highest);
    void setUnit(const QString& unit, int decimals, double step);
    /// Units that may stand behind numbers, as fractions of the field's own.
    void setUnits(Units units) { m_units = std::move(units); }
    /// Shown dimmed instead of a number.
    void setEmptyText(const QString& text);
    void setValue(double value);
    void clearValue();
    double value() const { return m_value; }
    bool hasValue() const { return m_has; }
    /// "outgoing" or "incoming" colours the number.
    void setSide(const char* side);

signals:
    /// The user has entered or nudged to another value.
    void edited(double value);

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void commit();
    void nudge(double steps);
    void showValue();
    void setWrong(const QString& why);
    QString textFor(double value) const;

    Units m_units;
    QString m_unit, m_tip;
    double m_value = 0, m_lowest = -1e9, m_highest = 1e9, m_step = 1;
    int m_decimals = 2;
    bool m_has = false;
};

} // namespace virga
