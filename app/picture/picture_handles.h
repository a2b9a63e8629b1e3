#pragma once
// Handles on the Picture: the shot is dragged to slide it, drawn at a corner or by the wheel to zoom, turned by its
// ring, leaned by its edges; the cross is the anchor; the mark of a subject that was followed through the shot is put
// right on any frame. They change what the lanes show, on the side and at the frame
// that is seen: a key there, or the clip's own place where it has no such move. One drag is one step; it clings to what
// it comes near to unless Shift is held, which also makes it fine. Interface thread only.
#include <QObject>
#include <QPointF>
#include <QRectF>
#include <optional>

#include "app/document/document.h"
#include "core/edit/line_up.h"
#include "core/edit/steer.h"

class QPainter;

namespace virga {

class PictureHandles : public QObject {
    Q_OBJECT
public:
    enum What { Nowhere, Body, Corner, Ring, Anchor, Edge, Mark };
    struct Hit {
        What what = Nowhere;
        int index = 0; // of the corner or the edge, clockwise from the top left or the top
        bool operator==(const Hit&) const = default;
    };

    explicit PictureHandles(Document* document, QObject* parent = nullptr);

    /// Where the frame lies in the widget.
    void setFrame(const QRectF& frame) { m_frame = frame; }
    /// Whether there is anything to hold.
    bool isThere();
    Hit hit(QPointF at);
    /// Where a handle is, in the widget; for tests.
    QPointF placeOf(Hit hit);

    bool isDragging() const { return m_dragging.has_value(); }
    bool press(QPointF at);
    void drag(QPointF at, bool fine);
    void release();
    void cancel();
    /// Zooms by so many notches.
    void wheel(double notches, bool fine);

    void setHover(std::optional<QPointF> at);
    void paint(QPainter& p, bool handles);
    /// "spin −46.0°": what is being dragged.
    QString told() const { return m_told; }
    Qt::CursorShape cursor(QPointF at);

signals:
    void changed();

private:
    int preferred() const;
    Steering steering(const Project& project) const;
    const std::optional<Steering>& now();
    QPointF toWidget(Point frame) const;
    Point toFrame(QPointF widget) const;
    QPointF ringKnob(const Steering& s) const;
    double ringRadius() const;
    void paintPath(QPainter& p);
    void paintMark(QPainter& p);
    /// The followed subject of the clip at the playhead, on the side of the selected cut.
    struct Followed {
        int clip = -1;
        Side side = Side::Outgoing;
        SubjectSeen seen;
    };
    std::optional<Followed> followed(const Project& project) const;
    /// A value drawn to the nearest of what it may cling to.
    double cling(double value, const std::vector<double>& to, double reach) const;
    std::vector<double> otherSide(const SteerTarget& target, int which) const;
    Project moved(const Steering& s, QPointF at, bool fine);
    QString nameOf(const SteerTarget& target, int which) const;
    QString valueText(const SteerTarget& target, int which, double value) const;

    Document* m_document;
    QRectF m_frame;
    std::optional<Hit> m_dragging;
    QPointF m_pressed, m_at;
    Snapshot m_origin;    // the project as it was when the drag began
    Point m_source{0, 0}; // what was taken hold of
    std::optional<QPointF> m_hover;
    QString m_told;
    // What is on screen now, for painting and pointing.
    Snapshot m_nowOf;
    std::tuple<std::int64_t, StackPlace, int> m_nowAt{};
    std::optional<Steering> m_now;
    Snapshot m_pathOf;
    StackPlace m_pathAt;
    std::vector<Steering::PathPoint> m_path;
};

} // namespace virga
