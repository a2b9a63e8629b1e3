#include "core/recipe/likeness.h"

#include <cmath>

namespace virga {

double likeness(const Velocities& a, const Velocities& b) {
    double dot = 0, aa = 0, bb = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        if (!std::isfinite(a[i].length()) || !std::isfinite(b[i].length())) continue;
        dot += a[i].dot(b[i]), aa += a[i].dot(a[i]), bb += b[i].dot(b[i]);
    }
    return aa > 0 && bb > 0 ? dot / std::sqrt(aa * bb) : 0;
}

} // namespace virga
