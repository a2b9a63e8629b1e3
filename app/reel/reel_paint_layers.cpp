// What lies above and below the Reel's clips: overlays, adjustments, music and its beats.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/document/words.h"
#include "app/reel/reel_view.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/base/sequence_path.h"
#include "core/edit/layer_edits.h"

namespace virga {

void ReelView::paintLayers(QPainter& p) {
    const auto project = m_document->project();
    const ReelLayout& l = bands();
    const ReelScale s = scale();
    if (l.tall) {
        p.setPen(QPen(theme().grid, 1));
        for (const double y : {l.over.top(), l.over.bottom(), l.adjust.bottom()})
            p.drawLine(QPointF(l.gutter - 10, y), QPointF(width(), y));
    }
    for (int i = 0; i < int(project->overlays.size()); ++i) {
        const Overlay& o = project->overlays[std::size_t(i)];
        const QRectF r = overlayRect(i).adjusted(0.5, l.tall ? 2 : 0.5, -0.5, l.tall ? -2 : -0.5);
        if (r.right() < 0 || r.left() > width()) continue;
        const bool selected = m_document->selection().contains(Selection::OverlaySelected, i);
        QPainterPath path;
        path.addRoundedRect(r, 3, 3);
        p.save();
        p.setClipPath(path, Qt::IntersectClip);
        p.fillRect(r, theme().raised);
        const Media* media = findMedia(*project, o.clip.mediaId);
        if (l.tall && media && media->hasPicture()) {
            p.setOpacity(0.55);
            paintThumbnails(p, o.clip, *media, r);
            p.setOpacity(1);
        }
        if (l.tall) {
            // How it comes in and goes out: ramps at its ends.
            int in = 0, out = 0;
            (void)entranceOf(o, Side::Incoming, &in);
            (void)entranceOf(o, Side::Outgoing, &out);
            p.setPen(QPen(QColor(255, 255, 255, 190), 1.2));
            if (in > 0) p.drawLine(r.bottomLeft(), QPointF(r.left() + in * s.pixelsPerFrame, r.top()));
            if (out > 0) p.drawLine(QPointF(r.right() - out * s.pixelsPerFrame, r.top()), r.bottomRight());
            QString text = shown(o.clip.name);
            if (const auto e = entranceOf(o, Side::Incoming); e && *e != Entrance::Cut) {
                const std::string_view told = toldOf(*e);
                text += ", " + textOf(told);
            }
            p.setFont(textFont(11));
            const QRectF where = r.adjusted(8, 0, -6, 0);
            const double w = std::min(where.width(), QFontMetricsF(p.font()).horizontalAdvance(text));
            if (w > 12) {
                p.fillRect(QRectF(where.left() - 3, r.center().y() - 8, w + 6, 16), QColor(10, 12, 14, 130));
                p.setPen(QColor(0xe4, 0xe6, 0xe8));
                p.drawText(where, Qt::AlignLeft | Qt::AlignVCenter,
                           QFontMetricsF(p.font()).elidedText(text, Qt::ElideRight, where.width()));
            }
        }
        p.restore();
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(selected ? theme().strong : theme().faint, selected ? 2 : 1));
        p.drawPath(path);
    }
    for (int i = 0; i < int(project->adjustments.size()); ++i) {
        const Adjustment& a = project->adjustments[std::size_t(i)];
        const QRectF r = l.spanIn(l.adjust, s, double(a.start), double(a.end()))
                             .adjusted(0.5, l.tall ? 3 : 1, -0.5, l.tall ? -3 : -1);
        const bool selected = m_document->selection().contains(Selection::AdjustmentSelected, i);
        p.setPen(QPen(selected ? theme().strong : theme().line, selected ? 2 : 1));
        p.setBrush(theme().raised);
        p.drawRoundedRect(r, 3, 3);
        if (!l.tall) continue;
        QStringList parts;
        if (!a.name.empty()) parts << shown(a.name);
        if (a.bars) parts << tr("bars %1 : 1").arg(*a.bars, 0, 'g', 4);
        for (const Move& m : a.moves) parts << QString::fromUtf8(moveInfo(m.kind).label.data()).toLower();
        p.setFont(textFont(11));
        p.setPen(theme().dim);
        const QRectF where = r.adjusted(std::max(8.0, l.gutter - r.left()), 0, -6, 0);
        p.drawText(where, Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetricsF(p.font()).elidedText(parts.join(", "), Qt::ElideRight, where.width()));
    }
}

void ReelView::paintMusic(QPainter& p) {
    const auto project = m_document->project();
    const ReelLayout& l = bands();
    const ReelScale s = scale();
    const double rate = project->settings.rate.toDouble();
    const int shown = l.tall ? int(project->music.size()) : std::min(1, int(project->music.size()));
    for (int i = 0; i < shown; ++i) {
        const Music& music = project->music[std::size_t(i)];
        const Media* media = findMedia(*project, music.mediaId);
        if (!media) continue;
        const double start = double(music.start), length = double(musicLength(*project, music));
        const double end = std::min(start + length, double(starts().back()));
        const QRectF band(0, l.music.top() + i * l.musicRowHeight, width(), l.musicRowHeight - (l.tall ? 2 : 0));
        const QRectF box = l.spanIn(band, s, start, l.tall ? start + length : end);
        const bool selected = m_document->selection().contains(Selection::MusicSelected, i);
        if (l.tall) p.fillRect(box, theme().chart);
        const QVector<float> peaks = m_waveforms->get(*media);
        QList<QLineF> lines;
        const int from = std::max(0, int(box.left())), to = std::min(width(), int(std::min(box.right(), s.xOf(end))));
        for (int x = from; x < to; ++x) {
            const auto sampleAt = [&](double px) {
                return ((s.frameAt(px) - start) / rate + music.sourceIn.toDouble()) * Waveforms::perSecond;
            };
            const int a = std::clamp(int(sampleAt(x)), 0, int(peaks.size()));
            const int b = std::clamp(std::max(a + 1, int(sampleAt(x + 1))), a, int(peaks.size()));
            float peak = 0;
            for (int k = a; k < b; ++k) peak = std::max(peak, peaks[k]);
            const double frame = s.frameAt(x) - start;
            double gain = music.gain;
            if (music.fadeIn > 0) gain *= std::clamp(frame / double(music.fadeIn), 0.0, 1.0);
            if (music.fadeOut > 0) gain *= std::clamp((length - frame) / double(music.fadeOut), 0.0, 1.0);
            const double h = std::clamp(double(peak) * gain * band.height() / 2, 0.5, band.height() / 2);
            lines.append(QLineF(x + 0.5, band.center().y() - h, x + 0.5, band.center().y() + h));
        }
        p.setRenderHint(QPainter::Antialiasing, false);
        p.setPen(QPen(theme().faint, 1));
        p.drawLines(lines);
        p.setRenderHint(QPainter::Antialiasing, true);
        if (l.tall) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(selected ? theme().strong : theme().line, selected ? 2 : 1));
            p.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
            if (project->music.size() > 1 || selected) {
                p.setFont(textFont(10));
                p.setPen(theme().dim);
                p.drawText(box.adjusted(std::max(6.0, l.gutter - box.left()), 2, -4, 0), Qt::AlignLeft | Qt::AlignTop,
                           QString::fromStdString(mediaName(media->path)));
            }
        }
    }
}

// The movement's own sound: as loud as it is heard, by the moves as they are.
void ReelView::paintHeard(QPainter& p) {
    const ReelLayout& l = bands();
    const ReelScale s = scale();
    const auto project = m_document->project();
    if (l.heard.isEmpty() || starts().back() <= 0) return m_heard->want(0, 0);
    const QRectF band(l.heard.left() + l.gutter, l.heard.top(), l.heard.width() - l.gutter - 12, l.heard.height());
    p.fillRect(band, theme().chart);
    const std::int64_t from = std::max<std::int64_t>(0, std::int64_t(s.frameAt(band.left()))),
                       to = std::min(starts().back(), std::int64_t(s.frameAt(band.right())) + 2);
    m_heard->want(from, to);
    p.setFont(textFont(10));
    if (to - from > HeardWatch::mostFrames) {
        p.setPen(theme().faint);
        return p.drawText(band.adjusted(4, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter,
                          tr("movement heard: zoom in to see it"));
    }
    const double level = project->settings.heard.level;
    QPolygonF line;
    for (double x = std::max(band.left(), s.xOf(0)); x <= std::min(band.right(), s.xOf(double(starts().back())));
         x += 1) {
        const double a = std::floor(s.frameAt(x)), b = s.frameAt(x + 1);
        double strength = m_heard->strengthAt(std::int64_t(a));
        for (double f = a + 1; f < b; ++f) strength = std::max(strength, m_heard->strengthAt(std::int64_t(f)));
        const double high = std::sqrt(std::min(1.0, strength * level)); // what is half as loud is seen, too
        line << QPointF(x, band.bottom() - high * (band.height() - 2));
    }
    if (line.isEmpty()) return;
    QPolygonF fill = line;
    fill << QPointF(line.back().x(), band.bottom()) << QPointF(line.front().x(), band.bottom());
    QColor faint = theme().strong;
    faint.setAlphaF(0.3f);
    p.setPen(Qt::NoPen);
    p.setBrush(faint);
    p.drawPolygon(fill);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().strong, 1));
    p.drawPolyline(line);
    if (l.tall || band.height() < 12) return;
    p.setPen(theme().dim);
    p.drawText(band.adjusted(4, -1, 0, 0), Qt::AlignLeft | Qt::AlignTop, tr("movement heard"));
}

QString ReelView::heardText(std::int64_t frame) const {
    const double part = m_heard->strengthAt(frame) * m_document->project()->settings.heard.level;
    return tr("Movement heard: %1 % here. Click for what it is made of.").arg(std::min(1.0, part) * 100, 0, 'f', 0);
}

void ReelView::paintBeats(QPainter& p) {
    const auto project = m_document->project();
    const ReelLayout& l = bands();
    if (l.beats.isEmpty() || !hasBeats(*project)) return;
    const ReelScale s = scale();
    const Tempo& tempo = *musicWithBeats(*project)->tempo;
    const bool crowded = 60 / tempo.beatsPerMinute * project->settings.rate.toDouble() * s.pixelsPerFrame < 9;
    p.setPen(Qt::NoPen);
    const double end = std::min(double(starts().back()), s.frameAt(width() + 8));
    for (const BeatMark& beat : beatsBetween(*project, std::max(0.0, s.frameAt(0)), end)) {
        if (crowded && !beat.startsBar) continue;
        const double x = s.xOf(beat.frame), y = l.beats.top() + 3, w = beat.startsBar ? 4.5 : 3.5;
        const bool moved = tempo.placed.contains(beat.beat), hovered = m_hover == ReelHit{ReelHit::OnBeat, beat.beat};
        p.setBrush(hovered ? theme().playhead : beat.startsBar ? theme().text : theme().faint);
        p.drawPolygon(QPolygonF({QPointF(x - w, y), QPointF(x + w, y), QPointF(x, y + w * 1.6)}));
        if (moved) p.drawRect(QRectF(x - w, y - 3, 2 * w, 1.5)); // placed by itself, not by the grid
    }
}

} // namespace virga
