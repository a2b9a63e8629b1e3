#pragma once
// Moves: one kind of movement with its channels, each with an outgoing and an incoming curve; and stacks of them. What
// each kind has is told by one table, moveInfo, which files, views and checks read. Angles in degrees, clockwise;
// slides in frame widths and heights; zooms as factors.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/curve/curve.h"
#include "core/geom/screen_map.h"

namespace virga {

enum class MoveKind { Zoom, Spin, Slide, Fade, Unknown };
enum class Side { Outgoing, Incoming };

struct ChannelInfo {
    std::string_view name;  // in files: "factor", "angle", "x", "y"
    std::string_view label; // in lanes: "Zoom", "Spin", "Slide x", "Slide y"
    std::string_view unit;  // shown behind a value
    double neutral;         // the value at rest
    Space space;
    double lowest, highest; // what may be typed
    double step;            // one nudge by key
    int decimals;
};

struct MoveInfo {
    MoveKind kind;
    std::string_view name; // in files and on the command line
    std::string_view label;
    std::vector<ChannelInfo> channels;
};

/// What a kind of move has; Fade changes opacity and moves nothing. MoveKind::Unknown has no channels.
const MoveInfo& moveInfo(MoveKind kind);
/// All kinds that can be added, in the order in which they are offered.
const std::vector<MoveInfo>& allMoves();
std::optional<MoveKind> moveKindNamed(std::string_view name);

struct Channel {
    Curve outgoing;
    Curve incoming;
    const Curve& side(Side s) const { return s == Side::Outgoing ? outgoing : incoming; }
    Curve& side(Side s) { return s == Side::Outgoing ? outgoing : incoming; }
    bool operator==(const Channel&) const = default;
};

struct Move {
    std::string id;
    MoveKind kind = MoveKind::Zoom;
    std::string kindName; // as in the file; matters for kinds that this version does not know
    bool enabled = true;
    bool solo = false;             // while any move of a stack is, only those that are count
    bool even = true;              // zoom: interpolate in log2
    Point anchor{0.5, 0.5};        // in fractions of the frame
    std::vector<Channel> channels; // as many as moveInfo(kind).channels; for Unknown as the file has

    bool operator==(const Move&) const = default;
};

using Stack = std::vector<Move>;

/// Whether any move of a stack is soloed.
bool hasSolo(const Stack& stack);
/// Whether a move of the stack counts: turned on, and soloed itself where any is.
bool isOn(const Stack& stack, const Move& move);

/// A move of a kind with empty curves.
Move makeMove(MoveKind kind, std::string id);

/// The space a move's channel is interpolated in.
Space spaceOf(const Move& move, int channel);

/// True where any channel of the move has a key on that side.
bool movesOn(const Move& move, Side side);

} // namespace virga
