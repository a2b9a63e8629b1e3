// Clip time: closed forms, Simpson's rule as an outside check of the integral, and that edits keep what a frame shows.
#include "core/project/clip_time.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "tests/support/projects.h"

namespace virga::clip_time_test {
namespace {

using namespace test;

Key keyAt(double time, double value, Interpolation next = Interpolation::Eased) {
    return {time, value, next, {}, {}};
}

// Keys over about 40 frames, of all kinds, from standing still to ten times as fast, also backwards.
Curve randomCurve(std::mt19937& draw, double least = -1000) {
    const auto within = [&](double a, double b) { return a + (b - a) * (double(draw()) / double(draw.max())); };
    Curve curve;
    double t = within(-8, 4);
    for (unsigned i = 0, n = 1 + draw() % 6; i < n; ++i) {
        Key k = keyAt(t, within(least, 1000), Interpolation(draw() % 3));
        k.leave = {within(0, 1), within(-400, 400)};
        k.arrive = {within(0, 1), within(-400, 400)};
        curve.keys.push_back(k);
        t += within(0.02, 14);
    }
    return curve;
}

// Simpson's rule (Press et al., Numerical Recipes, section 4.2), halved until it settles, from key to key.
double simpson(const Curve& curve, double a, double b, int depth = 0) {
    const auto f = [&](double t) { return evaluate(curve, t); };
    const double m = (a + b) / 2, whole = (b - a) / 6 * (f(a) + 4 * f(m) + f(b));
    const double left = (m - a) / 6 * (f(a) + 4 * f((a + m) / 2) + f(m)),
                 right = (b - m) / 6 * (f(m) + 4 * f((m + b) / 2) + f(b));
    if (depth >= 22 || (depth >= 4 && std::abs(left + right - whole) < 2e-9 * (b - a)))
        return left + right + (left + right - whole) / 15;
    return simpson(curve, a, m, depth + 1) + simpson(curve, m, b, depth + 1);
}

double simpsonByKeys(const Curve& curve, double from, double to) {
    std::vector<double> at{from};
    for (const Key& k : curve.keys)
        if (k.time > from && k.time < to) at.push_back(k.time);
    at.push_back(to);
    double sum = 0;
    for (std::size_t i = 0; i + 1 < at.size(); ++i) {
        // A held stretch jumps at its end: up to just before it, and what is left as a strip.
        const double strip = 1e-9 * (at[i + 1] - at[i]), end = at[i + 1] - strip;
        sum += simpson(curve, at[i], end) + strip * evaluate(curve, end);
    }
    return sum;
}

TEST(CurveIntegral, FollowsClosedForms) {
    Curve ramp;
    ramp.keys = {keyAt(0, 100, Interpolation::Linear), keyAt(10, 300)};
    const CurveIntegral area(ramp);
    EXPECT_DOUBLE_EQ(area.upTo(10), 2000) << "the mean of both times ten";
    EXPECT_DOUBLE_EQ(area.upTo(5), 5 * 150);
    EXPECT_DOUBLE_EQ(area.upTo(12), 2000 + 2 * 300) << "the last key is held";
    EXPECT_DOUBLE_EQ(area.upTo(-3), -300);
    EXPECT_DOUBLE_EQ(area.between(5, 10), 2000 - 750);
    Curve held = ramp;
    held.keys[0].next = Interpolation::Hold;
    EXPECT_DOUBLE_EQ(CurveIntegral(held).upTo(10), 1000);
    // Level handles of one third: 3 s^2 - 2 s^3, whose mean is one half.
    Curve eased;
    eased.keys = {keyAt(0, 0), keyAt(8, 100)};
    EXPECT_NEAR(CurveIntegral(eased).upTo(8), 400, 1e-9);
    EXPECT_NEAR(CurveIntegral(eased).upTo(4), 8 * 100 * (1.0 / 8 - 1.0 / 32), 1e-9) << "s^3 - s^4 / 2 at one half";
    EXPECT_DOUBLE_EQ(CurveIntegral({}, 50).upTo(4), 200) << "no keys";
}

TEST(CurveIntegral, AgreesWithSimpsonsRuleOnTenThousandCurves) {
    std::mt19937 draw(4);
    double worst = 0;
    for (int i = 0; i < 10000; ++i) {
        const Curve curve = randomCurve(draw);
        const double to = double(draw() % 50) + 0.37;
        // In frames' worth of source at 25 a second: seconds.
        const double off = std::abs(CurveIntegral(curve).upTo(to) - simpsonByKeys(curve, 0, to)) / 100 / 25;
        worst = std::max(worst, off);
        // Simpson's rule settles slowly where a curve stands upright.
        bool upright = false;
        for (std::size_t k = 0; k < curve.keys.size(); ++k) {
            const double leave = curve.keys[k].leave.reach, arrive = curve.keys[k].arrive.reach;
            upright = upright || leave < 0.03 || arrive < 0.03;
            upright = upright || (k + 1 < curve.keys.size() && leave + curve.keys[k + 1].arrive.reach > 1.8);
        }
        if (!upright) ASSERT_LT(off, 1e-9) << i;
        ASSERT_LT(off, 1e-6) << i;
    }
    std::printf("%.1e seconds apart at most\n", worst);
}

class ClipTimeOfAClip : public testing::Test {
protected:
    Project project = twoClips();
    Clip& clip() { return project.reel[0]; }
    ClipTime time() { return ClipTime(project, clip()); }
};

TEST_F(ClipTimeOfAClip, ConstantSpeedsAreExact) {
    clip().speed = Rational(1, 3);
    project.settings.rate = Rational(30000, 1001);
    EXPECT_EQ(time().at(7), clip().sourceIn + Rational(7) * Rational(1, 3) * Rational(1001, 30000));
    clip().speed = Rational(-2);
    clip().sourceIn = Rational(3, 2);
    EXPECT_EQ(time().at(10), Rational(3, 2) - Rational(20) * Rational(1001, 30000));
    EXPECT_EQ(time().used().from, time().at(clip().length));
    clip().speed = 0;
    EXPECT_EQ(time().at(1000), Rational(3, 2));
    EXPECT_EQ(time().spare().after, plenty);
}

TEST_F(ClipTimeOfAClip, AHundredPercentByKeysIsTheSameAsWithout) {
    for (const FrameRate rate : {Rational(25), Rational(30000, 1001), Rational(24000, 1001), Rational(60)}) {
        project.settings.rate = rate;
        project.media[0].rate = rate;
        Clip keyed = clip();
        keyed.sourceIn = Rational(5) / rate;
        Clip plain = keyed;
        keyed.speedCurve.outgoing.keys = {keyAt(-12, 100), keyAt(0, 100)};
        const ClipTime a(project, keyed), b(project, plain);
        for (int n = -3; n < 4000; ++n) ASSERT_EQ(a.at(n), b.at(n)) << n << ": a picture's start is met exactly";
    }
}

TEST_F(ClipTimeOfAClip, KeysOfBothEndsAreOneCurve) {
    clip().length = 40;
    clip().speedCurve.incoming.keys = {keyAt(0, 800), keyAt(10, 50)};
    clip().speedCurve.outgoing.keys = {keyAt(-10, 70), keyAt(0, 600)};
    const Curve whole = speedCurveOf(clip());
    ASSERT_EQ(whole.keys.size(), 4u);
    EXPECT_EQ(whole.keys[2].time, 30);
    EXPECT_DOUBLE_EQ(time().speedAt(20), 0.6) << "eased from the one to the other in between";
    EXPECT_DOUBLE_EQ(time().speedAt(0), 8);
    clip().length = 15; // a key from the end that lies before the last from the start does not count
    EXPECT_EQ(speedCurveOf(clip()).keys.size(), 3u);
}

TEST_F(ClipTimeOfAClip, FindsTheFrameOfAMoment) {
    clip().speedCurve.incoming.keys = {keyAt(0, 400), keyAt(12, 100)};
    for (const double frame : {0.0, 3.25, 11.0, 20.0}) {
        const auto found = time().frameAt(time().secondsAt(frame));
        ASSERT_TRUE(found) << frame;
        EXPECT_NEAR(*found, frame, 1e-9);
    }
    EXPECT_FALSE(time().frameAt(time().secondsAt(25.5)));
    EXPECT_FALSE(time().frameAt(-1));
}

TEST_F(ClipTimeOfAClip, SpareFramesAreThoseThatFit) {
    // One second spare at both ends.
    EXPECT_EQ(time().spare().before, 25);
    EXPECT_EQ(time().spare().after, 25);
    clip().speedCurve.outgoing.keys = {keyAt(-5, 100), keyAt(0, 500)};
    std::mt19937 draw(9);
    for (int i = 0; i < 300; ++i) {
        clip().speedCurve.incoming = i % 2 ? randomCurve(draw, 20) : Curve();
        clip().speedCurve.outgoing = randomCurve(draw, 20);
        for (Key& k : clip().speedCurve.outgoing.keys) k.time -= 20;
        clip().sourceIn = 20;
        project.media[0].duration = 60;
        const Spare spare = time().spare();
        const double slack = 1e-7;
        EXPECT_GE(time().secondsAt(-double(spare.before)), -slack);
        EXPECT_LT(time().secondsAt(-double(spare.before) - 1), slack);
        EXPECT_LE(time().secondsAt(double(clip().length + spare.after)), 60 + slack);
        EXPECT_GT(time().secondsAt(double(clip().length + spare.after + 1)), 60 - slack);
    }
    // Backwards what is spare lies on the other sides: 40 source frames down, 50 up.
    clip().speedCurve = {};
    clip().speed = -1;
    clip().sourceIn = Rational(49, 25);
    project.media[0].duration = 3;
    EXPECT_EQ(time().spare().after, 25);
    EXPECT_EQ(time().spare().before, 25);
}

TEST_F(ClipTimeOfAClip, TellsWhereTheSourceRunsOut) {
    EXPECT_FALSE(time().runsOut());
    clip().speedCurve.outgoing.keys = {keyAt(-12, 100), keyAt(0, 1000)};
    project.media[0].duration = clip().sourceIn + Rational(26, 25);
    const auto out = time().runsOut();
    ASSERT_TRUE(out);
    EXPECT_GE(time().at(*out), project.media[0].duration);
    EXPECT_LT(time().at(*out - 1), project.media[0].duration);
}

// Of a source moment's frame: what a frame of the reel shows.
std::vector<double> shownBy(const Project& p) {
    std::vector<double> shown;
    for (int c = 0; c < int(p.reel.size()); ++c)
        for (std::int64_t n = 0; n < p.reel[std::size_t(c)].length; ++n)
            shown.push_back(ClipTime(p, p.reel[std::size_t(c)]).secondsAt(double(n)));
    return shown;
}

TEST(SpeedEdits, SplitAndTrimNeverChangeWhatAFrameShows) {
    std::mt19937 draw(21);
    for (int i = 0; i < 400; ++i) {
        Project p = twoClips();
        Clip& clip = p.reel[0];
        clip.length = 60, clip.sourceIn = 100, p.media[0].duration = 300;
        clip.speedCurve.incoming = i % 3 ? randomCurve(draw) : Curve();
        clip.speedCurve.outgoing = i % 3 != 1 ? randomCurve(draw) : Curve();
        for (Key& k : clip.speedCurve.outgoing.keys) k.time -= 30;
        const auto before = shownBy(p);
        const std::int64_t at = 1 + std::int64_t(draw() % 58);
        const Project split = withSplit(p, at);
        ASSERT_EQ(split.reel.size(), p.reel.size() + 1);
        const auto after = shownBy(split);
        ASSERT_EQ(after.size(), before.size());
        for (std::size_t n = 0; n < before.size(); ++n) ASSERT_NEAR(after[n], before[n], 2e-6) << i << ", frame " << n;
        for (const Edge edge : {Edge::Head, Edge::Tail}) {
            const Project trimmed = withClipTrimmed(p, 0, edge, edge == Edge::Head ? at : -at);
            const auto left = shownBy(trimmed);
            const std::size_t cut = edge == Edge::Head ? std::size_t(at) : 0;
            const auto keeps = std::size_t(trimmed.reel[0].length);
            ASSERT_EQ(keeps, std::size_t(60 - at));
            for (std::size_t n = 0; n < keeps; ++n) ASSERT_NEAR(left[n], before[n + cut], 2e-6) << i;
        }
    }
}

TEST(SpeedEdits, ARolledCutTakesItsRampsAlong) {
    Project p = twoClips();
    for (Media& m : p.media) m.duration = 100;
    for (Clip& c : p.reel) c.length = 60, c.sourceIn = 40;
    const Ramp ramp{100, 800, 12};
    p = withRampsAtCut(p, 0, &ramp, &ramp);
    const Project rolled = withCutRolled(p, 0, 5);
    EXPECT_EQ(rolled.reel[0].length, 65);
    EXPECT_EQ(rampOf(rolled.reel[0], Side::Outgoing), ramp) << "on the cut's own frames";
    EXPECT_EQ(rampOf(rolled.reel[1], Side::Incoming), ramp);
    const ClipTime before(p, p.reel[1]), after(rolled, rolled.reel[1]);
    for (int n = 12; n < 55; ++n)
        EXPECT_NEAR(after.secondsAt(n), before.secondsAt(n + 5), 1e-6) << "behind its ramp all stays";
    const ClipTime out(p, p.reel[0]), outAfter(rolled, rolled.reel[0]);
    for (int n = 0; n < 48; ++n) EXPECT_NEAR(outAfter.secondsAt(n), out.secondsAt(n), 1e-9) << "and before it";
}

TEST(SpeedEdits, ARampInLeavesWhatFollowsWhereItWas) {
    Project p = twoClips();
    p.media[1].duration = 100;
    p.reel[1].sourceIn = 40, p.reel[1].length = 50;
    const ClipTime before(p, p.reel[1]);
    const Ramp ramp{100, 800, 12};
    const Project next = withRampsAtCut(p, 0, nullptr, &ramp);
    EXPECT_EQ(next.reel[1].length, 50) << "the reel and its beats stay";
    for (int n = 12; n < 50; ++n) EXPECT_NEAR(ClipTime(next, next.reel[1]).secondsAt(n), before.secondsAt(n), 1e-6);
    EXPECT_EQ(next.reel[0], p.reel[0]);
}

TEST(SpeedEdits, TheSourceIsKeptByLength) {
    Project p = twoClips();
    p.media[0].duration = 100;
    p.reel[0].sourceIn = 10, p.reel[0].length = 100;
    const Clip ramped = withRamp(p.reel[0], Side::Outgoing, {100, 800, 12});
    const Clip kept = withSourceKept(p, p.reel[0], ramped);
    EXPECT_LT(kept.length, 80) << "faster, so shorter";
    EXPECT_NEAR(ClipTime(p, kept).secondsAt(double(kept.length)), 14, 0.5 * 8 / 25);
    EXPECT_EQ(rampOf(kept, Side::Outgoing), (Ramp{100, 800, 12}));
}

TEST(SpeedEdits, AHeldFrameStandsStillAndTheRestFollows) {
    Project p = twoClips();
    Clip clip = p.reel[0];
    clip.sourceIn = 1, clip.length = 50;
    p.media[0].duration = 10;
    for (const bool ramped : {false, true}) {
        if (ramped) clip = withRamp(clip, Side::Outgoing, {100, 400, 10});
        for (int n = 0; n < 50; ++n) EXPECT_EQ(withFrameHeld(p, clip, n, 3).length, 53) << n;
        const Clip held = withFrameHeld(p, clip, 20, 8);
        EXPECT_EQ(held.length, 58);
        const ClipTime before(p, clip), after(p, held);
        for (int n = 0; n <= 20; ++n) EXPECT_EQ(after.at(n), before.at(n)) << n;
        for (int n = 20; n < 28; ++n) EXPECT_EQ(after.at(n), before.at(20)) << n;
        for (int n = 28; n < 58; ++n) EXPECT_EQ(after.at(n), before.at(n - 8)) << n;
    }
}

TEST(SpeedEdits, BackwardsShowsTheSamePicturesInReverse) {
    Project p = twoClips();
    p.media[0].duration = 100;
    Clip clip = p.reel[0];
    clip.sourceIn = 30, clip.length = 50;
    std::mt19937 draw(2);
    for (int i = 0; i < 60; ++i) {
        clip.speed = i == 0 ? Rational(1) : i == 1 ? Rational(3, 7) : Rational(1);
        if (i > 1) clip.speedCurve.incoming = randomCurve(draw, 10);
        // A held stretch jumps at a key, which then lies on the other side of its frame.
        for (Key& k : clip.speedCurve.incoming.keys)
            if (k.next == Interpolation::Hold) k.next = Interpolation::Linear;
        const Clip back = runBackwards(p, clip);
        for (int n = 0; n < 50; ++n)
            ASSERT_NEAR(ClipTime(p, back).secondsAt(n), ClipTime(p, clip).secondsAt(49 - n), 1e-6) << i;
        const Clip again = runBackwards(p, back);
        for (int n = 0; n < 50; ++n)
            ASSERT_NEAR(ClipTime(p, again).secondsAt(n), ClipTime(p, clip).secondsAt(n), 1e-6) << i;
    }
}

TEST(SpeedEdits, AMomentLandsOnItsFrame) {
    Project p = twoClips();
    p.media[0].duration = 100;
    Clip clip = p.reel[0];
    clip.sourceIn = 30, clip.length = 60;
    for (const bool ramped : {false, true}) {
        if (ramped) clip = withRamp(clip, Side::Outgoing, {100, 600, 12});
        const ClipTime before(p, clip);
        for (const std::int64_t to : {18, 30, 37}) {
            const auto landed = withMomentLanded(p, clip, 25, to, 0, 60);
            ASSERT_TRUE(landed) << describe(landed.error());
            const ClipTime after(p, *landed);
            EXPECT_NEAR(after.secondsAt(double(to)), before.secondsAt(25), 1e-9);
            EXPECT_NEAR(after.secondsAt(0), before.secondsAt(0), 1e-9);
            EXPECT_NEAR(after.secondsAt(60), before.secondsAt(60), 1e-9) << "what stays stays";
        }
    }
    EXPECT_FALSE(withMomentLanded(p, clip, 50, 1, 0, 60)) << "beyond ten times as fast";
    EXPECT_FALSE(withMomentLanded(p, clip, 10, 60, 0, 60));
}

TEST(SpeedEdits, PinnedMomentsStayWhileOthersLand) {
    Project p = twoClips();
    p.media[0].duration = 100;
    Clip clip = p.reel[0];
    clip.sourceIn = 30, clip.length = 80;
    const ClipTime before(p, clip);
    const double first = before.secondsAt(20), second = before.secondsAt(50);
    auto landed = withMomentPinned(p, clip, 20, 25);
    ASSERT_TRUE(landed);
    // What was seen at 50 before is seen where the other landing put it.
    const auto now = ClipTime(p, *landed).frameAt(second);
    ASSERT_TRUE(now);
    const auto shown = std::int64_t(std::llround(*now));
    const double moment = ClipTime(p, *landed).secondsAt(double(shown));
    landed = withMomentPinned(p, *landed, shown, 60);
    ASSERT_TRUE(landed) << describe(landed.error());
    ASSERT_EQ(heldPins(p, *landed).size(), 2u);
    EXPECT_NEAR(ClipTime(p, *landed).secondsAt(25), first, 1e-6) << "the first stays pinned";
    EXPECT_NEAR(ClipTime(p, *landed).secondsAt(60), moment, 1e-6);
    EXPECT_FALSE(withMomentPinned(p, *landed, 40, 70)) << "beyond a pin";
    // They go with their frames; what no longer holds is none.
    const Clip cut = withHeadCut(p, *landed, 10);
    EXPECT_EQ(heldPins(p, cut).size(), 2u);
    EXPECT_EQ(heldPins(p, cut).front().frame, 15);
    EXPECT_EQ(heldPins(p, runBackwards(p, *landed)).size(), 2u);
    Clip slipped = *landed;
    slipped.sourceIn = 33;
    EXPECT_TRUE(heldPins(p, slipped).empty());
    EXPECT_TRUE(atConstantSpeed(p, *landed, 1).pins.empty());
}

TEST(SpeedEdits, AConstantSpeedShowsTheSamePartAndTakesKeysAway) {
    Project p = twoClips();
    p.media[0].duration = 100;
    Clip clip = p.reel[0];
    clip.sourceIn = 10, clip.length = 50;
    const Clip half = atConstantSpeed(p, clip, Rational(1, 2));
    EXPECT_EQ(half.length, 100);
    EXPECT_EQ(half.sourceIn, Rational(10));
    const Clip back = atConstantSpeed(p, half, Rational(-1));
    EXPECT_EQ(back.length, 50);
    EXPECT_LT(ClipTime(p, back).at(49), ClipTime(p, back).at(0));
    const Clip ramped = withRamp(clip, Side::Outgoing, {100, 800, 12});
    const Clip plain = atConstantSpeed(p, ramped, 1);
    EXPECT_FALSE(hasSpeedKeys(plain));
    EXPECT_NEAR(double(plain.length), (ClipTime(p, ramped).used().to - Rational(10)).toDouble() * 25, 1);
    EXPECT_EQ(atConstantSpeed(p, clip, 0).length, 50) << "standing still has no length of its own";
}

TEST(RampPresets, KeepToCommonPractice) {
    for (const RampPreset& preset : rampPresets())
        for (const Ramp& r : {preset.out, preset.in}) {
            EXPECT_GE(std::max(r.from, r.to), 600);
            EXPECT_LE(std::max(r.from, r.to), 1000);
            EXPECT_GE(r.frames, 8);
            EXPECT_LE(r.frames, 20);
        }
}

} // namespace
} // namespace virga::clip_time_test
