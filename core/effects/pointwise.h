#pragma once
// Treatments that change each pixel by itself: light, vignette, bars. They work on any stretch of a row, so that they
// can follow the sampling of a tile at once.
#include <vector>

#include "core/effects/canvas.h"
#include "core/motion/treatment.h"

namespace virga {

bool isPointwise(const Treatment& treatment);

/// A pointwise treatment made ready for a frame. Light, premultiplied, white is 1.
class Pointwise {
public:
    /// REQUIRES: isPointwise(treatment).
    Pointwise(const Treatment& treatment, Size frame);
    /// `count` pixels from (x, y) of the frame on; places outside it are allowed.
    void treat(LinearF* pixels, int count, int x, int y) const;

private:
    void treatVignette(LinearF* pixels, int count, int x, int y) const;
    void treatBars(LinearF* pixels, int count, int x, int y) const;
    double falloffAt(double powers) const;

    Treatment m_treatment;
    Size m_frame;
    double m_power = 2, m_largest = 1;
    std::vector<float> m_falloff; // by the sum of powers, from 0 to m_largest
    std::array<float, 3> m_colour{};
};

} // namespace virga
