#pragma once
// Inside core/project and core/edit: the words that stand in a project file for enumerations, in their order.
#include <array>
#include <string_view>

#include "core/curve/curve.h"
#include "core/geom/edge_fill.h"
#include "core/motion/move.h"
#include "core/project/project.h"

namespace virga {

inline constexpr std::string_view edgeNames[] = {"empty", "hold", "repeat", "mirror"};
inline constexpr std::string_view fitNames[] = {"fill", "fit", "stretch"};
inline constexpr std::string_view interpolationNames[] = {"hold", "linear", "eased"};
inline constexpr std::string_view spaceNames[] = {"linear", "log2", "depth"};
inline constexpr std::string_view sideNames[] = {"outgoing", "incoming"};
inline constexpr std::string_view inBetweenNames[] = {"nearest", "mix", "made-up"};
inline constexpr std::string_view speedSoundNames[] = {"automatic", "follows", "keeps-pitch", "silent"};
inline constexpr std::string_view headingNames[] = {"as-made", "left", "right",     "up",     "down",
                                                    "in",      "out",  "clockwise", "counter"};
inline constexpr std::string_view recipePlaceNames[] = {"cut", "overlay", "shot"};

/// The words of an enumeration.
constexpr std::span<const std::string_view> wordsOf(EdgeFill) {
    return edgeNames;
}
constexpr std::span<const std::string_view> wordsOf(Fit) {
    return fitNames;
}
constexpr std::span<const std::string_view> wordsOf(Interpolation) {
    return interpolationNames;
}
constexpr std::span<const std::string_view> wordsOf(InBetween) {
    return inBetweenNames;
}
constexpr std::span<const std::string_view> wordsOf(SpeedSound) {
    return speedSoundNames;
}
constexpr std::span<const std::string_view> wordsOf(Heading) {
    return headingNames;
}
constexpr std::span<const std::string_view> wordsOf(RecipePlace) {
    return recipePlaceNames;
}
constexpr std::span<const std::string_view> wordsOf(Side) {
    return sideNames;
}

} // namespace virga
