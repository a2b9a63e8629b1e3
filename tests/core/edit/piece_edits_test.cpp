#include "core/edit/piece_edits.h"

#include <gtest/gtest.h>

#include "core/edit/layer_edits.h"
#include "core/plan/plan.h"
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
