#include "core/edit/piece_edits.h"

#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/curve/shape.h"
#include "core/edit/layer_edits.h"
#include "core/edit/move_edits.h"
#include "core/plan/plan.h"
#include "core/plan/seen_speed.h"
#include "core/project/beats.h"
#include "tests/support/projects.h"

namespace virga::piece_edits_test {
namespace {

using namespace test;

TEST(PieceRate, TimesInSecondsStay) {
    Project p = plungeProject(); // at 25
    p.markers = {{"marker-1", 12, "gun"}};
    Adjustment a;
    a.id = "adj-1", a.start = 10, a.length = 15;
    p.adjustments = {a};
    Music music;
    music.id = "music-1", music.mediaId = p.media[0].id, music.start = 5, music.fadeIn = 10;
    music.tempo = Tempo{};
    p.music = {music};
    const Project q = withRate(p, 50);
    EXPECT_EQ(q.reel[0].length, 50);
    EXPECT_EQ(q.reel[0].sourceIn, p.reel[0].sourceIn);
    EXPECT_EQ(cutFrame(q, 0), 50);
    const Curve& out = transitionAt(q, 0).moves[0].channels[0].outgoing;
    EXPECT_EQ(out.keys.front().time, -10);
    EXPECT_EQ(out.keys.back().arrive, transitionAt(p, 0).moves[0].channels[0].outgoing.keys.back().arrive)
        << "shapes stay";
    EXPECT_EQ(q.markers[0].frame, 24);
    EXPECT_EQ(q.adjustments[0].start, 20);
    EXPECT_EQ(q.adjustments[0].length, 30);
    EXPECT_EQ(q.music[0].fadeIn, 20);
    EXPECT_NEAR(beatsBetween(q, 0, 100)[1].frame, 2 * beatsBetween(p, 0, 50)[1].frame, 1e-6)
        << "beats stay where they are heard";
    EXPECT_EQ(withRate(q, 25), p) << "there and back";
    // What a moment of the movement shows is the same.
    const Size size = p.settings.size;
    const ScreenMap before = mapAt(planFrame(p, 22).layers[0], 22, size),
                    after = mapAt(planFrame(q, 44).layers[0], 44, size);
    EXPECT_LT((before.toScreen({100, 50}) - after.toScreen({100, 50})).length(), 1e-6);
}

TEST(PieceRate, CutsGoToTheNearestFrameAndDoNotDrift) {
    Project p = twoClips();
    p.reel.clear();
    for (int i = 0; i < 40; ++i) {
        Clip clip = twoClips().reel[0];
        clip.id = "clip-" + std::to_string(i);
        clip.length = 7 + i % 5;
        p.reel.push_back(clip);
    }
    const Project q = withRate(p, Rational(24000, 1001));
    for (int c = 0; c < cutCount(p); ++c)
        EXPECT_NEAR(double(cutFrame(q, c)) * 1001 / 24000, double(cutFrame(p, c)) / 25, 0.5 * 1001 / 24000 + 1e-9) << c;
    Project one = twoClips();
    for (Clip& clip : one.reel) clip.length = 1;
    EXPECT_EQ(withRate(one, 10).reel[0].length, 1) << "no clip vanishes";
    EXPECT_EQ(withRate(one, 0), one);
}

// A move whose last key lies on frame -1, as people make them: at a higher rate it goes on to the cut, as it does while
// that frame is exposed, and no frame repeats the one before.
TEST(PieceRate, AMoveThatEndsOnTheLastFrameGoesOnToTheCut) {
    Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.62, 1, 12);
    Move& zoom = p.reel[1].transition.moves[0];
    for (Key& key : zoom.channels[0].outgoing.keys) key.time -= 1;
    const Curve before = zoom.channels[0].outgoing;
    const Size size = p.settings.size;
    const double at25 = seenSpeed(planFrame(p, cutFrame(p, 0) - 1).layers[0], double(cutFrame(p, 0) - 1), size);
    for (const FrameRate rate : {FrameRate(50), FrameRate(60), FrameRate(120), FrameRate(30)}) {
        const Project q = withRate(p, rate);
        const double frame = (rate / p.settings.rate).toDouble();
        const std::int64_t cut = cutFrame(q, 0);
        const Curve& out = transitionAt(q, 0).moves[0].channels[0].outgoing;
        EXPECT_NEAR(out.keys.back().time, -1, 1e-9) << rate.num;
        for (double t = -5.9; t <= -1 / frame; t += 0.1) // the same movement in seconds
            EXPECT_NEAR(toSpace(evaluate(out, t * frame), out.space),
                        toSpace(evaluateExposed(before, std::min(t, -1.0), t, Ends::RunOn), out.space), 1e-9)
                << rate.num << " " << t;
        std::vector<double> speeds; // of the last frames, all in % a second
        for (std::int64_t n = cut - std::int64_t(2 * frame); n < cut; ++n)
            speeds.push_back(seenSpeed(planFrame(q, n).layers[0], double(n), size) * frame);
        for (std::size_t i = 1; i < speeds.size(); ++i) EXPECT_GT(speeds[i], 0.85 * speeds[i - 1]) << rate.num;
        EXPECT_GT(speeds.back(), 0.9 * at25);
        const Curve back = transitionAt(withRate(q, 25), 0).moves[0].channels[0].outgoing; // there and back
        ASSERT_EQ(back.keys.size(), before.keys.size()) << rate.num;
        EXPECT_NEAR(back.keys.back().time, -1, 1e-9);
    }
    // Where it arrives at rest, or holds at its ends, nothing is added.
    Project held = p;
    held.reel[1].transition.moves[0].holds = true;
    EXPECT_EQ(transitionAt(withRate(held, 50), 0).moves[0].channels[0].outgoing.keys.size(), 2u);
    Project rests = p;
    rests.reel[1].transition.moves[0].channels[0].outgoing.keys.back().arrive = {0.5, 0};
    EXPECT_EQ(transitionAt(withRate(rests, 50), 0).moves[0].channels[0].outgoing.keys.size(), 2u);
}

TEST(PieceRate, ADriftGoesOnToItsShotsEnd) {
    Project p = withMoveAdded(twoClips(), {StackPlace::Drift, 0}, MoveKind::Slide);
    const double last = double(p.reel[0].length - 1);
    p.reel[0].drift[0].channels[0].incoming = twoKeys(Space::Linear, 0, 0, last, 0.2, *shapeNamed("linear"));
    const Project q = withRate(p, 50);
    const Curve& curve = q.reel[0].drift[0].channels[0].incoming;
    EXPECT_EQ(curve.keys.back().time, double(q.reel[0].length - 1));
    EXPECT_NEAR(curve.keys.back().value, 0.2 * (last + 0.5) / last, 1e-9);
    EXPECT_EQ(withRate(q, 25), p);
}

TEST(PieceFormat, IsWhatMostOfTheTimeWasShotIn) {
    const auto shot = [](Size size, FrameRate rate, int seconds, bool still = false) {
        Media m;
        m.size = size, m.rate = rate, m.duration = Rational(still ? 0 : seconds), m.still = still;
        return m;
    };
    const PieceFormat now{{1920, 1080}, 25};
    EXPECT_EQ(formatOf({}, now), now);
    EXPECT_EQ(formatOf({shot({1280, 720}, 30, 4), shot({1920, 1080}, 50, 9), shot({1280, 720}, 50, 3)}, now),
              (PieceFormat{{1920, 1080}, 50}));
    EXPECT_EQ(formatOf({shot({641, 359}, 30, 4)}, now), (PieceFormat{{642, 360}, 30})) << "even sides";
    EXPECT_EQ(formatOf({shot({4000, 3000}, 25, 0, true), shot({1280, 720}, 30, 1)}, now),
              (PieceFormat{{1280, 720}, 30}))
        << "stills have little to say";
    EXPECT_EQ(formatOf({shot({640, 360}, 25, 5), shot({1280, 720}, 25, 5)}, now).size, (Size{640, 360}))
        << "the first of two";
}

} // namespace
} // namespace virga::piece_edits_test
