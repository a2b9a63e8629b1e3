// The Reel's clips and the joints between them.
#include <QPainter>
#include <QPainterPath>
#include <QPixmapCache>
#include <algorithm>
#include <cmath>

#include "app/document/words.h"
#include "app/reel/reel_view.h"
#include "app/services/in_background.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/edit/edits.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

// Shortened where it must be; one or two letters of a name say nothing.
QString asFits(const QString& name, const QFont& font, double width) {
    const QString shown = QFontMetricsF(font).elidedText(name, Qt::ElideRight, width);
    return shown == name || shown.size() > 3 ? shown : QString();
}

} // namespace

// Scaling is the dearest part of a redraw: done once for each picture and size, in the background, and kept. Until it
// is there the picture is filtered coarsely.
void ReelView::drawScaled(QPainter& p, QPointF at, const QImage& image, QSizeF size) {
    const double dpr = devicePixelRatioF();
    const QSize pixels = (size * dpr).toSize();
    const QPointF where(std::round(at.x() * dpr) / dpr, std::round(at.y() * dpr) / dpr); // copied, not filtered again
    const QString key = QStringLiteral("reel-%1-%2x%3").arg(image.cacheKey()).arg(pixels.width()).arg(pixels.height());
    QPixmap scaled;
    if (QPixmapCache::find(key, &scaled)) return p.drawPixmap(where, scaled);
    p.drawImage(QRectF(where, QSizeF(pixels) / dpr), image);
    if (m_scaling.contains(key)) return;
    m_scaling.insert(key);
    inBackground(
        this, [image, pixels] { return image.scaled(pixels, Qt::IgnoreAspectRatio, Qt::SmoothTransformation); },
        [this, key, dpr](const QImage& done) {
            m_scaling.remove(key);
            QPixmap pixmap = QPixmap::fromImage(done);
            pixmap.setDevicePixelRatio(dpr);
            QPixmapCache::insert(key, pixmap);
            redraw();
        });
}

void ReelView::paintClips(QPainter& p) {
    const auto project = m_document->project();
    const ReelScale s = scale();
    const int clips = int(project->reel.size());
    // Only what is in sight; overlaps reach a little past a clip's own span.
    const double from = s.frameAt(-60), to = s.frameAt(width() + 60);
    const auto& at = starts();
    int first = int(std::upper_bound(at.begin(), at.end(), std::int64_t(std::floor(from))) - at.begin()) - 1;
    first = std::clamp(first - 1, 0, clips - 1);
    std::vector<int> order; // as they lie, lowest first
    for (int i = first; i < clips && double(at[std::size_t(i)]) <= to; ++i) {
        const bool beneath = i > first && project->reel[std::size_t(i)].transition.top == Side::Outgoing &&
                             !project->reel[std::size_t(i)].transition.overlap.isEmpty();
        order.insert(beneath ? order.end() - 1 : order.end(), i);
    }
    for (const int i : order) paintClip(p, i);
    if (bands().tall)
        for (const int i : m_document->selection().kind == Selection::ClipSelected ? m_document->selection().all()
                                                                                   : std::vector<int>())
            paintSpare(p, i);
    if (m_document->selection().kind == Selection::CutSelected) {
        const double x = s.xOf(double(cutFrame(*project, m_document->selection().index)));
        const QRectF r = clipRect(0);
        p.setPen(QPen(theme().strong, 2));
        p.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
    }
    if (order.empty()) return;
    // Where cuts crowd, the selected joint and those with findings come last, on top.
    const int lastCut = std::min(cutCount(*project) - 1, *std::max_element(order.begin(), order.end()));
    double before = -100;
    const bool crowded = cutCount(*project) > 0 && double(at.back()) / clips * s.pixelsPerFrame < 24;
    const auto selected = m_document->selection().kind == Selection::CutSelected ? m_document->selection().index : -1;
    for (int cut = std::max(0, first - 1); cut <= lastCut; ++cut) {
        const double x = s.xOf(double(at[std::size_t(cut) + 1]));
        const CutFlow* flow = m_flow->at(cut);
        const bool found = flow && !flow->findings.empty();
        const double room = transitionAt(*project, cut).moves.empty() ? 21 : 14;
        if (crowded && cut != selected && x - before < room) {
            if (found) // its dot alone
                p.fillRect(QRectF(x - 1, jointCentre(cut).y() - 11, 2, 5),
                           flow->findings.front().severity == Severity::Breaks ? theme().breaks : theme().look);
            continue;
        }
        before = x;
        if (cut != selected) paintJoint(p, cut);
    }
    if (selected >= 0) paintJoint(p, selected);
}

void ReelView::paintThumbnails(QPainter& p, const Clip& clip, const Media& media, const QRectF& where) {
    const auto project = m_document->project();
    const double aspect = project->settings.size.aspect(), w = where.height() * aspect, dpr = devicePixelRatioF();
    // Few sizes, so that resizing does not make all anew.
    const int height = std::clamp((int(where.height() * dpr) + 31) / 32 * 32, 32, 288);
    const QSize size(int(height * aspect), height);
    if (where.width() < 14) {
        // Too narrow to be recognised: the picture that the Tray has of the shot, so that none is made for it.
        const QImage image =
            m_thumbnails->get(media, media.still ? Rational(0) : media.duration / Rational(3), QSize(296, 166));
        if (!image.isNull())
            drawScaled(p, where.topLeft() - QPointF(where.height() * 0.6, 0), image,
                       QSizeF(where.height() * 16 / 9, where.height()));
        return;
    }
    // True proportion; the last one is flush with the clip's end, so that both ends can be read.
    const int count = std::max(1, int(std::ceil(where.width() / w)));
    const double seenFrom = std::max(where.left(), -w), seenTo = std::min(where.right(), width() + w);
    for (int i = 0; i < count; ++i) {
        const bool last = i == count - 1 && count > 1;
        const double x = last ? where.right() - w : where.left() + i * w;
        if (x + w < seenFrom || x > seenTo) continue;
        const auto frame = last
                               ? clip.length - 1
                               : std::min(clip.length - 1, std::int64_t(double(clip.length) * (i * w) / where.width()));
        // Zooming gives any frame: rounded to a few, so that panning and zooming do not make all anew either.
        const auto grid = std::max<std::int64_t>(1, clip.length / 64);
        const auto shown = last ? frame : frame / grid * grid;
        const QImage image = m_thumbnails->get(media, sourceTime(*project, clip, shown), size);
        if (!image.isNull()) drawScaled(p, QPointF(x, where.top()), image, QSizeF(w, where.height()));
        if (i > 0) p.fillRect(QRectF(x, where.top(), 1, where.height()), QColor(0, 0, 0, 90));
    }
}

// How fast the shot runs over its clip, from standing still at the foot to its fastest; and beneath it which part of
// its file is used.
void ReelView::paintShotSpeed(QPainter& p, const Clip& clip, const Media* media, const QRectF& where) {
    const Curve curve = speedCurveOf(clip);
    double fastest = 100;
    for (const Key& key : curve.keys) fastest = std::max(fastest, std::abs(key.value));
    p.setRenderHint(QPainter::Antialiasing, false);
    p.fillRect(where, QColor(10, 12, 14, 150));
    p.setRenderHint(QPainter::Antialiasing);
    const double foot = where.bottom() - 7, high = where.height() - 10;
    QPolygonF line;
    const double from = std::max(where.left(), -4.0), to = std::min(where.right(), width() + 4.0);
    for (double x = from; x <= to; x += 2) {
        const double speed = evaluate(curve, (x - where.left()) / scale().pixelsPerFrame);
        line << QPointF(x, foot - std::abs(speed) / fastest * high);
    }
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(QColor(0xe4, 0xe6, 0xe8), 1.4));
    p.drawPolyline(line);
    if (!media || media->duration <= Rational(0)) return;
    const auto used = ClipTime(*m_document->project(), clip).used();
    const double whole = media->duration.toDouble(), w = where.width() - 8;
    const auto at = [&](Rational t) { return where.left() + 4 + std::clamp(t.toDouble() / whole, 0.0, 1.0) * w; };
    const bool over = used.to > media->duration + Rational(1, 1000) || used.from < Rational(0);
    p.fillRect(QRectF(where.left() + 4, where.bottom() - 4, w, 2), QColor(0xe4, 0xe6, 0xe8, 60));
    p.fillRect(QRectF(at(used.from), where.bottom() - 4, std::max(1.0, at(used.to) - at(used.from)), 2),
               over ? theme().breaks : QColor(0xe4, 0xe6, 0xe8, 210));
}

void ReelView::paintSound(QPainter& p, const Clip& clip, const Media& media, const QRectF& where) {
    p.fillRect(where, theme().chart);
    if (!media.sound || media.still) return;
    const QVector<float> peaks = m_waveforms->get(media);
    if (peaks.isEmpty()) return;
    const ClipTime time(*m_document->project(), clip);
    const auto place = [&](double x) { // among the peaks
        return time.secondsAt(x / scale().pixelsPerFrame) * Waveforms::perSecond;
    };
    QList<QLineF> lines;
    const int from = std::max(0, int(where.left())), to = std::min(width(), int(where.right()));
    for (int x = from; x < to; ++x) {
        const double here = place(x - where.left()), next = place(x + 1 - where.left());
        const int a = std::clamp(int(std::min(here, next)), 0, int(peaks.size()));
        const int b = std::clamp(int(std::max(here, next)), a, int(peaks.size()));
        float peak = 0;
        for (int i = a; i < std::max(b, std::min(a + 1, int(peaks.size()))); ++i) peak = std::max(peak, peaks[i]);
        const double h = std::clamp(double(peak) * clip.gain * where.height() / 2, 0.5, where.height() / 2 - 1);
        lines.append(QLineF(x + 0.5, where.center().y() - h, x + 0.5, where.center().y() + h));
    }
    p.setRenderHint(QPainter::Antialiasing, false);
    p.setPen(QPen(clip.muted ? theme().line : theme().faint, 1));
    p.drawLines(lines);
    p.setRenderHint(QPainter::Antialiasing, true);
}

void ReelView::paintClip(QPainter& p, int index) {
    const auto project = m_document->project();
    const Clip& clip = project->reel[std::size_t(index)];
    const Media* media = findMedia(*project, clip.mediaId);
    const ReelLayout& l = bands();
    const double perFrame = scale().pixelsPerFrame;
    const QRectF r = clipRect(index).adjusted(0.75, 0, -0.75, 0);
    const bool selected = m_document->selection().contains(Selection::ClipSelected, index);
    if (clip.isGap()) {
        p.setPen(
            QPen(selected ? theme().strong : theme().line, selected ? 2 : 1, selected ? Qt::SolidLine : Qt::DashLine));
        p.setBrush(theme().chart);
        p.drawRoundedRect(r, 3, 3);
        p.setFont(textFont(11));
        p.setPen(theme().faint);
        if (r.width() > 50) p.drawText(r, Qt::AlignCenter, tr("gap, %1 f").arg(clip.length));
        return;
    }
    // An overlap slants the edges: the shot's top reaches as far as it is seen, its foot ends where the other is seen.
    const Overlap in = index > 0 ? clip.transition.overlap : Overlap();
    const Overlap out =
        index + 1 < int(project->reel.size()) ? project->reel[std::size_t(index) + 1].transition.overlap : Overlap();
    QPainterPath path;
    if (in.isEmpty() && out.isEmpty()) {
        path.addRoundedRect(r, 3, 3);
    } else {
        const auto px = [&](std::int64_t frames) { return std::min(double(frames) * perFrame, r.width() / 2); };
        path.addPolygon(
            QPolygonF({QPointF(r.left() - double(in.before) * perFrame, r.top()),
                       QPointF(r.right() + double(out.after) * perFrame, r.top()),
                       QPointF(r.right() - px(out.before), r.bottom()), QPointF(r.left() + px(in.after), r.bottom())}));
        path.closeSubpath();
    }
    p.save();
    // A plain rectangle clips much faster than a path; the rounded border is drawn over its corners.
    if (in.isEmpty() && out.isEmpty())
        p.setClipRect(r, Qt::IntersectClip);
    else
        p.setClipPath(path, Qt::IntersectClip);
    const QRectF whole = path.boundingRect();
    p.fillRect(whole, theme().raised);
    QRectF pictures(whole.left(), l.clips.top() + l.titleHeight, whole.width(), l.clips.height() - l.titleHeight);
    if (media && media->hasPicture()) paintThumbnails(p, clip, *media, pictures);
    if (!l.sound.isEmpty() && media)
        paintSound(p, clip, *media, QRectF(whole.left(), l.sound.top(), whole.width(), l.sound.height()));
    if (r.width() < 8) { // no room for words
        p.restore();
        p.setPen(QPen(selected ? theme().strong : theme().line, 1));
        p.drawLine(r.topRight(), r.bottomRight());
        if (selected) p.fillRect(r.adjusted(0, 0, 0, -r.height() + 3), theme().strong);
        return;
    }
    const QString problem = media ? m_thumbnails->problem(*media) : tr("no media");
    const QString name = problem.isEmpty() ? shown(clip.name) : tr("%1: file cannot be read").arg(shown(clip.name));
    const QString frames = tr("%1 f").arg(clip.length);
    if (l.tall) {
        const double left = std::max(whole.left(), l.gutter - 10);
        // The top edge is the incoming shot's as far as it reaches.
        const double right = std::min(whole.right(), r.right() - double(out.before) * perFrame);
        const QRectF title(left + 8, l.clips.top(), right - left - 16, l.titleHeight);
        p.setFont(numberFont(10));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(frames);
        if (title.width() > w + 44) {
            p.setPen(theme().dim);
            p.drawText(title, Qt::AlignRight | Qt::AlignVCenter, frames);
        }
        p.setFont(textFont(11, QFont::DemiBold));
        p.setPen(problem.isEmpty() ? theme().text : theme().breaks);
        const QRectF nameRect = title.adjusted(0, 0, title.width() > w + 44 ? -w - 8 : 0, 0);
        p.drawText(nameRect, Qt::AlignLeft | Qt::AlignVCenter, asFits(name, p.font(), nameRect.width()));
        if (hasSpeedKeys(clip) && r.width() > 24) {
            paintShotSpeed(p, clip, media, QRectF(r.left(), pictures.bottom() - 30, r.width(), 30));
        } else if (clip.speed != Rational(1) && r.width() > 60) {
            const QString speed = tr("%1 %").arg(clip.speed.toDouble() * 100, 0, 'g', 4);
            p.setFont(numberFont(10));
            const QRectF badge(r.left() + 18, pictures.bottom() - 22,
                               QFontMetricsF(p.font()).horizontalAdvance(speed) + 12, 16);
            p.setPen(Qt::NoPen);
            p.setBrush(QColor(10, 12, 14, 190));
            p.drawRoundedRect(badge, 2, 2);
            p.setPen(QColor(0xe4, 0xe6, 0xe8));
            p.drawText(badge, Qt::AlignCenter, speed);
        }
    } else {
        QLinearGradient shade(0, r.bottom() - 26, 0, r.bottom());
        shade.setColorAt(0, QColor(10, 12, 14, 0));
        shade.setColorAt(0.5, QColor(10, 12, 14, 165));
        shade.setColorAt(1, QColor(10, 12, 14, 200));
        p.fillRect(QRectF(whole.left(), r.bottom() - 26, whole.width(), 26), shade);
        if (hasSpeedKeys(clip) && r.width() > 24)
            paintShotSpeed(p, clip, media, QRectF(r.left(), r.top(), r.width(), 22));
        p.setFont(textFont(11));
        p.setPen(problem.isEmpty() ? QColor(0xe4, 0xe6, 0xe8) : QColor(0xff, 0x9a, 0x8e));
        const QRectF nameRect = r.adjusted(7, 0, -12, -3);
        p.drawText(nameRect, Qt::AlignLeft | Qt::AlignBottom, asFits(name, p.font(), nameRect.width()));
        if (m_hover.index == index && m_hover.what >= ReelHit::OnClip && m_hover.what <= ReelHit::OnTail &&
            m_hover.what != ReelHit::OnJoint) {
            p.setPen(QColor(0xe4, 0xe6, 0xe8));
            if (r.width() > 70 + QFontMetricsF(textFont(11)).horizontalAdvance(name)) {
                p.setFont(numberFont(10));
                p.drawText(nameRect, Qt::AlignRight | Qt::AlignBottom, frames);
            }
        }
    }
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(selected ? theme().strong : theme().line, selected ? 2 : 1));
    if (selected || !in.isEmpty() || !out.isEmpty()) {
        p.drawPath(path);
    } else { // hundreds of these may be in sight
        p.setRenderHint(QPainter::Antialiasing, false);
        p.drawRect(QRectF(std::floor(r.left()), r.top(), std::round(r.width()), r.height() - 1));
        p.setRenderHint(QPainter::Antialiasing, true);
    }
}

// Unused source frames as bars beyond both edges, so that overlaps and ramps can be judged.
void ReelView::paintSpare(QPainter& p, int index) {
    const auto project = m_document->project();
    if (index < 0 || index >= int(project->reel.size())) return;
    const Clip& clip = project->reel[std::size_t(index)];
    const Spare spare = spareFrames(*project, clip);
    if (clip.isGap() || spare.before >= plenty) return;
    const ReelLayout& l = bands();
    const QRectF r = clipRect(index);
    const double perFrame = scale().pixelsPerFrame, y = l.tall ? l.spare.top() + 3 : r.bottom() + 2;
    const double height = l.tall ? 5 : 3;
    QColor ink = theme().outgoing;
    ink.setAlphaF(0.7f);
    const double before = double(spare.before) * perFrame, after = double(spare.after) * perFrame;
    p.fillRect(QRectF(r.left() - before, y, before, height), ink);
    p.fillRect(QRectF(r.right(), y, after, height), ink);
    if (!l.tall || m_document->selection().others.size() > 0) return;
    p.setFont(textFont(10));
    p.setPen(theme().dim);
    const QString text = tr("%1 after").arg(counted(spare.after, "spare frame", "spare frames"));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text);
    const double x = std::min(r.right() + after + 6, width() - w - 6);
    if (x > r.right()) p.drawText(QRectF(x, y - 5, w + 4, 14), Qt::AlignLeft | Qt::AlignVCenter, text);
    const QString other = tr("%1 before").arg(spare.before);
    const double ow = QFontMetricsF(p.font()).horizontalAdvance(other), ox = std::max(r.left() - before - ow - 6, 64.0);
    if (spare.before > 0 && ox + ow < r.left() - before)
        p.drawText(QRectF(ox, y - 5, ow + 4, 14), Qt::AlignLeft | Qt::AlignVCenter, other);
}

QString ReelView::jointIcon(int cut) const {
    const Stack& moves = transitionAt(*m_document->project(), cut).moves;
    if (moves.empty()) return "cut";
    const bool one =
        std::all_of(moves.begin(), moves.end(), [&](const Move& m) { return m.kind == moves.front().kind; });
    if (!one) return "move-stack";
    const std::string_view name = moveInfo(moves.front().kind).icon;
    return textOf(name);
}

void ReelView::paintJoint(QPainter& p, int cut) {
    const QPointF c = jointCentre(cut);
    const bool selected = m_document->selection() == Selection{Selection::CutSelected, cut, {}};
    const bool hovered = m_hover == ReelHit{ReelHit::OnJoint, cut};
    const QString icon = jointIcon(cut);
    const double dpr = devicePixelRatioF();
    const QString key =
        QStringLiteral("joint-%1-%2-%3-%4").arg(icon, theme().name).arg(selected + 2 * hovered).arg(dpr);
    QPixmap drawn;
    if (!QPixmapCache::find(key, &drawn)) {
        drawn = QPixmap(QSize(24, 24) * dpr);
        drawn.setDevicePixelRatio(dpr);
        drawn.fill(Qt::transparent);
        QPainter on(&drawn);
        on.setRenderHint(QPainter::Antialiasing);
        on.setPen(QPen(selected ? theme().onStrong : hovered ? theme().text : theme().faint, 1.2));
        on.setBrush(selected ? theme().strong : theme().window);
        on.drawEllipse(QPointF(12, 12), 10, 10);
        drawIcon(on, icon, QRectF(5, 5, 14, 14), selected ? theme().onStrong : theme().text);
        on.end();
        QPixmapCache::insert(key, drawn);
    }
    p.drawPixmap(c - QPointF(12, 12), drawn);
    const auto project = m_document->project();
    if (const auto& link = transitionAt(*project, cut).link) {
        // Two rings hold on to each other; what follows the recipe that is pointed at lights up.
        const bool alike = m_hover.what == ReelHit::OnJoint && m_hover.index < cutCount(*project) &&
                           transitionAt(*project, m_hover.index).link &&
                           transitionAt(*project, m_hover.index).link->recipe == link->recipe;
        const QColor mark = alike ? theme().playhead : theme().text;
        p.setBrush(theme().window);
        p.setPen(Qt::NoPen);
        p.drawRoundedRect(QRectF(c.x() - 7, c.y() + 6, 14, 8), 4, 4);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(mark, 1.3));
        p.drawEllipse(c + QPointF(-2.2, 10), 2.8, 2.8);
        p.drawEllipse(c + QPointF(2.2, 10), 2.8, 2.8);
        if (alike) {
            p.setPen(QPen(mark, 1.6));
            p.drawEllipse(c, 11.2, 11.2);
        }
    }
    const CutFlow* flow = m_flow->at(cut);
    if (!flow || flow->findings.empty()) return;
    p.setPen(QPen(theme().window, 1.5));
    p.setBrush(flow->findings.front().severity == Severity::Breaks ? theme().breaks : theme().look);
    p.drawEllipse(c + QPointF(8, -8), 4, 4);
}

} // namespace virga
