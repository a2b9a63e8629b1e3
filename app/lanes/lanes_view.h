#pragma once
// The Lanes: one for each channel of the selected cut's moves on one axis of frames from the cut, the on-screen speed
// last.
#include <QWidget>

#include "app/lanes/lane_context.h"
#include "core/motion/move.h"

class QScrollArea;
class QVBoxLayout;

namespace virga {

class ElidedLabel;
class LaneChart;
class LaneHeader;

class LanesView : public QWidget {
    Q_OBJECT
public:
    explicit LanesView(Document* document, QWidget* parent = nullptr);

    LaneContext* context() const { return m_context; }
    /// The chart and header of a lane, or null.
    LaneChart* chart(int move, int channel) const;
    LaneHeader* header(int move, int channel) const;

public slots:
    /// Shows all keys around the cut.
    void fit();

signals:
    void problem(const QString& text);

protected:
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void rebuild();
    void refreshTitle();
    Document* m_document;
    LaneContext* m_context;
    ElidedLabel* m_title;
    QScrollArea* m_scroll;
    QWidget* m_rows;
    QVBoxLayout* m_column;
    struct Row {
        int move, channel;
        LaneHeader* header;
        LaneChart* chart;
    };
    std::vector<Row> m_lanes;
    QString m_builtFor;
    bool m_fitted = false;
};

} // namespace virga
