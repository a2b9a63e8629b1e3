#include "core/edit/layer_edits.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/sequence_path.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

bool hasOverlay(const Project& project, int overlay) {
    return overlay >= 0 && overlay < int(project.overlays.size());
}
bool hasAdjustment(const Project& project, int adjustment) {
    return adjustment >= 0 && adjustment < int(project.adjustments.size());
}

bool isFree(const Project& project, int row, std::int64_t from, std::int64_t to, int except) {
    for (int i = 0; i < int(project.overlays.size()); ++i) {
        const Overlay& o = project.overlays[std::size_t(i)];
        if (i != except && o.row == row && o.start < to && from < o.end()) return false;
    }
    return true;
}

int freeRow(const Project& project, int from, const Overlay& overlay, int except) {
    int row = std::max(0, from);
    while (!isFree(project, row, overlay.start, overlay.end(), except)) ++row;
    return row;
}

Overlay* lastOverlay(Project& project) {
    return &project.overlays.back();
}

// The parts of an entrance: which channels go from where to rest.
struct Part {
    MoveKind kind;
    int channel;
    double from;
};

struct EntranceWords {
    std::string_view name, told;
};
constexpr EntranceWords entranceWords[] = {{"at once", ""},
                                           {"fade", "fades in"},
                                           {"pop up", "pops up"},
                                           {"from below", "from below"},
                                           {"from above", "from above"},
                                           {"from the left", "from the left"},
                                           {"from the right", "from the right"},
                                           {"spin in", "spins in"},
                                           {"push in", "pushes in"},
                                           {"swivel in", "swivels in"},
                                           {"out of a blur", "out of a blur"}};

std::vector<Part> partsOf(Entrance entrance) {
    switch (entrance) {
    case Entrance::Cut:
        return {};
    case Entrance::Fade:
        return {{MoveKind::Fade, 0, 0}};
    case Entrance::PopUp:
        return {{MoveKind::Zoom, 0, 0.02}, {MoveKind::Slide, 1, 0.5}};
    case Entrance::FromBelow:
        return {{MoveKind::Slide, 1, 1}};
    case Entrance::FromAbove:
        return {{MoveKind::Slide, 1, -1}};
    case Entrance::FromLeft:
        return {{MoveKind::Slide, 0, -1}};
    case Entrance::FromRight:
        return {{MoveKind::Slide, 0, 1}};
    case Entrance::SpinIn:
        return {{MoveKind::Zoom, 0, 0.02}, {MoveKind::Spin, 0, -180}};
    case Entrance::PushIn: // from far off, as a thing comes at the camera
        return {{MoveKind::Push, 0, -20}, {MoveKind::Fade, 0, 0}};
    case Entrance::SwivelIn:
        return {{MoveKind::Tilt, 1, -85}};
    case Entrance::BlurIn:
        return {{MoveKind::Blur, 0, 6}, {MoveKind::Fade, 0, 0}};
    }
    return {};
}

double neutralOf(const Part& part) {
    return moveInfo(part.kind).channels[std::size_t(part.channel)].neutral;
}

Curve curveFor(const Part& part, Space space, Side side, int frames) {
    const double rest = neutralOf(part);
    if (moveInfo(part.kind).role == MoveRole::Opacity)
        return side == Side::Incoming
                   ? twoKeys(space, 0, part.from, frames, rest, Shape{Interpolation::Linear, 0, 0, 1, 1})
                   : twoKeys(space, -frames, rest, 0, part.from, Shape{Interpolation::Linear, 0, 0, 1, 1});
    return side == Side::Incoming ? twoKeys(space, 0, part.from, frames, rest, arrivingShape())
                                  : twoKeys(space, -frames, rest, 0, part.from, departingShape());
}

} // namespace

std::string_view nameOf(Entrance entrance) {
    return entranceWords[std::size_t(entrance)].name;
}

std::string_view toldOf(Entrance entrance) {
    return entranceWords[std::size_t(entrance)].told;
}

Project withOverlayPut(const Project& project, Overlay overlay) {
    Project out = project;
    overlay.start = std::max<std::int64_t>(0, overlay.start);
    overlay.row = freeRow(project, overlay.row, overlay, -1);
    overlay.clip.id = freshId(project, "clip-");
    out.overlays.push_back(std::move(overlay));
    for (Stack* stack : {&lastOverlay(out)->clip.drift, &lastOverlay(out)->clip.transition.moves})
        for (Move& move : *stack) move.id.clear(), move.id = freshId(out, "move-");
    return out;
}

Project withOverlayAdded(const Project& project, const std::string& mediaId, std::int64_t start) {
    const Media* media = findMedia(project, mediaId);
    if (!media || !media->hasPicture()) return project;
    Overlay overlay;
    overlay.clip = clipFor(project, *media);
    overlay.clip.fit = Fit::Fit;
    overlay.clip.edges = EdgeFill::Empty;
    overlay.clip.placement.scale = 0.5;
    overlay.start = start;
    return withOverlayPut(project, std::move(overlay));
}

Project withoutOverlay(const Project& project, int overlay) {
    Project out = project;
    if (hasOverlay(project, overlay)) out.overlays.erase(out.overlays.begin() + overlay);
    return out;
}

Project withOverlayMoved(const Project& project, int overlay, std::int64_t start, int row) {
    if (!hasOverlay(project, overlay)) return project;
    Project out = project;
    Overlay& o = out.overlays[std::size_t(overlay)];
    o.start = std::max<std::int64_t>(0, start);
    o.row = freeRow(project, std::clamp(row, 0, 99), o, overlay);
    return out;
}

Project withOverlayTrimmed(const Project& project, int overlay, bool head, std::int64_t frames) {
    if (!hasOverlay(project, overlay)) return project;
    Project out = project;
    Overlay& o = out.overlays[std::size_t(overlay)];
    const Spare spare = spareFrames(project, o.clip);
    if (head) {
        frames = std::clamp(frames, -std::min(spare.before, o.start), o.clip.length - 1);
        o.start += frames;
        o.clip = withHeadCut(project, std::move(o.clip), frames);
    } else {
        o.clip = withTailCut(std::move(o.clip), -std::clamp(frames, 1 - o.clip.length, spare.after));
    }
    o.row = freeRow(project, o.row, o, overlay);
    return out;
}

int overlayRows(const Project& project) {
    int rows = 0;
    for (const Overlay& o : project.overlays) rows = std::max(rows, o.row + 1);
    return rows;
}

Project withEntrance(const Project& project, int overlay, Side side, Entrance entrance, int frames) {
    if (!hasOverlay(project, overlay)) return project;
    Project out = project;
    Stack& moves = out.overlays[std::size_t(overlay)].clip.transition.moves;
    for (Move& move : moves)
        for (Channel& channel : move.channels) channel.side(side).keys.clear();
    for (const Part& part : partsOf(entrance)) {
        auto at = std::find_if(moves.begin(), moves.end(), [&](const Move& m) { return m.kind == part.kind; });
        if (at == moves.end()) {
            moves.push_back(makeMove(part.kind, freshId(out, "move-")));
            at = moves.end() - 1;
        }
        at->channels[std::size_t(part.channel)].side(side) =
            curveFor(part, spaceOf(*at, part.channel), side, std::max(1, frames));
    }
    erase_if(moves, [](const Move& m) {
        return m.kind != MoveKind::Unknown && !movesOn(m, Side::Incoming) && !movesOn(m, Side::Outgoing);
    });
    return out;
}

std::optional<Entrance> entranceOf(const Overlay& overlay, Side side, int* frames) {
    std::set<std::tuple<MoveKind, int, double>> there;
    int longest = 0;
    for (const Move& move : overlay.clip.transition.moves)
        for (int c = 0; c < int(move.channels.size()); ++c) {
            const auto& keys = move.channels[std::size_t(c)].side(side).keys;
            if (keys.empty()) continue;
            if (keys.size() != 2) return std::nullopt;
            const Key& away = side == Side::Incoming ? keys.front() : keys.back();
            longest = std::max(longest, int(std::lround(std::abs(keys.back().time - keys.front().time))));
            there.insert({move.kind, c, away.value});
        }
    if (frames) *frames = longest;
    for (int e = 0; e <= int(lastEntrance); ++e) {
        std::set<std::tuple<MoveKind, int, double>> wanted;
        for (const Part& part : partsOf(Entrance(e))) wanted.insert({part.kind, part.channel, part.from});
        if (wanted == there) return Entrance(e);
    }
    return std::nullopt;
}

Project withClipLiftedToOverlay(const Project& project, int clip) {
    if (!hasClip(project, clip) || project.reel[std::size_t(clip)].isGap()) return project;
    Overlay overlay;
    overlay.clip = project.reel[std::size_t(clip)];
    overlay.clip.transition = {};
    overlay.start = clipStart(project, clip);
    Project out = project;
    Clip gap;
    gap.id = freshId(project, "clip-");
    gap.length = overlay.clip.length;
    out.reel[std::size_t(clip)] = gap;
    return withOverlayPut(out, overlay);
}

Project withAdjustmentAdded(const Project& project, std::int64_t start, std::int64_t length) {
    Project out = project;
    Adjustment a;
    a.id = freshId(project, "adjustment-");
    a.start = std::max<std::int64_t>(0, start);
    a.length = std::max<std::int64_t>(1, length);
    a.bars = 2.39; // the wide cinema frame (common practice)
    out.adjustments.push_back(std::move(a));
    return out;
}

Project withoutAdjustment(const Project& project, int adjustment) {
    Project out = project;
    if (hasAdjustment(project, adjustment)) out.adjustments.erase(out.adjustments.begin() + adjustment);
    return out;
}

Project withAdjustmentChanged(const Project& project, int adjustment, const Adjustment& changed) {
    Project out = project;
    if (!hasAdjustment(project, adjustment)) return out;
    Adjustment& a = out.adjustments[std::size_t(adjustment)];
    a = changed;
    a.start = std::max<std::int64_t>(0, a.start);
    a.length = std::max<std::int64_t>(1, a.length);
    return out;
}

Project withMarker(const Project& project, std::int64_t frame, const std::string& name) {
    Project out = project;
    for (Marker& m : out.markers)
        if (m.frame == frame) {
            m.name = name;
            return out;
        }
    out.markers.push_back({freshId(project, "marker-"), std::max<std::int64_t>(0, frame), name});
    std::stable_sort(out.markers.begin(), out.markers.end(),
                     [](const Marker& a, const Marker& b) { return a.frame < b.frame; });
    return out;
}

Project withoutMarker(const Project& project, int marker) {
    Project out = project;
    if (marker >= 0 && marker < int(out.markers.size())) out.markers.erase(out.markers.begin() + marker);
    return out;
}

Project withMarkerMoved(const Project& project, int marker, std::int64_t frame) {
    Project out = project;
    if (marker >= 0 && marker < int(out.markers.size()))
        out.markers[std::size_t(marker)].frame = std::max<std::int64_t>(0, frame);
    return out;
}

} // namespace virga
