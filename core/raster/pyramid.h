#pragma once
// A picture in linear light with its mip levels: level k has ceil(n / 2^k) pixels a side, each the area mean of what it
// covers.
#include <vector>

#include "core/raster/image.h"

namespace virga {

class Pyramid {
public:
    Pyramid() = default;
    explicit Pyramid(Image<Linear16> picture);

    Size size() const { return m_levels.empty() ? Size{} : m_levels.front().size(); }
    int levels() const { return int(m_levels.size()); }
    const Image<Linear16>& level(int k) const { return m_levels[std::size_t(k)]; }
    std::size_t bytes() const;

private:
    std::vector<Image<Linear16>> m_levels;
};

} // namespace virga
