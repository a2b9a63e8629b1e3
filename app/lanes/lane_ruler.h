#pragma once
// The frames from the cut, or of the clip, above the lanes. A drag in it scrubs, the wheel pans and with Ctrl zooms.
#include <QWidget>

#include "app/lanes/lane_context.h"

namespace virga {

class LaneRuler : public QWidget {
    Q_OBJECT
public:
    explicit LaneRuler(LaneContext* context, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {400, 24}; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void scrub(double x);
    LaneContext* m_context;
};

} // namespace virga
