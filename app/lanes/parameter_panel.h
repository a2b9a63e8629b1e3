#pragma once
// What of a move does not change over time, in rows of a caption and a field: its parameters and its anchor.
#include <QWidget>
#include <vector>

#include "app/lanes/lane_context.h"

class QCheckBox;
class QComboBox;
class QToolButton;

namespace virga {

class NumberField;

class ParameterPanel : public QWidget {
    Q_OBJECT
public:
    ParameterPanel(LaneContext* context, int move, QWidget* parent = nullptr);
    /// Null where the parameter is none of that look.
    NumberField* field(int parameter) const { return m_rows[std::size_t(parameter)].field; }
    QComboBox* choice(int parameter) const { return m_rows[std::size_t(parameter)].choice; }
    QCheckBox* check(int parameter) const { return m_rows[std::size_t(parameter)].check; }
    NumberField* anchor(int axis) const { return m_anchor[axis]; }
    /// Whether a kind has anything to show here.
    static bool hasAny(const MoveInfo& info) { return !info.parameters.empty() || !info.anchor.empty(); }

private:
    struct Row {
        NumberField* field = nullptr;
        QComboBox* choice = nullptr;
        QCheckBox* check = nullptr;
        QToolButton* colour = nullptr;
    };
    QWidget* build(const ParameterInfo& info, int parameter);
    const Move* move() const;
    void enter(int parameter, double value);
    void pickColour(int parameter);
    void refresh();

    LaneContext* m_context;
    int m_move;
    std::vector<Row> m_rows;
    NumberField* m_anchor[2] = {};
};

} // namespace virga
