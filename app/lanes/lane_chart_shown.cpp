// What a lane's chart shows: gathering its picture, and painting it.
#include <QPainter>
#include <cmath>

#include "app/lanes/lane_chart.h"
#include "app/style/theme.h"
#include "core/project/clip_time.h"

namespace virga {

// The same kind of move at the neighbouring cuts of the same clips.
std::vector<Ghost> LaneChart::ghosts() const {
    std::vector<Ghost> found;
    const auto project = m_context->document()->project();
    const StackPlace place = m_context->place();
    const MoveKind kind = moveShown().kind;
    if (isSpeed()) return found;
    int nth = 0;
    for (int m = 0; m < m_move; ++m) nth += (*m_context->stack())[std::size_t(m)].kind == kind;
    const auto add = [&](int cut, Side side, double frame) {
        const Stack* stack = stackAt(*project, cut);
        if (!stack) return;
        int n = 0;
        for (const Move& move : *stack)
            if (move.kind == kind && n++ == nth) {
                Curve curve = move.channels[std::size_t(m_channel)].side(side);
                if (curve.keys.size() >= 2) found.push_back({std::move(curve), side, frame});
            }
    };
    if (place.kind == StackPlace::Cut) {
        add(place.index - 1, Side::Incoming, sideSpan(*project, place, Side::Outgoing).from);
        add(place.index + 1, Side::Outgoing, sideSpan(*project, place, Side::Incoming).to);
    } else if (place.kind == StackPlace::Drift) {
        add(place.index - 1, Side::Incoming, 0);
        add(place.index, Side::Outgoing, sideSpan(*project, place, Side::Incoming).to);
    }
    return found;
}

// The shots' own zoom, turn or slide, frame by frame, in the lane of the same.
std::vector<LanePicture::OwnDot> LaneChart::ownDots() const {
    std::vector<LanePicture::OwnDot> dots;
    const ShotMovements* shots = m_context->shots();
    const StackPlace place = m_context->place();
    if (!shots || isSpeed() || (place.kind != StackPlace::Cut && place.kind != StackPlace::Drift)) return dots;
    const MoveKind kind = moveShown().kind;
    if (kind != MoveKind::Zoom && kind != MoveKind::Spin && kind != MoveKind::Slide) return dots;
    const auto project = m_context->document()->project();
    const double aspect = project->settings.size.aspect();
    constexpr int most = 60; // frames on a side
    const auto add = [&](int index, double beside, int way) {
        const Clip& clip = project->reel[std::size_t(index)];
        const auto shot = shots->find(clip.mediaId);
        const ClipTime time(*project, clip);
        if (shot == shots->end() || !shot->second || !time.runs()) return;
        const double from = time.secondsAt(beside), origin = place.kind == StackPlace::Drift ? 0 : way < 0 ? -1 : 0;
        for (int k = 0; k < most; ++k) {
            const double frame = beside + way * k, x = m_axes.frames[1].xOf(origin + way * k);
            if (frame < 0 || frame >= double(clip.length) || x < 0 || x > width()) break;
            const TurnZoomSlide p = partsOf(shot->second->between(from, time.secondsAt(frame)));
            const double value = kind == MoveKind::Zoom   ? p.zoom
                                 : kind == MoveKind::Spin ? p.degrees
                                 : m_channel == 0         ? p.slide.x
                                                          : p.slide.y * aspect;
            dots.push_back({x, value});
        }
    };
    if (place.kind == StackPlace::Drift) {
        add(place.index, 0, 1);
    } else {
        add(place.index, double(project->reel[std::size_t(place.index)].length - 1), -1);
        add(place.index + 1, 0, 1);
    }
    return dots;
}

// The shots whose speed the lane shows, each with the frame of the axis at which it starts.
std::vector<std::pair<const Clip*, double>> LaneChart::shots(const Project& project) const {
    const StackPlace place = m_context->place();
    if (place.kind == StackPlace::Overlay) return {{&project.overlays[std::size_t(place.index)].clip, 0}};
    const Clip& clip = project.reel[std::size_t(place.index)];
    if (!isJoint()) return {{&clip, 0}};
    return {{&clip, -double(clip.length)}, {&project.reel[std::size_t(place.index) + 1], 0}};
}

std::vector<LanePicture::Whole> LaneChart::wholes() const {
    std::vector<LanePicture::Whole> found;
    const auto project = m_context->document()->project();
    for (const auto& [clip, origin] : shots(*project)) {
        const Media* media = findMedia(*project, clip->mediaId);
        if (media && !media->still)
            found.push_back({wholeSpeedCurveOf(*clip), origin, origin, origin + double(clip->length)});
    }
    return found;
}

// Which pictures of the shots are shown, in numbers beneath the frames; and which of them were landed.
std::vector<LanePicture::Below> LaneChart::sourceFrames() const {
    std::vector<LanePicture::Below> marks;
    const auto project = m_context->document()->project();
    const FrameScale& frames = m_context->frames();
    const std::int64_t step = std::max<std::int64_t>(1, std::int64_t(std::ceil(44 / frames.pixelsPerFrame)));
    const auto from = std::int64_t(std::floor(frames.frameAt(0))),
               to = std::int64_t(std::ceil(frames.frameAt(width())));
    for (const auto& [clip, origin] : shots(*project)) {
        const Media* media = findMedia(*project, clip->mediaId);
        if (!media || media->still) continue;
        const ClipTime time(*project, *clip);
        for (std::int64_t n = from - (from % step + step) % step; n <= to; n += step) {
            const std::int64_t own = n - std::int64_t(origin); // the clip's own frame
            if (own < 0 || own >= clip->length) continue;
            const std::int64_t picture = floorToInteger(time.at(own) * media->rate);
            const bool there =
                picture >= 0 && (media->duration == Rational(0) || Rational(picture) < media->duration * media->rate);
            marks.push_back({frames.xOf(double(n)), picture, there});
        }
        for (const Pin& pin : heldPins(*project, *clip))
            marks.push_back({frames.xOf(origin + double(pin.frame)), pin.frame, true, true});
    }
    return marks;
}

void LaneChart::fitAxes() {
    for (const Side side : {Side::Outgoing, Side::Incoming})
        m_axes.frames[side == Side::Incoming] = m_context->frames(side);
    // The scale is held while something is dragged, so that nothing slides away from under the pointer.
    if (m_context->document()->isDragging()) return;
    const LaneLook look = m_context->look(m_move, m_channel);
    m_axes.values = ValueScale::fitting(channel(), info(), spaceOf(moveShown(), m_channel), 20, height() - 10);
    if (moveInfo(moveShown().kind).pattern) // swings to both sides
        m_axes.values.low = std::min(m_axes.values.low, -m_axes.values.high);
    if (look.held) m_axes.values.low = look.held->low, m_axes.values.high = look.held->high;
    m_axes.speeds = SpeedScale::fitting(channel(), height() - 1, 0.42 * (height() - 20));
}

void LaneChart::refresh() {
    if (!isThere()) return;
    fitAxes();
    const auto project = m_context->document()->project();
    LanePicture now;
    now.size = size();
    now.channel = channel();
    now.info = &info();
    now.kind = &moveInfo(moveShown().kind);
    if (now.kind->pattern) {
        now.parameters = moveShown().parameters;
        now.clock = moveShown().clock;
        now.framesPerSecond = project->settings.rate.toDouble();
    }
    now.on = isSpeed() || isOn(*m_context->stack(), moveShown());
    if (isSpeed()) now.below = sourceFrames(), now.wholes = wholes();
    now.drift = isDrift();
    now.joint = isJoint();
    now.axes = m_axes;
    now.selected = selected();
    now.hover = m_hover;
    now.dragged = m_moved ? m_pressed : LaneHit{};
    if (m_handle && m_drag == Drag::None && m_context->active())
        now.dragged = {m_handle->leave ? LaneHit::OnLeave : LaneHit::OnArrive, m_context->active()->curve.side,
                       m_handle->key};
    now.hoverFrame =
        m_hover.what == LaneHit::OnCurve || m_hover.what == LaneHit::OnSpeed || m_pressed.what == LaneHit::OnSpeed
            ? m_hoverFrame
            : 0;
    now.playhead = m_context->playhead();
    now.guide = m_context->guide();
    now.ghosts = ghosts();
    now.own = ownDots();
    const SideSpan in = sideSpan(*project, m_context->place(), Side::Incoming);
    now.clipFrom = isJoint() ? sideSpan(*project, m_context->place(), Side::Outgoing).from : 0;
    now.clipTo = in.to;
    if (!m_context->box().isNull()) {
        const QRect box(mapFromGlobal(m_context->box().topLeft()), m_context->box().size());
        if (box.intersects(rect())) now.box = box;
    }
    now.folded = m_context->look(m_move, m_channel).folded;
    now.focused = hasFocus();
    if (now == m_picture) return;
    const std::optional<double> head = std::exchange(m_picture.playhead, now.playhead);
    if (now == m_picture) { // only the playhead has moved
        for (const auto& frame : {head, now.playhead})
            if (frame) update(QRect(int(std::floor(m_axes.frames[1].xOf(*frame))) - 1, 0, 3, height()));
        return;
    }
    const bool told = now.selected == m_picture.selected && now.channel == m_picture.channel;
    m_picture = std::move(now);
    if (!told && !m_context->document()->isDragging()) describeForReaders();
    update();
}

void LaneChart::describeForReaders() {
    QStringList parts;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        if (!hasSide(address(side))) continue;
        const Curve& curve = channel().side(side);
        parts << (side == Side::Outgoing ? tr("outgoing %1 keys") : tr("incoming %1 keys")).arg(curve.keys.size());
        for (const int i : m_context->selectedIn(address(side)))
            if (i < int(curve.keys.size()))
                parts << tr("selected: frame %1, %2")
                             .arg(curve.keys[std::size_t(i)].time, 0, 'g', 6)
                             .arg(valueText(curve.keys[std::size_t(i)].value, info()));
        if (parts.size() > 12) break;
    }
    setAccessibleDescription(parts.join(QStringLiteral("; ")));
}

// The content is painted again only where something of it has changed; the playhead wanders over it.
void LaneChart::paintEvent(QPaintEvent*) {
    const double dpr = devicePixelRatioF();
    LanePicture content = contentOf(m_picture);
    const QSize pixels = (QSizeF(size()) * dpr).toSize();
    if (m_content.size() != pixels || m_content.devicePixelRatio() != dpr || !(content == m_drawn) ||
        m_drawnTheme != theme().name) {
        if (m_content.size() != pixels) m_content = QPixmap(pixels);
        m_content.setDevicePixelRatio(dpr);
        QPainter p(&m_content);
        paintLaneContent(p, content);
        m_drawn = std::move(content);
        m_drawnTheme = theme().name;
    }
    QPainter p(this);
    p.drawPixmap(0, 0, m_content);
    p.setRenderHint(QPainter::Antialiasing);
    paintLaneOverlay(p, m_picture);
}

} // namespace virga
