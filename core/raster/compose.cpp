#include "core/raster/compose.h"

#include "core/raster/four.h"

namespace virga {

void layOver(LinearF* under, const LinearF* over, int count, float opacity) {
    for (int i = 0; i < count; ++i) {
        const float rest = 1 - over[i].a * opacity;
        four::store(four::load(over[i]) * opacity + four::load(under[i]) * rest, under[i]);
    }
}

} // namespace virga
