#pragma once
// Faces: the last outgoing frame and the first incoming one over each other, to line up their subjects. A mark on each
// is dragged to its subject, its rim to the subject's size, its knob to how it is turned; both are found by what the
// shots have in common, or followed through their shots; *line up* lays the second on the first.
#include <QImage>
#include <QObject>
#include <QTimer>

#include "app/services/frame_service.h"
#include "app/services/job.h"
#include "core/edit/line_up.h"

class QPainter;

namespace virga {

class Faces : public QObject {
    Q_OBJECT
public:
    enum Way { Split, Mix, Difference, Flicker };
    Faces(Document* document, FrameService* frames, QObject* parent = nullptr);

    void setShown(bool on);
    bool isShown() const { return m_shown; }
    Way way() const { return m_way; }
    void setWay(Way way);
    void setFrame(const QRectF& frame) { m_frame = frame; }
    /// Asks for both pictures.
    void refresh();
    bool isReady() const { return !m_images[0].isNull() && !m_images[1].isNull(); }
    void paint(QPainter& p);

    bool press(QPointF at);
    void drag(QPointF at);
    void release();
    /// The mark of a side in the widget, set or not; for tests.
    QPointF markOf(Side side) const;
    QPointF knobOf(Side side) const;
    /// An empty text, or why it could not be done. Where the shot shows bare or copied edges then and did not before,
    /// that is told.
    QString lineUp();

    /// Both marks put on what the two pictures have in common, in the background.
    void find();
    /// Both subjects followed through their shots, in the background; what was set by hand stays.
    void follow();
    bool isBusy() const { return m_job.isRunning(); }
    void stop() { m_job.stop(); }
    Job* job() { return &m_job; }

signals:
    void changed();
    /// What was found, followed or lined up, or why nothing was.
    void told(const QString& text);

private:
    SubjectSeen seen(Side side) const; // where none is set, in the frame's middle
    QPointF toWidget(Point p) const;
    Point toFrame(QPointF p) const;
    double perPixel() const;
    void paintMark(QPainter& p, Side side);
    void tellOfEdges(const Snapshot& before, const Snapshot& after, int clip);

    Document* m_document;
    FrameService* m_frames;
    QTimer m_flicker;
    QRectF m_frame;
    QImage m_images[2];
    Way m_way = Split;
    bool m_shown = false, m_second = false;
    double m_divider = 0.5;
    Job m_job, m_edges;
    enum Held { Nothing, Mark, Rim, Knob, Divider } m_held = Nothing;
    Side m_side = Side::Outgoing;
    QPointF m_pressed;
    SubjectSeen m_origin;
};

} // namespace virga
