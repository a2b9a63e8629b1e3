#pragma once
// All easings that are offered, in families, in the order in which they are shown.
#include <string_view>
#include <vector>

#include "core/curve/easing.h"

namespace virga {

struct NamedEasing {
    std::string_view name;  // as in files and on the command line
    std::string_view label; // as people read it
    std::string_view family;
    Easing easing;
};

const std::vector<NamedEasing>& allEasings();

/// The keys [first, last] around a segment that were laid by one of these easings with several segments, or the ends of
/// the segment that leaves `key`.
struct KeyRun {
    int first = 0, last = 0;
    bool operator==(const KeyRun&) const = default;
};
KeyRun runAround(const Curve& curve, int key);

/// The name of what a curve does from key `first` to key `last`; null where it has none.
const NamedEasing* easingLike(const Curve& curve, int first, int last);

} // namespace virga
