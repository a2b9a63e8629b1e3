#include "core/effects/canvas.h"

#include <algorithm>
#include <cmath>

#include "core/base/parallel.h"

namespace virga {

Margin widestMargin(Size frame) {
    constexpr double most = 0.15;
    return {int(std::ceil(most * frame.width)), int(std::ceil(most * frame.height))};
}

Canvas copyOf(const Canvas& canvas) {
    Canvas copy = emptyLike(canvas);
    inParallel(std::size_t(canvas.height()),
               [&](std::size_t y) { std::copy_n(canvas.row(int(y)), canvas.width(), copy.row(int(y))); });
    return copy;
}

} // namespace virga
