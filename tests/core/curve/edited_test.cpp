// What every edit of a curve makes of a few curves, beside what a piece of an earlier version must go on to show: read
// once, compared since (edited.txt). What is right about them is tested in the other files of this folder.
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/curve/backwards.h"
#include "core/curve/css_easing.h"
#include "core/curve/curve_edit.h"
#include "core/curve/easing_families.h"
#include "core/curve/easing_library.h"
#include "core/curve/integral.h"
#include "core/curve/key_group.h"
#include "core/curve/matching.h"
#include "core/curve/speed_pull.h"
#include "tests/support/told.h"

namespace virga::edited_test {
namespace {

using test::number;

using test::textOf;
std::string textOf(const Expected<Curve>& curve) {
    return curve ? textOf(*curve) : curve.error().message;
}

struct Named {
    const char* name;
    Curve curve;
};

std::vector<Named> someCurves() {
    std::vector<Named> all;
    all.push_back({"nothing", {}});
    all.push_back({"one key", {Space::Linear, {{2, 0.4}}}});
    all.push_back({"departs", twoKeys(Space::Log2, -8, 1, 0, 2.5, departingShape())});
    all.push_back({"arrives", twoKeys(Space::Log2, 0, 0.62, 12, 1, arrivingShape())});
    all.push_back({"straight", twoKeys(Space::Linear, 0, -90, 9, 0, {Interpolation::Linear})});
    Curve three = twoKeys(Space::Linear, 0, -1, 20, 0.5, arrivingShape());
    three = withKeyAdded(three, 6, 0);
    three = withLeaveHandle(three, 1, {0.25, 0.3});
    all.push_back({"three keys", three});
    Curve held = three;
    held.keys[1].next = Interpolation::Hold;
    all.push_back({"held in the middle", held});
    Curve four = withKeyAdded(three, 11, 0);
    four = withKeyMoved(four, 2, 11, -0.2);
    four = withArriveHandle(four, 2, {0.5, 0.1});
    four.keys[1].next = Interpolation::Linear;
    all.push_back({"four keys", four});
    all.push_back({"past the cut", twoKeys(Space::Depth, -6, 0, 1.5, 0.6, departingShape())});
    all.push_back({"departs from the side", twoKeys(Space::Linear, -8, -0.4, 0, 0.6, departingShape())});
    return all;
}

TEST(CurveEdits, AreAsTheyWereRead) {
    std::string text;
    for (const auto& [name, c] : someCurves()) {
        text += fmt::format("== {}\n{}\n", name, textOf(c));
        const auto line = [&](std::string what, const std::string& made) { text += what + ": " + made + "\n"; };
        std::string values, exposed, changes, speeds, sums;
        const CurveIntegral integral(c, 0.5);
        for (const double t : {-9.0, -4.25, -1.0, -0.5, 0.0, 0.4, 3.0, 6.0, 7.5, 12.0, 25.0}) {
            values += number(evaluate(c, t, 0.5)) + " ";
            exposed += number(evaluateExposed(c, t, t + 0.4, Ends::RunOn, 0.5)) + " " +
                       number(evaluateExposed(c, t, t - 0.4, Ends::Hold, 0.5)) + " ";
            changes += number(changeOver(c, t)) + " " + number(changeOver(c, t, Ends::Hold)) + " ";
            speeds += number(speedBefore(c, t)) + " " + number(speedAfter(c, t)) + " ";
            sums += number(integral.upTo(t)) + " " + number(integral.between(-2, t)) + " ";
        }
        line("values", values), line("exposed", exposed), line("changes", changes), line("speeds", speeds);
        line("integral", sums);
        line("flipped", textOf(flipped(c, c.space == Space::Linear ? 0 : 1)));
        line("in doublings", textOf(inSpace(c, Space::Log2)));
        line("backwards about 3", textOf(backwards(c, 3)));
        line("stretched", textOf(stretched(c, 1.5))), line("shifted", textOf(shifted(c, 0.2)));
        line("past the cut", textOf(endingPastCut(c))), line("about the cut", textOf(mirroredAboutCut(c)));
        if (c.keys.empty()) continue;
        const int last = int(c.keys.size()) - 1;
        line("scaled", textOf(scaledAbout(c, last, 0.5)) + " | " + textOf(scaledAbout(c, 0, 0.5)));
        for (const double t : {-20.0, -3.0, 0.005, 2.0, 30.0}) {
            int added = -2;
            const Curve with = withKeyAdded(c, t, 0.5, &added);
            line(fmt::format("key added at {}", t), fmt::format("{} ({})", textOf(with), added));
            line(fmt::format("first key to {}", t), textOf(withKeyMoved(c, 0, t, 0.7)));
            line(fmt::format("last key to {}", t), textOf(withKeyMoved(c, last, t, 0.7)));
            if (c.keys.size() < 2) continue;
            for (const Kept kept : {Kept::First, Kept::Last})
                line(fmt::format("pulled at {}, keeps the {}", t, kept == Kept::First ? "first" : "last"),
                     textOf(withSpeedPulled(c, t, 0.2, kept)) + " | " + textOf(withSpeedPulled(c, t, -0.05, kept)));
        }
        line("first key removed", textOf(withKeyRemoved(c, 0)));
        const KeyGroup all = allKeys(c), end{last};
        line("moved", textOf(withGroupMoved(c, all, 2, 0.1)) + " | " + textOf(withGroupMoved(c, end, -3, 0.1)));
        line("reversed", textOf(reversed(c, all))), line("flipped group", textOf(flippedGroup(c, end, 0)));
        line("not stretched", textOf(stretched(c, all, 2, 0)) + " | " + textOf(stretched(c, all, 2, -1)));
        line("stretched about 2", textOf(stretched(c, all, 2, 0.5))), line("spread", textOf(spread(c, all, -1, 9)));
        line("evened out", textOf(evenedOut(c, all))), line("smoothed", textOf(smoothed(c, all)));
        if (c.keys.size() >= 4) {
            const KeyGroup inner{1, 2};
            line("inner ones moved",
                 textOf(withGroupMoved(c, inner, -2, 0.1)) + " | " + textOf(withGroupMoved(c, inner, 50, 0)));
            line("inner ones reversed", textOf(reversed(c, inner)));
            line("inner ones flipped", textOf(flippedGroup(c, inner, 0)));
            line("inner ones stretched", textOf(stretched(c, inner, 8, 1.4)));
            line("inner ones spread", textOf(spread(c, inner, 2, 18)));
            line("inner ones smoothed", textOf(smoothed(c, inner)));
            line("first ones evened out", textOf(evenedOut(c, {0, 1, 2})));
        }
        if (c.keys.size() < 2) continue;
        for (const char* shape : {"ease-in-out", "rush", "overshoot-in"})
            if (const auto named = shapeNamed(shape)) line(shape, textOf(withShape(c, 0, *named)));
        line("leaves", textOf(withLeaveHandle(c, 0, {0.9, 2}))),
            line("arrives", textOf(withArriveHandle(c, 1, {0, 1})));
        for (const double rate : {0.25, 0.02, -0.1, 0.0}) {
            line(fmt::format("matched to {} by value", rate), textOf(matchedByFirstValue(c, rate, -40, 100)));
            line(fmt::format("matched to {} by handle", rate), textOf(matchedByFirstHandle(c, rate)));
            line(fmt::format("matched to {}, holding", rate), textOf(matchedByFirstHandle(c, rate, Ends::Hold)));
            line(fmt::format("departs at {}", rate), textOf(matchedByLastHandle(c, rate)));
        }
        line("unevenness", number(unevenness(c)) + " " + number(unevenness(c, Ends::Hold)));
        for (const double length : {4.0, 12.0})
            line(fmt::format("mirrored over {}", length),
                 textOf(mirroredProfile(c, length, c.space == Space::Log2 ? 1.25 : 0.3)));
        if (const auto easing = easingOf(c, 0, last)) {
            line("its easing in CSS", cssOf(*easing));
            line("its way", number(wayAt(*easing, 0.3)) + " " + number(wayAt(*easing, 0.8)));
            line("turned", textOf(turned(*easing).unit)), line("halves", textOf(halves(*easing, turned(*easing)).unit));
            line("bounces", textOf(withEasing(c, 0, last, pennerEasing(PennerFamily::Bounce, EasingWay::Out))));
        }
    }
    test::expectAsRead("core/curve/edited.txt", text);
}

TEST(Easings, OfTheLibraryAreAsTheyWereRead) {
    std::string text;
    for (const NamedEasing& named : allEasings()) {
        text += fmt::format("== {} ({}, {})\n", named.label, named.name, named.family);
        for (const double t : {0.0, 0.1, 0.25, 0.4, 0.5, 0.65, 0.8, 0.95, 1.0})
            text += number(wayAt(named.easing, t)) + " ";
        text += "\n" + cssOf(named.easing) + "\n";
    }
    test::expectAsRead("core/curve/easings.txt", text);
}

} // namespace
} // namespace virga::edited_test
