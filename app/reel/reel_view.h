#pragma once
// The Reel: the main line of clips with thumbnails, joints at the cuts, overlays and adjustments above, music and beats
// below. Small, it is for choosing a cut; grown tall, for assembling. Every gesture is one undoable step:
//   a click selects (Ctrl adds, Shift up to there); dragging a clip moves all chosen ones, with Ctrl a copy, with Alt
//   its source slips under it; an edge trims, a joint moves the cut, Shift at a joint overlaps its two shots; the ruler
//   scrubs; overlays, adjustments, music, markers and single beats are dragged where they lie; an empty place draws a
//   box. Edges cling to beats, markers, cuts and the playhead unless Shift is held. The wheel pans, with Ctrl it zooms.
#include <QPixmap>
#include <QSet>
#include <QTimer>
#include <QWidget>
#include <map>

#include "app/document/document.h"
#include "app/playback/ready_frames.h"
#include "app/reel/reel_layout.h"
#include "app/services/flow_watch.h"
#include "app/services/heard_watch.h"
#include "app/services/thumbnails.h"
#include "app/services/waveform.h"
#include "core/check/flow_line.h"
#include "core/project/beats.h"

class QToolButton;

namespace virga {

class EmptyReel;

/// Media dragged from the Tray: ids, one a line.
inline constexpr const char* mediaMimeType = "application/x-virga-media";

class ReelView : public QWidget {
    Q_OBJECT
public:
    ReelView(Document* document, Thumbnails* thumbnails, Waveforms* waveforms, FlowWatch* flow,
             QWidget* parent = nullptr);

    QSize sizeHint() const override { return {1000, 148}; }
    QSize minimumSizeHint() const override { return {300, 96}; }
    /// Where things are, for tests and for gestures that begin elsewhere.
    ReelScale scale() const;
    const ReelLayout& bands() const;
    QPoint jointCentre(int cut) const;
    QRectF clipRect(int clip) const;
    QRectF overlayRect(int overlay) const;
    /// Frames that are ready to be played, drawn as a line along the ruler.
    void setReadyFrames(const ReadyFrames* ready);
    /// Shown at the right while files are read; empty for none.
    void setBusyText(const QString& text);
    bool isZoomedIn() const { return m_zoomed; }
    bool snaps() const { return m_snap; }
    bool showsFlowLine() const { return m_flowLine; }
    const HeardWatch* heard() const { return m_heard; }
    bool showsFlowChannels() const { return m_flowChannels; }

public slots:
    void setSnap(bool on);
    /// The line of seen speed beneath the clips, and in it a line for each channel.
    void setFlowLine(bool on);
    void setFlowChannels(bool on);
    void fit();
    void zoomBy(double factor);
    /// Scrolls so that a frame is seen.
    void reveal(std::int64_t frame);
    /// Tells how the button that grows the Reel looks.
    void setGrown(bool grown);

signals:
    void filesDropped(const QStringList& paths, int place);
    void addWanted();
    void demoWanted();
    void contextMenuWanted(const QPoint& globalPosition);
    void growWanted(bool grown);
    void snapChanged(bool on);
    void renameWanted(); // the selected marker or clip
    void heardWanted();  // what the movement's sound is made of

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void changeEvent(QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dragMoveEvent(QDragMoveEvent* event) override;
    void dragLeaveEvent(QDragLeaveEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    enum class Gesture {
        None,
        Scrub,
        Press,
        Reorder,
        Copy,
        TrimHead,
        TrimTail,
        Roll,
        Overlap,
        Slip,
        Layer,
        Beat,
        Box,
        Overview
    };

    // reel_gestures.cpp
    void begin(Gesture gesture);
    Gesture gestureFor(const ReelHit& hit, Qt::KeyboardModifiers keys) const;
    void dragTo(QPointF at, Qt::KeyboardModifiers keys);
    void dragEdge(std::int64_t frames, bool free);
    void dragLayer(std::int64_t frames, bool free);
    std::int64_t cling(std::int64_t frame, bool free);
    void finish(Gesture gesture);
    QString stepName(Gesture gesture) const;
    void selectAt(const ReelHit& hit, Qt::KeyboardModifiers keys);
    void selectBox();
    std::vector<int> movedClips() const;
    void updateCursor(const ReelHit& hit, Qt::KeyboardModifiers keys);
    void scrubTo(double x);
    void panTo(double left);

    // reel_paint_flow.cpp
    void paintFlow(QPainter& p);
    void paintOwnMovement(QPainter& p, double fastest);
    void paintFlowOf(QPainter& p, const ReelFlow& flow, double fastest, double opacity);
    void paintNarrow(QPainter& p, const ClipFlow& clip, int index, std::int64_t turn, double start, double fastest);
    void paintFlowMarks(QPainter& p, const ClipFlow& clip, double start);
    void paintTrial(QPainter& p, const ReelFlow& trial, double fastest);
    void paintChannels(QPainter& p, double fastest);
    const std::vector<ChannelLine>& channelLinesOf(int cut);
    QString flowText(double frame) const;
    QString jointText(int cut) const;

    // reel_paint.cpp, reel_paint_clips.cpp, reel_paint_layers.cpp
    void paintOverview(QPainter& p);
    void paintOverviewClips(QPainter& p);
    void paintRuler(QPainter& p);
    void drawScaled(QPainter& p, QPointF at, const QImage& image, QSizeF size);
    void paintMarkers(QPainter& p);
    std::vector<QRectF> markerNames() const; // where they stand, flags included
    void paintRowNames(QPainter& p);
    void paintStatus(QPainter& p);
    void paintClips(QPainter& p);
    void paintClip(QPainter& p, int clip);
    void paintThumbnails(QPainter& p, const Clip& clip, const Media& media, const QRectF& where);
    void paintShotSpeed(QPainter& p, const Clip& clip, const Media* media, const QRectF& where);
    void paintSound(QPainter& p, const Clip& clip, const Media& media, const QRectF& where);
    void paintSpare(QPainter& p, int clip);
    void paintJoint(QPainter& p, int cut);
    void paintLayers(QPainter& p);
    void paintMusic(QPainter& p);
    void paintBeats(QPainter& p);
    void paintHeard(QPainter& p);
    QString heardText(std::int64_t frame) const;
    void paintGesture(QPainter& p);
    void paintChip(QPainter& p, const QString& text, double centre, double top);
    QString jointIcon(int cut) const;
    QString statusText() const;
    const std::vector<std::int64_t>& starts() const;
    void updateSoon();
    void redraw();
    void paintStill(QPainter& p);

    Document* m_document;
    Thumbnails* m_thumbnails;
    Waveforms* m_waveforms;
    FlowWatch* m_flow;
    HeardWatch* m_heard;
    const ReadyFrames* m_readyFrames = nullptr;
    EmptyReel* m_empty;
    QToolButton* m_grow;
    Gesture m_gesture = Gesture::None;
    ReelHit m_pressed, m_hover;
    Qt::KeyboardModifiers m_pressKeys;
    QPointF m_pressAt, m_at;
    ReelScale m_pressScale;
    int m_dropPlace = -1;
    int m_dropRow = -1; // an overlay row that something is dragged over
    std::vector<SnapPlace> m_places;
    Snapped m_snapped;
    QString m_busy;
    QTimer m_later;
    bool m_zoomed = false, m_snap = true, m_grown = false, m_flowLine = true, m_flowChannels = false;
    QSet<QString> m_scaling; // pictures that are being scaled
    ReelScale m_scale;       // while zoomed in
    QPixmap m_layer;         // all that neither the playhead nor a gesture changes; null: to be painted anew
    QPixmap m_overview;      // the strip without what moves; null: to be painted anew
    QSize m_overviewSize;
    Snapshot m_channelsOf;
    std::map<int, std::vector<ChannelLine>> m_channels;
    mutable ReelLayout m_bands; // of m_bandsOf at m_bandsFor
    mutable Snapshot m_bandsOf;
    mutable std::tuple<int, int, bool> m_bandsFor;
    mutable Snapshot m_startsOf;
    mutable std::vector<std::int64_t> m_starts;
};

} // namespace virga
