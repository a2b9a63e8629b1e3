#pragma once
// The Ladder: frames around the cut, as many as the width holds, rendered exactly, each with its number, a bar for its
// seen speed, a thinner one for its blur, and its share of copies. A click puts the playhead on a frame; a double click
// enlarges it all to a contact sheet.
#include <QTimer>
#include <QWidget>
#include <vector>

#include "app/services/flow_watch.h"
#include "app/services/frame_service.h"

namespace virga {

class LadderView : public QWidget {
    Q_OBJECT
public:
    LadderView(Document* document, FrameService* frames, FlowWatch* flow, QWidget* parent = nullptr);

    /// How many frames there are, half of them on each side, and the first one counted from the cut.
    int count() const;
    int firstFrame() const { return -count() / 2; }
    QSize sizeHint() const override { return {700, 112}; }
    QSize minimumSizeHint() const override { return {360, 96}; }
    QRectF frameRect(int index) const;
    /// What is shown of a frame; null where it is not there yet.
    QImage image(int index) const;

signals:
    void sheetWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Rung {
        bool there = false;
        QImage image;
        double speed = 0;
    };
    void refresh();
    /// The facts of a frame counted from the cut, of the latest check; null where there are none.
    const FrameFacts* factsAt(int frame) const;
    int rungAt(QPointF at) const;

    Document* m_document;
    FrameService* m_frames;
    FlowWatch* m_flow;
    QTimer m_later;
    std::vector<Rung> m_rungs;
};

/// "−3", "0", "+2": a frame counted from the cut.
QString frameName(int frame);

} // namespace virga
