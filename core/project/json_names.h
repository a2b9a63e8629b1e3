#pragma once
// Inside core/project and core/edit: the words that stand in a project file for enumerations, in their order.
#include <string_view>

namespace virga {

inline constexpr std::string_view edgeNames[] = {"empty", "hold", "repeat", "mirror"};
inline constexpr std::string_view fitNames[] = {"fill", "fit", "stretch"};
inline constexpr std::string_view interpolationNames[] = {"hold", "linear", "eased"};
inline constexpr std::string_view spaceNames[] = {"linear", "log2", "depth"};

} // namespace virga
