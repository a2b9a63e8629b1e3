// "Match all" on rendered pictures: a disc that lies under one point of the screen is followed over the last frame
// before the cut and over the first one after it, by exposures of no length at the frame's ends. What is measured there
// is what was solved for.
#include <cmath>
#include <gtest/gtest.h>

#include "core/edit/carry_on.h"
#include "core/plan/cut_match.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::match_speed_test {
namespace {

using namespace test;

constexpr Size size{1280, 720};
const Point screen(780, 430);

Image<Rgba8> discAt(Point centre, double radius) {
    Image<Rgba8> picture = solidPicture(size, {16, 16, 16, 255});
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double in = radius + 0.5 - std::hypot(x + 0.5 - centre.x, y + 0.5 - centre.y);
            const auto v = std::uint8_t(std::lround(16 + 220 * std::clamp(in, 0.0, 1.0)));
            picture.at(x, y) = {v, v, v, 255};
        }
    return picture;
}

class MatchSpeed : public testing::Test {
protected:
    // The disc's middle in a frame whose shutter opens and closes at once, `after` frames behind the frame's own time.
    Point discIn(Project p, int fromCut, double after) {
        p.settings.shutter = {.angle = 0, .phase = after * 360};
        const auto picture = renderDeepPlan(p, planFrame(p, 25 + fromCut), size, exactQuality, m_pool);
        EXPECT_TRUE(picture);
        Point sum(0, 0);
        double weight = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                if (const double w = std::max(0, picture->at(x, y).g - 40 * 257); w > 0) {
                    sum += Point(x + 0.5, y + 0.5) * w;
                    weight += w;
                }
        return sum / weight;
    }
    TemporaryFolder m_folder;
    SourcePool m_pool;
};

TEST_F(MatchSpeed, TheRenderedMovementCarriesOn) {
    const Shape out{Interpolation::Linear}, in{Interpolation::Linear}; // so that a frame is a short time
    Project p = withMove(twoClips(m_folder / "a.mp4", m_folder / "b.mp4"), 0, MoveKind::Zoom, 0, 1, 1.7, 8, 0.8, 1, 12,
                         out, in);
    p = withMove(p, 0, MoveKind::Spin, 0, 0, 25, 8, -15, 0, 12, out, in);
    p = withMove(p, 0, MoveKind::Slide, 0, 0, 0.1, 8, -0.08, 0, 12, out, in);
    p = withMove(p, 0, MoveKind::Slide, 1, 0, -0.05, 8, 0.02, 0, 12, out, in);
    for (Media& m : p.media) m.size = size;
    p.settings.size = size;
    p.settings.edges = EdgeFill::Hold; // one disc, no copies of it
    const CutVelocities unmatched = velocitiesAtCut(p, 0);
    ASSERT_GT(unmatched.difference, 0.1 * unmatched.speedOut) << "there was a step to begin with";
    const auto matched = withAllMatched(p, 0, Match::ByValue); // shapes stay
    ASSERT_TRUE(matched) << describe(matched.error());
    const Stack& stack = transitionAt(*matched, 0).moves;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const bool before = side == Side::Outgoing;
        const Point middle = movementOf(stack, side, before ? -1 : 0, size).toSource(screen);
        ASSERT_TRUE(middle.x > 80 && middle.x < 1200 && middle.y > 80 && middle.y < 640) << middle.x << ' ' << middle.y;
        const auto picture = discAt(middle, 40);
        writeClip(
            m_folder / (before ? "a.mp4" : "b.mp4"), size, 25, 75, [&](int) { return copyOf(picture); }, 25);
    }
    Point velocity[2];
    for (const int frame : {-1, 0}) {
        EXPECT_LT((discIn(*matched, frame, 0) - screen).length(), 0.2) << "it lies under that point at its own time";
        velocity[frame + 1] = discIn(*matched, frame, 0.5) - discIn(*matched, frame, -0.5);
    }
    const double speed = velocity[0].length();
    EXPECT_GT(speed, 5) << "pixels a frame: it moves";
    EXPECT_LT((velocity[0] - velocity[1]).length(), 0.015 * speed)
        << velocity[0].x << ' ' << velocity[0].y << " and " << velocity[1].x << ' ' << velocity[1].y;
}

} // namespace
} // namespace virga::match_speed_test
