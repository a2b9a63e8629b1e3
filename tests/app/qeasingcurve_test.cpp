// The same curves through Qt's QEasingCurve (BezierSpline), an implementation of its own.
#include <QEasingCurve>
#include <QPointF>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

TEST(QEasingCurveReference, EveryNamedShapeAgrees) {
    int compared = 0;
    for (const auto& named : namedShapes()) {
        const Shape& s = named.shape;
        if (s.kind != Interpolation::Eased || s.y1 < 0 || s.y2 > 1) continue; // Qt's spline clips what overshoots
        QEasingCurve reference(QEasingCurve::BezierSpline);
        reference.addCubicBezierSegment(QPointF(s.x1, s.y1), QPointF(s.x2, s.y2), QPointF(1, 1));
        const Curve ours = twoKeys(Space::Linear, 0, 0, 1, 1, s);
        // Qt solves x in closed form with approximate cube roots: good to about 1e-3 where the curve is steep.
        for (double x = 0.01; x < 1; x += 0.01)
            EXPECT_NEAR(evaluate(ours, x), reference.valueForProgress(x), 2e-3) << named.name << " at " << x;
        ++compared;
    }
    EXPECT_GE(compared, 10);
}

} // namespace
} // namespace virga
