// What the check tells about forty cuts, word by word and number by number, and what each of its fixes leaves: compared
// with told.txt beside this file, which people read. A change of it is looked at before it is taken over:
//   VIRGA_WRITE_TOLD=1 build/dev/tests/core_tests --gtest_filter='Told.*'
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <gtest/gtest.h>

#include "core/check/flow.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "core/plan/clip_facts.h"
#include "core/project/project_json.h"
#include "tests/support/projects.h"
#include "tests/support/told.h"

namespace virga::told_test {
namespace {

using namespace test;

constexpr Shape straight{Interpolation::Linear};

struct Told {
    std::string name;
    Project project;
    std::shared_ptr<const ShotMovements> shots = {};
};

std::string number(double value) {
    const std::string text = fmt::format("{:.4g}", std::abs(value) < 5e-5 ? 0.0 : value);
    return text == "-0" ? "0" : text;
}

std::string keysText(const Curve& curve) {
    std::string text;
    for (const Key& key : curve.keys)
        text += fmt::format("{}{}: {}", text.empty() ? "" : ", ", number(key.time), number(key.value));
    return text;
}

// Everything of a piece that a fix may change.
std::vector<std::string> contentOf(const Project& p) {
    std::vector<std::string> lines;
    const auto stack = [&](const std::string& where, const Stack& moves) {
        for (const Move& move : moves) {
            const std::string_view label = moveInfo(move.kind).label;
            lines.push_back(fmt::format("{} {}{}{}{}", where, label, move.enabled ? "" : ", off",
                                        move.solo ? ", solo" : "", move.holds ? ", holds" : ""));
            for (std::size_t c = 0; c < move.channels.size(); ++c)
                for (const Side side : {Side::Outgoing, Side::Incoming}) {
                    const Curve& curve = side == Side::Outgoing ? move.channels[c].outgoing : move.channels[c].incoming;
                    if (curve.keys.empty()) continue;
                    lines.push_back(fmt::format("{} {} {} {}: {}", where, label, moveInfo(move.kind).channels[c].label,
                                                side == Side::Outgoing ? "out" : "in", keysText(curve)));
                }
        }
    };
    for (std::size_t i = 0; i < p.reel.size(); ++i) {
        const Clip& clip = p.reel[i];
        lines.push_back(fmt::format("clip {}: from {} s, {} frames, speed {}, scale {}, edges {}", i + 1,
                                    number(clip.sourceIn.toDouble()), clip.length, number(clip.speed.toDouble()),
                                    number(clip.placement.scale), clip.edges ? nameOf(*clip.edges) : "as the project"));
        for (const auto& [side, curve] :
             {std::pair{"begin", &clip.speedCurve.incoming}, {"end", &clip.speedCurve.outgoing}})
            if (!curve->keys.empty())
                lines.push_back(fmt::format("clip {} speeds from its {}: {}", i + 1, side, keysText(*curve)));
        if (clip.crop != Crop{})
            lines.push_back(fmt::format("clip {} crop: {} {} {} {}", i + 1, number(clip.crop.left),
                                        number(clip.crop.top), number(clip.crop.right), number(clip.crop.bottom)));
        stack(fmt::format("drift {}", i + 1), clip.drift);
        stack(fmt::format("cut {}", i), clip.transition.moves);
        if (clip.transition.shutter)
            lines.push_back(fmt::format("cut {} shutter {}", i, number(clip.transition.shutter->angle)));
    }
    lines.push_back(fmt::format("copies {}", p.settings.copies));
    return lines;
}

std::string tellAll(const Told& told) {
    const Project& p = told.project;
    const auto check = [&](const Project& what) {
        return flowOfReel(std::make_shared<const Project>(what), {}, {}, told.shots);
    };
    const ReelFlow flow = check(p);
    std::string text = fmt::format("== {}\n", told.name);
    for (std::size_t cut = 0; cut < flow.cuts.size(); ++cut) {
        text += fmt::format("cut {}: {} into {} % a frame\n", cut + 1, number(flow.cuts[cut]->speedOut),
                            number(flow.cuts[cut]->speedIn));
        for (const std::string& fine : flow.cuts[cut]->fine) text += "  fine: " + fine + "\n";
    }
    const auto before = contentOf(p);
    for (const Finding* f : flow.all()) {
        text += fmt::format("{} {} at frame {} of {}, {}\n  {}\n  {}\n",
                            f->severity == Severity::Breaks ? "BREAKS" : "worth a look", f->name, f->frame, f->place.id,
                            number(f->weight), f->title, f->detail);
        for (const Fix& fix : f->fixes) {
            const auto done = fix.apply(p);
            text += fmt::format("  [{}]{}", fix.label, fix.safe ? " (safe)" : "");
            if (!done) {
                text += " cannot: " + describe(done.error()) + "\n";
                continue;
            }
            std::string left;
            const ReelFlow after = check(*done);
            for (const Finding* other : after.all()) {
                left += (left.empty() ? "" : ", ") + other->name;
                if (other->name != f->name || other->place != f->place) continue;
                EXPECT_LT(other->weight, f->weight)
                    << told.name << ": " << f->name << " is not mended by " << fix.label;
            }
            text += " leaves " + (left.empty() ? "nothing" : left) + "\n";
            const auto now = contentOf(*done);
            for (const std::string& line : now)
                if (std::find(before.begin(), before.end(), line) == before.end()) text += "      " + line + "\n";
        }
    }
    return text;
}

Project sliding(double percent, int frames = 10) {
    const double way = percent / 100 * frames;
    return withMove(twoClips(), 0, MoveKind::Slide, 0, 0, way, frames, -way, 0, frames, straight, straight);
}

// Three clips of 50 frames with a plunge at both cuts.
Project moving() {
    Project p = plungeProject();
    Clip third = p.reel[0];
    third.id = "clip-3";
    third.transition = p.reel[1].transition;
    for (Move& m : third.transition.moves) m.id = "move-99";
    p.reel.push_back(third);
    for (Clip& clip : p.reel) clip.length = 50, clip.sourceIn = Rational(2);
    for (Media& media : p.media) media.duration = Rational(20);
    return p;
}

// 120 a minute: one takes 12.5 frames at 25.
void addBeats(Project& p) {
    Music music;
    music.id = "music-1";
    music.mediaId = p.media[0].id;
    music.tempo = Tempo{};
    music.tempo->beatsPerMinute = 120;
    p.music = {music};
}

template <typename Change> Project with(Project p, const Change& change) {
    change(p);
    return p;
}

Channel& channelOf(Project& p, int channel = 0, int cut = 0) {
    return p.reel[std::size_t(cut) + 1].transition.moves[0].channels[std::size_t(channel)];
}

std::vector<Told> toldOf() {
    std::vector<Told> all;
    const auto add = [&](std::string name, Project p) { all.push_back({std::move(name), std::move(p)}); };
    const Project plunge = plungeProject();
    add("nothing moves", twoClips());
    add("a plunge", plunge);
    for (const auto& [name, size, rate] :
         {std::tuple{"a plunge upright at 30000/1001", Size{720, 1280}, Rational(30000, 1001)},
          std::tuple{"a plunge 2.39 wide at 60", Size{1920, 804}, Rational(60)}})
        add(name, with(plunge, [&, size = size, rate = rate](Project& p) {
                p.settings.size = size;
                p.settings.rate = rate;
            }));
    add("a zoom turns back", withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.75, 4, 1.5, 1, 4));
    add("right, then down", with(sliding(6), [](Project& p) {
            channelOf(p).incoming.keys.clear();
            channelOf(p, 1).incoming = twoKeys(Space::Linear, 0, -1, 10, 0, straight);
        }));
    add("right, then left", withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.6, 8, 0.6, 0, 8));
    add("a spin turns back", withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 90, 8, 90, 0, 8));
    add("a spin stops dead", withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 90, 8, 0, 0, 0));
    add("a spin begins from nothing", withMove(twoClips(), 0, MoveKind::Spin, 0, 0, 0, 0, -90, 0, 8));
    add("slow into fast", withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.3, 10, -0.9, 0, 10));
    add("fast into slow", withMove(twoClips(), 0, MoveKind::Slide, 0, 0, 0.9, 10, -0.3, 0, 10));
    add("zoom and spin, the spin turns back", withMove(plunge, 0, MoveKind::Spin, 0, 0, 45, 6, 45, 0, 9));
    add("solo keeps the zoom back", with(withMove(plunge, 0, MoveKind::Spin, 0, 0, 90, 8, -90, 0, 8),
                                         [](Project& p) { p.reel[1].transition.moves[1].solo = true; }));
    add("a move that is not known", with(plunge, [](Project& p) {
            p.reel[1].transition.moves.push_back(makeMove(MoveKind::Unknown, "move-9"));
            p.reel[1].transition.moves.back().kindName = "whirl";
        }));
    add("the last key a frame and a half early",
        with(plunge, [](Project& p) { channelOf(p).outgoing = withKeyMoved(channelOf(p).outgoing, 1, -1.5, 2.5); }));
    add("the last key holds a frame early", with(plunge, [](Project& p) {
            channelOf(p).outgoing = withKeyMoved(channelOf(p).outgoing, 1, -1, 2.5);
            p.reel[1].transition.moves[0].holds = true;
        }));
    add("the first key a frame late", with(plunge, [](Project& p) {
            channelOf(p).incoming = withKeyMoved(channelOf(p).incoming, 0, 1, 0.62);
            p.reel[1].transition.moves[0].holds = true;
        }));
    add("keys past the cut", with(sliding(6), [](Project& p) {
            for (Key& key : channelOf(p).outgoing.keys) key.time += 3;
            for (Key& key : channelOf(p).incoming.keys) key.time -= 4;
        }));
    add("overshoot on both sides", with(sliding(8), [](Project& p) {
            channelOf(p).outgoing = withLeaveHandle(channelOf(p).outgoing, 0, {0.3, -0.4});
            channelOf(p).incoming = withArriveHandle(channelOf(p).incoming, 1, {0.3, -0.4});
        }));
    add("longer than its shots", with(sliding(2, 40), [](Project&) {}));
    add("a drift longer than its shot", with(twoClips(), [](Project& p) {
            p.reel[1].drift = {makeMove(MoveKind::Zoom, "move-8")};
            p.reel[1].drift[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 60, 1.1, straight);
        }));
    for (const Side side : {Side::Outgoing, Side::Incoming})
        add(side == Side::Outgoing ? "a hitch going out" : "a hitch coming in", with(sliding(8, 12), [&](Project& p) {
                Curve& curve = side == Side::Outgoing ? channelOf(p).outgoing : channelOf(p).incoming;
                int key = 0;
                curve = withKeyAdded(curve, side == Side::Outgoing ? -6 : 6, 0, &key);
                for (int k : {key - 1, key}) curve = withShape(curve, k, shapeNamed("ease-in-out").value());
            }));
    add("bare edges", with(plunge, [](Project& p) {
            for (Clip& clip : p.reel) clip.edges = EdgeFill::Empty;
        }));
    add("bare edges on the way out", with(twoClips(), [](Project& p) {
            p = withMove(p, 0, MoveKind::Zoom, 0, 1, 0.5, 8, 0, 0, 0);
            for (Clip& clip : p.reel) clip.edges = EdgeFill::Empty;
        }));
    add("copies on the way out, slow",
        with(twoClips(), [](Project& p) { p = withMove(p, 0, MoveKind::Zoom, 0, 1, 0.8, 20, 0, 0, 0, straight); }));
    add("bare edges on a slide", with(sliding(3), [](Project& p) {
            for (Clip& clip : p.reel) clip.edges = EdgeFill::Empty;
        }));
    add("too few copies", with(plunge, [](Project& p) {
            p.settings.copies = 1;
            channelOf(p).incoming.keys.front().value = 0.2;
        }));
    add("copies seen slowly",
        withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 1.02, 20, 0.6, 0.65, 20, straight, straight));
    for (const int frames : {2, 3}) // as many as the limit lets pass, and one more
        add(fmt::format("copies for {} slow frames", frames), with(twoClips(), [&](Project& p) {
                p = withMove(p, 0, MoveKind::Zoom, 0, 1, 1.01, 20, 0.8, 0.805, frames, straight, straight);
                Curve& in = channelOf(p).incoming;
                in = withKeyAdded(in, frames + 1, 0);
                in.keys.back().value = 1;
            }));
    add("strobing", with(sliding(9), [](Project& p) { p.settings.shutter.angle = 90; }));
    add("bars burnt in", with(plunge, [](Project& p) {
            for (Media& media : p.media) media.bars = Crop{0, 0.125, 0, 0.13};
        }));
    add("nothing spare", with(plunge, [](Project& p) {
            p.reel[0].sourceIn = 0;
            p.media[0].duration = 1;
            p.reel[1].sourceIn = 0;
            p.media[1].duration = Rational(24, 25);
        }));
    add("nothing of its file is left", with(plunge, [](Project& p) { p.reel[1].sourceIn = 5; }));
    add("too short a source for a dissolve", with(plunge, [](Project& p) {
            p.reel[1].transition.overlap = {4, 4};
            p.media[0].duration = 2;
            p.reel[1].sourceIn = Rational(1, 25);
        }));
    add("a tilt is left", with(plunge, [](Project& p) {
            p.reel[0].drift = {makeMove(MoveKind::Spin, "move-7")};
            p.reel[0].drift[0].channels[0].incoming.keys = {{0, 6}};
        }));
    for (const double degrees : {45.0, -45.0, 44.0}) // from half a right angle on it was meant
        add(fmt::format("a tilt of {} is left", degrees), with(twoClips(), [&](Project& p) {
                p.reel[0].drift = {makeMove(MoveKind::Spin, "move-7")};
                p.reel[0].drift[0].channels[0].incoming.keys = {{0, degrees}};
            }));
    add("a scale is left", with(twoClips(), [](Project& p) {
            p.reel[0].drift = {makeMove(MoveKind::Zoom, "move-7")};
            p.reel[0].drift[0].channels[0].incoming.keys = {{0, 1.4}};
        }));
    add("magnified", with(twoClips(), [](Project& p) {
            p.reel[0].drift = {makeMove(MoveKind::Zoom, "move-5")};
            p.reel[0].drift[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1.7, 20, 1.9, straight);
        }));
    add("too few pixels", with(twoClips(), [](Project& p) { p.media[0].size = {320, 180}; }));
    add("guessed pictures", with(twoClips(), [](Project& p) {
            p.reel[0].inBetween = InBetween::MadeUp;
            p.reel[0].guess = Guess{0.4, 7};
        }));
    add("frames of another shot", with(twoClips(), [](Project& p) {
            p.reel[0].shot = FoundShot{{}, Rational(49, 25)};
            p.reel[1].shot = FoundShot{Rational(28, 25), {}};
        }));
    for (const bool both : {false, true})
        add(both ? "ramps on both sides, little shutter" : "a ramp that is not carried",
            with(twoClips(), [&](Project& p) {
                for (Media& m : p.media) m.duration = 30;
                for (Clip& c : p.reel) c.sourceIn = 10;
                const Ramp ramp{100, 800, 10};
                p = withRampsAtCut(p, 0, &ramp, both ? &ramp : nullptr);
                if (both) p.settings.shutter.angle = 45;
            }));
    add("a ramp runs out", with(twoClips(), [](Project& p) {
            p.media[0].duration = 4;
            p.reel[0].sourceIn = 2;
            const Ramp ramp{100, 1000, 20};
            p = withRampsAtCut(p, 0, &ramp, nullptr);
        }));
    add("falls away", with(plunge, [](Project& p) {
            Curve& in = channelOf(p).incoming;
            in = withLeaveHandle(in, 0, {0.02, 0.9 * std::log2(1 / 0.62)});
        }));
    add("falls away towards a zoom that stays", with(plunge, [](Project& p) {
            Curve& in = channelOf(p).incoming;
            in.keys.back().value = 1.3;
            in = withLeaveHandle(in, 0, {0.02, 0.9 * std::log2(1.3 / 0.62)});
        }));
    add("speeds up late", with(plunge, [](Project& p) {
            Curve& out = channelOf(p).outgoing;
            out = twoKeys(Space::Log2, -10, 1.2, 0, 2.5, {});
            out = withArriveHandle(out, 1, {0.02, 0.9 * std::log2(2.5 / 1.2)});
        }));
    add("an adjustment over a cut", with(moving(), [](Project& p) {
            Adjustment wobble;
            wobble.id = "adj-1";
            wobble.start = 20, wobble.length = 43;
            wobble.moves = {makeMove(MoveKind::Zoom, "move-30"), makeMove(MoveKind::Spin, "move-31")};
            wobble.moves[0].channels[0].incoming = twoKeys(Space::Log2, 0, 1, 6, 1.3, straight);
            wobble.moves[1].channels[0].incoming.keys = {{0, 7}};
            wobble.moves[0].channels[0].outgoing = twoKeys(Space::Log2, -9, 1.3, 0, 1, straight);
            Adjustment held;
            held.id = "adj-2";
            held.start = 70, held.length = 20;
            held.moves = {makeMove(MoveKind::Zoom, "move-33")};
            held.moves[0].channels[0].incoming.keys = {{10, 1.4}}; // from its first frame to its last
            p.adjustments = {wobble, held};
            p.reel[1].transition.overlap = {3, 5};
            p.reel[2].drift = {makeMove(MoveKind::Slide, "move-32")};
            p.reel[2].drift[0].channels[0].incoming = twoKeys(Space::Linear, 20, 0, 31, 0.4, straight);
        }));
    add("a reel that stands still between", moving());
    add("cuts off the beat", with(moving(), [](Project& p) {
            Clip fourth = p.reel[0];
            fourth.id = "clip-4", fourth.transition = {};
            p.reel.push_back(fourth);
            addBeats(p);
            p = withCutRolled(p, 2, -2);
        }));
    add("a reel that goes away stands still between", with(moving(), [](Project& p) {
            for (int cut : {0, 1}) {
                channelOf(p, 0, cut).outgoing = twoKeys(Space::Log2, -5, 1, 0, 0.5, departingShape());
                channelOf(p, 0, cut).incoming = twoKeys(Space::Log2, 0, 1.9, 12, 1, arrivingShape());
            }
        }));
    add("a ramp into a gap", with(twoClips(), [](Project& p) {
            for (Media& m : p.media) m.duration = 30;
            const Ramp ramp{100, 800, 10};
            p = withRampsAtCut(p, 0, &ramp, nullptr);
            p.reel[1].mediaId.clear();
        }));
    add("half of the cuts on beats", with(twoClips(), [](Project& p) {
            p.reel[1].length = p.reel[0].length = 50; // at 120 a minute a beat takes 12.5 frames
            for (const int length : {48, 45, 37}) {
                p.reel.push_back(p.reel[0]);
                p.reel.back().id = fmt::format("clip-{}", length);
                p.reel.back().length = length;
            }
            addBeats(p);
        }));
    add("a shot at rest beside fast ones", with(moving(), [](Project& p) {
            Clip rest = p.reel[0];
            rest.transition = {};
            for (const char* id : {"clip-5", "clip-6"}) {
                rest.id = id;
                p.reel.push_back(rest);
            }
            rest.id = "clip-7";
            rest.transition = p.reel[1].transition;
            rest.transition.moves[0].id = "move-96";
            p.reel.push_back(rest);
        }));
    // What the shots do by themselves, the first and the second, in widths a picture.
    const auto shown = [&](std::string name, Project p, const std::function<TurnZoomSlide(int)>& first,
                           const std::function<TurnZoomSlide(int)>& second) {
        p.settings.withShots = true;
        auto shots = std::make_shared<ShotMovements>();
        (*shots)[p.reel[0].mediaId] = shotMovement(first);
        (*shots)[p.reel[1].mediaId] = shotMovement(second);
        all.push_back({std::move(name), std::move(p), std::move(shots)});
    };
    const auto pan = [](double x, double y) { return [=](int) { return TurnZoomSlide{1, 0, {x, y}}; }; };
    shown("both pan to the left", twoClips(), pan(-0.012, 0), pan(-0.01, 0));
    shown("pans against each other", twoClips(), pan(-0.012, 0), pan(0.011, 0));
    shown("up against down", twoClips(), pan(0, -0.008), pan(0.001, 0.012));
    shown("across each other", twoClips(), pan(0.01, 0), pan(0, 0.01));
    shown("a pan that turns back ten pictures later", twoClips(), pan(0.012, 0), [](int i) {
        return TurnZoomSlide{1, 0, {i < 35 ? -0.012 : 0.012, 0}};
    });
    shown(
        "a pan that turned round four pictures before", twoClips(),
        [](int i) {
            return TurnZoomSlide{1, 0, {i < 46 ? 0.012 : -0.012, 0}};
        },
        pan(0.012, 0));
    shown("a slide against the pan", sliding(6), pan(-0.01, 0), pan(0, 0));
    shown("a slide along with the pan", sliding(6), pan(0.01, 0), pan(0, 0));
    shown("a slide down against a tilting camera",
          with(sliding(6),
               [](Project& p) {
                   Channel &x = channelOf(p), &y = channelOf(p, 1);
                   y.outgoing = x.outgoing, y.incoming = x.incoming;
                   x.outgoing.keys.clear(), x.incoming.keys.clear();
               }),
          pan(0, -0.02), pan(0, 0));
    shown("a zoom over a pan", plunge, pan(-0.01, 0), pan(-0.01, 0));
    shown(
        "a shot that turns and nears", twoClips(),
        [](int) {
            return TurnZoomSlide{1.01, 0.5, {0.004, 0}};
        },
        [](int) {
            return TurnZoomSlide{0.99, -0.5, {-0.004, 0}};
        });
    return all;
}

// Frames at which nothing begins or ends are measured once for many; each is as if it had been measured alone.
TEST(Told, FactsOfAClipAreThoseOfItsFrames) {
    for (const Told& told : toldOf()) {
        const Project& p = told.project;
        const ReelIndex index = reelIndex(p);
        for (int clip = 0; clip < int(p.reel.size()); ++clip) {
            const ClipFacts facts(p, index, clip);
            for (std::int64_t n = 0; n < facts.length(); ++n) {
                SCOPED_TRACE(fmt::format("{}: frame {} of clip {}", told.name, n, clip + 1));
                const FrameFacts &a = facts.at(n), b = factsOf(p, index.starts[std::size_t(clip)] + n);
                const bool beside =
                    p.reel[std::size_t(clip)].transition.overlap.isEmpty() &&
                    (clip + 1 == int(p.reel.size()) || p.reel[std::size_t(clip) + 1].transition.overlap.isEmpty());
                if (!beside) continue; // which of two shots is meant is the clip's matter
                ASSERT_NEAR(a.speed, b.speed, 1e-6);
                ASSERT_NEAR(a.bare, b.bare, 1e-6);
                ASSERT_NEAR(a.uncovered, b.uncovered, 1e-6);
                ASSERT_NEAR(a.magnified, b.magnified, 1e-6);
                ASSERT_NEAR(a.blur, b.blur, 1e-6);
                ASSERT_NEAR(a.open, b.open, 1e-6);
            }
        }
    }
}

TEST(Told, IsWhatPeopleHaveRead) {
    std::string now;
    for (const Told& told : toldOf()) now += tellAll(told);
    expectAsRead("core/check/told.txt", now);
}

} // namespace
} // namespace virga::told_test
