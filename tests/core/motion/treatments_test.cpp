// What each finishing move asks of its filter, from its channels and parameters: the units that the window shows (per
// cent of the frame's height or width, degrees, factors, stops) against the fractions that the filters take; and how
// numbers may be typed.
#include <cmath>
#include <gtest/gtest.h>

#include "core/motion/stack_map.h"

namespace virga::treatments_test {
namespace {

Move held(MoveKind kind, std::vector<double> values,
          const std::vector<std::pair<std::string_view, double>>& with = {}) {
    Move m = makeMove(kind, "m");
    m.anchor = {0.25, 0.75};
    for (std::size_t c = 0; c < values.size(); ++c) m.channels[c].incoming.keys = {Key{0, values[c]}};
    const auto& parameters = moveInfo(kind).parameters;
    for (const auto& [name, value] : with)
        for (std::size_t i = 0; i < parameters.size(); ++i)
            if (parameters[i].name == name) m.parameters[i] = value;
    return m;
}

std::vector<Treatment> of(const Move& move, const OwnMovement& own = {}) {
    return treatmentsOf({move}, Side::Incoming, 3, own);
}

// The only one.
template <typename T> T the(const Move& move, const OwnMovement& own = {}) {
    const auto all = of(move, own);
    EXPECT_EQ(all.size(), 1u);
    const T* found = all.size() == 1 ? std::get_if<T>(&all.front()) : nullptr;
    EXPECT_TRUE(found);
    return found ? *found : T();
}

TEST(Treatments, ABlurIsInPerCentOfTheHeight) {
    EXPECT_EQ(the<GaussianBlur>(held(MoveKind::Blur, {2})), (GaussianBlur{0.02, 0.02})) << "both axes alike at first";
    EXPECT_EQ(the<GaussianBlur>(held(MoveKind::Blur, {2, 3}, {{"linked", 0}})), (GaussianBlur{0.02, 0.03}));
    EXPECT_EQ(the<GaussianBlur>(held(MoveKind::Blur, {2, -3}, {{"linked", 0}})), (GaussianBlur{0.02, 0}));
    EXPECT_EQ(the<GaussianBlur>(held(MoveKind::Blur, {-2, 3}, {{"linked", 0}})), (GaussianBlur{0, 0.03}));
    EXPECT_EQ(the<GaussianBlur>(held(MoveKind::Blur, {0, 3}, {{"linked", 0}})), (GaussianBlur{0, 0.03}));
    EXPECT_TRUE(of(held(MoveKind::Blur, {0, 3})).empty()) << "linked, the second lane does not count";
    EXPECT_TRUE(of(held(MoveKind::Blur, {0, 0}, {{"linked", 0}})).empty());
    EXPECT_TRUE(of(held(MoveKind::Blur, {-1, -1}, {{"linked", 0}})).empty());
}

TEST(Treatments, ABlurAlongGoesByItsAngleOrWithTheMovement) {
    EXPECT_EQ(the<LineBlur>(held(MoveKind::LineBlur, {12}, {{"angle", 30}})), (LineBlur{0.12, 30}));
    EXPECT_TRUE(of(held(MoveKind::LineBlur, {0})).empty());
    EXPECT_TRUE(of(held(MoveKind::LineBlur, {-5})).empty());
    const auto with = [](double most, double factor) {
        return held(MoveKind::LineBlur, {most}, {{"direction", 1}, {"factor", factor}});
    };
    // 3 % of the width across and 4 % of it down (as a share of the height on a 2 : 1 frame): 5 % of the width.
    const OwnMovement own{{0.03, 0.08}, 2};
    const LineBlur along = the<LineBlur>(with(50, 1), own);
    EXPECT_NEAR(along.length, 0.05, 1e-12);
    EXPECT_NEAR(along.angle, std::atan2(4, 3) * 180 / M_PI, 1e-9);
    EXPECT_NEAR(the<LineBlur>(with(50, 2), own).length, 0.10, 1e-12);
    EXPECT_NEAR(the<LineBlur>(with(2, 1), own).length, 0.02, 1e-12) << "at most the lane's value";
    EXPECT_TRUE(of(with(50, 1), OwnMovement{{0, 0}, 2}).empty()) << "none at rest";
}

TEST(Treatments, BlursAboutAPointTakeItAlong) {
    EXPECT_EQ(the<ZoomBlur>(held(MoveKind::ZoomBlur, {1.3})), (ZoomBlur{1.3, {0.25, 0.75}}));
    EXPECT_EQ(the<ZoomBlur>(held(MoveKind::ZoomBlur, {0.8})), (ZoomBlur{0.8, {0.25, 0.75}}));
    EXPECT_TRUE(of(held(MoveKind::ZoomBlur, {1})).empty());
    EXPECT_EQ(the<SpinBlur>(held(MoveKind::SpinBlur, {-15})), (SpinBlur{-15, {0.25, 0.75}}));
    EXPECT_TRUE(of(held(MoveKind::SpinBlur, {0})).empty());
}

TEST(Treatments, AnApertureIsRoundOrHasFiveToNineBlades) {
    EXPECT_EQ(the<Defocus>(held(MoveKind::Defocus, {3}, {{"highlights", 0.5}})), (Defocus{0.03, 0, 0.5}));
    for (int choice = 1; choice <= 5; ++choice)
        EXPECT_EQ(the<Defocus>(held(MoveKind::Defocus, {3}, {{"blades", choice}})).blades, 4 + choice);
    EXPECT_TRUE(of(held(MoveKind::Defocus, {0})).empty());
}

TEST(Treatments, AColourSplitIsFromACentreOrAlongAnAngle) {
    EXPECT_EQ(the<ColourSplit>(held(MoveKind::Split, {1.2}, {{"samples", 7}})),
              (ColourSplit{0.012, true, 0, {0.25, 0.75}, 7}));
    EXPECT_EQ(the<ColourSplit>(held(MoveKind::Split, {-1}, {{"direction", 1}, {"angle", 40}})),
              (ColourSplit{-0.01, false, 40, {0.25, 0.75}, 3}));
    EXPECT_TRUE(of(held(MoveKind::Split, {0})).empty());
}

TEST(Treatments, LooksTakeTheirParameters) {
    EXPECT_EQ(the<Glow>(held(MoveKind::Glow, {2}, {{"threshold", 0.5}, {"knee", 0.3}, {"radius", 6}})),
              (Glow{2, 0.5, 0.3, 0.06}));
    EXPECT_TRUE(of(held(MoveKind::Glow, {0})).empty());
    EXPECT_EQ(the<Vignette>(held(MoveKind::Vignette, {-0.5},
                                 {{"size", 0.9}, {"roundness", 0.4}, {"feather", 0.3}, {"colour", 0xff8000}})),
              (Vignette{-0.5, 0.9, 0.4, 0.3, {0.25, 0.75}, {1, 128 / 255.0, 0}}));
    EXPECT_EQ(the<Vignette>(held(MoveKind::Vignette, {1}, {{"colour", 0x0000ff}})).colour,
              (std::array<double, 3>{0, 0, 1}));
    EXPECT_TRUE(of(held(MoveKind::Vignette, {0})).empty());
    EXPECT_EQ(the<Sharpen>(held(MoveKind::Sharpen, {1.5}, {{"radius", 0.2}, {"threshold", 4}})),
              (Sharpen{1.5, 0.002, 0.04}));
    EXPECT_TRUE(of(held(MoveKind::Sharpen, {0})).empty());
    EXPECT_EQ(the<Light>(held(MoveKind::Light, {-3})), Light{-3});
    EXPECT_TRUE(of(held(MoveKind::Light, {0})).empty());
    EXPECT_EQ(the<Bars>(held(MoveKind::Bars, {0.4}, {{"ratio", 1.85}})), (Bars{1.85, 0.4}));
    EXPECT_EQ(the<Bars>(held(MoveKind::Bars, {1.4})).amount, 1) << "no more than fully in";
    EXPECT_TRUE(of(held(MoveKind::Bars, {0})).empty());
}

// A number typed with a unit is the same length, whatever the unit: 36 pixels of a 1280 x 720 frame are 5 % of its
// height and 2.8125 % of its width.
TEST(TypedUnits, MeanTheSameLength) {
    const Size frame{1280, 720};
    const auto worth = [&](Quantity quantity, std::string_view unit) {
        for (const auto& [name, value] : typedUnits(quantity, frame))
            if (name == unit) return value;
        return std::nan("");
    };
    EXPECT_DOUBLE_EQ(250 * worth(Quantity::Factor, "%"), 2.5);
    EXPECT_DOUBLE_EQ(2.5 * worth(Quantity::Factor, "x"), 2.5);
    EXPECT_DOUBLE_EQ(2 * worth(Quantity::Angle, "turns"), 720);
    EXPECT_DOUBLE_EQ(1 * worth(Quantity::Angle, "turn"), 360);
    EXPECT_DOUBLE_EQ(45 * worth(Quantity::Angle, "deg"), 45);
    EXPECT_DOUBLE_EQ(640 * worth(Quantity::ShareOfWidth, "px"), 0.5);
    EXPECT_DOUBLE_EQ(50 * worth(Quantity::ShareOfWidth, "%"), 0.5);
    EXPECT_DOUBLE_EQ(180 * worth(Quantity::ShareOfHeight, "px"), 0.25);
    EXPECT_DOUBLE_EQ(25 * worth(Quantity::ShareOfHeight, "%"), 0.25);
    EXPECT_DOUBLE_EQ(36 * worth(Quantity::PercentOfWidth, "px"), 2.8125);
    EXPECT_DOUBLE_EQ(3 * worth(Quantity::PercentOfWidth, "%"), 3);
    EXPECT_DOUBLE_EQ(36 * worth(Quantity::PercentOfHeight, "px"), 5);
    EXPECT_DOUBLE_EQ(3 * worth(Quantity::PercentOfHeight, "%"), 3);
    EXPECT_DOUBLE_EQ(50 * worth(Quantity::Plain, "%"), 0.5);
}

// By which side of the frame a length goes is what its filter takes it for.
TEST(TypedUnits, GoByTheSideThatTheFilterGoesBy) {
    const auto channel = [](MoveKind kind, std::size_t c = 0) { return moveInfo(kind).channels[c].quantity; };
    const auto parameter = [](MoveKind kind, std::string_view name) {
        for (const ParameterInfo& p : moveInfo(kind).parameters)
            if (p.name == name) return p.quantity;
        return Quantity::Plain;
    };
    EXPECT_EQ(channel(MoveKind::Blur), Quantity::PercentOfHeight);
    EXPECT_EQ(channel(MoveKind::Blur, 1), Quantity::PercentOfHeight);
    EXPECT_EQ(channel(MoveKind::Defocus), Quantity::PercentOfHeight);
    EXPECT_EQ(channel(MoveKind::LineBlur), Quantity::PercentOfWidth);
    EXPECT_EQ(channel(MoveKind::Split), Quantity::PercentOfWidth);
    EXPECT_EQ(parameter(MoveKind::Glow, "radius"), Quantity::PercentOfHeight);
    EXPECT_EQ(parameter(MoveKind::Sharpen, "radius"), Quantity::PercentOfHeight);
}

} // namespace
} // namespace virga::treatments_test
