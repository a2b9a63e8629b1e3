#include "app/picture/picture_view.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/style/theme.h"

namespace virga {

PictureView::PictureView(Document* document, FrameService* frames, Player* player, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_player(player) {
    setObjectName("picture");
    setAccessibleName(tr("Picture"));
    m_sharpen.setSingleShot(true);
    m_sharpen.setInterval(90);
    connect(&m_sharpen, &QTimer::timeout, this, &PictureView::sharpen);
    connect(document, &Document::shownChanged, this, &PictureView::refresh);
    connect(document, &Document::playheadChanged, this, &PictureView::refresh);
    connect(player, &Player::playingChanged, this, &PictureView::refresh);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        const bool quick = slot == "picture";
        if (!quick && slot != "picture-exact") return;
        // A quick picture may be a frame late while something is dragged; an exact one is for this frame or for
        // nothing.
        if (!quick && result.frame != m_document->playhead()) return;
        if (quick && m_exact) return; // one that was under way before the exact one came
        m_shown = result.frame;
        m_exact = !quick && !result.error;
        m_error = result.error ? QString::fromStdString(describe(*result.error)) : QString();
        m_image = result.image;
        update();
        emit shown();
    });
}

QSize PictureView::quickSize() const {
    const Size full = m_document->project()->settings.size;
    const double shown = frameRect().width() * devicePixelRatioF();
    // The size on screen, in few steps, and never more than the piece itself.
    const double k = std::clamp(std::ceil(shown / full.width * 8) / 8, 0.125, 1.0);
    return {std::max(16, int(std::lround(full.width * k))), std::max(16, int(std::lround(full.height * k)))};
}

void PictureView::refresh() {
    const auto project = m_document->shown();
    if (project->reel.empty()) {
        m_frames->drop("picture");
        m_image = {};
        m_error.clear();
        m_shown = -1;
        m_exact = false;
        m_sharpen.stop();
        update();
        emit shown();
        return;
    }
    m_exact = false;
    m_player->setSize(quickSize());
    const Size full = project->settings.size;
    const FrameRequest exact{
        project, m_document->playhead(), {full.width, full.height}, exactQuality, Urgency::Sharpen};
    if (!m_player->isPlaying() && !m_frames->kept(exact).isNull()) {
        m_frames->drop("picture");
        m_sharpen.stop();
        m_frames->request("picture-exact", exact);
        return;
    }
    m_frames->drop("picture-exact");
    const Quality quality = m_player->isPlaying() ? m_player->quality() : quickQuality;
    m_frames->request("picture", {project, m_document->playhead(), quickSize(), quality, Urgency::Now});
    if (m_player->isPlaying())
        m_sharpen.stop();
    else
        m_sharpen.start();
}

void PictureView::sharpen() {
    if (m_player->isPlaying()) return;
    const auto project = m_document->shown();
    m_frames->request("picture-exact", {project,
                                        m_document->playhead(),
                                        {project->settings.size.width, project->settings.size.height},
                                        exactQuality,
                                        Urgency::Sharpen});
}

QRectF PictureView::frameRect() const {
    const double aspect = m_document->project()->settings.size.aspect();
    const QRectF room = QRectF(rect()).adjusted(14, 11, -14, -4);
    double w = room.width(), h = w / aspect;
    if (h > room.height()) h = room.height(), w = h * aspect;
    return QRectF(std::round(room.center().x() - w / 2), std::round(room.center().y() - h / 2), std::round(w),
                  std::round(h));
}

void PictureView::resizeEvent(QResizeEvent*) {
    refresh();
}

void PictureView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().window);
    const QRectF r = frameRect();
    p.fillRect(r, Qt::black);
    const auto project = m_document->shown();
    if (!m_image.isNull()) {
        const QSize device = (r.size() * devicePixelRatioF()).toSize();
        // Qt scales down by two taps only; a smooth scaling first keeps fine texture quiet.
        if (m_image.width() > device.width() * 5 / 4)
            p.drawImage(r, m_image.scaled(device, Qt::IgnoreAspectRatio, Qt::SmoothTransformation));
        else
            p.drawImage(r, m_image);
    }
    p.setRenderHint(QPainter::Antialiasing);
    if (project->reel.empty()) {
        p.setPen(QColor(0x9a, 0xa1, 0xa9));
        p.setFont(textFont(12));
        p.drawText(r, Qt::AlignCenter, tr("The picture appears here"));
        return;
    }
    if (!m_error.isEmpty()) {
        p.fillRect(r, QColor(20, 22, 25, 235));
        p.setPen(theme().breaks.lighter(120));
        p.setFont(textFont(13, QFont::DemiBold));
        const QRectF inner = r.adjusted(32, 24, -32, -24);
        p.drawText(inner, Qt::AlignHCenter | Qt::AlignTop, tr("This frame cannot be shown"));
        p.setPen(QColor(0xe4, 0xe6, 0xe8));
        p.setFont(textFont(12));
        p.drawText(inner.adjusted(0, 30, 0, 0), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWrapAnywhere, m_error);
    }
    // Which frame it is, counted from the cut it belongs to.
    const auto frame = m_document->playhead();
    const int cut = m_document->cut();
    QString text = tr("frame %1").arg(frame);
    QColor colour = theme().text;
    if (cut >= 0) {
        const auto n = frame - cutFrame(*project, cut);
        const int clip = clipAt(*project, frame);
        if (clip == cut || clip == cut + 1) {
            text = tr("frame %1 of cut %2")
                       .arg(n < 0   ? QStringLiteral("−%1").arg(-n)
                            : n > 0 ? QStringLiteral("+%1").arg(n)
                                    : QStringLiteral("0"))
                       .arg(cut + 1);
            colour = n < 0 ? QColor(0xf0, 0xa3, 0x5a) : QColor(0x5c, 0xc6, 0xc9);
        }
    }
    p.setFont(numberFont(11));
    const QRectF chip(r.left() + 8, r.top() + 8, QFontMetricsF(p.font()).horizontalAdvance(text) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(theme().name == "day" && colour == theme().text ? QColor(0xe4, 0xe6, 0xe8) : colour);
    p.drawText(chip, Qt::AlignCenter, text);
}

} // namespace virga
