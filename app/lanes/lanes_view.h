#pragma once
// The Lanes: one for each channel of the selected cut's moves, or of the selected clip's, overlay's or adjustment's
// own, on one axis of frames; the on-screen speed last.
#include <QWidget>

#include "app/lanes/lane_context.h"
#include "core/motion/move.h"

class QFrame;
class QScrollArea;
class QToolButton;
class QVBoxLayout;

namespace virga {

class ElidedLabel;
class FrameService;
class LaneChart;
class LaneHeader;
class SpeedChart;

class LanesView : public QWidget {
    Q_OBJECT
public:
    LanesView(Document* document, FrameService* frames, QWidget* parent = nullptr);

    LaneContext* context() const { return m_context; }
    /// The chart and header of a lane, or null.
    LaneChart* chart(int move, int channel) const;
    LaneHeader* header(int move, int channel) const;
    SpeedChart* speedChart() const { return m_speed; }
    QToolButton* addButton() const { return m_add; }
    bool hasKeys() const { return !m_context->selected().empty(); }
    bool hasFocusInside() const;

    /// Pastes keys or CSS text from the clipboard's text; what is the matter, or nothing.
    QString paste(const std::string& text, bool atPlayhead, bool mirrored);

public slots:
    /// Shows all keys around the cut, or the whole clip.
    void fit();
    void fitSelection();
    /// About the playhead where it is in sight, else about the middle.
    void zoomBy(double factor);
    /// By a part of the width.
    void panBy(double part);
    /// The first lane, or the current one, gets the focus and a selected key.
    void focusLanes();
    void openShapes();
    void addKeyAtPlayhead();
    /// All kinds of moves, in a field below a widget.
    void offerMoves(QWidget* below);

signals:
    void problem(const QString& text);

protected:
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    struct Row {
        int move, channel;
        LaneHeader* header;
        LaneChart* chart;
    };
    QWidget* buildCorner();
    void rebuild();
    void addRow(int move, int channel);
    void addEmptyState();
    void showLooks();
    void refreshTitle();
    void carry(int move, const QPoint& globalAt, bool dropped);
    int chartWidth() const;

    Document* m_document;
    FrameService* m_frames;
    LaneContext* m_context;
    ElidedLabel* m_title;
    QToolButton* m_add;
    QScrollArea* m_scroll;
    QWidget* m_rows = nullptr;
    QVBoxLayout* m_column = nullptr;
    SpeedChart* m_speed;
    QFrame* m_place; // where a carried lane would land
    std::vector<Row> m_lanes;
    QString m_builtFor;
    bool m_fitted = false;
};

} // namespace virga
