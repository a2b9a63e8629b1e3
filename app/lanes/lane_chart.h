#pragma once
// One channel's chart: both sides' curves with their keys as drops, handles as rings, speed as a faint fill. Drag a
// drop or a ring; double-click a drop to type, the curve to add a key; right-click a segment for shapes; arrows nudge
// the selected key.
#include <QWidget>

#include "app/lanes/lane_context.h"

namespace virga {

class LaneChart : public QWidget {
    Q_OBJECT
public:
    LaneChart(LaneContext* context, int move, int channel, QWidget* parent = nullptr);

    /// Where a key's tip and a handle's ring are, for tests.
    QPointF keyPoint(Side side, int key) const;
    std::optional<QPointF> handlePoint(Side side, int key, bool leave) const;
    const ValueScale& values() const { return m_values; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

private:
    CurveAddress address(Side side) const { return {m_context->document()->cut(), m_move, m_channel, side}; }
    bool isThere() const;
    const Channel& channel() const;
    const Move& move() const;
    const ChannelInfo& info() const;
    std::optional<SelectedKey> selected() const;
    void refit();
    LaneHit hitAt(QPointF at) const;
    void dragKey(QPointF at, Qt::KeyboardModifiers modifiers);
    void dragHandle(QPointF at, Qt::KeyboardModifiers modifiers);
    void addKeyAt(QPointF at);
    void removeKey(Side side, int key);
    void editKey(Side side, int key);
    void segmentMenu(const LaneHit& hit, const QPoint& globalAt);
    void paintGrid(QPainter& p) const;
    void paintSide(QPainter& p, Side side) const;
    void paintSpeed(QPainter& p, Side side) const;
    void paintKeys(QPainter& p, Side side) const;

    LaneContext* m_context;
    int m_move, m_channel;
    ValueScale m_values;
    LaneHit m_pressed, m_hover;
    QPointF m_pressAt;
    Curve m_before;
    bool m_dragging = false;
};

/// Painting shared by the charts: frame grid, cut line, playhead.
void paintFrameGrid(QPainter& p, const QRect& where, const FrameScale& frames);
void paintCutAndPlayhead(QPainter& p, const QRect& where, const LaneContext& context);

} // namespace virga
