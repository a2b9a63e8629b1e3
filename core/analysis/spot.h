#pragma once
// A subject's spot in a whole picture, as it is measured, and in what is left of it after cropping, as a clip keeps it.
#include "core/project/project.h"

namespace virga {

inline SubjectSpot uncropped(SubjectSpot spot, const Crop& c) {
    const double wide = 1 - c.left - c.right, high = 1 - c.top - c.bottom;
    spot.at = {c.left + spot.at.x * wide, c.top + spot.at.y * high};
    spot.size *= wide;
    return spot;
}
inline SubjectSpot cropped(SubjectSpot spot, const Crop& c) {
    const double wide = 1 - c.left - c.right, high = 1 - c.top - c.bottom;
    spot.at = {(spot.at.x - c.left) / wide, (spot.at.y - c.top) / high};
    spot.size /= wide;
    return spot;
}

} // namespace virga
