// Transitions exported as a flat video and read back from its pictures.
#include <cmath>
#include <gtest/gtest.h>

#include "core/analysis/trace.h"
#include "core/decode/probe.h"
#include "core/export/export_reel.h"
#include "core/plan/seen_speed.h"
#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::trace_test {
namespace {

using namespace test;

// Of a cut only what is read: zooms, spins, slides and tilts, without anything that goes on beside them.
Project bare(const Project& project, int cut) {
    Project p = project;
    for (Clip& clip : p.reel) clip.drift.clear();
    Transition& t = p.reel[std::size_t(cut) + 1].transition;
    erase_if(t.moves, [](const Move& m) {
        return m.kind != MoveKind::Zoom && m.kind != MoveKind::Spin && m.kind != MoveKind::Slide &&
               m.kind != MoveKind::Tilt && m.kind != MoveKind::Push;
    });
    t.overlap = {};
    return p;
}

struct Compared {
    double worstEnd = 0;   // of the values at the frames beside the cut, as a share of their travel
    double worstSpeed = 0; // of the seen speeds of all frames but the worst one beside the cut
    double worstOther = 0; // that one
    std::string told;
};

// Where a side's movement would need a frame of a hundredth, a speed is compared by what can be seen at all.
constexpr double smallSpeed = 2; // % of the width

Compared compare(const Project& truthProject, int cut, const Trace& trace) {
    Compared c;
    Project truth = bare(truthProject, cut), read = truth;
    read.reel[std::size_t(cut) + 1].transition = trace.transition;
    read.reel[std::size_t(cut) + 1].transition.overlap = {};
    const SeenSpeeds was(truth, StackPlace(cut)), is(read, StackPlace(cut));
    std::vector<double> beside;
    for (const Side side : {Side::Outgoing, Side::Incoming})
        for (int k = 0; k < 14; ++k) {
            const double at = side == Side::Outgoing ? -1 - k : k;
            const double a = was.at(side, at), b = is.at(side, at), off = std::abs(a - b) / std::max(a, smallSpeed);
            if (k == 0)
                beside.push_back(off);
            else
                c.worstSpeed = std::max(c.worstSpeed, off);
            char line[80];
            std::snprintf(line, sizeof line, "%4.0f: %6.2f %6.2f\n", at, a, b);
            c.told += line;
        }
    std::sort(beside.begin(), beside.end());
    c.worstSpeed = std::max(c.worstSpeed, beside[0]);
    c.worstOther = beside[1];
    // The end values of each channel, in its space, against its travel.
    for (const Move& move : transitionAt(truth, cut).moves)
        for (std::size_t ch = 0; ch < move.channels.size(); ++ch)
            for (const Side side : {Side::Outgoing, Side::Incoming}) {
                const Curve& curve = move.channels[ch].side(side);
                if (curve.keys.empty()) continue;
                const ChannelInfo& info = moveInfo(move.kind).channels[ch];
                const double at = side == Side::Outgoing ? -1 : 0;
                const double value = toSpace(evaluate(curve, at), info.space), rest = toSpace(info.neutral, info.space);
                if (std::abs(value - rest) < 0.02) continue;
                double got = rest;
                for (const Move& m : trace.transition.moves)
                    if (m.kind == move.kind && !m.channels[ch].side(side).keys.empty())
                        got = toSpace(evaluate(m.channels[ch].side(side), at), info.space);
                const double off = std::abs(got - value) / std::abs(value - rest);
                c.worstEnd = std::max(c.worstEnd, off);
                char line[120];
                std::snprintf(line, sizeof line, "%s %s: %.4f, read %.4f\n", std::string(info.label).c_str(),
                              side == Side::Outgoing ? "out" : "in", value, got);
                c.told += line;
            }
    return c;
}

Expected<Trace> exportedAndTraced(const Project& project, int cut, Size size, const fs::path& folder) {
    ExportSettings settings;
    settings.size = size;
    settings.quality = 23;
    settings.sound = false;
    const std::int64_t at = cutFrame(project, cut);
    settings.from = std::max<std::int64_t>(0, at - 22);
    settings.to = std::min(reelLength(project), at + 24);
    const fs::path path = folder / ("cut-" + std::to_string(cut) + ".mp4");
    settings.path = path;
    SourcePool pool;
    if (auto done = exportReel(project, settings, pool); !done) return tl::unexpected(done.error());
    return traceTransition(path, at - settings.from);
}

Project textured(const fs::path& folder) {
    const Image<Rgba8> a = detailedPicture({1280, 720}, 3), b = detailedPicture({1280, 720}, 8);
    writeClip(folder / "a.mp4", {1280, 720}, 25, 75, [&](int) { return copyOf(a); });
    writeClip(folder / "b.mp4", {1280, 720}, 25, 75, [&](int) { return copyOf(b); });
    return twoClips(folder / "a.mp4", folder / "b.mp4");
}

class TraceBack : public testing::Test {
protected:
    void expectBack(const Project& project, double end, double speed, const char* what) {
        const auto trace = exportedAndTraced(project, 0, {1280, 720}, m_folder.path());
        ASSERT_TRUE(trace) << trace.error().message;
        const Compared c = compare(project, 0, *trace);
        EXPECT_LT(c.worstEnd, end) << what << "\n" << c.told;
        EXPECT_LT(c.worstSpeed, speed) << what << "\n" << c.told;
        EXPECT_GT(trace->explained, 0.97) << what;
        EXPECT_NEAR(trace->shutterAngle, 180, 10) << what;
    }
    TemporaryFolder m_folder;
    Project m_project = textured(m_folder.path());
};

TEST_F(TraceBack, AZoomASpinAndASlide) {
    expectBack(withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2.5, 8, 0.62, 1, 11), 0.03, 0.05, "zoom");
    expectBack(withMove(m_project, 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 10), 0.03, 0.05, "spin");
    expectBack(withMove(m_project, 0, MoveKind::Slide, 1, 0, -0.5, 8, 0.5, 0, 10), 0.03, 0.05, "slide");
}

TEST_F(TraceBack, TwoMovesStacked) {
    const Project p = withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2.2, 9, 0.66, 1, 11);
    expectBack(withMove(p, 0, MoveKind::Spin, 0, 0, -60, 8, 60, 0, 9), 0.05, 0.05, "zoom and spin");
}

TEST_F(TraceBack, NoMovementIsNone) {
    const auto trace = exportedAndTraced(m_project, 0, {640, 360}, m_folder.path());
    ASSERT_TRUE(trace);
    EXPECT_FALSE(trace->moves());
    EXPECT_EQ(textOf(*trace, Side::Outgoing), "no movement");
    EXPECT_TRUE(trace->transition.moves.empty());
    EXPECT_EQ(recipeOf(*trace, "nothing").error().code, ErrorCode::BadInput);
}

TEST_F(TraceBack, AnAnchorOffTheMiddleIsFound) {
    Project p = withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2.2, 9, 0.7, 1, 10);
    p.reel[1].transition.moves[0].anchor = {0.65, 0.4};
    const auto trace = exportedAndTraced(p, 0, {640, 360}, m_folder.path());
    ASSERT_TRUE(trace);
    EXPECT_NEAR(trace->anchor.x, 0.65, 0.01);
    EXPECT_NEAR(trace->anchor.y, 0.4, 0.015);
    ASSERT_EQ(trace->transition.moves.size(), 1u) << "a zoom about that point, and no slide";
    EXPECT_EQ(trace->transition.moves[0].kind, MoveKind::Zoom);
}

TEST_F(TraceBack, BecomesARecipe) {
    const Project p = withMove(m_project, 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 10);
    const auto trace = exportedAndTraced(p, 0, {640, 360}, m_folder.path());
    ASSERT_TRUE(trace);
    const auto recipe = recipeOf(*trace, "Their turn");
    ASSERT_TRUE(recipe) << recipe.error().message;
    EXPECT_NEAR(recipe->framesOut, 8, 1);
    EXPECT_NEAR(recipe->framesIn, 10, 1);
    EXPECT_EQ(recipe->transition.moves.size(), 1u);
    EXPECT_TRUE(recipeFromText(recipeText(*recipe), "r")) << "valid against its schema";
}

TEST(TraceTransition, RefusesWhatHasNoCut) {
    const TemporaryFolder folder;
    writeNumberedClip(folder / "a.mp4", {160, 90}, 25, 10);
    EXPECT_EQ(traceTransition(folder / "a.mp4", 0).error().code, ErrorCode::BadInput);
    EXPECT_EQ(traceTransition(folder / "a.mp4", 10).error().code, ErrorCode::BadInput);
    EXPECT_EQ(traceTransition(folder / "none.mp4", 3).error().code, ErrorCode::NotFound);
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(traceTransition(folder / "a.mp4", 4, {}, {}, cancel).error().code, ErrorCode::Cancelled);
}

TEST_F(TraceBack, ALensIsToldFromAZoom) {
    Project p = withMove(m_project, 0, MoveKind::Slide, 1, 0, -0.3, 8, 0.3, 0, 9);
    p = withMove(p, 0, MoveKind::Warp, 0, 0, 0.4, 8, -0.4, 0, 9);
    const auto trace = exportedAndTraced(p, 0, {1280, 720}, m_folder.path());
    ASSERT_TRUE(trace);
    EXPECT_TRUE(trace->out.lens);
    EXPECT_TRUE(trace->in.lens);
    for (const Move& was : transitionAt(p, 0).moves) {
        const Move* read = nullptr;
        for (const Move& m : trace->transition.moves)
            if (m.kind == was.kind) read = &m;
        ASSERT_TRUE(read) << moveInfo(was.kind).name;
        const std::size_t c = was.kind == MoveKind::Slide ? 1 : 0;
        EXPECT_NEAR(evaluate(read->channels[c].outgoing, -1), evaluate(was.channels[c].outgoing, -1), 0.03);
        EXPECT_NEAR(evaluate(read->channels[c].incoming, 0), evaluate(was.channels[c].incoming, 0), 0.05);
    }
    // And a zoom is none.
    const auto zoom = exportedAndTraced(withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2.2, 8, 0.7, 1, 9), 0, {640, 360},
                                        m_folder.path());
    ASSERT_TRUE(zoom);
    EXPECT_FALSE(zoom->out.lens || zoom->in.lens);
}

// Both shots are seen at once for eight frames; each stands still where it does not move.
TEST_F(TraceBack, TheTwoShotsOfACrossfadeAreToldApart) {
    Project p = withMove(m_project, 0, MoveKind::Zoom, 0, 1, 1.9, 12, 0.75, 1, 15);
    Transition& t = p.reel[1].transition;
    t.overlap = {4, 4};
    Move fade = makeMove(MoveKind::Fade, "fade");
    fade.channels[0].incoming.keys = {{-4, 0, Interpolation::Linear, {}, {}}, {4, 1, Interpolation::Linear, {}, {}}};
    t.moves.push_back(fade);
    const auto trace = exportedAndTraced(p, 0, {1280, 720}, m_folder.path());
    ASSERT_TRUE(trace) << trace.error().message;
    const Compared c = compare(p, 0, *trace);
    EXPECT_LT(c.worstEnd, 0.05) << c.told;
    EXPECT_LT(c.worstSpeed, 0.06) << c.told;
}

// Moves put on two clips that nobody generated, exported and read back; the folder by VIRGA_REAL_FOOTAGE.
TEST(TraceOnRealFootage, MovesComeBack) {
    const char* folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    const TemporaryFolder out;
    Project p = twoClips(fs::path(folder) / "birds.mp4", fs::path(folder) / "cityCC0.mpg");
    for (Media& m : p.media) {
        const auto info = probe(m.path);
        ASSERT_TRUE(info);
        m.size = info->video->size, m.rate = info->video->rate, m.duration = info->video->duration;
        m.pixelAspect = info->video->pixelAspect;
    }
    const struct {
        const char* name;
        Project project;
    } cases[] = {
        {"zoom", withMove(p, 0, MoveKind::Zoom, 0, 1, 2.5, 8, 0.62, 1, 11)},
        {"spin", withMove(p, 0, MoveKind::Spin, 0, 0, -90, 8, 90, 0, 10)},
        {"slide", withMove(p, 0, MoveKind::Slide, 0, 0, -0.5, 8, 0.5, 0, 10)},
        {"zoom and spin", withMove(withMove(p, 0, MoveKind::Zoom, 0, 1, 2.2, 9, 0.66, 1, 11), 0, MoveKind::Spin, 0, 0,
                                   -60, 8, 60, 0, 9)},
    };
    for (const auto& c : cases) {
        const auto trace = exportedAndTraced(c.project, 0, {1280, 720}, out.path());
        ASSERT_TRUE(trace);
        const Compared compared = compare(c.project, 0, *trace);
        std::printf("%s: ends %.1f %%, speeds %.1f %%, one beside the cut %.1f %%, explained %.1f %%, shutter %.0f\n",
                    c.name, compared.worstEnd * 100, compared.worstSpeed * 100, compared.worstOther * 100,
                    trace->explained * 100, trace->shutterAngle);
        EXPECT_LT(compared.worstEnd, 0.03) << c.name << "\n" << compared.told;
        EXPECT_LT(compared.worstSpeed, 0.05) << c.name << "\n" << compared.told;
    }
}

// Every cut of the demo at 1280 × 720, ten seconds each: by VIRGA_TRACE_DEMO, 1 or another project's file.
TEST(TraceDemo, EveryCutComesBack) {
    const char* asked = std::getenv("VIRGA_TRACE_DEMO");
    if (!asked) GTEST_SKIP() << "set VIRGA_TRACE_DEMO";
    const fs::path demo = fs::path(VIRGA_SOURCE_DIR) / "demo/lantern-regatta.virga", named = asked;
    const TemporaryFolder folder;
    const auto project = loadProject(named.extension() == ".virga" ? named : demo);
    ASSERT_TRUE(project);
    for (int cut = 0; cut < cutCount(*project); ++cut) {
        const auto trace = exportedAndTraced(*project, cut, {1280, 720}, folder.path());
        ASSERT_TRUE(trace);
        const Compared c = compare(*project, cut, *trace);
        std::printf(
            "cut %d: ends %.1f %%, speeds %.1f %%, one beside the cut %.1f %%; explained %.1f %%, shutter %.0f\n%s",
            cut + 1, c.worstEnd * 100, c.worstSpeed * 100, c.worstOther * 100, trace->explained * 100,
            trace->shutterAngle, c.told.c_str());
        EXPECT_LT(c.worstEnd, transitionAt(*project, cut).moves.size() > 1 ? 0.05 : 0.03);
        EXPECT_LT(c.worstSpeed, 0.05);
    }
}

} // namespace
} // namespace virga::trace_test
