#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/reel/reel_view.h"
#include "app/style/icons.h"
#include "app/style/theme.h"
#include "core/project/edits.h"
#include "core/time/timecode.h"

namespace virga {

void ReelView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(rect(), theme().panel);
    const auto project = m_document->project();
    if (!m_busy.isEmpty()) {
        p.setFont(textFont(11));
        p.setPen(theme().dim);
        p.drawText(QRectF(0, 2, width() - 12, 18), Qt::AlignRight | Qt::AlignVCenter, m_busy);
    }
    if (project->reel.empty()) {
        if (m_dropPlace >= 0) {
            p.setPen(QPen(theme().strong, 1.5, Qt::DashLine));
            p.drawRoundedRect(QRectF(rect()).adjusted(6, 6, -6, -6), 4, 4);
        }
        return;
    }
    paintRuler(p);
    paintWave(p);
    for (int i = 0; i < int(project->reel.size()); ++i) paintClip(p, i);
    const ReelScale s = scale();
    const QRectF band = clipsBand();
    if (m_document->selection().kind == Selection::CutSelected) {
        const double x = s.xOf(double(cutFrame(*project, m_document->selection().index)));
        p.setPen(QPen(theme().strong, 2));
        p.drawLine(QPointF(x, band.top()), QPointF(x, band.bottom()));
    }
    for (int cut = 0; cut < cutCount(*project); ++cut) paintJoint(p, cut);
    if (m_gesture == Gesture::TrimHead || m_gesture == Gesture::TrimTail) paintTrim(p);
    if (m_dropPlace >= 0) {
        const double x = s.xOf(double(clipStart(*project, m_dropPlace)));
        p.setPen(QPen(theme().strong, 3));
        p.drawLine(QPointF(x, band.top() - 4), QPointF(x, band.bottom() + 4));
        if (m_gesture == Gesture::Reorder) {
            QRectF ghost = clipRect(m_pressed.index);
            ghost.translate(m_at.x() - m_pressAt.x(), 3);
            p.setOpacity(0.55);
            p.fillRect(ghost, theme().raised);
            p.setPen(theme().text);
            p.setFont(textFont(11));
            p.drawText(ghost.adjusted(6, 0, -4, 0), Qt::AlignVCenter,
                       QString::fromStdString(project->reel[std::size_t(m_pressed.index)].name));
            p.setOpacity(1);
        }
    }
    const double x = s.xOf(double(m_document->playhead()));
    p.setPen(QPen(theme().playhead, 1));
    p.drawLine(QPointF(x, 12), QPointF(x, height()));
    p.setPen(Qt::NoPen);
    p.setBrush(theme().playhead);
    p.drawPolygon(QPolygonF({QPointF(x - 5, 12), QPointF(x + 5, 12), QPointF(x, 19)}));
}

void ReelView::paintRuler(QPainter& p) {
    const auto project = m_document->project();
    const ReelScale s = scale();
    const double rate = project->settings.rate.toDouble(), length = double(reelLength(*project));
    p.setFont(numberFont(10));
    // Bars and beats where the music has a tempo, seconds otherwise.
    double step = rate, first = 0;
    int perGroup = 1;
    bool bars = false;
    if (!project->music.empty() && project->music.front().tempo) {
        const Music& music = project->music.front();
        bars = true;
        step = rate * 60 / music.tempo->beatsPerMinute;
        first = double(music.start) + (music.tempo->firstBeat - music.sourceIn).toDouble() * rate;
        perGroup = music.tempo->beatsPerBar;
    }
    if (step * s.pixelsPerFrame * perGroup <= 0.01) return;
    int skip = 1; // so many groups between two numbers
    while (step * perGroup * skip * s.pixelsPerFrame < 44) skip *= 2;
    const bool showBeats = step * s.pixelsPerFrame > 7;
    for (int i = 0; first + i * step <= length; ++i) {
        const double x = s.xOf(first + i * step);
        const bool group = i % perGroup == 0;
        if (!group && !showBeats) continue;
        if (group && (i / perGroup) % skip != 0 && !showBeats) continue;
        p.setPen(QPen(group ? theme().faint : theme().line, 1));
        p.drawLine(QPointF(x, group ? 9 : 14), QPointF(x, 20));
        if (group && (i / perGroup) % skip == 0 && x + 22 < width()) {
            p.setPen(theme().dim);
            const QString text = bars ? QString::number(i / perGroup + 1) : QStringLiteral("%1 s").arg(i);
            p.drawText(QRectF(x + 4, 4, 60, 14), Qt::AlignLeft | Qt::AlignVCenter, text);
        }
    }
}

void ReelView::paintClip(QPainter& p, int index) {
    const auto project = m_document->project();
    const Clip& clip = project->reel[std::size_t(index)];
    const Media* media = findMedia(*project, clip.mediaId);
    const QRectF r = clipRect(index).adjusted(0.75, 0, -0.75, 0);
    const bool selected = m_document->selection() == Selection{Selection::ClipSelected, index};
    p.save();
    QPainterPath path;
    path.addRoundedRect(r, 3, 3);
    p.setClipPath(path);
    p.fillRect(r, theme().raised);
    if (media && media->hasPicture()) {
        const double aspect = project->settings.size.aspect();
        const double w = r.height() * aspect;
        const double dpr = devicePixelRatioF();
        const int height =
            std::max(40, (int(r.height() * dpr) + 15) / 16 * 16); // few sizes, so that resizing does not make all anew
        const QSize size(int(height * aspect), height);
        // True proportion; the last one is flush with the clip's end, so that both ends can be read.
        const int count = std::max(1, int(std::ceil(r.width() / w)));
        for (int i = 0; i < count; ++i) {
            const bool last = i == count - 1 && count > 1;
            const double x = last ? r.right() - w : r.left() + i * w;
            const auto frame = last
                                   ? clip.length - 1
                                   : std::min(clip.length - 1, std::int64_t(double(clip.length) * (i * w) / r.width()));
            const Rational time = media->still ? Rational(0) : clip.sourceIn + Rational(frame) / project->settings.rate;
            const QImage image = m_thumbnails->get(*media, time, size);
            if (!image.isNull()) p.drawImage(QRectF(x, r.top(), w, r.height()), image);
            if (i > 0) p.fillRect(QRectF(x, r.top(), 1, r.height()), QColor(0, 0, 0, 90));
        }
    }
    const QString problem = media ? m_thumbnails->problem(*media) : tr("no media");
    QLinearGradient shade(0, r.bottom() - 26, 0, r.bottom());
    shade.setColorAt(0, QColor(10, 12, 14, 0));
    shade.setColorAt(0.5, QColor(10, 12, 14, 165));
    shade.setColorAt(1, QColor(10, 12, 14, 200));
    p.fillRect(QRectF(r.left(), r.bottom() - 26, r.width(), 26), shade);
    p.setFont(textFont(11));
    p.setPen(problem.isEmpty() ? QColor(0xe4, 0xe6, 0xe8) : QColor(0xff, 0x9a, 0x8e));
    const QString name = problem.isEmpty() ? QString::fromStdString(clip.name)
                                           : tr("%1: file cannot be read").arg(QString::fromStdString(clip.name));
    const QRectF nameRect = r.adjusted(7, 0, -12, -3);
    p.drawText(nameRect, Qt::AlignLeft | Qt::AlignBottom,
               QFontMetricsF(p.font()).elidedText(name, Qt::ElideRight, nameRect.width()));
    if (m_hover.index == index && m_hover.what != ReelHit::Nowhere && m_hover.what != ReelHit::OnJoint) {
        p.setPen(QColor(0xe4, 0xe6, 0xe8));
        p.setFont(numberFont(10));
        const QString frames = tr("%1 f").arg(clip.length);
        if (r.width() > 70 + QFontMetricsF(textFont(11)).horizontalAdvance(name))
            p.drawText(nameRect, Qt::AlignRight | Qt::AlignBottom, frames);
    }
    p.restore();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(selected ? theme().strong : theme().line, selected ? 2 : 1));
    p.drawRoundedRect(r, 3, 3);
}

void ReelView::paintWave(QPainter& p) {
    const auto project = m_document->project();
    if (project->music.empty()) return;
    const Music& music = project->music.front();
    const Media* media = findMedia(*project, music.mediaId);
    if (!media) return;
    const QVector<float> peaks = m_waveforms->get(*media);
    const QRectF band = waveBand();
    const ReelScale s = scale();
    const double rate = project->settings.rate.toDouble();
    const double right = s.xOf(double(reelLength(*project)));
    p.setPen(QPen(theme().faint, 1));
    for (int x = int(s.xOf(double(std::max<std::int64_t>(0, music.start)))); x < int(right); ++x) {
        const auto sampleAt = [&](double px) {
            return ((s.frameAt(px) - double(music.start)) / rate + music.sourceIn.toDouble()) * Waveforms::perSecond;
        };
        const int a = std::max(0, int(sampleAt(x))),
                  b = std::min(int(peaks.size()), std::max(a + 1, int(sampleAt(x + 1))));
        float peak = 0;
        for (int i = a; i < b; ++i) peak = std::max(peak, peaks[i]);
        const double h = std::max(0.5, double(peak) * music.gain * band.height() / 2);
        p.drawLine(QPointF(x + 0.5, band.center().y() - h), QPointF(x + 0.5, band.center().y() + h));
    }
}

QString ReelView::jointIcon(int cut) const {
    const Stack& moves = transitionAt(*m_document->project(), cut).moves;
    if (moves.empty()) return "cut";
    const bool one =
        std::all_of(moves.begin(), moves.end(), [&](const Move& m) { return m.kind == moves.front().kind; });
    if (!one) return "move-stack";
    switch (moves.front().kind) {
    case MoveKind::Zoom:
        return "move-zoom";
    case MoveKind::Spin:
        return "move-spin";
    case MoveKind::Slide:
        return "move-slide";
    case MoveKind::Unknown:
        break;
    }
    return "more";
}

void ReelView::paintJoint(QPainter& p, int cut) {
    const QPointF c = QPointF(scale().xOf(double(cutFrame(*m_document->project(), cut))), clipsBand().center().y());
    const bool selected = m_document->selection() == Selection{Selection::CutSelected, cut};
    const bool hovered = m_hover == ReelHit{ReelHit::OnJoint, cut};
    p.setPen(QPen(selected ? theme().onStrong : hovered ? theme().text : theme().faint, 1.2));
    p.setBrush(selected ? theme().strong : theme().window);
    p.drawEllipse(c, 10, 10);
    drawIcon(p, jointIcon(cut), QRectF(c.x() - 7, c.y() - 7, 14, 14), selected ? theme().onStrong : theme().text);
    const CutFlow* flow = m_flow->at(cut);
    if (!flow || flow->findings.empty()) return;
    p.setPen(QPen(theme().window, 1.5));
    p.setBrush(flow->findings.front().severity == Severity::Breaks ? theme().breaks : theme().look);
    p.drawEllipse(c + QPointF(8, -8), 4, 4);
}

void ReelView::paintTrim(QPainter& p) {
    const auto project = m_document->project();
    const int index = m_pressed.index;
    const Clip& clip = project->reel[std::size_t(index)];
    const Clip& before = m_document->dragOrigin()->reel[std::size_t(index)];
    const Spare spare = spareFrames(*project, clip);
    const QRectF r = clipRect(index);
    const double perFrame = scale().pixelsPerFrame;
    const bool head = m_gesture == Gesture::TrimHead;
    // Spare source frames as a bar beyond the edge.
    const double room = std::min(double(head ? spare.before : spare.after) * perFrame, 400.0);
    const QRectF bar =
        head ? QRectF(r.left() - room, r.bottom() + 2, room, 3) : QRectF(r.right(), r.bottom() + 2, room, 3);
    p.fillRect(bar, theme().outgoing);
    const QString text = tr("%1 frames (%2), %3 spare")
                             .arg(clip.length)
                             .arg(QString::asprintf("%+lld", (long long)(clip.length - before.length)))
                             .arg(head ? spare.before : spare.after);
    p.setFont(textFont(11, QFont::Medium));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 14;
    QRectF chip(std::clamp((head ? r.left() : r.right()) - w / 2, 4.0, width() - w - 4.0), clipsBand().top() + 4, w,
                18);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 220));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(QColor(0xe4, 0xe6, 0xe8));
    p.drawText(chip, Qt::AlignCenter, text);
}

} // namespace virga
