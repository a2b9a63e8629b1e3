#pragma once
// How much of the source one screen pixel covers, and in what mip level and with how many probes it is sampled.
#include "core/geom/screen_map.h"

namespace virga {

/// A pixel's footprint in the source. Where it is longer than wide by more than a fifth, several probes along its
/// length, each of one width, stand for it, so that neither direction is blurred or left to shimmer (after McCormack,
/// Perry, Farkas and Jouppi, "Feline", SIGGRAPH 1999).
struct Footprint {
    double scale = 1;  // source pixels for a screen pixel, of one probe; below 1 where the source is enlarged
    int probes = 1;    // 1 to mostProbes
    Point along{0, 0}; // the screen vector over which they are spread
    /// Where probe k lies from the pixel's centre, on the screen.
    Point offset(int k) const { return along * ((k + 0.5) / probes - 0.5); }
};
inline constexpr int mostProbes = 8;

/// By the map's differences at a point; its scale is not finite where nothing is seen there. REQUIRES: map.isVisible().
Footprint footprintAt(const ScreenMap& map, Point screen);

/// How fine the detail is that may be seen about a point, of what the screen could show: 1 where the source is at
/// natural size or smaller, 1/2 where it is enlarged twice. REQUIRES: map.isVisible().
double detailAt(const ScreenMap& map, Point screen);

/// The mip level for a scale: 0 at natural size, 1 at half size; not below `finest`, not above `coarsest`.
double detailFor(double scale, int finest, int coarsest);

} // namespace virga
