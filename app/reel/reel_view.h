#pragma once
// The Reel: the main line of clips with thumbnails, joints at the cuts, beats or seconds above, the music's waveform
// below. Click selects; dragging a clip reorders, dragging an edge trims, dragging in the ruler scrubs; files are
// dropped in.
#include <QWidget>

#include "app/background/flow_watch.h"
#include "app/background/thumbnails.h"
#include "app/background/waveform.h"
#include "app/document/document.h"
#include "app/reel/reel_scale.h"

namespace virga {

class EmptyReel;

class ReelView : public QWidget {
    Q_OBJECT
public:
    ReelView(Document* document, Thumbnails* thumbnails, Waveforms* waveforms, FlowWatch* flow,
             QWidget* parent = nullptr);

    QSize sizeHint() const override { return {1000, 116}; }
    QSize minimumSizeHint() const override { return {300, 96}; }
    /// Where things are, for tests and for gestures that begin elsewhere.
    ReelScale scale() const;
    QPoint jointCentre(int cut) const;
    QRectF clipRect(int clip) const;
    /// Shown at the right while files are read; empty for none.
    void setBusyText(const QString& text);

signals:
    void filesDropped(const QStringList& paths, int place);
    void addWanted();
    void demoWanted();
    void contextMenuWanted(const QPoint& globalPosition);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    enum class Gesture { None, Scrub, Press, Reorder, TrimHead, TrimTail };
    QRectF clipsBand() const;
    QRectF waveBand() const;
    void paintRuler(QPainter& p);
    void paintClip(QPainter& p, int clip);
    void paintWave(QPainter& p);
    void paintJoint(QPainter& p, int cut);
    void paintTrim(QPainter& p);
    void scrubTo(double x);
    QString jointIcon(int cut) const;
    void updateCursor(const ReelHit& hit);

    Document* m_document;
    Thumbnails* m_thumbnails;
    Waveforms* m_waveforms;
    FlowWatch* m_flow;
    EmptyReel* m_empty;
    Gesture m_gesture = Gesture::None;
    ReelHit m_pressed, m_hover;
    QPointF m_pressAt, m_at;
    ReelScale m_pressScale;
    int m_dropPlace = -1;
    QString m_busy;
};

} // namespace virga
