// What a shot does by itself, as arithmetic: moments between pictures, parts of steps, steps that are not known.
#include <cmath>
#include <gtest/gtest.h>

#include "core/plan/shot_movement.h"
#include "tests/support/projects.h"

namespace virga::shot_movement_test {
namespace {

using namespace test;

PictureStep known(const TurnZoomSlide& parts) {
    PictureStep step;
    step.map = matrixOf(parts);
    step.trust = 1;
    return step;
}

void expectParts(const Matrix& map, const TurnZoomSlide& wanted) {
    const TurnZoomSlide got = partsOf(map);
    EXPECT_NEAR(got.zoom, wanted.zoom, 1e-9);
    EXPECT_NEAR(got.degrees, wanted.degrees, 1e-9);
    EXPECT_NEAR(got.slide.x, wanted.slide.x, 1e-9);
    EXPECT_NEAR(got.slide.y, wanted.slide.y, 1e-9);
}

// A zoom goes by one factor a step, a turn and a slide by equal steps.
TEST(ShotSteps, ThatAreNotKnownLieBetweenTheirNeighbours) {
    const TurnZoomSlide a{1.1, 2, {0.01, 0.04}}, b{1.3, -1, {0.05, -0.02}};
    std::vector<PictureStep> steps{known(a), {}, {}, {}, known(b)};
    bridge(steps, 3);
    for (int k = 1; k <= 3; ++k)
        expectParts(
            steps[std::size_t(k)].map,
            {1.1 * std::pow(1.3 / 1.1, k / 4.0), 2 - 3 * k / 4.0, {0.01 + 0.04 * k / 4.0, 0.04 - 0.06 * k / 4.0}});
    EXPECT_FALSE(steps[2].isKnown()) << "it is still told that it was not read";
    std::vector<PictureStep> far{known(a), {}, {}, {}, {}, known(b)};
    bridge(far, 3);
    for (int k = 1; k <= 4; ++k) expectParts(far[std::size_t(k)].map, {});
    std::vector<PictureStep> ends{{}, {}, known(a), {}};
    bridge(ends, 3);
    for (const std::size_t k : {0, 1, 3}) expectParts(ends[k].map, a);
    std::vector<PictureStep> none{{}, {}};
    bridge(none, 3);
    expectParts(none[0].map, {});
}

TEST(ShotSteps, AddUpBetweenAnyTwoMoments) {
    const auto shot = shotMovement([](int i) { return TurnZoomSlide{1, 0, {i < 10 ? 0.01 : 0.03, 0}}; });
    // 25 pictures a second: a step takes 0.04 s; the eleventh and later ones are three times as long.
    EXPECT_NEAR(partsOf(shot->between(0.04, 0.2)).slide.x, 4 * 0.01, 1e-9);
    EXPECT_NEAR(partsOf(shot->between(0.05, 0.07)).slide.x, 0.5 * 0.01, 1e-9);
    EXPECT_NEAR(partsOf(shot->between(0.36, 0.46)).slide.x, 0.01 + 1.5 * 0.03, 1e-9);
    EXPECT_NEAR(partsOf(shot->between(0.46, 0.36)).slide.x, -(0.01 + 1.5 * 0.03), 1e-9) << "backwards";
    EXPECT_EQ(shot->knownShare(0.1, 1.5), 1);
}

TEST(ShotSteps, APartOfAStepIsEven) {
    const Matrix step = matrixOf({1.44, 12, {0, 0}});
    expectParts(partOf(step, 0.5), {1.2, 6, {0, 0}});
    expectParts(partOf(step, 0), {});
    expectParts(partOf(step, 1), {1.44, 12, {0, 0}});
    // However far it turns: two halves one after the other are the whole, about any point.
    for (const double degrees : {-100.0, -60.0, 45.0, 60.0, 90.0, 170.0}) {
        const Matrix far = matrixOf({0.8, degrees, {0.3, -0.1}}), half = partOf(far, 0.5);
        expectParts(then(half, half), {0.8, degrees, {0.3, -0.1}});
        EXPECT_NEAR(partsOf(half).degrees, degrees / 2, 1e-9);
    }
}

} // namespace
} // namespace virga::shot_movement_test
