#include "app/picture/faces.h"

#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/commands/clip_commands.h"
#include "app/picture/points.h"
#include "app/style/theme.h"
#include "core/analysis/follow_subject.h"
#include "core/analysis/spot.h"
#include "core/analysis/subject_match.h"
#include "core/check/flow.h"
#include "core/decode/video_reader.h"

namespace virga {

Faces::Faces(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames) {
    m_flicker.setInterval(280);
    connect(&m_flicker, &QTimer::timeout, this, [this] {
        m_second = !m_second;
        emit changed();
    });
    connect(&m_job, &Job::runningChanged, this, &Faces::changed);
    connect(document, &Document::shownChanged, this, &Faces::refresh);
    connect(document, &Document::selectionChanged, this, &Faces::refresh);
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (slot != "faces-0" && slot != "faces-1") return;
        m_images[slot == "faces-1"] = result.image;
        emit changed();
    });
}

void Faces::setShown(bool on) {
    if (on == m_shown) return;
    m_shown = on;
    if (on)
        refresh();
    else
        m_frames->drop("faces-");
    setWay(m_way);
}

void Faces::setWay(Way way) {
    m_way = way;
    if (m_shown && way == Flicker)
        m_flicker.start();
    else
        m_flicker.stop();
    emit changed();
}

void Faces::refresh() {
    const int cut = m_document->cut();
    const Snapshot project = m_document->shown();
    if (!m_shown || cut < 0 || cut >= cutCount(*project)) return;
    const Size full = project->settings.size;
    const std::int64_t at = cutFrame(*project, cut);
    const Quality quality = m_document->isDragging() ? quickQuality : exactQuality;
    for (const int i : {0, 1})
        m_frames->request(QStringLiteral("faces-%1").arg(i),
                          {project, at - 1 + i, {full.width, full.height}, quality, Urgency::Now});
}

double Faces::perPixel() const {
    return m_frame.width() / std::max(1, m_document->project()->settings.size.width);
}

QPointF Faces::toWidget(Point p) const {
    return m_frame.topLeft() + QPointF(p.x, p.y) * perPixel();
}

Point Faces::toFrame(QPointF p) const {
    const QPointF at = (p - m_frame.topLeft()) / perPixel();
    return {at.x(), at.y()};
}

SubjectSeen Faces::seen(Side side) const {
    const auto project = m_document->project();
    if (const auto set = subjectAt(*project, m_document->cut(), side)) return *set;
    const Size size = project->settings.size;
    return {{size.width * (side == Side::Outgoing ? 0.35 : 0.65), size.height / 2.0}, size.height / 10.0, 0};
}

QPointF Faces::knobOf(Side side) const {
    const SubjectSeen s = seen(side);
    const double angle = s.angle * std::numbers::pi / 180;
    return markOf(side) + QPointF(std::cos(angle), std::sin(angle)) * s.radius * perPixel();
}

QPointF Faces::markOf(Side side) const {
    return toWidget(seen(side).at);
}

bool Faces::press(QPointF at) {
    m_held = Nothing;
    m_pressed = at;
    for (const Side side : {Side::Incoming, Side::Outgoing}) {
        const double away = distanceOf(at, markOf(side)), rim = seen(side).radius * perPixel();
        if (distanceOf(at, knobOf(side)) <= 7)
            m_held = Knob;
        else if (std::abs(away - rim) <= 6)
            m_held = Rim;
        else if (away <= std::max(10.0, rim))
            m_held = Mark;
        else
            continue;
        m_side = side;
        m_origin = seen(side);
        return true;
    }
    if (m_way == Split && std::abs(at.x() - (m_frame.left() + m_divider * m_frame.width())) <= 8) m_held = Divider;
    return m_held != Nothing;
}

void Faces::drag(QPointF at) {
    if (m_held == Nothing) return;
    if (m_held == Divider) {
        m_divider = std::clamp((at.x() - m_frame.left()) / m_frame.width(), 0.0, 1.0);
        return emit changed();
    }
    SubjectSeen now = m_origin;
    if (m_held == Mark)
        now.at += toFrame(at) - toFrame(m_pressed);
    else if (m_held == Knob) {
        const QPointF way = at - toWidget(m_origin.at);
        const double angle = std::atan2(way.y(), way.x()) * 180 / std::numbers::pi,
                     straight = std::round(angle / 15) * 15;
        now.angle = std::abs(angle - straight) < 2 ? straight : angle;
    } else
        now.radius = std::max(4.0, distanceOf(at, toWidget(m_origin.at)) / perPixel());
    m_document->drag(withSubject(*m_document->dragOrigin(), m_document->cut(), m_side, now));
    emit changed();
}

void Faces::release() {
    if (m_held == Mark || m_held == Rim || m_held == Knob) m_document->endDrag(tr("mark the subject"));
    m_held = Nothing;
}

QString Faces::lineUp() {
    const auto before = m_document->project();
    QString said = lineUpSubjects(*m_document, m_document->cut());
    if (said.isEmpty()) tellOfEdges(before, m_document->project(), m_document->cut() + 1);
    return said;
}

// It may stand there smaller than the frame.
void Faces::tellOfEdges(const Snapshot& before, const Snapshot& after, int clip) {
    m_edges.start(
        [before, after, clip](auto, const Cancel&) {
            auto left = edgesOfShot(*after, clip);
            return left && !edgesOfShot(*before, clip) ? left : std::nullopt;
        },
        [this, after](const std::optional<Finding>& left) {
            if (!left || m_document->project() != after) return; // edited meanwhile: the check tells
            const QString title = QString::fromStdString(left->title);
            emit told(left->fixes.empty() ? tr("Lined up. %1.").arg(title)
                                          : tr("Lined up. %1; Flow offers: %2.")
                                                .arg(title, QString::fromStdString(left->fixes.front().label)));
        });
}

namespace {

struct Found {
    std::optional<SubjectPair> pair;
    std::optional<Error> error;
};

// What both shots show beside the cut, in their whole pictures.
Found findIn(const Project& project, int cut) {
    Grey greys[2];
    for (const int i : {0, 1}) {
        const Clip& clip = project.reel[std::size_t(cut + i)];
        const Media* media = findMedia(project, clip.mediaId);
        if (!media || !media->hasPicture())
            return {{}, Error{ErrorCode::BadInput, "there is no picture on one side of the cut", clip.name, ""}};
        auto reader = VideoReader::open(media->path, {}, clip.deinterlace);
        if (!reader) return {{}, reader.error()};
        const Rational at = sourceTime(project, clip, i == 0 ? clip.length - 1 : 0);
        const auto picture = (*reader)->read((*reader)->indexAt(at));
        if (!picture) return {{}, picture.error()};
        greys[i] = greyOf(*picture);
    }
    return {matchSubjects(greys[0], greys[1]), {}};
}

QString editedMeanwhile() {
    return Faces::tr("The shots at the cut were edited meanwhile, so nothing was put there. Do it once more.");
}

Subject subjectOf(const SubjectSpot& whole, const Crop& crop) {
    const SubjectSpot spot = cropped(whole, crop);
    return {spot.at, spot.size, spot.angle, {}};
}

} // namespace

void Faces::find() {
    const Snapshot project = m_document->project();
    const int cut = m_document->cut();
    if (cut < 0 || isBusy()) return;
    m_job.start([project, cut](auto, const Cancel&) { return findIn(*project, cut); },
                [this, project, cut](const Found& found) {
                    if (found.error) return emit told(QString::fromStdString(describe(*found.error)));
                    if (!found.pair)
                        return emit told(tr("The two shots show nothing in common that could be told for certain. Put "
                                            "the marks on their subjects by hand."));
                    const Clip &out = project->reel[std::size_t(cut)], &in = project->reel[std::size_t(cut) + 1];
                    const FoundSubjects both{project, subjectOf(found.pair->first, out.crop),
                                             subjectOf(found.pair->second, in.crop)};
                    if (!setSubjects(*m_document, cut, both, tr("find the subject"))) emit told(editedMeanwhile());
                });
}

void Faces::follow() {
    const Snapshot project = m_document->project();
    const int cut = m_document->cut();
    if (cut < 0 || isBusy()) return;
    if (!subjectAt(*project, cut, Side::Outgoing) && !subjectAt(*project, cut, Side::Incoming))
        return emit told(tr("No subject is marked: drag a mark to what is to be followed."));
    struct Both {
        std::optional<FollowedSubject> sides[2];
        std::optional<Error> error;
    };
    m_job.start(
        [project, cut](auto report, const Cancel& cancel) {
            Both both;
            for (const int i : {0, 1}) {
                const Side side = i == 0 ? Side::Outgoing : Side::Incoming;
                const Clip& clip = project->reel[std::size_t(cut + i)];
                if (!(i == 0 ? clip.subjectOut : clip.subjectIn)) continue;
                auto done = followSubject(
                    *project, cut + i, side, [&](double part) { report((i + part) / 2); }, cancel);
                if (done)
                    both.sides[i] = std::move(*done);
                else
                    both.error = done.error();
            }
            return both;
        },
        [this, project, cut](Both both) {
            if (both.error) return emit told(QString::fromStdString(describe(*both.error)));
            FoundSubjects found{project, {}, {}};
            QStringList lost;
            for (const int i : {0, 1}) {
                if (!both.sides[i]) continue;
                (i == 0 ? found.out : found.in) = both.sides[i]->subject;
                if (both.sides[i]->lostAt >= 0)
                    lost << tr("%1 at its frame %2")
                                .arg(i == 0 ? tr("the outgoing one") : tr("the incoming one"))
                                .arg(both.sides[i]->lostAt);
            }
            if (!setSubjects(*m_document, cut, found, tr("follow the subject"))) return emit told(editedMeanwhile());
            if (!lost.isEmpty())
                emit told(
                    tr("Followed, but %1 was lost. Go there in the frame's own view, drag its mark to it, and follow "
                       "again.")
                        .arg(lost.join(tr(", "))));
        });
}

void Faces::paintMark(QPainter& p, Side side) {
    const bool set = subjectAt(*m_document->project(), m_document->cut(), side).has_value();
    const QPointF at = markOf(side);
    const double rim = seen(side).radius * perPixel();
    const QColor c = sideMark(side == Side::Incoming);
    for (const QPen& pen : {QPen(QColor(0, 0, 0, 150), 4), QPen(c, 1.6, set ? Qt::SolidLine : Qt::DashLine)}) {
        p.setPen(pen);
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at, rim, rim);
        p.drawLine(at - QPointF(6, 0), at + QPointF(6, 0));
        p.drawLine(at - QPointF(0, 6), at + QPointF(0, 6));
    }
    p.setPen(QPen(QColor(0, 0, 0, 150), 1));
    p.setBrush(c);
    p.drawEllipse(knobOf(side), 4, 4);
    const QString text = side == Side::Outgoing ? tr("outgoing") : tr("incoming");
    p.setFont(textFont(11));
    const double w = QFontMetricsF(p.font()).horizontalAdvance(text) + 12;
    const QRectF chip(at.x() + rim + 6, at.y() - 9, w, 18);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(10, 12, 14, 190));
    p.drawRoundedRect(chip, 3, 3);
    p.setPen(c);
    p.drawText(chip, Qt::AlignCenter, text);
}

void Faces::paint(QPainter& p) {
    p.save();
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    p.fillRect(m_frame, Qt::black);
    const QImage &out = m_images[0], &in = m_images[1];
    if (isReady()) {
        const double x = m_frame.left() + m_divider * m_frame.width();
        switch (m_way) {
        case Split:
            p.drawImage(m_frame, in);
            p.setClipRect(QRectF(m_frame.left(), m_frame.top(), x - m_frame.left(), m_frame.height()));
            p.drawImage(m_frame, out);
            p.setClipping(false);
            p.fillRect(QRectF(x - 1, m_frame.top(), 2, m_frame.height()), Qt::white);
            break;
        case Mix:
            p.drawImage(m_frame, out);
            p.setOpacity(0.5);
            p.drawImage(m_frame, in);
            p.setOpacity(1);
            break;
        case Difference:
            p.drawImage(m_frame, out);
            p.setCompositionMode(QPainter::CompositionMode_Difference);
            p.drawImage(m_frame, in);
            p.setCompositionMode(QPainter::CompositionMode_SourceOver);
            break;
        case Flicker:
            p.drawImage(m_frame, m_second ? in : out);
            break;
        }
    }
    p.setRenderHint(QPainter::Antialiasing);
    const QPointF a = markOf(Side::Outgoing), b = markOf(Side::Incoming);
    if (distanceOf(a, b) > 4) {
        p.setPen(QPen(Qt::white, 1, Qt::DashLine));
        p.drawLine(a, b);
    }
    for (const Side side : {Side::Outgoing, Side::Incoming}) paintMark(p, side);
    p.restore();
}

} // namespace virga
