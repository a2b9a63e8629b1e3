// What composed reels show at their frames: where points of each shot go, at which moment of the file, with which
// shutter and edges. Read once, compared since (planned.txt): a piece of an earlier version shows what it showed.
#include <cmath>
#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/curve/curve_edit.h"
#include "core/edit/speed_edits.h"
#include "core/edit/steer.h"
#include "core/plan/plan.h"
#include "core/plan/seen_speed.h"
#include "core/project/project_json.h"
#include "tests/support/projects.h"
#include "tests/support/told.h"

namespace virga::planned_test {
namespace {

using namespace test;

constexpr Shape straight{Interpolation::Linear};

using test::number;
std::string textOf(Point p) {
    return number(p.x) + " " + number(p.y);
}

std::string textOf(const LayerPlan& layer, Size frame) {
    std::string text =
        fmt::format("  {} at {} s, {} s a frame, opacity {}, shutter {} to {} by {}, edges {}, {} x {}", layer.mediaId,
                    number(layer.sourceTime.toDouble()), number(layer.sourcePerFrame.toDouble()), number(layer.opacity),
                    number(layer.shutter.open), number(layer.shutter.close), layer.samples, nameOf(layer.edges.fill),
                    layer.source.width, layer.source.height);
    if (layer.shotBlur != 0) text += fmt::format(", blur of the shot {}", number(layer.shotBlur));
    if (!layer.treatments.empty()) text += fmt::format(", {} treatments", layer.treatments.size());
    const double at = double(layer.frame);
    text += "\n    points:";
    for (const double time : {at, at + 0.3}) {
        const ScreenMap map = mapAt(layer, time, at, frame);
        if (!map.isVisible()) {
            text += " not seen";
            continue;
        }
        for (const Point& p : {Point(100, 80), Point(900, 600)}) text += " (" + textOf(map.toScreen(p)) + ")";
    }
    text += "\n    speed: " + number(seenSpeed(layer, at, frame)) + ", moved: ";
    const ScreenMap own = movementAt(layer, at, frame);
    return text + (own.isVisible() ? textOf(own.toScreen({300, 200})) : "not seen") + "\n";
}

std::string textOf(const std::string& name, const Project& p, std::vector<std::int64_t> frames) {
    std::string text = "== " + name + "\n";
    for (const std::int64_t frame : frames) {
        const FramePlan plan = planFrame(p, frame);
        text += fmt::format("frame {}: {} treatments over all, steps", frame, plan.treats.size());
        for (const Step& step : plan.steps)
            text += fmt::format(" {}{}", step.kind == Step::Lay ? "lay" : "treat", step.index);
        text += "\n";
        for (const LayerPlan& layer : plan.layers) text += textOf(layer, p.settings.size);
        for (const TreatPlan& treat : plan.treats)
            text += fmt::format("  over all: {} treatments at {}\n", treat.treatments.size(), number(treat.opacity));
    }
    return text;
}

std::string textOf(const std::optional<SteerTarget>& target) {
    return target ? fmt::format("{}/{},{}", target->move, target->channels[0], target->channels[1]) : "none";
}

// What a drag leaves of the value that it changes, where it lies afterwards.
std::string after(const Steering& s, const Project& p, StackPlace place, std::int64_t frame, const SteerTarget& target,
                  std::array<double, 2> values, Point source) {
    const Project made = s.with(target, values);
    const Steering now(made, place, s.side(), frame);
    const auto is = now.valuesOf(target);
    return fmt::format(" -> {} {} at {}{}", number(is[0]), number(is[1]), textOf(now.screenAt(source)),
                       made == p ? " (as it was)" : "");
}

// What can be taken hold of at a frame, and what a drag makes of it.
std::string steered(const Project& p, StackPlace place, Side side, std::int64_t frame, int preferred = -1) {
    const Steering s(p, place, side, frame, preferred);
    std::string text = fmt::format("  steered at {} {} {}: ", int(place.kind), place.index, frame);
    if (!s.isThere()) return text + "nothing\n";
    const Point source = s.sourceAt({500, 300});
    text += fmt::format("source {}, slide {} zoom {} spin {} tilt {} anchored {}, side's time {}", textOf(source),
                        textOf(s.slide()), textOf(s.zoom()), textOf(s.spin()), textOf(s.tilt()), s.anchored(),
                        number(s.time()));
    if (const auto v = s.slideTo(source, {560, 330}))
        text += fmt::format("\n    slide {} {}", number((*v)[0]), number((*v)[1])) +
                after(s, p, place, frame, *s.slide(), *v, source);
    if (const auto v = s.zoomTo(source, {400, 250}))
        text += fmt::format("\n    zoom {}", number(*v)) + after(s, p, place, frame, *s.zoom(), {*v, 0}, source);
    if (const auto v = s.spinTo(source, {560, 200}))
        text += fmt::format("\n    spin {}", number(*v)) + after(s, p, place, frame, *s.spin(), {*v, 0}, source);
    for (const int axis : {0, 1})
        if (const auto v = s.tiltTo(axis, source, axis ? Point(470, 300) : Point(500, 330))) {
            auto both = s.valuesOf(*s.tilt());
            both[std::size_t(axis)] = *v;
            text +=
                fmt::format("\n    tilt {} {}", axis, number(*v)) + after(s, p, place, frame, *s.tilt(), both, source);
        }
    // What cannot be reached, and what lies too near for a direction.
    text += "\n    far:";
    for (const Point& to : {Point(1e5, -3e4), s.zoom() ? s.anchorOf(s.zoom()->move) : Point(0, 0)}) {
        const auto slid = s.slideTo(source, to);
        const auto zoomed = s.zoomTo(source, to), spun = s.spinTo(source, to), tilted = s.tiltTo(0, source, to);
        text += fmt::format(" {} {} {} {};", slid ? number((*slid)[0]) : "none", zoomed ? number(*zoomed) : "none",
                            spun ? number(*spun) : "none", tilted ? number(*tilted) : "none");
    }
    for (const auto& target : {s.slide(), s.zoom(), s.spin(), s.tilt()})
        if (target)
            text += fmt::format("\n    anchor of {}: {} here {}", target->move, textOf(s.anchorOf(target->move)),
                                textOf(s.anchorAt(target->move, {200, 100})));
    text += "\n    corners:";
    for (const Point& corner : s.corners()) text += " (" + textOf(corner) + ")";
    return text + "\n";
}

std::string pathOf(const Project& p, StackPlace place) {
    std::string text = fmt::format("  path of {} {}:", int(place.kind), place.index);
    for (const auto& at : Steering::pathOf(p, place))
        text += fmt::format(" {}{} {};", at.frame, at.side == Side::Outgoing ? "out" : "in", textOf(at.at));
    return text + "\n";
}

TEST(Plan, OfComposedReelsIsAsItWasRead) {
    Project stack = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.6, 10, 0.8, 1, 10);
    stack = withMove(stack, 0, MoveKind::Spin, 0, 0, 20, 10, -10, 0, 10, straight, straight);
    stack = withMove(stack, 0, MoveKind::Slide, 0, 0, 0.2, 10, -0.1, 0, 10);
    stack = withMove(stack, 0, MoveKind::Slide, 1, 0, -0.1, 6, 0.1, 0, 8);
    stack = withMove(stack, 0, MoveKind::Push, 0, 0, 0.4, 8, -0.2, 0, 8);
    stack = withMove(stack, 0, MoveKind::Tilt, 0, 0, 15, 10, -8, 0, 10);
    stack = withMove(stack, 0, MoveKind::Tilt, 1, 0, -12, 10, 6, 0, 10);
    stack = withMove(stack, 0, MoveKind::Shake, 0, 0, 1, 10, 1, 0, 10);
    for (Move& m : stack.reel[1].transition.moves) m.anchor = {0.4, 0.6};
    std::string text = textOf("a stack of movement", stack, {10, 20, 24, 25, 31, 49, 50});
    for (const int preferred : {-1, 0, 2, 3})
        text += steered(stack, StackPlace(0), Side::Outgoing, 20, preferred) +
                steered(stack, StackPlace(0), Side::Incoming, 28, preferred);
    text += pathOf(stack, StackPlace(0));
    stack.reel[1].transition.moves[2].enabled = false;
    text += steered(stack, StackPlace(0), Side::Outgoing, 24) + steered(stack, StackPlace(7), Side::Outgoing, 24);

    Project pushed = withMove(twoClips(), 0, MoveKind::Push, 0, 0, 0.4, 8, -0.2, 0, 8);
    text += textOf("a push alone", pushed, {20, 24, 25, 29});
    text += steered(pushed, StackPlace(0), Side::Outgoing, 22) + steered(pushed, StackPlace(0), Side::Incoming, 27);
    text += steered(pushed, StackPlace(0), Side::Incoming, 40) + pathOf(pushed, StackPlace(0));

    Project warped = withMove(plungeProject(), 0, MoveKind::Warp, 0, 0, 0.6, 5, -0.4, 0, 8);
    text += textOf("a plunge through a lens", warped, {21, 24, 25, 27});
    text += steered(warped, StackPlace(0), Side::Outgoing, 23) + steered(warped, StackPlace(0), Side::Incoming, 26);

    Project finished = plungeProject();
    for (const MoveKind kind : {MoveKind::Fade, MoveKind::Blur, MoveKind::LineBlur, MoveKind::Glow, MoveKind::Bars})
        finished = withMove(finished, 0, kind, 0, kind == MoveKind::Fade ? 1 : 0, kind == MoveKind::Fade ? 0.2 : 3, 8,
                            kind == MoveKind::Fade ? 0.2 : 3, kind == MoveKind::Fade ? 1 : 0, 8);
    finished.reel[1].transition.moves[2].enabled = false;
    text += textOf("finishing", finished, {18, 24, 25, 30});

    Project over = plungeProject();
    over.reel[1].transition.overlap = {4, 6};
    over.reel[1].transition.top = Side::Outgoing;
    over.reel[1].transition.shutter = Shutter{270, -90.0, 16};
    text += textOf("an overlap, the outgoing shot on top", over, {20, 21, 24, 25, 30, 31});
    text += steered(over, StackPlace(0), Side::Outgoing, 27) + steered(over, StackPlace(0), Side::Incoming, 23) +
            pathOf(over, StackPlace(0));
    over.reel[1].transition.top = Side::Incoming;
    over.reel[1].transition.alone = true;
    text += textOf("the incoming shot alone on top", over, {21, 25, 30});

    Project placed = plungeProject();
    placed.media[0].size = {1080, 1920};
    placed.media[1].size = {720, 576};
    placed.media[1].pixelAspect = Rational(64, 45);
    placed.reel[0].placement = {1.2, 10, {0.1, -0.05}, {0.3, 0.6}};
    placed.reel[0].crop = {0.1, 0.05, 0.2, 0.15};
    for (const Fit fit : {Fit::Fill, Fit::Fit, Fit::Stretch}) {
        for (Clip& clip : placed.reel) clip.fit = fit;
        text += textOf(fmt::format("placed and cropped, {}", nameOf(fit)), placed, {3, 24, 26});
    }
    text += steered(placed, {StackPlace::Drift, 0}, Side::Incoming, 5);
    placed.reel[0].placement.angle = -170;
    text += steered(placed, {StackPlace::Drift, 0}, Side::Incoming, 5);

    Project drifting = plungeProject();
    drifting.reel[1].drift = {makeMove(MoveKind::Zoom, "move-7"), makeMove(MoveKind::Spin, "move-8")};
    drifting.reel[1].drift[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 25, 1.2, straight);
    drifting.reel[1].drift[1].channels[0].incoming.keys = {{0, -4}};
    drifting.reel[1].edges = EdgeFill::Empty;
    drifting.settings.shutter = {120, 30.0, 8};
    drifting.settings.copies = 2;
    text += textOf("drifts below the cut's moves", drifting, {24, 25, 40});
    text += steered(drifting, {StackPlace::Drift, 1}, Side::Incoming, 40) + pathOf(drifting, {StackPlace::Drift, 1});

    Project fast = twoClips();
    for (Media& m : fast.media) m.duration = 30;
    for (Clip& c : fast.reel) c.sourceIn = 10;
    const Ramp out{100, 800, 10}, in{100, 400, 8};
    fast = withRampsAtCut(fast, 0, &out, &in);
    fast.reel[0].shotBlur = 1;
    text += textOf("ramps on both sides", fast, {0, 14, 18, 24, 25, 30, 49});
    Project back = twoClips();
    back.reel[0].speed = Rational(-1, 2);
    back.reel[1].speed = Rational(3);
    back.media[1].rate = Rational(30000, 1001);
    text += textOf("backwards at half the speed, then three times as fast", back, {0, 12, 24, 25, 40});

    Project layers = plungeProject();
    Clip gap;
    gap.id = "gap-1";
    gap.length = 5;
    layers.reel.push_back(gap);
    Overlay above;
    above.clip = layers.reel[0];
    above.clip.id = "above";
    above.clip.length = 20;
    above.clip.transition = {};
    above.clip.transition.moves = {makeMove(MoveKind::Slide, "move-20")};
    above.clip.transition.moves[0].channels[0].incoming = twoKeys(Space::Linear, 0, 1, 6, 0, straight);
    above.clip.transition.moves[0].channels[0].outgoing = twoKeys(Space::Linear, -6, 0, 0, -1, straight);
    above.start = 15, above.row = 1;
    Overlay below = above;
    below.clip.id = "below", below.row = 0, below.start = 30;
    below.clip.transition.moves[0].id = "move-21";
    layers.overlays = {above, below};
    Adjustment wobble;
    wobble.id = "adj-1";
    wobble.start = 20, wobble.length = 12, wobble.bars = 2.39;
    wobble.moves = {makeMove(MoveKind::Spin, "move-30"), makeMove(MoveKind::Blur, "move-31")};
    wobble.moves[0].channels[0].incoming = twoKeys(Space::Linear, 0, 0, 4, 5, straight);
    wobble.moves[0].channels[0].outgoing = twoKeys(Space::Linear, -4, 5, 0, 0, straight);
    wobble.moves[1].channels[0].incoming.keys = {{0, 2}};
    layers.adjustments = {wobble};
    text += textOf("shots above, a gap, an adjustment", layers, {14, 15, 18, 20, 25, 31, 32, 34, 36, 50, 54, 55});
    for (const int overlay : {0, 1})
        for (const std::int64_t frame : {17, 33, 46})
            for (const Side side : {Side::Outgoing, Side::Incoming})
                text += steered(layers, {StackPlace::Overlay, overlay}, side, frame);
    text += pathOf(layers, {StackPlace::Overlay, 0}) + pathOf(layers, {StackPlace::Overlay, 1});
    for (const std::int64_t frame : {22, 25, 30, 40})
        text += steered(layers, {StackPlace::Adjustment, 0}, Side::Incoming, frame) +
                steered(layers, {StackPlace::Adjustment, 0}, Side::Outgoing, frame);
    text += pathOf(layers, {StackPlace::Adjustment, 0});
    test::expectAsRead("core/plan/planned.txt", text);
}

} // namespace
} // namespace virga::planned_test
