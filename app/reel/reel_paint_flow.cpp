// The flow line: the seen speed of every frame of the piece beneath its clips, with what the check found; what a fix
// that is pointed at would make of it before it is taken.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/reel/reel_view.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/check/flow_line.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

// Speeds differ by hundreds: the square root shows the slow ones too.
double heightOf(double speed, double fastest) {
    return std::sqrt(std::clamp(speed / fastest, 0.0, 1.0));
}

double fastestOf(const ReelFlow& flow) {
    double fastest = 10; // slow pieces do not look fast
    for (const auto& clip : flow.clips) fastest = std::max(fastest, clip->facts.fastest());
    return fastest;
}

// The line of a clip's frames from one to another, a point for each frame, or the fastest of a pixel's.
QPolygonF lineOf(const ClipFacts& facts, std::int64_t from, std::int64_t to, double start, const ReelScale& scale,
                 const QRectF& band, double fastest) {
    QPolygonF line;
    const auto yOf = [&](double speed) { return band.bottom() - 1 - heightOf(speed, fastest) * (band.height() - 4); };
    const auto add = [&](std::int64_t frame, double speed) {
        const QPointF at(scale.xOf(start + double(frame) + 0.5), yOf(speed));
        if (!line.isEmpty() && at.x() - line.back().x() < 0.7) {
            line.back().setY(std::min(line.back().y(), at.y()));
            return;
        }
        line << at;
    };
    const auto& runs = facts.runs();
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const std::int64_t a = std::max(from, runs[i].first),
                           b = std::min(to, i + 1 < runs.size() ? runs[i + 1].first : facts.length());
        if (b <= a) continue;
        add(a, runs[i].facts.speed);
        if (b - a > 1) add(b - 1, runs[i].facts.speed);
    }
    return line;
}

constexpr double narrow = 20; // pixels of a shot

bool has(const std::vector<Finding>& findings, const char* kind) {
    return std::any_of(findings.begin(), findings.end(), [&](const Finding& f) { return kindOf(f) == kind; });
}

} // namespace

void ReelView::paintFlow(QPainter& p) {
    const ReelLayout& l = bands();
    if (l.flow.isEmpty()) return;
    p.fillRect(QRectF(l.flow.left() + l.gutter, l.flow.top(), l.flow.width() - l.gutter - 12, l.flow.height()),
               theme().chart);
    const auto project = m_document->project();
    const ReelScale s = scale();
    const QRectF& band = l.flow;
    p.setPen(QPen(theme().grid, 1));
    if (hasBeats(*project))
        for (const BeatMark& beat :
             beatsBetween(*project, std::max(0.0, s.frameAt(0)), std::min(s.frameAt(width()), double(starts().back()))))
            if (beat.startsBar) {
                const double x = std::floor(s.xOf(beat.frame)) + 0.5;
                p.drawLine(QPointF(x, band.top()), QPointF(x, band.bottom()));
            }
    const ReelFlow& now = m_flow->reel();
    const ReelFlow* trial = m_flow->trial();
    if (now.project) {
        const double fastest = std::max(fastestOf(now), trial ? fastestOf(*trial) : 0.0);
        paintFlowOf(p, now, fastest, trial ? 0.4 : 1);
        if (trial) paintTrial(p, *trial, fastest);
        paintOwnMovement(p, fastest);
        if (m_flowChannels) paintChannels(p, fastest);
    }
    if (band.height() >= 20) {
        p.setFont(textFont(10));
        p.setPen(theme().dim);
        const QString text = trial ? tr("seen speed, as it would be") : tr("seen speed");
        p.drawText(QRectF(band.left() + l.gutter + 4, band.top() + 1, 200, 12), Qt::AlignLeft | Qt::AlignVCenter, text);
    }
}

void ReelView::paintFlowOf(QPainter& p, const ReelFlow& flow, double fastest, double opacity) {
    const QRectF& band = bands().flow;
    const ReelScale s = scale();
    const auto& at = starts();
    p.save();
    p.setOpacity(opacity);
    for (int i = 0; i < int(m_document->project()->reel.size()); ++i) {
        const ClipFlow* clip = m_flow->clip(i);
        const double start = double(at[std::size_t(i)]);
        if (!clip || s.xOf(start + double(clip->facts.length())) < 0 || s.xOf(start) > width()) continue;
        const std::int64_t turn = turningFrame(clip->facts), end = clip->facts.length();
        if (double(end) * s.pixelsPerFrame < narrow) {
            paintNarrow(p, *clip, i, turn, start, fastest);
            continue;
        }
        for (const bool arriving : {true, false}) {
            const QPolygonF line = lineOf(clip->facts, arriving ? 0 : std::max<std::int64_t>(0, turn - 1),
                                          arriving ? turn : end, start, s, band, fastest);
            if (line.isEmpty()) continue;
            const bool alone = i == 0 ? arriving : false; // before the first movement there is no arriving
            const QColor c = arriving && !alone ? theme().incoming : theme().outgoing;
            QPolygonF fill = line;
            fill << QPointF(line.back().x(), band.bottom() - 1) << QPointF(line.front().x(), band.bottom() - 1);
            QColor faint = c;
            faint.setAlphaF(0.2f);
            p.setPen(Qt::NoPen);
            p.setBrush(faint);
            p.drawPolygon(fill);
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(c, 1.3));
            p.drawPolyline(line);
        }
        paintFlowMarks(p, *clip, start);
    }
    // What was checked last may be of a longer reel.
    const int cuts = std::min(int(flow.cuts.size()), cutCount(*m_document->project()));
    for (int cut = 0; cut < cuts; ++cut) {
        const double x = std::floor(s.xOf(double(at[std::size_t(cut) + 1]))) + 0.5;
        if (x < 0 || x > width()) continue;
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(x, band.top()), QPointF(x, band.bottom()));
        const CutFlow* found = m_flow->at(cut);
        if (!found) continue;
        const auto yOf = [&](double v) { return band.bottom() - 1 - heightOf(v, fastest) * (band.height() - 4); };
        if (has(found->findings, "turns-back")) { // it goes back: an arrow that does
            p.setPen(QPen(theme().breaks, 1.5));
            const double y = band.top() + 5;
            for (const double way : {-1.0, 1.0})
                p.drawPolyline(
                    QPolygonF({QPointF(x + way * 7, y - 3), QPointF(x + way * 3, y), QPointF(x + way * 7, y + 3)}));
        } else if (has(found->findings, "speed-step")) { // the step itself
            p.setPen(QPen(theme().breaks, 3, Qt::SolidLine, Qt::FlatCap));
            p.drawLine(QPointF(x, yOf(found->speedOut)), QPointF(x, yOf(found->speedIn)));
        } else if (has(found->findings, "falls-away") || has(found->findings, "jumps-in") ||
                   has(found->findings, "direction-step")) {
            p.setPen(Qt::NoPen);
            p.setBrush(theme().breaks);
            p.drawEllipse(QPointF(x, yOf(std::max(found->speedIn, found->speedOut))), 2.6, 2.6);
        }
    }
    p.restore();
}

// How fast the shots themselves go, as a thin line: read from their pictures, and not there where nothing was read.
void ReelView::paintOwnMovement(QPainter& p, double fastest) {
    const auto shots = m_document->shots();
    const auto project = m_document->project();
    if (!shots || !project->settings.withShots) return;
    const QRectF& band = bands().flow;
    const ReelScale s = scale();
    const auto& at = starts();
    QColor colour = theme().text;
    colour.setAlphaF(0.75f);
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(colour, 1));
    p.setBrush(Qt::NoBrush);
    for (std::size_t i = 0; i < project->reel.size(); ++i) {
        const double from = std::max(s.xOf(double(at[i])), 0.0),
                     to = std::min(s.xOf(double(at[i + 1])), double(width()));
        const Clip& clip = project->reel[i];
        if (to - from < 3 || shots->find(clip.mediaId) == shots->end()) continue;
        QPolygonF line;
        const auto draw = [&] {
            if (line.size() > 1) p.drawPolyline(line);
            line.clear();
        };
        for (double x = from; x < to; x += 2) {
            const OwnSteps own = ownStepsAt(*project, clip, s.frameAt(x) - double(at[i]) - 0.5, *shots);
            if (!own.known) {
                draw();
                continue;
            }
            line << QPointF(x, band.bottom() - 1 -
                                   heightOf(ownSpeedOf(*project, clip, own), fastest) * (band.height() - 4));
        }
        draw();
    }
    p.restore();
}

// Where a shot has few pixels: a bar for each, as high as the fastest of its frames.
void ReelView::paintNarrow(QPainter& p, const ClipFlow& clip, int index, std::int64_t turn, double start,
                           double fastest) {
    const QRectF& band = bands().flow;
    const ReelScale s = scale();
    const std::int64_t end = clip.facts.length();
    const auto column = [&](std::int64_t frame) { return int(std::floor(s.xOf(start + double(frame)))); };
    for (std::int64_t n = 0; n < end;) {
        const int x = column(n);
        double speed = 0;
        const std::int64_t first = n;
        for (; n < end && column(n) == x; ++n) speed = std::max(speed, clip.facts.at(n).speed);
        QColor c = first < turn && index > 0 ? theme().incoming : theme().outgoing;
        c.setAlphaF(0.6f);
        const double high = heightOf(speed, fastest) * (band.height() - 4);
        p.fillRect(QRectF(x, band.bottom() - 1 - high, 1, high), c);
    }
}

// Frames that stand still where they should not, and frames with a bare edge.
void ReelView::paintFlowMarks(QPainter& p, const ClipFlow& clip, double start) {
    const QRectF& band = bands().flow;
    const ReelScale s = scale();
    const double still = m_document->project()->settings.flow.still;
    const bool stands = has(clip.findings, "still");
    const auto& runs = clip.facts.runs();
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const std::int64_t end = i + 1 < runs.size() ? runs[i + 1].first : clip.facts.length();
        const double x = s.xOf(start + double(runs[i].first)),
                     w = std::max(1.0, double(end - runs[i].first) * s.pixelsPerFrame);
        if (runs[i].facts.bare > 0) p.fillRect(QRectF(x, band.top(), w, 3), theme().breaks);
        if (stands && runs[i].facts.speed < still && end - runs[i].first >= 3) {
            p.setPen(QPen(theme().look, 1.5, Qt::DotLine));
            p.drawLine(QPointF(x + 2, band.bottom() - 1.5), QPointF(x + w - 2, band.bottom() - 1.5));
        }
    }
}

void ReelView::paintTrial(QPainter& p, const ReelFlow& trial, double fastest) {
    const ReelScale s = scale();
    const auto at = clipStarts(*trial.project);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().strong, 1.4));
    for (std::size_t i = 0; i < trial.clips.size(); ++i) {
        const ClipFacts& facts = trial.clips[i]->facts;
        const double start = double(at[i]);
        if (s.xOf(start + double(facts.length())) < 0 || s.xOf(start) > width()) continue;
        p.drawPolyline(lineOf(facts, 0, facts.length(), start, s, bands().flow, fastest));
    }
}

void ReelView::paintChannels(QPainter& p, double fastest) {
    const QRectF& band = bands().flow;
    const ReelScale s = scale();
    const auto& at = starts();
    p.setBrush(Qt::NoBrush);
    p.setFont(textFont(10));
    for (int cut = 0; cut < cutCount(*m_document->project()); ++cut) {
        const double start = double(at[std::size_t(cut) + 1]);
        if (s.xOf(start) < -200 || s.xOf(start) > width() + 200) continue;
        int nth = 0;
        for (const ChannelLine& line : channelLinesOf(cut)) {
            QPolygonF points;
            for (std::size_t k = 0; k < line.speeds.size(); ++k)
                points << QPointF(s.xOf(start + double(line.first) + double(k) + 0.5),
                                  band.bottom() - 1 - heightOf(line.speeds[k], fastest) * (band.height() - 4));
            p.setPen(QPen(theme().text, 1, nth % 2 == 0 ? Qt::DashLine : Qt::DotLine));
            p.drawPolyline(points);
            if (s.pixelsPerFrame > 4) {
                p.setPen(theme().text);
                p.drawText(QPointF(s.xOf(start) + 6, band.top() + 10 + 11 * nth), shown(line.label));
            }
            ++nth;
        }
    }
}

const std::vector<ChannelLine>& ReelView::channelLinesOf(int cut) {
    if (m_channelsOf != m_document->project()) m_channels.clear(), m_channelsOf = m_document->project();
    const auto found = m_channels.find(cut);
    return found != m_channels.end() ? found->second
                                     : m_channels.emplace(cut, channelLines(*m_channelsOf, cut)).first->second;
}

QString ReelView::flowText(double frame) const {
    const auto project = m_document->project();
    const int i = clipAt(*project, std::int64_t(std::floor(frame)));
    const ClipFlow* clip = m_flow->clip(i);
    if (!clip) return {};
    const std::int64_t n = std::int64_t(std::floor(frame)) - starts()[std::size_t(i)];
    if (n < 0 || n >= clip->facts.length()) return {}; // it was shorter when it was checked
    const FrameFacts& facts = clip->facts.at(n);
    QString text = tr("%1, frame %2: %3 % of the width a frame")
                       .arg(QString::fromStdString(project->reel[std::size_t(i)].name))
                       .arg(n)
                       .arg(facts.speed, 0, 'f', facts.speed < 10 ? 2 : 0);
    if (facts.bare > 0)
        text += tr(", %1 % bare").arg(100 * facts.bare, 0, 'f', 1);
    else if (facts.uncovered > 0.001)
        text += tr(", %1 % copies").arg(100 * facts.uncovered, 0, 'f', 0);
    return text;
}

void ReelView::setFlowLine(bool on) {
    if (on == m_flowLine) return;
    m_flowLine = on;
    m_bandsOf = nullptr;
    redraw();
}

void ReelView::setFlowChannels(bool on) {
    m_flowChannels = on;
    redraw();
}

} // namespace virga
