#pragma once
// Moves: one kind of movement or finishing with its channels, each with an outgoing and an incoming curve, and plain
// parameters that do not change over time; and stacks of them. What each kind has and does is told by one table,
// moveInfo, which files, views, checks and the command line read: no other place asks which kind a move is. Angles in
// degrees, clockwise; slides in frame widths and heights; zooms as factors.
#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/base/shared_list.h"
#include "core/curve/curve.h"
#include "core/geom/screen_map.h"
#include "core/motion/treatment.h"

namespace virga {

enum class MoveKind {
    Zoom,
    Spin,
    Slide,
    Push,
    Tilt,
    Warp,
    Shake,
    Fade,
    Blur,
    LineBlur,
    ZoomBlur,
    SpinBlur,
    Defocus,
    Split,
    Glow,
    Vignette,
    Sharpen,
    Light,
    Bars,
    ShotSpeed, // a clip's own: in no stack and no list of moves, but shaped in a lane like one
    Unknown
};
enum class MoveRole { Movement, Opacity, Finishing, Time };
enum class Side { Outgoing, Incoming };

/// What a number stands for: how it may be typed, and how its axis is marked.
enum class Quantity { Plain, Factor, Angle, ShareOfWidth, ShareOfHeight, PercentOfWidth, PercentOfHeight };

/// How a number turns with the picture: what a mirror, a quarter turn, or in for out makes of it.
enum class Axis { None, Across, Down, Turn, Depth, TiltsDown, TurnsAcross };

struct ChannelInfo {
    std::string_view name;  // in files: "factor", "angle", "x", "y"
    std::string_view label; // in lanes: "Zoom", "Spin", "Slide x", "Slide y"
    std::string_view unit;  // shown behind a value, with a space of its own where it needs one
    double neutral = 0;     // the value at rest
    Space space = Space::Linear;
    double lowest = 0, highest = 1; // what may be typed
    double step = 0.1;              // one nudge by key
    int decimals = 2;
    std::string_view rising, falling; // what it does then: "grows", "shrinks"
    double usual = 1;                 // an amount that shows clearly what it does
    double leastSpan = 0.04;          // of a lane's axis, in the space's units
    std::string_view spoken = {};     // the unit in a sentence, where it is another one
    Quantity quantity = Quantity::Plain;
    Axis axis = Axis::None;
};

struct ParameterInfo {
    std::string_view name;  // in files
    std::string_view label; // beside its field
    std::string_view unit;
    double initial = 0, lowest = 0, highest = 1, step = 0.1;
    int decimals = 2;
    std::vector<std::string_view> choices = {}; // where there are any, the value is the number of one
    enum class Look { Number, Choice, Switch, Colour } look = Look::Number;
    std::string_view hint = {}; // one sentence
    Quantity quantity = Quantity::Plain;
    Axis axis = Axis::None;
};

inline constexpr std::size_t mostChannels = 2, mostParameters = 8;

/// A move's values at a moment.
struct MoveValues {
    std::array<double, mostChannels> channels{};
    std::span<const double> parameters;
    Point anchor{0.5, 0.5};
    double seconds = 0; // since the move's own origin
    OwnMovement own = {};
};

/// A move's part of the map: a matrix or a lens in the frame's pixels; neither where it is at rest.
using MovePart = std::variant<std::monostate, Matrix, Lens>;

struct MoveInfo {
    MoveKind kind = MoveKind::Unknown;
    std::string_view name; // in files and on the command line
    std::string_view label;
    MoveRole role = MoveRole::Movement;
    std::string_view icon;
    std::string_view purpose; // what it is for, in a sentence without a full stop
    std::vector<ChannelInfo> channels;
    std::vector<ParameterInfo> parameters = {};
    std::string_view anchor = {}; // what its anchor is called; empty where it has none
    std::string_view even = {};   // what its switch between two interpolations is called; empty where it has none
    bool evenAtFirst = true;
    MovePart (*part)(const MoveValues& values, Size frame) = nullptr;          // where it moves the picture
    std::optional<Treatment> (*treatment)(const MoveValues& values) = nullptr; // where it finishes it; empty at rest
    double (*pattern)(const MoveValues& values) = nullptr; // what goes by its own clock, from -1 to 1 times its amount
};

/// What a kind of move has and does. MoveKind::Unknown has no channels and does nothing.
const MoveInfo& moveInfo(MoveKind kind);
/// All kinds that can be added, in the order in which they are offered: movement, opacity, finishing.
const std::vector<MoveInfo>& allMoves();
std::optional<MoveKind> moveKindNamed(std::string_view name);

/// What may be typed behind a value of a channel, and how much of its unit that is: 90 deg, 0.25 turns, 640 px.
std::vector<std::pair<std::string_view, double>> typedUnits(Quantity quantity, Size frame);

/// "1.75×", "90°", "0.5 widths": a value in a sentence.
std::string spokenValue(double value, const ChannelInfo& info);

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
    std::string recipeMove; // the move of the recipe that it follows; empty: none
    std::string kindName;   // as in the file; matters for kinds that this version does not know
    bool enabled = true;
    bool solo = false;              // while any move of a stack is, only those that are count
    bool even = true;               // interpolates in its channels' own space; else plainly
    bool holds = false;             // its curves hold at their ends, and do not run on through a frame's exposure
    Point anchor{0.5, 0.5};         // in fractions of the frame
    std::vector<Channel> channels;  // as many as moveInfo(kind).channels
    std::vector<double> parameters; // as many as moveInfo(kind).parameters
    double clock = 0;               // frames added to its time for what goes by its own clock: a shake that was split
    std::string foreign;            // all that the file says of a move of an unknown kind, as JSON

    Ends ends() const { return holds ? Ends::Hold : Ends::RunOn; }
    bool operator==(const Move&) const = default;
};

using Stack = SharedList<Move>;

/// Whether any move of a stack is soloed.
bool hasSolo(const Stack& stack);
/// Whether a move of the stack counts: turned on, and soloed itself where any is.
bool isOn(const Stack& stack, const Move& move);

/// A move of a kind with empty curves and its parameters as they are at first.
Move makeMove(MoveKind kind, std::string id);

/// The space a move's channel is interpolated in.
Space spaceOf(const Move& move, int channel);

/// True where any channel of the move has a key on that side.
bool movesOn(const Move& move, Side side);

} // namespace virga
