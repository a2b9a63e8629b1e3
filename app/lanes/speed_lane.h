#pragma once
// The last lane: the on-screen speed of everything together, with the step at the cut. Its line can be pulled up and
// down; every channel that moves there follows.
#include <QWidget>
#include <memory>
#include <vector>

#include "app/lanes/lane_context.h"
#include "core/plan/seen_speed.h"

class QLabel;
class QPushButton;

namespace virga {

class SpeedChart : public QWidget {
    Q_OBJECT
public:
    explicit SpeedChart(LaneContext* context, QWidget* parent = nullptr);
    /// Where the line of a side is at one of its times, for tests.
    QPointF pointAt(Side side, double time) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Sample {
        double x, speed;
    };
    void sample();
    double yOf(double speed) const;
    std::optional<Side> sideUnder(QPointF at) const;
    double timeOn(Side side, double x) const { return m_context->frames(side).frameAt(x); }
    Project pulled(const Project& before, Side side, double time, double speed, bool free) const;
    double speedAt(const SeenSpeeds& speeds, Side side, double time) const;

    LaneContext* m_context;
    std::vector<Sample> m_sides[2];
    std::shared_ptr<const Project> m_sampledProject;
    const ShotMovements* m_sampledShots = nullptr;
    StackPlace m_sampledPlace;
    FrameScale m_sampledFrames;
    int m_sampledWidth = 0;
    bool m_sampledDragging = false;
    double m_fastest = 5;
    std::optional<Side> m_hover, m_pressed;
    QPointF m_pressAt;
    double m_hoverX = 0, m_pressTime = 0;
    bool m_moved = false;
};

class SpeedHeader : public QWidget {
    Q_OBJECT
public:
    explicit SpeedHeader(LaneContext* context, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    LaneContext* m_context;
    QLabel* m_step;
    QPushButton* m_match;
};

} // namespace virga
