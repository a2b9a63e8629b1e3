#include "core/decode/orientation.h"

namespace virga {
namespace {

struct Turn {
    double a, b, c, d; // x' = a x + b y, y' = c x + d y; x to the right, y down
};

Turn turnOf(Orientation o) {
    const double sine = o.rotation == 90 ? 1 : o.rotation == 270 ? -1 : 0;
    const double cosine = o.rotation == 0 ? 1 : o.rotation == 180 ? -1 : 0;
    const double side = o.mirrored ? -1 : 1;
    return {cosine * side, -sine, sine * side, cosine};
}

} // namespace

Orientation orientationOfMatrix(const std::int32_t* m) {
    // x' = m0 x + m3 y, y' = m1 x + m4 y.
    Orientation best;
    double most = 0;
    for (const bool mirrored : {false, true})
        for (const int rotation : {0, 90, 180, 270}) {
            const Orientation o{mirrored, rotation};
            const Turn t = turnOf(o);
            const double likeness = t.a * m[0] + t.b * m[3] + t.c * m[1] + t.d * m[4];
            if (likeness > most * (1 + 1e-9)) most = likeness, best = o;
        }
    return best;
}

Orientation orientationOfExif(int tag) {
    switch (tag) {
    case 2:
        return {true, 0};
    case 3:
        return {false, 180};
    case 4:
        return {true, 180};
    case 5:
        return {true, 270};
    case 6:
        return {false, 90};
    case 7:
        return {true, 90};
    case 8:
        return {false, 270};
    default:
        return {};
    }
}

} // namespace virga
