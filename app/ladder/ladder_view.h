#pragma once
// The Ladder: the six frames around the cut, rendered exactly, each with its number and a bar for its on-screen speed.
// A click puts the playhead on a frame.
#include <QWidget>
#include <array>

#include "app/background/frame_service.h"

namespace virga {

class LadderView : public QWidget {
    Q_OBJECT
public:
    LadderView(Document* document, FrameService* frames, QWidget* parent = nullptr);

    static constexpr int count = 6, firstFrame = -3;
    QSize sizeHint() const override { return {700, 112}; }
    QSize minimumSizeHint() const override { return {360, 96}; }
    QRectF frameRect(int index) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Rung {
        bool there = false;
        QImage image;
        double speed = 0;
    };
    void refresh();

    Document* m_document;
    FrameService* m_frames;
    std::array<Rung, count> m_rungs;
};

} // namespace virga
