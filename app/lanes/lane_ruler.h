#pragma once
// The frames from the cut above the lanes; a drag in it scrubs.
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

private:
    void scrub(double x);
    LaneContext* m_context;
};

} // namespace virga
