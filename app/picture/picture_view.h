#pragma once
// The frame at the playhead, exactly as exported: a quick picture at once, then the exact one at full size. Where a
// file cannot be read it says so in its place.
#include <QTimer>
#include <QWidget>

#include "app/background/frame_service.h"
#include "app/background/player.h"

namespace virga {

class PictureView : public QWidget {
    Q_OBJECT
public:
    PictureView(Document* document, FrameService* frames, Player* player, QWidget* parent = nullptr);

    QSize minimumSizeHint() const override { return {320, 180}; }
    /// What is shown: the frame's picture at the size it was rendered at.
    const QImage& image() const { return m_image; }
    std::int64_t shownFrame() const { return m_shown; }
    /// True once the exact picture of the playhead's frame is shown.
    bool isExact() const { return m_exact; }

signals:
    void shown();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void sharpen();
    QRectF frameRect() const;
    QSize quickSize() const;

    Document* m_document;
    FrameService* m_frames;
    Player* m_player;
    QTimer m_sharpen;
    QImage m_image;
    std::int64_t m_shown = -1;
    bool m_exact = false;
    QString m_error;
};

} // namespace virga
