#pragma once
// One channel's chart and its gestures: selects, drags keys, handles and speeds, boxes many, adds and removes keys, and
// does all of it by keyboard too. What it shows is a LanePicture; what a drag means is in lane_drag.h.
#include <QPixmap>
#include <QWidget>
#include <functional>

#include "app/lanes/lane_context.h"
#include "app/lanes/lane_drag.h"
#include "app/lanes/lane_picture.h"

namespace virga {

class FrameService;

class LaneChart : public QWidget {
    Q_OBJECT
public:
    LaneChart(LaneContext* context, FrameService* frames, int move, int channel, QWidget* parent = nullptr);

    int move() const { return m_move; }
    /// Where a key's tip, a handle's ring and a side's speed are, for tests and menus.
    QPointF keyPoint(Side side, int key) const;
    std::optional<QPointF> handlePoint(Side side, int key, bool leave) const;
    QPointF speedPoint(Side side, double time) const;
    const ValueScale& values() const { return m_axes.values; }
    const LanePicture& picture() const { return m_picture; }
    /// Keys whose drops lie in a box of global pixels.
    KeySet keysIn(const QRect& global) const;
    CurveAddress address(Side side) const { return {m_context->place(), m_move, m_channel, side}; }
    /// The key nearest to the playhead becomes the only selected one.
    void selectNearest();
    void addKeyAtPlayhead();
    void openShapes(const KeySet& keys);
    void editActive();

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
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    bool event(QEvent* event) override;

private:
    enum class Drag { None, Keys, BendHandle, PullSpeed, Box, Pan };

    bool isThere() const;
    const Channel& channel() const;
    const Move& moveShown() const;
    const ChannelInfo& info() const;
    bool isSpeed() const { return m_move == shotSpeed; }
    bool isDrift() const { return m_context->place().kind == StackPlace::Drift && !isSpeed(); }
    bool isJoint() const { return m_context->place().kind == StackPlace::Cut; }
    SideKeys selected() const;
    std::vector<Ghost> ghosts() const;
    std::vector<LanePicture::OwnDot> ownDots() const;
    std::vector<std::pair<const Clip*, double>> shots(const Project& project) const;
    std::vector<LanePicture::Below> sourceFrames() const;
    std::vector<LanePicture::Whole> wholes() const;
    /// Lays the axes out anew and repaints where anything is other than it was.
    void refresh();
    void fitAxes();
    void describeForReaders();
    LaneHit hitAt(QPointF at) const;
    /// A frame of the axis as one of a side's own.
    double timeOn(Side side, double frame) const;

    void pressKey(const LaneHit& hit, Qt::KeyboardModifiers modifiers);
    void dragTo(QPointF at, Qt::KeyboardModifiers modifiers);
    void finishDrag();
    void abandonDrag();
    void addKey(Side side, double time, std::optional<double> value);
    void editKey(const KeyAddress& key);
    void segmentMenu(const LaneHit& hit, const QPoint& globalAt);
    bool isOurs(const QKeyEvent& event) const;
    bool stepKey(int by, bool adding);
    bool nudge(const QKeyEvent& event);
    void nudgeHandle(const QKeyEvent& event);
    void cycleHandle();
    void pullAtPlayhead(double part);
    void zoomValues(double factor, double about);

    LaneContext* m_context;
    FrameService* m_frames;
    int m_move, m_channel;
    LaneAxes m_axes;
    LanePicture m_picture, m_drawn; // what is to be seen, and what of it m_content holds
    QPixmap m_content;
    QString m_drawnTheme;
    LaneHit m_hover, m_pressed;
    double m_hoverFrame = 0;
    std::optional<HandleRef> m_handle; // the one the arrows bend
    QPointF m_pressAt;
    Qt::KeyboardModifiers m_pressModifiers;
    bool m_pressWasSelected = false;
    double m_pressTime = 0;
    FrameScale m_pressFrames;
    KeySet m_boxBefore;
    Drag m_drag = Drag::None;
    bool m_moved = false;
};

} // namespace virga
