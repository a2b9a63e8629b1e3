// What the Picture shows beside its handles: the frame, its pixels, what lies around it, guides.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/picture/picture_view.h"
#include "app/style/theme.h"
#include "core/plan/clip_facts.h"

namespace virga {

// The piece's pixel under a point of the view.
QPointF PictureView::pixelAt(QPointF at) const {
    const QRectF r = frameRect();
    const Size size = m_document->project()->settings.size;
    if (!m_actual) return {(at.x() - r.left()) * size.width / r.width(), (at.y() - r.top()) * size.height / r.height()};
    const double dpr = devicePixelRatioF();
    return {(at.x() - r.center().x()) * dpr + m_centre.x() * size.width,
            (at.y() - r.center().y()) * dpr + m_centre.y() * size.height};
}

QString PictureView::pixelText(QPointF at) const {
    const QPointF p = pixelAt(at);
    const QPoint pixel(int(std::floor(p.x())), int(std::floor(p.y())));
    if (!m_exact || !m_image.rect().contains(pixel)) return {};
    const QColor c = m_image.pixelColor(pixel);
    return tr("%1, %2: R %3  G %4  B %5").arg(pixel.x()).arg(pixel.y()).arg(c.red()).arg(c.green()).arg(c.blue());
}

// The pixels themselves; beside them the ones around the pointer, eight times as large.
void PictureView::paintActual(QPainter& p, const QRectF& r) {
    p.fillRect(r, Qt::black);
    if (m_image.isNull()) return;
    const double dpr = devicePixelRatioF();
    const Size size = m_document->project()->settings.size;
    const double scale = double(size.width) / m_image.width() / dpr; // a quick picture is smaller
    p.save();
    p.setClipRect(r);
    p.setRenderHint(QPainter::SmoothPixmapTransform, false);
    const QPointF corner(std::round(r.center().x() - m_centre.x() * size.width / dpr),
                         std::round(r.center().y() - m_centre.y() * size.height / dpr));
    p.drawImage(QRectF(corner, QSizeF(m_image.size()) * scale), m_image);
    if (m_exact && underMouse()) {
        const QPointF at = pixelAt(m_pointer);
        constexpr int across = 15, zoom = 8;
        const QRect from(int(std::floor(at.x())) - across / 2, int(std::floor(at.y())) - across / 2, across, across);
        const QRectF to(r.right() - across * zoom - 8, r.top() + 8, across * zoom, across * zoom);
        p.fillRect(to, Qt::black);
        p.drawImage(to, m_image.copy(from));
        p.setPen(QPen(Qt::white, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(to);
        const int middle = (across / 2) * zoom; // the left and upper edge of the middle pixel
        p.drawRect(QRectF(to.left() + middle, to.top() + middle, zoom, zoom));
        const QString text = pixelText(m_pointer);
        if (!text.isEmpty()) {
            p.setFont(numberFont(11));
            const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
            const QRectF chip(r.right() - w - 8, to.bottom() + 6, w, 19);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(10, 12, 14, 215));
            p.drawRoundedRect(chip, 3, 3);
            p.setPen(QColor(0xe4, 0xe6, 0xe8));
            p.drawText(chip, Qt::AlignCenter, text);
        }
    }
    p.restore();
}

// Thirds; and the areas that every screen shows: nine tenths of the frame for the action, eight tenths for words
// (common practice; SMPTE RP 218 has 90 and 80 % of the frame).
void PictureView::paintGuides(QPainter& p, const QRectF& r) {
    const auto line = [&](const QPointF& a, const QPointF& b) {
        for (const QPen& pen : {QPen(QColor(0, 0, 0, 110), 2.4), QPen(QColor(0xff, 0xff, 0xff, 120), 1)}) {
            p.setPen(pen);
            p.drawLine(a, b);
        }
    };
    if (m_grid)
        for (const double part : {1 / 3.0, 2 / 3.0}) {
            line({r.left() + part * r.width(), r.top()}, {r.left() + part * r.width(), r.bottom()});
            line({r.left(), r.top() + part * r.height()}, {r.right(), r.top() + part * r.height()});
        }
    if (!m_safe) return;
    p.setBrush(Qt::NoBrush);
    for (const double part : {0.9, 0.8}) {
        const QSizeF size = r.size() * part;
        const QRectF area(r.center() - QPointF(size.width() / 2, size.height() / 2), size);
        for (const QPen& pen : {QPen(QColor(0, 0, 0, 110), 2.4),
                                QPen(QColor(0xff, 0xff, 0xff, 150), 1, part < 0.85 ? Qt::DashLine : Qt::SolidLine)}) {
            p.setPen(pen);
            p.drawRect(area);
        }
    }
}

QString PictureView::coverText() const {
    const Snapshot project = m_document->shown();
    if (project->reel.empty()) return {};
    if (m_cover.project == project && m_cover.frame == m_document->playhead()) return m_cover.text;
    const FrameFacts facts = factsOf(*project, m_document->playhead());
    const double copies = facts.edges == EdgeFill::Empty ? 0 : std::max(0.0, facts.uncovered - facts.bare);
    QString text = tr("copies %1 % of this frame, bare %2 %")
                       .arg(100 * copies, 0, 'f', copies > 0 && copies < 0.1 ? 1 : 0)
                       .arg(100 * facts.bare, 0, 'f', facts.bare > 0 && facts.bare < 0.1 ? 1 : 0);
    m_cover = {project, m_document->playhead(), text};
    return text;
}

// What lies beyond the source's own picture is dimmed, and more so beyond the frame.
void PictureView::paintSurround(QPainter& p, const QRectF& r) {
    const QRectF frame = outline();
    const Snapshot project = m_document->shown();
    const Size size = project->settings.size;
    const FramePlan plan = planFrame(*project, m_document->playhead());
    const LayerPlan* layer = layerOfClip(plan, clipAt(*project, m_document->playhead()));
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setClipRect(r);
    const auto borderOf = [&](double left, double top, double right, double bottom) {
        QPolygonF border;
        const ScreenMap map = mapAt(*layer, double(layer->frame), size);
        const Point corners[] = {{left, top}, {right, top}, {right, bottom}, {left, bottom}};
        for (int c = 0; c < 4; ++c)
            for (int k = 0; k < 24; ++k) { // lenses bend it
                const Point at = map.toScreen(corners[c] + (corners[(c + 1) % 4] - corners[c]) * (k / 24.0));
                if (std::isfinite(at.length()))
                    border << QPointF(frame.left() + at.x * frame.width() / size.width,
                                      frame.top() + at.y * frame.height() / size.height);
            }
        return border;
    };
    QPainterPath all, own, inside;
    all.addRect(r);
    inside.addRect(frame);
    if (layer && !layer->source.isEmpty() && mapAt(*layer, double(layer->frame), size).isVisible()) {
        const double w = layer->source.width, h = layer->source.height;
        const QPolygonF border = borderOf(0, 0, w, h);
        own.addPolygon(border);
        own.closeSubpath();
        p.fillPath(all.subtracted(own), QColor(0, 0, 0, 110));
        p.fillPath(all.subtracted(inside), QColor(0, 0, 0, 80));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0xff, 0xff, 0xff, 90), 1));
        p.drawPath(own);
        if (const int n = layer->edges.copies; n > 0 && layer->edges.isPeriodic()) { // where the copies end
            p.setPen(QPen(theme().look, 1.4, Qt::DashLine));
            p.drawPolygon(borderOf(-n * w, -n * h, (n + 1) * w, (n + 1) * h));
        }
    } else {
        p.fillPath(all.subtracted(inside), QColor(0, 0, 0, 120));
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(Qt::white, 1.6));
    p.drawRect(frame);
    p.restore();
    const int copies = project->settings.copies;
    const QString text =
        coverText() + (copies > 0 ? tr(" · limit of copies: %1").arg(copies) : tr(" · limit of copies: none"));
    p.setFont(textFont(11));
    const QRectF chip(r.left() + 8, r.bottom() - 27, QFontMetricsF(p.font()).horizontalAdvance(text) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(theme().look);
    p.drawText(chip, Qt::AlignCenter, text);
}

void PictureView::paintFrame(QPainter& p, const QRectF& r) {
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
}

// Which frame it is, counted from the cut it belongs to.
void PictureView::paintName(QPainter& p, const QRectF& r) {
    const auto project = m_document->shown();
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
            colour = sideMark(n >= 0);
        }
    }
    if (!m_image.text(mixedForNow).isEmpty()) text += tr(" · mixed for now");
    p.setFont(numberFont(11));
    const QRectF chip(r.left() + 8, r.top() + 8, QFontMetricsF(p.font()).horizontalAdvance(text) + 14, 19);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(theme().name == "day" && colour == theme().text ? QColor(0xe4, 0xe6, 0xe8) : colour);
    p.drawText(chip, Qt::AlignCenter, text);
}

} // namespace virga
