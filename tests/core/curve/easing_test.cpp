// Easings of several segments: the families, vibrations, and laying them on curves.
#include "core/curve/easing_library.h"

#include <array>
#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <set>

#include "core/curve/curve_edit.h"
#include "core/curve/easing_families.h"

namespace virga::easing_test {
namespace {

const NamedEasing& easingNamed(std::string_view name) {
    const auto& all = allEasings();
    return *std::find_if(all.begin(), all.end(), [&](const NamedEasing& e) { return e.name == name; });
}

TEST(Easing, AllStartAtNothingAndEndWithEverything) {
    std::set<std::string_view> names;
    for (const NamedEasing& named : allEasings()) {
        const auto& keys = named.easing.unit.keys;
        EXPECT_TRUE(names.insert(named.name).second) << named.name << " is there once";
        EXPECT_EQ(&easingNamed(named.name), &named) << "names differ";
        ASSERT_GE(keys.size(), 2u) << named.name;
        EXPECT_EQ(keys.front().time, 0) << named.name;
        EXPECT_EQ(keys.front().value, 0) << named.name;
        EXPECT_EQ(keys.back().time, 1) << named.name;
        EXPECT_EQ(keys.back().value, 1) << named.name;
        for (std::size_t i = 0; i + 1 < keys.size(); ++i) EXPECT_LT(keys[i].time, keys[i + 1].time) << named.name;
    }
    EXPECT_GE(names.size(), 55u);
}

// R. Penner, Programming Macromedia Flash MX (2002), chapter 7: the equations themselves, elastic with amplitude 1 and
// period 0.3, back with 1.70158.
TEST(Easing, PennersEquations) {
    const auto ease = [](PennerFamily f, double t) { return wayAt(pennerEasing(f, EasingWay::Out), t); };
    for (double t = 0.01; t < 1; t += 0.01) {
        const double r = 1 - t;
        EXPECT_NEAR(ease(PennerFamily::Quad, t), 1 - r * r, 1e-9);
        EXPECT_NEAR(ease(PennerFamily::Quint, t), 1 - std::pow(r, 5), 2e-3);
        EXPECT_NEAR(ease(PennerFamily::Expo, t), 1 - std::exp2(-10 * t), 1.5e-3);
        EXPECT_NEAR(ease(PennerFamily::Circ, t), std::sqrt(1 - r * r), 5e-4);
        EXPECT_NEAR(ease(PennerFamily::Back, t), 1 - r * r * (2.70158 * r - 1.70158), 1e-9);
        EXPECT_NEAR(ease(PennerFamily::Elastic, t),
                    1 + std::exp2(-10 * t) * std::sin((t - 0.3 / 4) * 2 * std::numbers::pi / 0.3), 4e-3);
    }
    // Where the ball touches the ground.
    for (const double touch : {1.0, 2.0, 2.5}) EXPECT_NEAR(ease(PennerFamily::Bounce, touch / 2.75), 1, 1e-9);
    EXPECT_NEAR(ease(PennerFamily::Bounce, 1.5 / 2.75), 0.75, 1e-9);
}

// K. Ogata, Modern Control Engineering, section 5-3: an underdamped second-order system overshoots a step by
// exp(-pi zeta / sqrt(1 - zeta^2)), at multiples of pi / omega_d.
TEST(Easing, SettlingIsAStepResponse) {
    for (const double ratio : {0.12, 0.25, 0.4}) {
        const double part = -std::log(ratio) / std::numbers::pi; // zeta / sqrt(1 - zeta^2)
        const int swings = 5;
        const Easing easing = settling(ratio, swings);
        for (double t = 0; t < 1 - 1.0 / swings; t += 0.005) {
            const double a = std::numbers::pi * swings * t;
            EXPECT_NEAR(wayAt(easing, t), 1 - std::exp(-part * a) * (std::cos(a) + part * std::sin(a)), 7e-3)
                << ratio << ' ' << t;
        }
        EXPECT_NEAR(wayAt(easing, 1.0 / swings), 1 + ratio, 1e-12) << "the overshoot";
        EXPECT_EQ(speedAfter(easing.unit, 0), 0) << "from rest";
    }
    EXPECT_GT(speedAfter(arrivingSettling(0.25, 4).unit, 0), 4) << "at full speed";
    EXPECT_NEAR(speedBefore(arrivingSettling(0.25, 4).unit, 1), 0, 1e-9);
}

TEST(Easing, LaidOnASegmentAndReadBack) {
    for (const Space space : {Space::Linear, Space::Log2})
        for (const NamedEasing& named : allEasings()) {
            Curve curve = twoKeys(space, -30, 1, 70, 2.5, {});
            curve = withKeyAdded(withKeyAdded(curve, -60, 1), 90, 1);
            const Curve laid = withEasing(curve, 1, 2, named.easing);
            const int last = int(named.easing.unit.keys.size());
            EXPECT_EQ(laid.keys.size(), curve.keys.size() + std::size_t(last) - 2) << named.name;
            EXPECT_EQ(laid.keys.front(), curve.keys.front());
            EXPECT_EQ(laid.keys.back().time, 90);
            const auto back = easingOf(laid, 1, last);
            ASSERT_TRUE(back) << named.name;
            EXPECT_TRUE(isLike(*back, named.easing, 1e-9)) << named.name;
            if (last > 2) {
                for (int key = 1; key < last; ++key)
                    EXPECT_EQ(runAround(laid, key), (KeyRun{1, last})) << named.name << ' ' << key;
            }
            EXPECT_EQ(runAround(laid, 0), (KeyRun{0, 1}));
        }
}

// Changed in one place a curve is no longer what it was laid as, and an easing is like no other.
TEST(Easing, WhateverIsChangedItIsNoLongerThatEasing) {
    const auto changes = std::array<void (*)(Key&), 7>{
        [](Key& k) { k.time += 0.004; },
        [](Key& k) { k.value += 0.003; },
        [](Key& k) { k.leave.reach += 0.02; },
        [](Key& k) { k.leave.rise += 0.02; },
        [](Key& k) { k.arrive.reach -= 0.02; },
        [](Key& k) { k.arrive.rise -= 0.02; },
        [](Key& k) { k.next = k.next == Interpolation::Linear ? Interpolation::Hold : Interpolation::Linear; },
    };
    for (const NamedEasing& named : allEasings()) {
        const auto& unit = named.easing.unit.keys;
        const int count = int(unit.size());
        for (const double tall : {0.8, -1.7}) {
            const Curve laid = withEasing(twoKeys(Space::Linear, 10, 0.3, 12, 0.3 + tall, {}), 0, 1, named.easing);
            if (int(laid.keys.size()) != count) continue; // two frames have no room for all of it
            ASSERT_TRUE(easingLike(laid, 0, count - 1)) << named.name;
            for (int key = 0; key < count; ++key)
                for (std::size_t what = 0; what < changes.size(); ++what) {
                    const bool first = key == 0, last = key == count - 1;
                    if (what < 2 && (first || last)) continue; // it would only be longer or taller
                    const Interpolation before = first ? Interpolation::Hold : unit[std::size_t(key) - 1].next,
                                        behind = last ? Interpolation::Hold : unit[std::size_t(key)].next;
                    if ((what == 2 || what == 3) && behind != Interpolation::Eased) continue;
                    if ((what == 4 || what == 5) && before != Interpolation::Eased) continue;
                    if (what == 6 && last) continue;
                    Curve other = laid;
                    changes[what](other.keys[std::size_t(key)]);
                    const NamedEasing* now = easingLike(other, 0, count - 1);
                    EXPECT_TRUE(!now || now->name != named.name) << named.name << ' ' << key << ' ' << what;
                    Easing changed = named.easing;
                    changes[what](changed.unit.keys[std::size_t(key)]);
                    EXPECT_FALSE(isLike(changed, named.easing, 1e-3)) << named.name << ' ' << key << ' ' << what;
                    EXPECT_TRUE(isLike(changed, changed, 0));
                }
            EXPECT_EQ(easingLike(laid, -1, count - 1), nullptr);
            EXPECT_EQ(easingLike(laid, 0, count), nullptr);
            EXPECT_EQ(easingLike(laid, 0, 0), nullptr);
        }
        if (count < 3) continue;
        // Beside others of its kind, and where the curve ends with it.
        Curve curve = twoKeys(Space::Log2, 0, 1, 60, 2.5, {});
        curve = withKeyAdded(withKeyAdded(curve, 120, 1), 180, 1);
        curve.keys[2].value = 0.5;
        curve = withEasing(curve, 2, 3, named.easing);
        curve = withEasing(curve, 1, 2, named.easing);
        curve = withEasing(curve, 0, 1, named.easing);
        ASSERT_EQ(int(curve.keys.size()), 3 * (count - 1) + 1) << named.name;
        for (int key = 0; key + 1 < int(curve.keys.size()); ++key) {
            const int first = key / (count - 1) * (count - 1);
            EXPECT_EQ(runAround(curve, key), (KeyRun{first, first + count - 1})) << named.name << ' ' << key;
            EXPECT_EQ(easingLike(curve, first, first + count - 1)->family, named.family) << named.name;
        }
    }
    Curve flat = withEasing(twoKeys(Space::Linear, 0, 0, 40, 1, {}), 0, 1, easingNamed("bounce-out").easing);
    for (Key& k : flat.keys) k.value = 0.2, k.leave.rise = k.arrive.rise = 0;
    EXPECT_EQ(easingLike(flat, 0, 4), nullptr) << "it goes nowhere";
    EXPECT_EQ(runAround(flat, 1), (KeyRun{1, 2}));
}

TEST(Easing, ANewOneTakesThePlaceOfTheOldOnesKeys) {
    const Curve plain = twoKeys(Space::Log2, 0, 1, 50, 2, arrivingShape());
    const Curve bounced = withEasing(plain, 0, 1, easingNamed("bounce-out").easing);
    ASSERT_EQ(bounced.keys.size(), 5u);
    const KeyRun run = runAround(bounced, 2);
    const Curve again = withEasing(bounced, run.first, run.last, easingOf(arrivingShape()));
    EXPECT_EQ(again, plain);
    EXPECT_EQ(easingLike(bounced, 0, 4)->name, "bounce-out");
    EXPECT_EQ(easingLike(plain, 0, 1)->name, "arrive");
    EXPECT_EQ(easingLike(twoKeys(Space::Linear, 0, 0, 1, 1, {Interpolation::Eased, 0.31, 0.2, 0.4, 0.9}), 0, 1),
              nullptr);
}

TEST(Easing, LaidNowhereItLeavesTheCurve) {
    const Curve plain = twoKeys(Space::Log2, 0, 1, 50, 2, arrivingShape());
    const Easing bounce = easingNamed("bounce-out").easing;
    for (const auto& [first, last] :
         {std::pair{0, 0}, std::pair{1, 1}, std::pair{1, 0}, std::pair{-1, 1}, std::pair{0, 2}, std::pair{2, 3}})
        EXPECT_EQ(withEasing(plain, first, last, bounce), plain) << first << ' ' << last;
    EXPECT_EQ(withEasing(plain, 0, 1, {}), plain);
    EXPECT_EQ(withEasing({}, 0, 1, bounce), Curve());
}

TEST(Easing, KeysThatHaveNoRoomAreLeftOut) {
    const Curve tight = withEasing(twoKeys(Space::Linear, 0, 0, 0.03, 1, {}), 0, 1, easingNamed("elastic-out").easing);
    EXPECT_LE(tight.keys.size(), 4u);
    for (std::size_t i = 0; i + 1 < tight.keys.size(); ++i)
        EXPECT_GE(tight.keys[i + 1].time - tight.keys[i].time, smallestKeyGap - 1e-12);
    EXPECT_EQ(tight.keys.back().value, 1);
}

TEST(Easing, TurnedTwiceIsTheSame) {
    for (const NamedEasing& named : allEasings()) {
        if (named.name == "hold") continue; // a hold turned round jumps at its start, which no segment does
        EXPECT_TRUE(isLike(turned(turned(named.easing)), named.easing, 1e-9)) << named.name;
        for (double t = 0.1; t < 1; t += 0.2)
            EXPECT_NEAR(wayAt(turned(named.easing), t), 1 - wayAt(named.easing, 1 - t), 1e-9) << named.name;
    }
}

} // namespace
} // namespace virga::easing_test
