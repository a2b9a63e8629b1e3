// The Reel's frame: rulers, markers, overview, row names, status, and what is being dragged.
#include <QPainter>
#include <QPainterPath>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/document/words.h"
#include "app/reel/reel_view.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/base/timecode.h"
#include "core/project/clip_time.h"

namespace virga {

void ReelView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().panel);
    const auto project = m_document->project();
    const ReelLayout& l = bands();
    if (project->reel.empty()) {
        if (!m_busy.isEmpty()) {
            p.setFont(textFont(11));
            p.setPen(theme().dim);
            p.drawText(QRectF(0, 2, width() - 34, 18), Qt::AlignRight | Qt::AlignVCenter, m_busy);
        }
        if (m_dropPlace >= 0) {
            p.setPen(QPen(theme().strong, 1.5, Qt::DashLine));
            p.drawRoundedRect(QRectF(rect()).adjusted(6, 6, -6, -6), 4, 4);
        }
        return;
    }
    paintOverview(p);
    p.save();
    if (l.tall) p.setClipRect(QRectF(l.gutter - 10, 0, width(), height()));
    if (m_gesture != Gesture::None && m_gesture != Gesture::Scrub) {
        paintStill(p);
    } else {
        const double dpr = devicePixelRatioF();
        const QSize pixels = (QSizeF(size()) * dpr).toSize();
        if (m_layer.size() != pixels || m_layer.devicePixelRatio() != dpr) {
            m_layer = QPixmap(pixels);
            m_layer.setDevicePixelRatio(dpr);
            m_layer.fill(Qt::transparent);
            QPainter layer(&m_layer);
            layer.setRenderHints(p.renderHints());
            paintStill(layer);
        }
        p.drawPixmap(0, 0, m_layer);
    }
    paintGesture(p);
    const double x = scale().xOf(double(m_document->playhead()));
    const double top = l.ruler.bottom() - 9;
    p.setPen(QPen(theme().playhead, 1));
    p.drawLine(QPointF(x, top), QPointF(x, l.tall ? l.status.top() : double(height())));
    p.setPen(Qt::NoPen);
    p.setBrush(theme().playhead);
    p.drawPolygon(QPolygonF({QPointF(x - 5, top), QPointF(x + 5, top), QPointF(x, top + 7)}));
    p.restore();
    if (l.tall) {
        paintRowNames(p);
        paintStatus(p);
    } else if (!m_busy.isEmpty()) {
        p.setFont(textFont(11));
        p.setPen(theme().dim);
        // The ruler's numbers do not run into it.
        const double wide = p.fontMetrics().horizontalAdvance(m_busy) + 12;
        p.fillRect(QRectF(width() - 34 - wide, 2, wide, 18), theme().window);
        p.drawText(QRectF(0, 2, width() - 34, 18), Qt::AlignRight | Qt::AlignVCenter, m_busy);
    }
}

void ReelView::paintStill(QPainter& p) {
    paintRuler(p);
    paintMusic(p);
    paintBeats(p);
    paintHeard(p);
    paintClips(p);
    paintFlow(p);
    paintLayers(p);
    paintMarkers(p);
}

void ReelView::paintOverviewClips(QPainter& p) {
    const ReelLayout& l = bands();
    const auto project = m_document->project();
    const auto& at = starts();
    const double perFrame = l.overview.width() / std::max<double>(1, double(at.back()));
    p.fillRect(l.overview, theme().chart);
    for (std::size_t i = 0; i < project->reel.size(); ++i) {
        const Clip& clip = project->reel[i];
        const QRectF r(l.overview.left() + double(at[i]) * perFrame, l.overview.top(),
                       std::max(1.0, double(clip.length) * perFrame - 1), l.overview.height());
        if (clip.isGap()) continue;
        p.fillRect(r, m_document->selection().contains(Selection::ClipSelected, int(i)) ? theme().dim : theme().raised);
        if (!l.tall || r.width() < 4) continue;
        const Media* media = findMedia(*project, clip.mediaId);
        if (!media || !media->hasPicture()) continue;
        const double w = std::min(r.width(), r.height() * project->settings.size.aspect());
        // The Tray's picture of the shot: the overview asks for none of its own.
        const QImage image =
            m_thumbnails->get(*media, media->still ? Rational(0) : media->duration / Rational(3), QSize(296, 166));
        if (image.isNull()) continue;
        p.setOpacity(0.55);
        for (double x = r.left(); x < r.right() - 1; x += w) {
            const double part = std::min(w, r.right() - x);
            p.drawImage(QRectF(x, r.top(), part, r.height()), image,
                        QRectF(0, 0, image.width() * part / w, image.height()));
        }
        p.setOpacity(1);
    }
}

void ReelView::paintOverview(QPainter& p) {
    const ReelLayout& l = bands();
    if (l.overview.isEmpty()) return;
    // While scrolling only the frame around what is seen moves.
    const double dpr = devicePixelRatioF();
    if (m_overview.isNull() || m_overviewSize != size()) {
        m_overview = QPixmap((QSizeF(width(), l.overview.bottom() + 1) * dpr).toSize());
        m_overview.setDevicePixelRatio(dpr);
        m_overview.fill(Qt::transparent);
        m_overviewSize = size();
        QPainter strip(&m_overview);
        strip.setRenderHint(QPainter::SmoothPixmapTransform);
        paintOverviewClips(strip);
    }
    p.drawPixmap(0, 0, m_overview);
    const double perFrame = l.overview.width() / std::max<double>(1, double(starts().back()));
    const ReelScale s = scale();
    const double from = std::max(0.0, s.frameAt(l.gutter)), to = s.frameAt(width());
    const QRectF seen(l.overview.left() + from * perFrame, l.overview.top(), (to - from) * perFrame,
                      l.overview.height());
    p.setPen(QPen(theme().strong, 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(seen.intersected(l.overview).adjusted(0.5, -1, -0.5, 1), 3, 3);
    const double x = l.overview.left() + double(m_document->playhead()) * perFrame;
    p.fillRect(QRectF(x, l.overview.top(), 1, l.overview.height()), theme().playhead);
}

void ReelView::paintRuler(QPainter& p) {
    const auto project = m_document->project();
    const ReelScale s = scale();
    const ReelLayout& l = bands();
    const double bottom = l.ruler.bottom(), rate = project->settings.rate.toDouble();
    const double from = std::max(0.0, s.frameAt(0)), to = std::min(s.frameAt(width()), double(starts().back()) + 1);
    const std::vector<QRectF> names = l.tall ? markerNames() : std::vector<QRectF>();
    if (const auto marked = m_document->marked()) { // what is played by Play the marked span
        QColor band = theme().playhead;
        band.setAlphaF(0.28f);
        p.fillRect(
            QRectF(QPointF(s.xOf(double(marked->first)), bottom - 5), QPointF(s.xOf(double(marked->second)), bottom)),
            band);
    }
    if (m_readyFrames) {
        QColor ready = theme().fine;
        ready.setAlphaF(0.75f);
        for (const auto& [first, last] : m_readyFrames->spans())
            p.fillRect(QRectF(QPointF(s.xOf(double(first)), bottom - 1.5), QPointF(s.xOf(double(last)), bottom + 0.5)),
                       ready);
    }
    p.setFont(numberFont(10));
    const double below = l.tall ? l.status.top() - 8 : bottom;
    const auto mark = [&](double frame, bool group, const QString& text) {
        const double x = s.xOf(frame);
        p.setPen(QPen(group ? theme().faint : theme().line, 1));
        p.drawLine(QPointF(x, bottom - (group ? 12 : 7)), QPointF(x, bottom - 1));
        if (l.tall) {
            p.setPen(QPen(group ? theme().line : theme().grid, 1));
            p.drawLine(QPointF(x, bottom), QPointF(x, below));
        }
        const double wide = QFontMetricsF(p.font()).horizontalAdvance(text);
        if (text.isEmpty() || x + 4 + wide > (l.tall ? width() : m_grow->x())) return; // nor beneath the button
        for (const QRectF& taken : names) // a bar can be told from its neighbours
            if (taken.intersects(QRectF(x + 4, bottom - 17, wide, 14))) return;
        p.setPen(theme().dim);
        p.drawText(QRectF(x + 4, bottom - 17, 70, 14), Qt::AlignLeft | Qt::AlignVCenter, text);
    };
    if (const Music* music = musicWithBeats(*project)) {
        const double step = rate * 60 / music->tempo->beatsPerMinute, bar = step * music->tempo->beatsPerBar;
        int skip = 1; // so many bars between two numbers
        while (bar * skip * s.pixelsPerFrame < (l.tall ? 60 : 44)) skip *= 2;
        const bool showBeats = step * s.pixelsPerFrame > 7;
        for (const BeatMark& beat : beatsBetween(*project, from, to)) {
            if (!beat.startsBar && !showBeats) continue;
            const bool numbered = beat.startsBar && (beat.bar - 1) % skip == 0;
            if (beat.startsBar && !numbered && !showBeats) continue;
            mark(beat.frame, beat.startsBar,
                 !numbered ? QString()
                 : l.tall  ? tr("bar %1").arg(beat.bar)
                           : QString::number(beat.bar));
        }
        if (l.tall && m_busy.isEmpty()) {
            const QString text = tr("%1 beats/min").arg(music->tempo->beatsPerMinute, 0, 'f', 1);
            const QRectF where(width() - 112, bottom - 17, 104, 14);
            p.fillRect(where.adjusted(-6, -2, 8, 2), theme().panel);
            p.setPen(theme().dim);
            p.drawText(where, Qt::AlignRight | Qt::AlignVCenter, text);
        }
    } else {
        int skip = 1;
        for (const int n : {1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1200, 3600}) {
            skip = n;
            if (n * rate * s.pixelsPerFrame >= 44) break;
        }
        for (auto i = std::int64_t(from / rate / skip) * skip; double(i) * rate <= to; i += skip)
            mark(double(i) * rate, true,
                 i < 60 ? tr("%1 s").arg(i) : QStringLiteral("%1:%2").arg(i / 60).arg(i % 60, 2, 10, QLatin1Char('0')));
    }
    if (l.tall && !m_busy.isEmpty()) {
        p.setFont(textFont(11));
        p.setPen(theme().dim);
        p.drawText(QRectF(0, bottom - 18, width() - 12, 16), Qt::AlignRight | Qt::AlignVCenter, m_busy);
    }
}

void ReelView::paintMarkers(QPainter& p) {
    const auto project = m_document->project();
    const ReelScale s = scale();
    const ReelLayout& l = bands();
    p.setFont(textFont(10));
    const std::vector<QRectF> names = markerNames();
    for (int i = 0; i < int(project->markers.size()); ++i) {
        const Marker& m = project->markers[std::size_t(i)];
        const double x = s.xOf(double(m.frame)), top = l.ruler.bottom() - (l.tall ? 15 : 17);
        if (x < -200 || x > width()) continue;
        const bool selected = m_document->selection().contains(Selection::MarkerSelected, i);
        const QColor ink = selected ? theme().strong : theme().text;
        p.setPen(QPen(ink, 1));
        p.drawLine(QPointF(x, top), QPointF(x, l.clips.bottom()));
        p.setBrush(ink);
        p.drawPolygon(QPolygonF({QPointF(x, top), QPointF(x + 8, top + 3), QPointF(x, top + 6)}));
        if (!l.tall || x < l.gutter - 10) continue;
        p.fillRect(names[std::size_t(i)].adjusted(10, 0, 0, 0), theme().panel);
        p.drawText(names[std::size_t(i)].adjusted(12, 0, 0, 0), Qt::AlignLeft | Qt::AlignVCenter, shown(m.name));
    }
}

std::vector<QRectF> ReelView::markerNames() const {
    std::vector<QRectF> out;
    const QFontMetricsF metrics(textFont(10));
    const double y = bands().ruler.bottom() - 17;
    for (const Marker& m : m_document->project()->markers)
        out.emplace_back(scale().xOf(double(m.frame)), y, metrics.horizontalAdvance(shown(m.name)) + 16, 14);
    return out;
}

void ReelView::paintRowNames(QPainter& p) {
    const ReelLayout& l = bands();
    p.setFont(textFont(11));
    p.setPen(theme().dim);
    const auto name = [&](const QRectF& band, const QString& text) {
        if (!band.isEmpty()) p.drawText(QRectF(12, band.top(), l.gutter - 16, band.height()), Qt::AlignVCenter, text);
    };
    name(l.over, tr("over"));
    name(l.adjust, tr("adjust"));
    name(l.clips.united(l.sound), tr("reel"));
    name(l.flow, tr("flow"));
    name(l.music, tr("music"));
    name(l.heard, tr("heard"));
}

QString ReelView::statusText() const {
    const auto project = m_document->project();
    const Selection s = m_document->selection();
    const double rate = project->settings.rate.toDouble();
    const auto seconds = [&](std::int64_t frames) { return QString::number(double(frames) / rate, 'f', 2); };
    const auto nextBeat = [&](std::int64_t frame) -> QString {
        if (!hasBeats(*project)) return {};
        const auto ahead = beatFrame(*project, beatAtFrame(*project, frame) + 1) - frame;
        const bool on = beatFrame(*project, beatAtFrame(*project, frame)) == frame;
        return on ? tr(" · ends on a beat") : tr(" · next beat in %1").arg(counted(ahead, "frame", "frames"));
    };
    if (s.kind == Selection::ClipSelected && s.others.empty()) {
        const Clip& c = project->reel[std::size_t(s.index)];
        const QString name = c.isGap() ? tr("Gap") : shown(c.name);
        QString text = tr("%1 · %2 frames, %3 s").arg(name).arg(c.length).arg(seconds(c.length));
        if (hasSpeedKeys(c))
            text += tr(" · its speed varies, %1 % on the mean").arg(meanSpeed(c) * 100, 0, 'f', 0);
        else if (c.speed != Rational(1))
            text += tr(" · %1 %").arg(c.speed.toDouble() * 100, 0, 'g', 4);
        return text + nextBeat(starts()[std::size_t(s.index) + 1]);
    }
    if (s.kind == Selection::ClipSelected) {
        std::int64_t frames = 0;
        for (const int i : s.all()) frames += project->reel[std::size_t(i)].length;
        return tr("%1 clips · %2 frames, %3 s").arg(s.all().size()).arg(frames).arg(seconds(frames));
    }
    if (s.kind == Selection::CutSelected) {
        const Overlap& o = transitionAt(*project, s.index).overlap;
        QString text = tr("Cut %1 at frame %2").arg(s.index + 1).arg(cutFrame(*project, s.index));
        if (!o.isEmpty()) text += tr(" · overlaps %1 before, %2 after").arg(o.before).arg(o.after);
        for (const SpareShortage& lack : spareShortages(*project))
            if (lack.cut == s.index)
                text += tr(" · the %1 shot has only %2 of %3 spare frames")
                            .arg(lack.side == Side::Outgoing ? tr("outgoing") : tr("incoming"))
                            .arg(lack.there)
                            .arg(lack.wanted);
        return text;
    }
    return counted(qint64(project->reel.size()), "clip", "clips") +
           tr(" · %1 frames, %2 s").arg(starts().back()).arg(seconds(starts().back()));
}

void ReelView::paintStatus(QPainter& p) {
    const ReelLayout& l = bands();
    p.fillRect(l.status, theme().panel);
    p.setFont(textFont(11));
    p.setPen(theme().dim);
    p.drawText(l.status.adjusted(12, 0, -240, 0), Qt::AlignLeft | Qt::AlignVCenter, statusText());
    p.setPen(m_hover.what == ReelHit::OnSnap ? theme().text : m_snap ? theme().dim : theme().faint);
    p.drawText(l.status.adjusted(0, 0, -36, 0), Qt::AlignRight | Qt::AlignVCenter,
               m_snap ? tr("snap: beats, cuts, markers") : tr("snap: off"));
}

void ReelView::paintChip(QPainter& p, const QString& text, double centre, double top) {
    p.setFont(textFont(11, QFont::Medium));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 14;
    const QRectF chip(std::clamp(centre - w / 2, 4.0, std::max(4.0, width() - w - 4.0)), top, w, 18);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 225));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(QColor(0xe4, 0xe6, 0xe8));
    p.drawText(chip, Qt::AlignCenter, text);
}

void ReelView::paintGesture(QPainter& p) {
    const auto project = m_document->project();
    const ReelLayout& l = bands();
    const ReelScale s = scale();
    const int i = m_pressed.index;
    const auto edge = [&](int clip) { return s.xOf(double(starts()[std::size_t(clip)])); };
    switch (m_gesture) {
    case Gesture::TrimHead:
    case Gesture::TrimTail: {
        paintSpare(p, i);
        const Clip& clip = project->reel[std::size_t(i)];
        const auto by = clip.length - m_document->dragOrigin()->reel[std::size_t(i)].length;
        const bool head = m_gesture == Gesture::TrimHead;
        const Spare spare = spareFrames(*project, clip);
        const auto left = head ? spare.before : spare.after;
        QString text = tr("%1 frames (%2)").arg(clip.length).arg(QString::asprintf("%+lld", (long long)by));
        if (left < plenty) text += tr(", %1 spare").arg(left);
        paintChip(p, text, head ? edge(i) : edge(i + 1), l.clips.top() + 4);
        break;
    }
    case Gesture::Roll: {
        paintSpare(p, i);
        paintSpare(p, i + 1);
        const auto by = cutFrame(*project, i) - cutFrame(*m_document->dragOrigin(), i);
        paintChip(p, tr("cut %1").arg(QString::asprintf("%+lld", (long long)by)), edge(i + 1), l.clips.top() + 4);
        break;
    }
    case Gesture::Overlap: {
        const Overlap o = transitionAt(*project, i).overlap;
        paintChip(p, tr("overlaps %1 before, %2 after").arg(o.before).arg(o.after), edge(i + 1), l.clips.top() + 4);
        break;
    }
    case Gesture::Slip: {
        paintSpare(p, i);
        const Spare spare = spareFrames(*project, project->reel[std::size_t(i)]);
        paintChip(p, tr("slipped: %1 spare before, %2 after").arg(spare.before).arg(spare.after),
                  clipRect(i).center().x(), l.clips.top() + 4);
        break;
    }
    case Gesture::Box:
        p.setPen(QPen(theme().strong, 1, Qt::DashLine));
        p.setBrush(QColor(255, 255, 255, 18));
        p.drawRect(QRectF(m_pressAt, m_at).normalized());
        break;
    default:
        break;
    }
    if (m_snapped.snapped) {
        const double x = s.xOf(double(m_snapped.frame));
        p.setPen(QPen(theme().strong, 1, Qt::DotLine));
        p.drawLine(QPointF(x, l.ruler.top()), QPointF(x, height()));
    }
    if (m_dropRow >= 0) {
        p.setPen(QPen(theme().strong, 1.5, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(l.overRow(m_dropRow).adjusted(l.gutter, 1, -6, -1), 3, 3);
    } else if (m_dropPlace >= 0) {
        const double x = edge(m_dropPlace);
        p.setPen(QPen(theme().strong, 3));
        p.drawLine(QPointF(x, l.clips.top() - 4), QPointF(x, std::max(l.clips.bottom(), l.sound.bottom()) + 4));
    }
    if (m_gesture == Gesture::Reorder || m_gesture == Gesture::Copy) {
        QRectF ghost = clipRect(i);
        ghost.translate(m_at - m_pressAt);
        p.setOpacity(0.6);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().raised);
        p.drawRoundedRect(ghost, 3, 3);
        p.setPen(theme().text);
        p.setFont(textFont(11));
        const auto count = movedClips().size();
        const QString name = QString::fromStdString(project->reel[std::size_t(i)].name);
        p.drawText(ghost.adjusted(8, 0, -4, 0), Qt::AlignVCenter, count > 1 ? tr("%1 clips").arg(count) : name);
        p.setOpacity(1);
    }
}

} // namespace virga
