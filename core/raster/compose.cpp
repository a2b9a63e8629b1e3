#include "core/raster/compose.h"

namespace virga {

void layOver(LinearF* under, const LinearF* over, int count, float opacity) {
    for (int i = 0; i < count; ++i) {
        const LinearF& o = over[i];
        LinearF& u = under[i];
        const float rest = 1 - o.a * opacity;
        u = {o.r * opacity + u.r * rest, o.g * opacity + u.g * rest, o.b * opacity + u.b * rest,
             o.a * opacity + u.a * rest};
    }
}

} // namespace virga
