#pragma once
// A picture in linear light with its mip levels: level k has ceil(n / 2^k) pixels a side, each the area mean of what it
// covers.
#include <vector>

#include "core/raster/image.h"

namespace virga {

/// How a picture is enlarged: Bilinear has no level for it; the others make a level of twice the size, by Catmull and
/// Rom's cubic ("A class of local interpolating splines", 1974) or Lanczos's windowed sinc of three lobes (Duchon,
/// "Lanczos filtering in one and two dimensions", J. Appl. Meteorology 18, 1979), from which larger sizes are bilinear.
enum class Enlarging { Bilinear, CatmullRom, Lanczos };

/// A picture at twice its size. Values stay within black and white, colours within their alpha.
Image<Linear16> doubled(const Image<Linear16>& picture, Enlarging how);

class Pyramid {
public:
    Pyramid() = default;
    explicit Pyramid(Image<Linear16> picture, Enlarging how = Enlarging::Bilinear);
    /// The picture alone, without smaller or larger levels.
    static Pyramid flat(Image<Linear16> picture);

    Size size() const { return m_levels.empty() ? Size{} : m_levels.front().size(); }
    int levels() const { return int(m_levels.size()); }
    /// 0, or -1 where there is a level of twice the size.
    int finest() const { return m_larger.isEmpty() ? 0 : -1; }
    /// REQUIRES: finest() <= k < levels().
    const Image<Linear16>& level(int k) const { return k < 0 ? m_larger : m_levels[std::size_t(k)]; }
    std::size_t bytes() const;

private:
    std::vector<Image<Linear16>> m_levels;
    Image<Linear16> m_larger;
};

} // namespace virga
