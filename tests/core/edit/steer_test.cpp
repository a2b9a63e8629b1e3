#include "core/edit/steer.h"

#include <cmath>
#include <gtest/gtest.h>

#include "core/edit/layer_edits.h"
#include "core/edit/line_up.h"
#include "tests/support/projects.h"

namespace virga::steer_test {
namespace {

using namespace test;

constexpr Shape straight{Interpolation::Linear};

// Zoom, spin, slide, tilt and a lens at once, so that nothing is simple.
Project everything() {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.6, 10, 0.8, 1, 10, straight, straight);
    p = withMove(p, 0, MoveKind::Spin, 0, 0, 20, 10, -10, 0, 10, straight, straight);
    p = withMove(p, 0, MoveKind::Slide, 0, 0, 0.2, 10, -0.1, 0, 10, straight, straight);
    p = withMove(p, 0, MoveKind::Tilt, 0, 0, 15, 10, -8, 0, 10, straight, straight);
    p = withMove(p, 0, MoveKind::Warp, 0, 0, 0.3, 10, -0.2, 0, 10, straight, straight);
    return p;
}

// Whatever is dragged lies under the pointer afterwards.
TEST(Steering, PutsWhatIsHeldToWhereItIsDraggedUnderAnyStack) {
    const Project p = everything();
    for (const std::int64_t frame : {20, 28}) {
        const Side side = frame < 25 ? Side::Outgoing : Side::Incoming;
        const Steering s(p, StackPlace(0), side, frame);
        ASSERT_TRUE(s.isThere());
        const Point from(500, 300), to(560, 330), source = s.sourceAt(from);
        const auto v = s.slideTo(source, to);
        ASSERT_TRUE(v);
        const Project moved = s.with(*s.slide(), *v);
        const Steering after(moved, StackPlace(0), side, frame);
        EXPECT_LT((after.screenAt(source) - to).length(), 0.01) << frame;
        // A key was set there, on the side that is seen, and the other side is as it was.
        const int slide = s.slide()->move;
        const Channel& channel = transitionAt(moved, 0).moves[std::size_t(slide)].channels[0];
        EXPECT_EQ(channel.side(side).keys.size(), 3u);
        const Side other = side == Side::Outgoing ? Side::Incoming : Side::Outgoing;
        EXPECT_EQ(channel.side(other), transitionAt(p, 0).moves[std::size_t(slide)].channels[0].side(other));
    }
}

// Under a spin what goes right in its own axes goes down on the screen.
TEST(Steering, DragsUnderASpin) {
    for (const double degrees : {60.0, 90.0, -120.0}) {
        Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.2, 10, 0, 0, 0, straight);
        p = withMove(p, 0, MoveKind::Spin, 0, degrees, degrees, 10, 0, 0, 0, straight);
        const Steering s(p, StackPlace(0), Side::Outgoing, 20);
        const Point source = s.sourceAt({500, 300});
        const auto v = s.slideTo(source, {700, 420});
        ASSERT_TRUE(v) << degrees;
        const Steering after(s.with(*s.slide(), *v), StackPlace(0), Side::Outgoing, 20);
        EXPECT_LT((after.screenAt(source) - Point(700, 420)).length(), 0.01) << degrees;
    }
}

TEST(Steering, ZoomsAndSpinsAboutTheAnchor) {
    const Project p = everything();
    const Steering s(p, StackPlace(0), Side::Outgoing, 20);
    const Point anchor = s.anchorOf(s.zoom()->move), grip(900, 500), source = s.sourceAt(grip);
    const auto zoom = s.zoomTo(source, anchor + (grip - anchor) * 1.25);
    ASSERT_TRUE(zoom);
    const Steering zoomed(s.with(*s.zoom(), {*zoom, 0}), StackPlace(0), Side::Outgoing, 20);
    EXPECT_NEAR((zoomed.screenAt(source) - anchor).length(), 1.25 * (grip - anchor).length(), 0.05);
    const Point about = s.anchorOf(s.spin()->move);
    const double turn = 25 * 3.14159265358979 / 180;
    const Point r = grip - about, wanted = about + Point(r.x * std::cos(turn) - r.y * std::sin(turn),
                                                         r.x * std::sin(turn) + r.y * std::cos(turn));
    const auto spin = s.spinTo(source, wanted);
    ASSERT_TRUE(spin);
    const Steering spun(s.with(*s.spin(), {*spin, 0}), StackPlace(0), Side::Outgoing, 20);
    const Point got = spun.screenAt(source) - about;
    EXPECT_NEAR(got.x * (wanted - about).y - got.y * (wanted - about).x, 0, 1) << "in that direction";
    EXPECT_GT(got.dot(wanted - about), 0);
    const auto tilt = s.tiltTo(0, s.sourceAt({640, 100}), {640, 130});
    ASSERT_TRUE(tilt);
    EXPECT_GT(std::abs(*tilt), 1);
}

TEST(Steering, AKeyAtThePlayheadIsChangedAndAPlainZoomIsExact) {
    const Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2, 10, 0.5, 1, 10, straight, straight);
    const Steering s(p, StackPlace(0), Side::Incoming, 25);
    const Point corner = s.corners()[2], middle(640, 360);
    const auto v = s.zoomTo(Point(1280, 720), middle + (corner - middle) * 1.5);
    ASSERT_TRUE(v);
    EXPECT_NEAR(*v, 0.75, 1e-6);
    const Project moved = s.with(*s.zoom(), {*v, 0});
    const Curve& in = transitionAt(moved, 0).moves[0].channels[0].incoming;
    ASSERT_EQ(in.keys.size(), 2u) << "the key on frame 0 took it";
    EXPECT_NEAR(in.keys[0].value, 0.75, 1e-6);
}

TEST(Steering, WhereNothingIsKeyedTheClipItselfIsPlacedAndScaled) {
    const Project p = twoClips();
    const Steering s(p, StackPlace(0), Side::Incoming, 30);
    ASSERT_TRUE(s.isThere());
    EXPECT_EQ(s.slide()->move, -1);
    EXPECT_FALSE(s.tilt());
    const Point source = s.sourceAt({640, 360});
    const Project moved = s.with(*s.slide(), s.slideTo(source, {768, 288}).value());
    EXPECT_NEAR(moved.reel[1].placement.position.x, 0.1, 1e-6);
    EXPECT_NEAR(moved.reel[1].placement.position.y, -0.1, 1e-6);
    EXPECT_EQ(moved.reel[0], p.reel[0]);
    const Project scaled = s.with(*s.zoom(), {*s.zoomTo({0, 0}, {320, 180}), 0});
    EXPECT_NEAR(scaled.reel[1].placement.scale, 0.5, 1e-6);
    // A point to the right of the middle drawn to straight below it.
    const Project turned = s.with(*s.spin(), {*s.spinTo(s.sourceAt({840, 360}), {640, 600}), 0});
    EXPECT_NEAR(turned.reel[1].placement.angle, 90, 1e-6);
    EXPECT_EQ(turned.reel[0], p.reel[0]);
}

TEST(Steering, KnowsThePathOfTheFramesCentre) {
    const Project p = withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.5, 10, -0.5, 0, 10, straight, straight);
    const auto path = Steering::pathOf(p, StackPlace(0));
    ASSERT_EQ(path.size(), 10u + 11u);
    for (const auto& point : path) {
        const double n = double(point.frame - 25);
        const double x = point.side == Side::Outgoing ? (n + 10) * 0.05 : -0.5 + n * 0.05;
        EXPECT_NEAR(point.at.x, 640 + 1280 * x, 1e-6) << n;
        EXPECT_NEAR(point.at.y, 360, 1e-9);
    }
}

TEST(LineUp, PutsTheSecondSubjectOnTheFirstInPlaceAndSize) {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.6, 10, 0.8, 1, 10, straight, straight);
    p = withMove(p, 0, MoveKind::Spin, 0, 0, 20, 10, -10, 0, 10, straight, straight);
    EXPECT_FALSE(withSubjectsLinedUp(p, 0)) << "no subject is set";
    p = withSubject(p, 0, Side::Outgoing, {{420, 300}, 90});
    p = withSubject(p, 0, Side::Incoming, {{800, 410}, 40});
    EXPECT_NEAR(subjectAt(p, 0, Side::Outgoing)->at.x, 420, 1e-6);
    EXPECT_NEAR(subjectAt(p, 0, Side::Outgoing)->radius, 90, 1e-6);
    const auto done = withSubjectsLinedUp(p, 0);
    ASSERT_TRUE(done) << describe(done.error());
    const auto out = subjectAt(*done, 0, Side::Outgoing), in = subjectAt(*done, 0, Side::Incoming);
    EXPECT_LT((out->at - in->at).length(), 0.01);
    EXPECT_NEAR(in->radius / out->radius, 1, 1e-4);
    const Point anchor = transitionAt(*done, 0).moves[0].anchor;
    EXPECT_NEAR(anchor.x * 1280, out->at.x, 0.01) << "both turn about what the eye stays on";
    EXPECT_EQ(anchor, transitionAt(*done, 0).moves[1].anchor);
}

// Common practice puts the eye's place on the same spot; here on two pictures whose relation is known: the second shows
// the same thing half as large and moved, so scale 2 and the move back are what line up has to find.
TEST(LineUp, RecoversAKnownScaleAndPlace) {
    Project p = twoClips();
    p = withSubject(p, 0, Side::Outgoing, {{500, 260}, 120});
    p = withSubject(p, 0, Side::Incoming, {{(500 - 640) * 0.5 + 640 + 96, (260 - 360) * 0.5 + 360 - 54}, 60});
    const Project done = withSubjectsLinedUp(p, 0).value();
    EXPECT_NEAR(done.reel[1].placement.scale, 2, 0.005 * 2);
    EXPECT_NEAR(done.reel[1].placement.position.x * 1280, -192, 1);
    EXPECT_NEAR(done.reel[1].placement.position.y * 720, 108, 1);
}

// A face that leans differently is turned upright with the other.
TEST(LineUp, TurnsTheSecondSubjectAsTheFirst) {
    Project p = withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 20, 10, -10, 0, 10, straight, straight);
    p = withSubject(p, 0, Side::Outgoing, {{420, 300}, 90, 12});
    p = withSubject(p, 0, Side::Incoming, {{800, 410}, 40, -23});
    EXPECT_NEAR(subjectAt(p, 0, Side::Incoming)->angle, -23, 1e-6);
    const auto done = withSubjectsLinedUp(p, 0);
    ASSERT_TRUE(done) << describe(done.error());
    const auto out = subjectAt(*done, 0, Side::Outgoing), in = subjectAt(*done, 0, Side::Incoming);
    EXPECT_NEAR(in->angle, out->angle, 1e-3);
    EXPECT_LT((out->at - in->at).length(), 0.01);
    EXPECT_NEAR(done->reel[1].placement.angle, 35, 1e-3);
}

} // namespace
} // namespace virga::steer_test
