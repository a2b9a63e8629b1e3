#include "app/picture/picture_handles.h"

#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/document/edit_focus.h"
#include "app/document/words.h"
#include "app/picture/points.h"
#include "app/style/theme.h"
#include "core/edit/move_edits.h"

namespace virga {
namespace {

constexpr double reach = 9; // pixels around a handle in which it is taken

QPointF between(QPointF a, QPointF b) {
    return (a + b) / 2;
}

} // namespace

PictureHandles::PictureHandles(Document* document, QObject* parent) : QObject(parent), m_document(document) {}

// The move whose lane was pointed at, if any.
int PictureHandles::preferred() const {
    const EditFocus* focus = m_document->focus();
    return focus->wasPointedAt() ? focus->current().move : -1;
}

Steering PictureHandles::steering(const Project& project) const {
    const EditFocus* focus = m_document->focus();
    const StackPlace place = focus->place();
    return {project, place, focus->sideAt(focus->playhead()), m_document->playhead(), preferred()};
}

const std::optional<Steering>& PictureHandles::now() {
    const Snapshot shown = m_document->shown();
    const EditFocus* focus = m_document->focus();
    const std::tuple at(m_document->playhead(), focus->place(), preferred());
    if (m_nowOf == shown && m_nowAt == at) return m_now;
    m_nowOf = shown, m_nowAt = at;
    m_now.reset();
    if (!shown->reel.empty() && focus->stack()) {
        m_now.emplace(*m_nowOf, focus->place(), focus->sideAt(focus->playhead()), m_document->playhead(), preferred());
        if (!m_now->isThere()) m_now.reset();
    }
    return m_now;
}

bool PictureHandles::isThere() {
    return now().has_value();
}

QPointF PictureHandles::toWidget(Point p) const {
    const Size size = m_document->project()->settings.size;
    return {m_frame.left() + p.x * m_frame.width() / size.width, m_frame.top() + p.y * m_frame.height() / size.height};
}

Point PictureHandles::toFrame(QPointF p) const {
    const Size size = m_document->project()->settings.size;
    return {(p.x() - m_frame.left()) * size.width / m_frame.width(),
            (p.y() - m_frame.top()) * size.height / m_frame.height()};
}

std::optional<PictureHandles::Followed> PictureHandles::followed(const Project& project) const {
    const int cut = m_document->cut(), clip = clipAt(project, m_document->playhead());
    if (cut < 0 || (clip != cut && clip != cut + 1)) return std::nullopt;
    const Side side = clip == cut ? Side::Outgoing : Side::Incoming;
    const Clip& c = project.reel[std::size_t(clip)];
    const auto& subject = side == Side::Outgoing ? c.subjectOut : c.subjectIn;
    if (!subject || subject->path.empty()) return std::nullopt;
    const auto seen = subjectAt(project, clip, side, m_document->playhead());
    return seen ? std::optional(Followed{clip, side, *seen}) : std::nullopt;
}

void PictureHandles::paintMark(QPainter& p) {
    const auto f = followed(*m_document->shown());
    if (!f) return;
    const QPointF at = toWidget(f->seen.at);
    const double rim = f->seen.radius * m_frame.width() / std::max(1, m_document->shown()->settings.size.width);
    for (const QPen& pen : {QPen(QColor(0, 0, 0, 150), 3.5), QPen(sideMark(f->side == Side::Incoming), 1.5)}) {
        p.setPen(pen);
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at, rim, rim);
        p.drawLine(at - QPointF(5, 0), at + QPointF(5, 0));
        p.drawLine(at - QPointF(0, 5), at + QPointF(0, 5));
    }
}

double PictureHandles::ringRadius() const {
    return 0.29 * m_frame.height();
}

QPointF PictureHandles::ringKnob(const Steering& s) const {
    const double angle = (s.valuesOf(*s.spin())[0] - 35) * 3.14159265358979 / 180;
    return toWidget(s.anchorOf(s.spin()->move)) + QPointF(std::cos(angle), std::sin(angle)) * ringRadius();
}

QPointF PictureHandles::placeOf(Hit h) {
    const auto& s = now();
    if (!s) return {};
    const auto corners = s->corners();
    const auto corner = [&](int i) { return toWidget(corners[std::size_t(i) % 4]); };
    switch (h.what) {
    case Corner:
        return corner(h.index);
    case Edge:
        return between(corner(h.index), corner(h.index + 1));
    case Ring:
        return s->spin() ? ringKnob(*s) : QPointF();
    case Anchor:
        return toWidget(s->anchorOf(s->anchored()));
    case Mark:
        if (const auto f = followed(*m_document->shown())) return toWidget(f->seen.at);
        break;
    case Body:
    case Nowhere:
        break;
    }
    return between(between(corner(0), corner(1)), between(corner(2), corner(3)));
}

PictureHandles::Hit PictureHandles::hit(QPointF at) {
    const auto& s = now();
    if (!s) return {};
    if (followed(*m_document->shown()) && distanceOf(at, placeOf({Mark, 0})) <= reach) return {Mark, 0};
    if (s->anchored() >= 0 && distanceOf(at, placeOf({Anchor, 0})) <= reach) return {Anchor, 0};
    if (s->spin() && distanceOf(at, ringKnob(*s)) <= reach + 2) return {Ring, 0};
    for (int i = 0; i < 4 && s->zoom(); ++i)
        if (distanceOf(at, placeOf({Corner, i})) <= reach) return {Corner, i};
    for (int i = 0; i < 4 && s->tilt(); ++i)
        if (distanceOf(at, placeOf({Edge, i})) <= reach + 2) return {Edge, i};
    return s->slide() && m_frame.contains(at) ? Hit{Body, 0} : Hit{};
}

Qt::CursorShape PictureHandles::cursor(QPointF at) {
    const Hit h = isDragging() ? *m_dragging : hit(at);
    switch (h.what) {
    case Corner:
        return h.index % 2 == 0 ? Qt::SizeFDiagCursor : Qt::SizeBDiagCursor;
    case Edge:
        return h.index % 2 == 0 ? Qt::SizeVerCursor : Qt::SizeHorCursor;
    case Ring:
        return Qt::PointingHandCursor;
    case Anchor:
    case Mark:
        return Qt::CrossCursor;
    case Body:
        return isDragging() ? Qt::ClosedHandCursor : Qt::OpenHandCursor;
    case Nowhere:
        break;
    }
    return Qt::ArrowCursor;
}

bool PictureHandles::press(QPointF at) {
    const Hit h = hit(at);
    if (h.what == Nowhere) return false;
    m_dragging = h;
    m_pressed = m_at = at;
    m_origin = m_document->project();
    const Steering s = steering(*m_origin);
    // The handle's own point, so that nothing jumps when it is not met exactly.
    m_source = s.sourceAt(toFrame(h.what == Body ? at : placeOf(h)));
    if (h.what == Ring) m_source = s.sourceAt(toFrame(ringKnob(s)));
    if (h.what == Body && !std::isfinite(m_source.length())) m_dragging.reset();
    return m_dragging.has_value();
}

double PictureHandles::cling(double value, const std::vector<double>& to, double within) const {
    double best = value, nearest = within;
    for (const double v : to)
        if (std::abs(v - value) < nearest) nearest = std::abs(v - value), best = v;
    return best;
}

// The value that the cut's other side has beside the cut.
std::vector<double> PictureHandles::otherSide(const SteerTarget& target, int which) const {
    const StackPlace place = m_document->focus()->place();
    const Stack* stack = stackAt(*m_origin, place);
    if (target.move < 0 || place.kind != StackPlace::Cut || !stack) return {};
    const Side side = m_document->focus()->sideAt(m_document->focus()->playhead());
    const Channel& channel =
        (*stack)[std::size_t(target.move)].channels[std::size_t(target.channels[std::size_t(which)])];
    const Curve& other = side == Side::Outgoing ? channel.incoming : channel.outgoing;
    if (other.isEmpty()) return {};
    return {side == Side::Outgoing ? other.keys.front().value : other.keys.back().value};
}

QString PictureHandles::nameOf(const SteerTarget& target, int which) const {
    if (target.move < 0)
        return target.channels[0] == 2   ? tr("scale")
               : target.channels[0] == 3 ? tr("angle")
               : which == 0              ? tr("place x")
                                         : tr("place y");
    const Stack* stack = stackAt(*m_origin, m_document->focus()->place());
    const MoveInfo& info = moveInfo((*stack)[std::size_t(target.move)].kind);
    return textOf(info.channels[std::size_t(target.channels[std::size_t(which)])].label).toLower();
}

QString PictureHandles::valueText(const SteerTarget& target, int which, double value) const {
    QString number;
    if (target.move < 0) {
        number = target.channels[0] == 2 ? QString::number(value, 'f', 3) + QStringLiteral("×")
                 : target.channels[0] == 3
                     ? QString::number(value, 'f', 1) + QStringLiteral("°")
                     : QString::number(value, 'f', 3) + (which == 0 ? QStringLiteral("w") : QStringLiteral("h"));
    } else {
        const Stack* stack = stackAt(*m_origin, m_document->focus()->place());
        const ChannelInfo& info = moveInfo((*stack)[std::size_t(target.move)].kind)
                                      .channels[std::size_t(target.channels[std::size_t(which)])];
        number = QString::number(value, 'f', info.decimals) + textOf(info.unit);
    }
    return nameOf(target, which) + QLatin1Char(' ') + number.replace('-', QStringLiteral("−"));
}

Project PictureHandles::moved(const Steering& s, QPointF at, bool fine) {
    if (fine) at = m_pressed + (at - m_pressed) / 8;
    // From the handle's own point.
    const QPointF from = m_dragging->what == Body ? m_pressed : toWidget(s.screenAt(m_source));
    const Point screen = toFrame(from + (at - m_pressed));
    const double pixel = 6 / m_frame.width(); // six pixels, in frame widths
    const auto with = [](std::vector<double> values, const std::vector<double>& more) {
        values.insert(values.end(), more.begin(), more.end());
        return values;
    };
    switch (m_dragging->what) {
    case Body: {
        auto v = s.slideTo(m_source, screen);
        if (!v) break;
        if (!fine)
            for (const int i : {0, 1}) {
                const double aspect = i == 0 ? 1 : m_document->project()->settings.size.aspect();
                (*v)[std::size_t(i)] =
                    cling((*v)[std::size_t(i)],
                          with({0, -1.0 / 3, 1.0 / 3, -0.5, 0.5, -1, 1}, otherSide(*s.slide(), i)), pixel * aspect);
            }
        m_told = valueText(*s.slide(), 0, (*v)[0]) + QStringLiteral(", ") + valueText(*s.slide(), 1, (*v)[1]);
        return s.with(*s.slide(), *v);
    }
    case Corner: {
        auto v = s.zoomTo(m_source, screen);
        if (!v) break;
        const bool depth = s.zoom()->move >= 0 && *v < 1 && s.valuesOf(*s.zoom())[0] == 0;
        if (!fine) *v = cling(*v, with({depth ? 0.0 : 1.0}, otherSide(*s.zoom(), 0)), 2.5 * pixel);
        m_told = valueText(*s.zoom(), 0, *v);
        return s.with(*s.zoom(), {*v, 0});
    }
    case Ring: {
        auto v = s.spinTo(m_source, screen);
        if (!v) break;
        if (!fine)
            *v = cling(*v, with({std::round(*v / 45) * 45, std::round(*v / 15) * 15}, otherSide(*s.spin(), 0)), 2);
        m_told = valueText(*s.spin(), 0, *v);
        return s.with(*s.spin(), {*v, 0});
    }
    case Edge: {
        const int axis = m_dragging->index % 2;
        auto v = s.tiltTo(axis, m_source, screen);
        if (!v) break;
        if (!fine) *v = cling(*v, with({0}, otherSide(*s.tilt(), axis)), 2);
        m_told = valueText(*s.tilt(), axis, *v);
        SteerTarget one = *s.tilt();
        one.channels[std::size_t(1 - axis)] = -1;
        std::array<double, 2> values = s.valuesOf(*s.tilt());
        values[std::size_t(axis)] = *v;
        return s.with(one, values);
    }
    case Anchor: {
        Point a = s.anchorAt(s.anchored(), screen);
        if (!fine)
            for (double* part : {&a.x, &a.y}) *part = cling(*part, {0, 1.0 / 3, 0.5, 2.0 / 3, 1}, pixel);
        const StackPlace place = m_document->focus()->place();
        const Stack* stack = stackAt(*m_origin, place);
        Move move = (*stack)[std::size_t(s.anchored())];
        move.anchor = a;
        m_told = tr("%1 %2, %3").arg(textOf(moveInfo(move.kind).anchor)).arg(a.x, 0, 'f', 3).arg(a.y, 0, 'f', 3);
        return withMoveChanged(*m_origin, place, s.anchored(), move);
    }
    case Mark: {
        const auto f = followed(*m_origin);
        if (!f) break;
        SubjectSeen seen = f->seen;
        seen.at = toFrame(toWidget(f->seen.at) + (at - m_pressed));
        m_told = tr("subject, by hand on this frame");
        return withSubject(*m_origin, f->clip, f->side, m_document->playhead(), seen);
    }
    case Nowhere:
        break;
    }
    return *m_document->project();
}

void PictureHandles::drag(QPointF at, bool fine) {
    if (!m_dragging || !m_origin) return;
    m_at = at;
    if (m_told.isEmpty() && distanceOf(at, m_pressed) < 3) return; // a click is no drag
    m_document->drag(moved(steering(*m_origin), at, fine));
    emit changed();
}

void PictureHandles::release() {
    if (!m_dragging) return;
    static const char* const names[] = {"",
                                        QT_TR_NOOP("slide on the picture"),
                                        QT_TR_NOOP("zoom on the picture"),
                                        QT_TR_NOOP("spin on the picture"),
                                        QT_TR_NOOP("move the anchor"),
                                        QT_TR_NOOP("tilt on the picture"),
                                        QT_TR_NOOP("correct the subject")};
    const int what = m_dragging->what;
    m_dragging.reset();
    m_told.clear();
    m_document->endDrag(tr(names[what]));
    emit changed();
}

void PictureHandles::cancel() {
    if (!m_dragging) return;
    m_dragging.reset();
    m_told.clear();
    m_document->cancelDrag();
    emit changed();
}

void PictureHandles::wheel(double notches, bool fine) {
    const auto& s = now();
    if (!s || !s->zoom() || m_document->isTrying()) return;
    const SteerTarget target = *s->zoom();
    const Stack* stack = m_document->focus()->stack();
    const Space space = target.move < 0 || !stack
                            ? Space::Log2
                            : moveInfo((*stack)[std::size_t(target.move)].kind).channels.front().space;
    const double value = fromSpace(toSpace(s->valuesOf(target)[0], space) + notches * (fine ? 0.01 : 0.05), space);
    zoomOnPicture(*m_document, steering(*m_document->project()).with(target, {value, 0}));
}

void PictureHandles::setHover(std::optional<QPointF> at) {
    m_hover = at;
    emit changed();
}

void PictureHandles::paintPath(QPainter& p) {
    const Snapshot shown = m_document->shown();
    const StackPlace place = m_document->focus()->place();
    if (m_pathOf != shown || !(m_pathAt == place)) {
        m_pathOf = shown, m_pathAt = place;
        m_path = Steering::pathOf(*shown, place);
    }
    double extent = 0;
    for (const auto& point : m_path)
        extent = std::max(extent, distanceOf(toWidget(point.at), toWidget(m_path.front().at)));
    if (extent < 3) return;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const QColor c = side == Side::Outgoing ? theme().outgoing : theme().incoming;
        QPolygonF line;
        for (const auto& point : m_path)
            if (point.side == side) line << toWidget(point.at);
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(QColor(0, 0, 0, 120), 3));
        p.drawPolyline(line);
        p.setPen(QPen(c, 1.2));
        p.drawPolyline(line);
        p.setPen(Qt::NoPen);
        p.setBrush(c);
        for (const auto& point : m_path)
            if (point.side == side) {
                const bool here = point.frame == m_document->playhead();
                p.drawEllipse(toWidget(point.at), here ? 4 : 1.9, here ? 4 : 1.9);
            }
    }
}

void PictureHandles::paint(QPainter& p, bool handles) {
    const auto& s = now();
    if (!s || (!handles && !isDragging())) return;
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    paintPath(p);
    const auto corners = s->corners();
    QPolygonF quad;
    for (const Point& c : corners)
        if (std::isfinite(c.length())) quad << toWidget(c);
    const QColor line = QColor(0xff, 0xff, 0xff, 210), shade(0, 0, 0, 130);
    p.setBrush(Qt::NoBrush);
    for (const QPen& pen : {QPen(shade, 3), QPen(line, 1.2)}) {
        p.setPen(pen);
        p.drawPolygon(quad);
    }
    const auto knob = [&](QPointF at, bool round) {
        const bool hot = m_hover && distanceOf(*m_hover, at) <= reach;
        p.setPen(QPen(shade, 1));
        p.setBrush(hot ? theme().playhead : QColor(0xff, 0xff, 0xff, 235));
        if (round)
            p.drawEllipse(at, 4.5, 4.5);
        else
            p.drawRect(QRectF(at.x() - 3.5, at.y() - 3.5, 7, 7));
    };
    if (s->zoom() && quad.size() == 4)
        for (const QPointF& c : quad) knob(c, false);
    if (s->tilt() && quad.size() == 4)
        for (int i = 0; i < 4; ++i) knob(between(quad[i], quad[(i + 1) % 4]), true);
    if (s->spin()) {
        const QPointF middle = toWidget(s->anchorOf(s->spin()->move));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(shade, 2.6));
        p.drawEllipse(middle, ringRadius(), ringRadius());
        p.setPen(QPen(line, 1.1, Qt::DotLine));
        p.drawEllipse(middle, ringRadius(), ringRadius());
        knob(ringKnob(*s), true);
    }
    if (s->anchored() >= 0) {
        const QPointF a = placeOf({Anchor, 0});
        for (const QPen& pen : {QPen(shade, 3), QPen(line, 1.2)}) {
            p.setPen(pen);
            p.drawLine(a - QPointF(8, 0), a + QPointF(8, 0));
            p.drawLine(a - QPointF(0, 8), a + QPointF(0, 8));
        }
    }
    paintMark(p);
    if (isDragging() && !m_told.isEmpty()) {
        const Side side = s->side();
        p.setFont(numberFont(11));
        const double w = QFontMetricsF(p.font()).horizontalAdvance(m_told) + 14;
        QRectF chip(m_at.x() + 14, m_at.y() - 26, w, 19);
        chip.moveLeft(
            std::clamp(chip.left(), m_frame.left() + 4, std::max(m_frame.left() + 4, m_frame.right() - w - 4)));
        chip.moveTop(std::max(chip.top(), m_frame.top() + 4));
        p.setPen(Qt::NoPen);
        p.setBrush(QColor(10, 12, 14, 215));
        p.drawRoundedRect(chip, 3, 3);
        p.setPen(m_document->focus()->place().kind != StackPlace::Cut ? QColor(0xe4, 0xe6, 0xe8)
                                                                      : sideMark(side == Side::Incoming));
        p.drawText(chip, Qt::AlignCenter, m_told);
    }
    p.restore();
}

} // namespace virga
