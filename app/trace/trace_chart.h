#pragma once
// A traced transition as it was read: both sides' frames in a row, how fast each is seen to go, and beneath them a lane
// for every channel with what was read as dots, how far it may be off, and the curve through it.
#include <QImage>
#include <QMap>
#include <QWidget>

#include "core/analysis/trace.h"

namespace virga {

class TraceChart : public QWidget {
    Q_OBJECT
public:
    explicit TraceChart(QWidget* parent = nullptr);

    /// Null shows nothing but `words`.
    void setTrace(std::shared_ptr<const Trace> trace, const QMap<std::int64_t, QImage>& pictures,
                  const QString& words = {});
    /// The frame that is being played, from the cut.
    void setPlayed(std::int64_t frame);
    /// Frames that are shown, [first, last].
    std::pair<std::int64_t, std::int64_t> span() const;
    double xOf(double frame) const;
    int laneCount() const { return int(m_lanes.size()); }
    QRectF laneRect(int lane) const;
    /// Where a read value lies in its lane.
    QPointF dotAt(int lane, Side side, std::size_t value) const;
    QSize minimumSizeHint() const override { return {420, 220}; }

signals:
    /// A frame was pointed at.
    void frameChosen(qint64 frame);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Lane {
        const ChannelInfo* info = nullptr;
        MoveKind kind = MoveKind::Zoom;
        int channel = 0;
        double low = 0, high = 1; // in its space
    };
    const TracedChannel* channelOf(const Lane& lane, Side side) const;
    double yOf(int lane, double value) const;
    void paintLane(QPainter& p, int lane) const;
    std::int64_t frameAt(double x) const;

    std::shared_ptr<const Trace> m_trace;
    QMap<std::int64_t, QImage> m_pictures;
    std::vector<Lane> m_lanes;
    QString m_words;
    std::int64_t m_played = INT64_MIN;
};

} // namespace virga
