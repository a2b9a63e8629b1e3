// The table of moves: to add a kind is to add an entry here, its formula (move_parts.cpp, or a treatment and its filter
// in core/effects) and its icon (app/style/icons).
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/motion/move.h"
#include "core/motion/move_parts.h"

namespace virga {
namespace {

using Look = ParameterInfo::Look;

ParameterInfo choice(std::string_view name, std::string_view label, std::vector<std::string_view> choices,
                     std::string_view hint = {}) {
    const double last = double(choices.size()) - 1;
    return {name, label, "", 0, 0, last, 1, 0, std::move(choices), Look::Choice, hint};
}

ParameterInfo onOff(std::string_view name, std::string_view label, bool on, std::string_view hint = {}) {
    return {name, label, "", on ? 1.0 : 0.0, 0, 1, 1, 0, {"off", "on"}, Look::Switch, hint};
}

// A parameter that can be typed in other units too.
ParameterInfo of(Quantity quantity, ParameterInfo info) {
    info.quantity = quantity;
    return info;
}

// A number that turns with the picture.
template <typename Info> Info along(Axis axis, Info info) {
    info.axis = axis;
    return info;
}

double share(double percent) {
    return percent / 100;
}

std::optional<Treatment> blur(const MoveValues& v) {
    const double across = std::max(0.0, v.channels[0]), down = v.parameters[0] > 0 ? across : v.channels[1];
    if (across <= 0 && down <= 0) return std::nullopt;
    return GaussianBlur{share(across), share(std::max(0.0, down))};
}

std::optional<Treatment> lineBlur(const MoveValues& v) {
    const double amount = v.channels[0];
    if (amount <= 0) return std::nullopt;
    if (v.parameters[0] == 0) return LineBlur{share(amount), v.parameters[1]};
    // With the movement: its own direction, and what a frame's whole exposure would smear, times the factor.
    const Point along{v.own.velocity.x * v.own.aspect, v.own.velocity.y}; // in heights
    const double length = along.length() / v.own.aspect * v.parameters[2];
    if (length <= 1e-6) return std::nullopt;
    return LineBlur{std::min(length, share(amount)), std::atan2(along.y, along.x) * 180 / std::numbers::pi};
}

std::optional<Treatment> zoomBlur(const MoveValues& v) {
    if (v.channels[0] == 1 || v.channels[0] <= 0) return std::nullopt;
    return ZoomBlur{v.channels[0], v.anchor};
}

std::optional<Treatment> spinBlur(const MoveValues& v) {
    if (v.channels[0] == 0) return std::nullopt;
    return SpinBlur{v.channels[0], v.anchor};
}

std::optional<Treatment> defocus(const MoveValues& v) {
    if (v.channels[0] <= 0) return std::nullopt;
    const int chosen = int(v.parameters[0]);
    return Defocus{share(v.channels[0]), chosen == 0 ? 0 : chosen + 4, v.parameters[1]};
}

std::optional<Treatment> split(const MoveValues& v) {
    if (v.channels[0] == 0) return std::nullopt;
    return ColourSplit{share(v.channels[0]), v.parameters[0] == 0, v.parameters[1], v.anchor, int(v.parameters[2])};
}

std::optional<Treatment> glow(const MoveValues& v) {
    if (v.channels[0] <= 0) return std::nullopt;
    return Glow{v.channels[0], v.parameters[0], v.parameters[1], share(v.parameters[2])};
}

std::optional<Treatment> vignette(const MoveValues& v) {
    if (v.channels[0] == 0) return std::nullopt;
    const int colour = int(v.parameters[3]);
    return Vignette{
        v.channels[0],   v.parameters[0],
        v.parameters[1], v.parameters[2],
        v.anchor,        {(colour >> 16 & 255) / 255.0, (colour >> 8 & 255) / 255.0, (colour & 255) / 255.0}};
}

std::optional<Treatment> sharpen(const MoveValues& v) {
    if (v.channels[0] <= 0) return std::nullopt;
    return Sharpen{v.channels[0], share(v.parameters[0]), share(v.parameters[1])};
}

std::optional<Treatment> light(const MoveValues& v) {
    if (v.channels[0] == 0) return std::nullopt;
    return Light{v.channels[0]};
}

std::optional<Treatment> bars(const MoveValues& v) {
    if (v.channels[0] <= 0) return std::nullopt;
    return Bars{v.parameters[0], std::min(1.0, v.channels[0])};
}

ChannelInfo amount(std::string_view label, double highest, double usual) {
    return {"amount", label, "", 0, Space::Linear, 0, highest, 0.05, 2, "grows", "fades", usual, 0.2};
}

std::vector<MoveInfo> movement() {
    return {
        {.kind = MoveKind::Zoom,
         .name = "zoom",
         .label = "Zoom",
         .icon = "move-zoom",
         .purpose = "makes the picture larger or smaller about a point",
         .channels = {along(Axis::Depth, ChannelInfo{"factor", "Zoom", "×", 1, Space::Log2, 0.01, 100, 0.05, 2, "grows",
                                                     "shrinks", 2.5, 0.2, "", Quantity::Factor})},
         .anchor = "anchor",
         .even = "even zoom",
         .part = parts::zoom},
        {.kind = MoveKind::Spin,
         .name = "spin",
         .label = "Spin",
         .icon = "move-spin",
         .purpose = "turns the picture about a point",
         .channels = {along(Axis::Turn,
                            ChannelInfo{"angle", "Spin", "°", 0, Space::Linear, -36000, 36000, 5, 1, "turns clockwise",
                                        "turns counter-clockwise", 90, 4, "", Quantity::Angle})},
         .anchor = "anchor",
         .part = parts::spin},
        {.kind = MoveKind::Slide,
         .name = "slide",
         .label = "Slide",
         .icon = "move-slide",
         .purpose = "carries the picture across the frame",
         .channels = {along(Axis::Across,
                            ChannelInfo{"x", "Slide x", "w", 0, Space::Linear, -100, 100, 0.05, 3, "goes right",
                                        "goes left", 0.5, 0.04, " widths", Quantity::ShareOfWidth}),
                      along(Axis::Down,
                            ChannelInfo{"y", "Slide y", "h", 0, Space::Linear, -100, 100, 0.05, 3, "goes down",
                                        "goes up", 0.5, 0.04, " heights", Quantity::ShareOfHeight})},
         .part = parts::slide},
        {.kind = MoveKind::Push,
         .name = "push",
         .label = "Push",
         .icon = "move-push",
         .purpose = "drives the camera at the picture or away from it: it rushes at the end as a real one does",
         .channels = {along(Axis::Depth, ChannelInfo{"distance", "Push", "", 0, Space::Depth, -1000, 10, 0.05, 3,
                                                     "comes nearer", "goes away", 0.6, 0.04})},
         .anchor = "anchor",
         .even = "even size",
         .evenAtFirst = false,
         .part = parts::push},
        {.kind = MoveKind::Tilt,
         .name = "tilt",
         .label = "Tilt",
         .icon = "move-tilt",
         .purpose = "turns the picture's plane in perspective, as if the camera looked at it from aside",
         .channels = {along(Axis::TiltsDown, ChannelInfo{"tilt", "Tilt", "°", 0, Space::Linear, -3600, 3600, 2, 1,
                                                         "leans back", "leans forward", 50, 4, "", Quantity::Angle}),
                      along(Axis::TurnsAcross, ChannelInfo{"swivel", "Swivel", "°", 0, Space::Linear, -3600, 3600, 2, 1,
                                                           "turns its right side away", "turns its left side away", 50,
                                                           4, "", Quantity::Angle})},
         .parameters = {of(
             Quantity::Angle,
             {"view", "field of view", "°", 40, 5, 150, 1, 0, {}, Look::Number, "Vertical: wider is more dramatic"})},
         .anchor = "anchor",
         .part = parts::tilt},
        {.kind = MoveKind::Warp,
         .name = "warp",
         .label = "Warp",
         .icon = "move-warp",
         .purpose = "bulges or pinches the picture like a wide lens",
         .channels = {along(Axis::Depth, ChannelInfo{"amount", "Warp", "", 0, Space::Linear, -1, 1, 0.05, 2, "bulges",
                                                     "pinches", 0.8, 0.04})},
         .parameters = {{"radius", "radius", "", 1, 0.05, 4, 0.05, 2, {}, Look::Number, "1 reaches the corners"}},
         .anchor = "centre",
         .part = parts::warp},
        {.kind = MoveKind::Shake,
         .name = "shake",
         .label = "Shake",
         .icon = "move-shake",
         .purpose = "shakes the camera: a sway, a hand, a jolt",
         .channels = {{"amount", "Shake", "", 0, Space::Linear, 0, 20, 0.1, 2, "grows", "settles", 1, 0.2}},
         .parameters = {choice("pattern", "pattern", {"sway", "wander", "jolt"},
                               "Sway swings, wander is a hand, jolt goes hard from side to side"),
                        {"cycles", "cycles a second", "", 6, 0.05, 60, 0.5, 2},
                        along(Axis::Across,
                              of(Quantity::ShareOfWidth, {"across", "across", "w", 0.02, 0, 2, 0.005, 3})),
                        along(Axis::Down, of(Quantity::ShareOfHeight, {"down", "down", "h", 0.02, 0, 2, 0.005, 3})),
                        of(Quantity::Angle, {"turn", "turn", "°", 1, 0, 180, 0.5, 1}),
                        of(Quantity::Factor, {"in-and-out", "in and out", "×", 1, 1, 4, 0.01, 2}),
                        {"seed", "seed", "", 1, 0, 99999, 1, 0, {}, Look::Number, "Another number, another course"}},
         .anchor = "anchor",
         .part = parts::shake,
         .pattern = parts::shakePattern},
        {.kind = MoveKind::Fade,
         .name = "fade",
         .label = "Fade",
         .role = MoveRole::Opacity,
         .icon = "move-fade",
         .purpose = "lets what lies beneath show through",
         .channels = {{"opacity", "Opacity", "", 1, Space::Linear, 0, 1, 0.05, 2, "comes up", "fades", 0, 0.2}}},
    };
}

std::vector<MoveInfo> finishing() {
    std::vector<MoveInfo> all = {
        {.kind = MoveKind::Blur,
         .name = "blur",
         .label = "Blur",
         .icon = "move-blur",
         .purpose = "softens the picture evenly",
         .channels = {along(Axis::Across, ChannelInfo{"across", "Blur", "%", 0, Space::Linear, 0, 100, 0.25, 2, "blurs",
                                                      "sharpens", 3, 1, "", Quantity::PercentOfHeight}),
                      along(Axis::Down, ChannelInfo{"down", "Blur down", "%", 0, Space::Linear, 0, 100, 0.25, 2,
                                                    "blurs", "sharpens", 3, 1, "", Quantity::PercentOfHeight})},
         .parameters = {onOff("linked", "both axes alike", true, "The first lane counts for both axes")},
         .treatment = blur},
        {.kind = MoveKind::LineBlur,
         .name = "blur-along",
         .label = "Blur along",
         .icon = "move-blur-along",
         .purpose = "smears the picture along a line, as a slide would",
         .channels = {{"length", "Blur along", "%", 0, Space::Linear, 0, 200, 0.5, 2, "blurs", "sharpens", 12, 1, "",
                       Quantity::PercentOfWidth}},
         .parameters = {choice("direction", "direction", {"by angle", "with the movement"},
                               "With the movement: as long as it is fast, at most the lane's value"),
                        along(Axis::Turn, of(Quantity::Angle, {"angle", "angle", "°", 0, -360, 360, 5, 0})),
                        of(Quantity::Factor, {"factor", "times the movement", "×", 1, 0, 10, 0.1, 2})},
         .treatment = lineBlur},
        {.kind = MoveKind::ZoomBlur,
         .name = "blur-zoom",
         .label = "Blur zoom",
         .icon = "move-blur-zoom",
         .purpose = "smears the picture away from a point, as a zoom would",
         .channels = {along(Axis::Depth, ChannelInfo{"strength", "Blur zoom", "×", 1, Space::Log2, 0.1, 10, 0.02, 2,
                                                     "blurs", "sharpens", 1.3, 0.2, "", Quantity::Factor})},
         .anchor = "centre",
         .treatment = zoomBlur},
        {.kind = MoveKind::SpinBlur,
         .name = "blur-spin",
         .label = "Blur spin",
         .icon = "move-blur-spin",
         .purpose = "smears the picture around a point, as a spin would",
         .channels = {along(Axis::Turn, ChannelInfo{"angle", "Blur spin", "°", 0, Space::Linear, -360, 360, 1, 1,
                                                    "blurs", "sharpens", 15, 4, "", Quantity::Angle})},
         .anchor = "centre",
         .treatment = spinBlur},
        {.kind = MoveKind::Defocus,
         .name = "defocus",
         .label = "Defocus",
         .icon = "move-defocus",
         .purpose = "takes the picture out of focus: lights become discs",
         .channels = {{"radius", "Defocus", "%", 0, Space::Linear, 0, 30, 0.25, 2, "blurs", "sharpens", 3, 1, "",
                       Quantity::PercentOfHeight}},
         .parameters = {choice("blades", "aperture",
                               {"round", "5 blades", "6 blades", "7 blades", "8 blades", "9 blades"}),
                        {"highlights",
                         "highlights",
                         "",
                         0,
                         0,
                         1,
                         0.1,
                         2,
                         {},
                         Look::Number,
                         "Lets bright points win over dark ones"}},
         .treatment = defocus},
        {.kind = MoveKind::Split,
         .name = "split",
         .label = "Colour split",
         .icon = "move-split",
         .purpose = "parts red and blue from green",
         .channels = {{"amount", "Colour split", "%", 0, Space::Linear, -20, 20, 0.1, 2, "parts", "closes", 1.2, 0.5,
                       "", Quantity::PercentOfWidth}},
         .parameters = {choice("direction", "direction", {"from the centre", "by angle"}),
                        along(Axis::Turn, of(Quantity::Angle, {"angle", "angle", "°", 0, -360, 360, 5, 0})),
                        {"samples", "steps", "", 3, 3, 16, 1, 0, {}, Look::Number, "More make a rainbow of it"}},
         .anchor = "centre",
         .treatment = split},
        {.kind = MoveKind::Glow,
         .name = "glow",
         .label = "Glow",
         .icon = "move-glow",
         .purpose = "lets bright parts shine over their surroundings",
         .channels = {amount("Glow", 10, 1)},
         .parameters = {{"threshold", "from", "", 0.35, 0, 4, 0.05, 2, {}, Look::Number, "Light above which it glows"},
                        {"knee", "knee", "", 0.2, 0, 1, 0.05, 2, {}, Look::Number, "How softly it sets in"},
                        of(Quantity::PercentOfHeight, {"radius", "radius", "%", 8, 0.1, 50, 0.5, 1})},
         .treatment = glow},
        {.kind = MoveKind::Vignette,
         .name = "vignette",
         .label = "Vignette",
         .icon = "move-vignette",
         .purpose = "darkens or lightens the rim of the frame",
         .channels = {{"amount", "Vignette", "", 0, Space::Linear, -1, 1, 0.05, 2, "closes", "opens", 0.7, 0.2}},
         .parameters = {{"size", "size", "", 0.85, 0, 2, 0.05, 2},
                        {"roundness", "roundness", "", 1, 0, 1, 0.05, 2},
                        {"feather", "feather", "", 0.7, 0.01, 2, 0.05, 2},
                        {"colour", "colour", "", 0, 0, 16777215, 1, 0, {}, Look::Colour}},
         .anchor = "centre",
         .treatment = vignette},
        {.kind = MoveKind::Sharpen,
         .name = "sharpen",
         .label = "Sharpen",
         .icon = "move-sharpen",
         .purpose = "brings out fine edges without coloured rims",
         .channels = {amount("Sharpen", 5, 1)},
         .parameters = {of(Quantity::PercentOfHeight, {"radius", "radius", "%", 0.15, 0.02, 5, 0.05, 2}),
                        {"threshold",
                         "threshold",
                         "%",
                         0,
                         0,
                         20,
                         0.5,
                         1,
                         {},
                         Look::Number,
                         "Smaller differences stay as they are"}},
         .treatment = sharpen},
        {.kind = MoveKind::Light,
         .name = "light",
         .label = "Light",
         .icon = "move-light",
         .purpose = "makes the picture lighter or darker by stops: a flash",
         .channels = {{"stops", "Light", " stops", 0, Space::Linear, -20, 10, 0.25, 2, "lightens", "darkens", 2, 0.5}},
         .treatment = light},
        {.kind = MoveKind::Bars,
         .name = "bars",
         .label = "Bars",
         .icon = "move-bars",
         .purpose = "lays black bars over top and bottom, or the sides",
         .channels = {{"amount", "Bars", "", 0, Space::Linear, 0, 1, 0.05, 2, "close", "open", 1, 0.2}},
         .parameters = {{"ratio",
                         "ratio",
                         ": 1",
                         2.39,
                         0.1,
                         20,
                         0.05,
                         2,
                         {},
                         Look::Number,
                         "Width to height of what stays free"}},
         .treatment = bars},
    };
    for (MoveInfo& info : all) info.role = MoveRole::Finishing;
    return all;
}

} // namespace

const std::vector<MoveInfo>& allMoves() {
    static const std::vector<MoveInfo> all = [] {
        std::vector<MoveInfo> moves = movement();
        for (MoveInfo& info : finishing()) moves.push_back(std::move(info));
        return moves;
    }();
    return all;
}

} // namespace virga
