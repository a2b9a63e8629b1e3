#pragma once
// The frame at the playhead, exactly as exported: a quick picture at once, then the exact one at full size; with
// handles on it. Or what lies beyond the frame (surround), or both sides of the cut over each other (faces). Where a
// file cannot be read it says so in its place.
#include <QTimer>
#include <QWidget>
#include <optional>

#include "app/picture/faces.h"
#include "app/picture/picture_handles.h"
#include "app/picture/picture_trust.h"
#include "app/playback/player.h"
#include "app/services/frame_service.h"

namespace virga {

class Choices;

class PictureView : public QWidget {
    Q_OBJECT
public:
    enum Mode { FrameMode, SurroundMode, FacesMode };

    /// `slot`: the name under which it asks for its frames; another view needs another one.
    PictureView(Document* document, FrameService* frames, Player* player, QWidget* parent = nullptr,
                const QString& slot = QStringLiteral("picture"));

    QSize minimumSizeHint() const override { return {320, 180}; }
    /// What is shown: the frame's picture at the size it was rendered at.
    const QImage& image() const { return m_image; }
    std::int64_t shownFrame() const { return m_shown; }
    /// True once the exact picture of the playhead's frame is shown.
    bool isExact() const { return m_exact; }

    Mode mode() const { return m_mode; }
    bool showsHandles() const { return m_showHandles; }
    bool showsGrid() const { return m_grid; }
    bool showsSafeAreas() const { return m_safe; }
    bool showsTrust() const { return m_trust.isOn(); }
    const PictureTrust& trust() const { return m_trust; }
    /// Each pixel of the piece as one of the screen, to be dragged about; the value under the pointer is told.
    bool isActualSize() const { return m_actual; }
    QString pixelText(QPointF at) const;
    PictureHandles* handles() { return &m_handles; }
    Faces* faces() { return &m_faces; }
    Choices* ways() const { return m_ways; }
    /// Where the frame lies in the widget; in the surround its outline in the middle.
    QRectF outline() const;
    /// "copies 21 % of this frame, bare 0 %"; what the surround tells.
    QString coverText() const;

public slots:
    void setMode(Mode mode);
    void setShowHandles(bool on);
    void setGrid(bool on);
    void setSafeAreas(bool on);
    /// Where made-up pictures are not to be trusted.
    void setTrust(bool on);
    void setActualSize(bool on);

signals:
    void shown();
    /// Something could not be done; to be shown as a notice.
    void problem(const QString& text);
    void modeChanged();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    void buildFacesBar();
    void placeFacesBar();
    void refresh();
    void sharpen();
    QRectF frameRect() const;
    QSize quickSize() const;
    void adapt(double milliseconds);
    Snapshot projectShown();
    FrameRequest request(bool exact);
    void paintFrame(QPainter& p, const QRectF& r);
    void paintSurround(QPainter& p, const QRectF& r);
    void paintName(QPainter& p, const QRectF& r);
    void paintGuides(QPainter& p, const QRectF& r);
    void paintActual(QPainter& p, const QRectF& r);
    QPointF pixelAt(QPointF at) const;

    struct Cover { // of one frame of one state of the project
        Snapshot project;
        std::int64_t frame = -1;
        QString text;
    };
    mutable Cover m_cover;
    Document* m_document;
    FrameService* m_frames;
    Player* m_player;
    PictureHandles m_handles;
    Faces m_faces;
    PictureTrust m_trust;
    QWidget* m_facesBar = nullptr; // over the picture, so that nothing beside it moves
    Choices* m_ways = nullptr;
    QTimer m_sharpen;
    int m_coarser = 0; // steps that the quick picture is smaller by while something is dragged
    QImage m_image;
    std::int64_t m_shown = -1;
    bool m_exact = false, m_showHandles = true, m_grid = false, m_safe = false, m_actual = false;
    QString m_slot;
    QPointF m_centre{0.5, 0.5}; // of what is seen at actual size, in the frame
    std::optional<QPointF> m_panned;
    QPointF m_pointer;
    Mode m_mode = FrameMode;
    QString m_error;
    Snapshot m_surroundOf, m_surround; // of a project: itself, seen from farther away
};

} // namespace virga
