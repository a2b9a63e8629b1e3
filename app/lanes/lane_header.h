#pragma once
// A lane's left part: its name, start and end of both sides as number fields, shape chips, and matching.
#include <QWidget>

#include "app/lanes/lane_context.h"

class QLabel;
class QPushButton;
class QToolButton;

namespace virga {

class NumberField;
class ShapeChip;

class LaneHeader : public QWidget {
    Q_OBJECT
public:
    LaneHeader(LaneContext* context, int move, int channel, QWidget* parent = nullptr);
    NumberField* field(Side side, bool end) const { return m_fields[side == Side::Incoming][end]; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void refresh();
    CurveAddress address(Side side) const { return {m_context->document()->cut(), m_move, m_channel, side}; }
    void enter(Side side, bool end, double value);
    void fillMenu(QMenu* menu);

    LaneContext* m_context;
    int m_move, m_channel;
    QLabel* m_title;
    QToolButton* m_eye;
    NumberField* m_fields[2][2];
    ShapeChip* m_shapes[2];
    QPushButton* m_match;
};

} // namespace virga
