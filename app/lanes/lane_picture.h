#pragma once
// Everything that a lane's chart shows, as data: two equal ones paint the same pixels, so a lane is painted again only
// where something of it changed. Painting needs no window.
#include <QRect>
#include <QSize>
#include <optional>
#include <vector>

#include "app/lanes/lane_scale.h"

class QPainter;

namespace virga {

/// What the same clips do at the neighbouring cuts, drawn faintly: the arrival before an outgoing side, the departure
/// after an incoming one.
struct Ghost {
    Curve curve;
    Side side = Side::Outgoing; // of its own cut
    double frame = 0;           // of the axis where its own zero lies
    bool operator==(const Ghost&) const = default;
};

struct LanePicture {
    QSize size;
    Channel channel;
    const ChannelInfo* info = nullptr;
    const MoveInfo* kind = nullptr;
    std::vector<double> parameters; // with the clock and the rate: for what goes by its own clock
    double clock = 0, framesPerSecond = 25;
    bool on = true;     // muted lanes are dimmed
    bool drift = false; // one side, that is neither outgoing nor incoming
    bool joint = true;  // both sides meet at 0: a cut
    LaneAxes axes;
    SideKeys selected;
    LaneHit hover, dragged; // the part under the pointer, and what is being dragged
    double hoverFrame = 0;  // of the axis, while the pointer is on a curve
    std::optional<double> playhead, guide;
    std::vector<Ghost> ghosts;
    struct OwnDot { // what the shot does by itself, counted from its frame beside the cut
        double x = 0, value = 0;
        bool operator==(const OwnDot&) const = default;
    };
    std::vector<OwnDot> own;
    double clipFrom = 0, clipTo = 0; // of the axis: what lies outside is not on screen
    struct Below {                   // a number beneath the curve: a picture of the source; not there: behind its end
        double x = 0;
        std::int64_t number = 0;
        bool there = true;
        bool pinned = false; // it was landed here
        bool operator==(const Below&) const = default;
    };
    std::vector<Below> below;
    struct Whole { // what a shot's keys of both ends come to, over its clip
        Curve curve;
        double origin = 0, from = 0, to = 0; // of the axis
        bool operator==(const Whole&) const = default;
    };
    std::vector<Whole> wholes;
    QRect box;
    bool folded = false;
    bool focused = false;
    bool operator==(const LanePicture&) const = default;
};

/// What of a lane stays while the playhead moves and the pointer wanders: all but what paintLaneOverlay paints.
LanePicture contentOf(const LanePicture& lane);
void paintLaneContent(QPainter& p, const LanePicture& lane);
/// Playhead, guide, box, focus, and what is told beside the pointer.
void paintLaneOverlay(QPainter& p, const LanePicture& lane);

/// A value with its unit and a real minus.
QString valueText(double value, const ChannelInfo& info);

/// Painting shared by the charts: frame grid, cut line, playhead.
void paintFrameGrid(QPainter& p, const QRect& where, const FrameScale& frames);
void paintPlayhead(QPainter& p, const QRect& where, double x);
void paintCutLine(QPainter& p, const QRect& where, double x);

} // namespace virga
