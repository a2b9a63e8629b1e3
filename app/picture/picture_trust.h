#pragma once
// Laid over the Picture: where made-up pictures are not to be trusted, with the share that is. Interface thread only.
#include <QImage>
#include <QObject>

#include "app/services/frame_service.h"
#include "app/services/job.h"

class QPainter;

namespace virga {

class PictureTrust : public QObject {
    Q_OBJECT
public:
    PictureTrust(Document* document, FrameService* frames, QObject* parent = nullptr);
    bool isOn() const { return m_on; }
    void setOn(bool on);
    /// Asks for what belongs to the playhead's frame, at a size.
    void look(QSize size);
    /// "made up: 93 % to be trusted"; empty while it is off or not known.
    QString text() const;
    void paint(QPainter& p, const QRectF& frame) const;

signals:
    void changed();

private:
    Document* m_document;
    FrameService* m_frames;
    Job m_job;
    bool m_on = false;
    Snapshot m_of, m_asked;
    std::int64_t m_frame = -1, m_askedFrame = -1;
    QImage m_picture; // null where nothing is made up
    double m_share = 1;
};

} // namespace virga
