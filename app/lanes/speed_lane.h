#pragma once
// The last lane: the on-screen speed of everything together, with the step at the cut.
#include <QWidget>

#include "app/lanes/lane_context.h"

class QLabel;
class QPushButton;

namespace virga {

class SpeedChart : public QWidget {
    Q_OBJECT
public:
    explicit SpeedChart(LaneContext* context, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    LaneContext* m_context;
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
