#pragma once
// A lane's left part: its name, start and end of both sides as number fields, shapes, matching; folds, resizes and
// reorders the lane.
#include <QWidget>

#include "app/lanes/lane_context.h"
#include "core/recipe/link.h"

class QLabel;
class QMenu;
class QPushButton;
class QToolButton;

namespace virga {

class NumberField;
class ParameterPanel;
class ShapeChip;

class LaneHeader : public QWidget {
    Q_OBJECT
public:
    LaneHeader(LaneContext* context, int move, int channel, QWidget* parent = nullptr);
    /// Null for a side that the lane does not have.
    NumberField* field(Side side, bool end) const { return m_fields[side == Side::Incoming][end]; }
    ShapeChip* chip(Side side) const { return m_shapes[side == Side::Incoming]; }
    QToolButton* eye() const { return m_eye; }
    QToolButton* solo() const { return m_solo; }
    QToolButton* fold() const { return m_fold; }
    /// The button that unfolds the parameters, and they; null where the kind has none, or in its further lanes.
    QToolButton* unfold() const { return m_unfold; }
    ParameterPanel* parameters() const { return m_parameters; }
    /// What the header needs for all that it shows.
    int neededHeight() const;
    void fillMenu(QMenu* menu);

signals:
    void shapesWanted(virga::Side side);
    /// The header is dragged up or down, to be dropped among the others.
    void carried(int move, const QPoint& globalAt, bool dropped);

protected:
    void paintEvent(QPaintEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    void buildHead(const QString& name);
    void buildSide(Side side, int row, const QString& name);
    void refresh();
    void refreshSide(Side side);
    CurveAddress address(Side side) const { return {m_context->place(), m_move, m_channel, side}; }
    void enter(Side side, bool end, double value);
    void setFolded(bool folded);

    LaneContext* m_context;
    int m_move, m_channel;
    QLabel* m_title;
    OwnOfLane m_own;
    QToolButton *m_fold, *m_solo, *m_eye, *m_more;
    QWidget* m_body;
    QToolButton* m_unfold = nullptr;
    ParameterPanel* m_parameters = nullptr;
    NumberField* m_fields[2][2] = {};
    ShapeChip* m_shapes[2] = {};
    std::optional<Curve> m_shown[2]; // what the fields and chips show
    QString m_shownTheme;
    QPushButton* m_match = nullptr;
    enum class Drag { None, Pressed, Carry, Resize } m_drag = Drag::None;
    QPoint m_pressAt;
    int m_pressHeight = 0;
};

} // namespace virga
