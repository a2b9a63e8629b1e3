#pragma once
// The middle of some numbers.
#include <algorithm>
#include <vector>

namespace virga {

/// Of an even number of them the upper of the two in the middle; 0 of none.
inline double medianOf(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + std::ptrdiff_t(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

} // namespace virga
