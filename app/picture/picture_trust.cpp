#include "app/picture/picture_trust.h"

#include <QPainter>

#include "app/style/theme.h"

namespace virga {

PictureTrust::PictureTrust(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames) {}

void PictureTrust::setOn(bool on) {
    m_on = on;
    m_of.reset(), m_asked.reset();
    if (!on) m_job.stop();
    emit changed();
}

void PictureTrust::look(QSize size) {
    const Snapshot project = m_document->shown();
    const std::int64_t frame = m_document->playhead();
    if (!m_on || size.isEmpty() || (m_asked == project && m_askedFrame == frame)) return;
    m_asked = project, m_askedFrame = frame;
    struct Made {
        QImage picture;
        double share = 1;
    };
    m_job.start(
        [frames = m_frames, project, frame, size](auto, const Cancel&) {
            const TrustPicture trust = frames->trustOf(*project, frame, {size.width(), size.height()});
            return Made{trust.picture.isEmpty() ? QImage() : toImage(trust.picture), trust.share};
        },
        [this, project, frame](const Made& made) {
            m_of = project, m_frame = frame, m_picture = made.picture, m_share = made.share;
            emit changed();
        });
}

QString PictureTrust::text() const {
    if (!m_on || m_of != m_document->shown() || m_frame != m_document->playhead()) return {};
    return m_picture.isNull() ? tr("nothing is made up here")
                              : tr("made up: %1 % to be trusted").arg(m_share * 100, 0, 'f', m_share > 0.995 ? 0 : 1);
}

void PictureTrust::paint(QPainter& p, const QRectF& frame) const {
    const QString words = text();
    if (words.isEmpty()) return;
    if (!m_picture.isNull()) {
        p.save();
        p.setCompositionMode(QPainter::CompositionMode_Screen);
        p.drawImage(frame, m_picture);
        p.restore();
    }
    p.setFont(textFont(11));
    const QRectF chip(frame.left() + 8, frame.bottom() - 27, QFontMetricsF(p.font()).horizontalAdvance(words) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(m_picture.isNull() ? theme().dim : QColor(0xff, 0x9a, 0x8e));
    p.drawText(chip, Qt::AlignCenter, words);
}

} // namespace virga
