#include "app/reel/reel_layout.h"

#include <algorithm>
#include <cmath>

#include "core/edit/layer_edits.h"
#include "core/project/beats.h"

namespace virga {
namespace {

constexpr double heardRow = 26;

} // namespace

ReelLayout ReelLayout::of(const Project& project, double width, double height, bool zoomedIn, bool flowLine) {
    ReelLayout l;
    l.tall = height >= tallFrom;
    const int rows = overlayRows(project), music = int(project.music.size());
    const bool heard = project.settings.heard.on;
    double y = 0;
    const auto take = [&](double h) {
        const QRectF band(0, y, width, h);
        y += h;
        return band;
    };
    if (!l.tall) {
        if (zoomedIn) l.overview = take(9).adjusted(l.gutter, 2, -l.gutter, 0);
        l.ruler = take(21);
        l.overRowHeight = rows > 0 ? std::clamp((height - 90) / 3 / rows, 4.0, 9.0) : 0;
        if (rows > 0) l.over = take(l.overRowHeight * rows);
        if (!project.adjustments.empty()) l.adjust = take(7);
        if (rows > 0 || !project.adjustments.empty()) y += 2;
        double bottom = height - (music > 0 ? 30 : 10);
        if (heard) {
            l.heard = QRectF(0, bottom - 12, width, 12);
            bottom -= 14;
        }
        if (flowLine && bottom - y >= 50) {
            const double room = std::clamp((bottom - y) / 2.9, 16.0, 44.0);
            l.flow = QRectF(0, bottom - room, width, room);
            bottom -= room + 3;
        }
        l.clips = QRectF(0, y + 1, width, std::max(20.0, bottom - y - 1));
        if (music > 0) l.music = QRectF(0, height - 27, width, 24);
        l.musicRowHeight = 24;
        return l;
    }
    l.gutter = 60;
    y = 5;
    if (zoomedIn) l.overview = take(22).adjusted(12, 0, -12, -2);
    l.ruler = take(24);
    const int shown = std::max(1, rows);
    l.overRowHeight = shown > 2 ? 20 : 27;
    y += 2;
    l.over = take(l.overRowHeight * shown);
    l.adjust = take(24);
    y += 4;
    l.musicRowHeight = music > 1 ? std::max(22.0, 60.0 / music) : 44;
    const double line = flowLine ? 32 : 0;
    const double below = line + 14 + (music > 0 ? l.musicRowHeight * music + 16 : 0) + (heard ? heardRow : 0) + 22;
    const double room = std::max(60.0, height - y - below);
    l.titleHeight = 20;
    // The clips' own sound only where one has some.
    const bool sounds = std::any_of(project.reel.begin(), project.reel.end(), [&](const Clip& c) {
        const Media* m = findMedia(project, c.mediaId);
        return m && m->sound && !m->still;
    });
    const double own = room > 120 && sounds ? 26 : 0;
    l.clips = take(room - own);
    l.sound = take(own);
    l.spare = take(14);
    if (line > 0) l.flow = take(line).adjusted(0, 0, 0, -4);
    if (music > 0) {
        l.music = take(l.musicRowHeight * music);
        l.beats = take(16);
    }
    if (heard) l.heard = take(heardRow).adjusted(0, 0, 0, -4);
    l.status = QRectF(0, height - 22, width, 22);
    return l;
}

QRectF ReelLayout::overRow(int row) const {
    return QRectF(over.left(), over.bottom() - (row + 1) * overRowHeight, over.width(), overRowHeight);
}

int ReelLayout::overRowAt(double y) const {
    if (over.isEmpty() || y < over.top() || y >= over.bottom()) return -1;
    return int((over.bottom() - y) / overRowHeight);
}

QRectF ReelLayout::spanIn(const QRectF& band, const ReelScale& scale, double from, double to) const {
    return QRectF(QPointF(scale.xOf(from), band.top()), QPointF(scale.xOf(to), band.bottom()));
}

namespace {

// An edge within five pixels, or the body; a narrow one has no edges.
int partOf(const QRectF& r, double x) {
    if (r.width() > 16 && std::abs(x - r.left()) <= 5) return 1;
    if (r.width() > 16 && std::abs(x - r.right()) <= 5) return 2;
    return x >= r.left() && x <= r.right() ? 0 : -1;
}

ReelHit hit(int part, ReelHit::What body, int index) {
    return part < 0 ? ReelHit{} : ReelHit{ReelHit::What(int(body) + part), index};
}

} // namespace

ReelHit hitTest(const Project& project, const ReelLayout& l, const ReelScale& scale, QPointF at) {
    const double x = at.x(), y = at.y();
    if (l.overview.contains(at)) return {ReelHit::OnOverview, 0};
    if (l.ruler.contains(at)) {
        for (int i = 0; i < int(project.markers.size()); ++i) {
            const double mx = scale.xOf(double(project.markers[std::size_t(i)].frame));
            if (x >= mx - 3 && x <= mx + 9) return {ReelHit::OnMarker, i};
        }
        return {ReelHit::OnRuler, 0};
    }
    if (const int row = l.overRowAt(y); row >= 0)
        for (int i = int(project.overlays.size()) - 1; i >= 0; --i) {
            const Overlay& o = project.overlays[std::size_t(i)];
            if (o.row != row) continue;
            const auto found =
                hit(partOf(l.spanIn(l.over, scale, double(o.start), double(o.end())), x), ReelHit::OnOverlay, i);
            if (found.what != ReelHit::Nowhere) return found;
        }
    if (l.adjust.contains(at))
        for (int i = int(project.adjustments.size()) - 1; i >= 0; --i) {
            const Adjustment& a = project.adjustments[std::size_t(i)];
            const auto found =
                hit(partOf(l.spanIn(l.adjust, scale, double(a.start), double(a.end())), x), ReelHit::OnAdjustment, i);
            if (found.what != ReelHit::Nowhere) return found;
        }
    if (l.flow.contains(at)) return {ReelHit::OnFlow, int(std::floor(scale.frameAt(x)))};
    if (l.heard.contains(at)) return {ReelHit::OnHeard, int(std::floor(scale.frameAt(x)))};
    const double bottom = std::max(l.clips.bottom(), l.sound.bottom());
    if (y >= l.clips.top() && y <= bottom) return hitTest(project, scale, x, y, l.clips.top(), bottom - l.clips.top());
    if (l.music.contains(at) && !project.music.empty()) {
        const int row =
            l.tall ? std::min(int((y - l.music.top()) / l.musicRowHeight), int(project.music.size()) - 1) : 0;
        const Music& m = project.music[std::size_t(row)];
        const auto length = musicLength(project, m);
        return hit(partOf(l.spanIn(l.music, scale, double(m.start), double(m.start + length)), x), ReelHit::OnMusic,
                   row);
    }
    if (l.beats.contains(at) && hasBeats(project)) {
        ReelHit best;
        double nearest = 6;
        for (const BeatMark& mark : beatsBetween(project, scale.frameAt(x - 8), scale.frameAt(x + 8)))
            if (std::abs(scale.xOf(mark.frame) - x) <= nearest) {
                nearest = std::abs(scale.xOf(mark.frame) - x);
                best = {ReelHit::OnBeat, mark.beat};
            }
        return best;
    }
    if (l.status.contains(at) && x > l.status.right() - 220 && x < l.status.right() - 34) return {ReelHit::OnSnap, 0};
    return {};
}

} // namespace virga
