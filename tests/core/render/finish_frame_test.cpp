// Finished frames as they are rendered: order of steps, margins, previews, and blur that a key does not halve.
#include <cmath>
#include <cstring>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>
#include <tbb/global_control.h>

#include "core/curve/curve_edit.h"
#include "core/edit/carry_on.h"
#include "core/edit/layer_edits.h"
#include "core/export/export_needs.h"
#include "core/plan/cut_match.h"
#include "core/raster/transfer.h"
#include "core/render/finish_frame.h"
#include "core/render/path_blur.h"
#include "core/render/render_frame.h"
#include "tests/core/effects/canvases.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::finish_frame_test {
namespace {

using namespace test;

constexpr Size size{640, 360};

// An edge of light down the middle.
Image<Rgba8> halves() {
    Image<Rgba8> picture = solidPicture(size, {30, 30, 30, 255});
    for (int y = 0; y < size.height; ++y)
        for (int x = size.width / 2; x < size.width; ++x) picture.at(x, y) = {220, 220, 220, 255};
    return picture;
}

class FinishFrame : public testing::Test {
protected:
    Project withClips(Project p) {
        for (const char* name : {"a.mp4", "b.mp4"}) {
            const auto picture = halves();
            writeClip(
                m_folder / name, size, 25, 75, [&](int) { return copyOf(picture); }, 25);
        }
        for (Media& m : p.media) m.size = size;
        p.settings.size = size;
        return p;
    }
    Project twoClipsHere() { return withClips(twoClips(m_folder / "a.mp4", m_folder / "b.mp4")); }
    Image<Deep16> deep(const Project& p, std::int64_t frame, Size output = size) {
        auto picture = renderDeepPlan(p, planFrame(p, frame), output, exactQuality, m_pool);
        EXPECT_TRUE(picture) << describe(picture.error());
        return picture ? std::move(*picture) : Image<Deep16>();
    }
    TemporaryFolder m_folder;
    SourcePool m_pool;
};

Move finishing(MoveKind kind, double value) {
    Move m = makeMove(kind, "f-" + std::string(moveInfo(kind).name));
    m.channels[0].incoming.keys = {Key{0, value}};
    return m;
}

double lightAt(const Image<Deep16>& picture, int x, int y) {
    return linearFromCode((picture.at(x, y).g - deepBlack) / double(deepWhite - deepBlack));
}

// How wide the edge is smeared, in pixels: a step under a box is a straight ramp, whose 10 % and 90 % lie 0.8 of it
// apart.
double blurLength(const Image<Deep16>& picture) {
    const int y = size.height / 2;
    double low = 1e300, high = -1e300;
    for (int x = 0; x < size.width; ++x)
        low = std::min(low, lightAt(picture, x, y)), high = std::max(high, lightAt(picture, x, y));
    const auto crossing = [&](double share) {
        const double level = low + (high - low) * share;
        for (int x = 0; x + 1 < size.width; ++x) {
            const double a = lightAt(picture, x, y), b = lightAt(picture, x + 1, y);
            if (a < level && b >= level) return x + (level - a) / (b - a);
        }
        return 0.0;
    };
    return (crossing(0.9) - crossing(0.1)) / 0.8;
}

// Half a frame of blur no more: frame 0, on its first key, is smeared as far as frame -1.
TEST_F(FinishFrame, FramesBesideTheCutHaveTheirWholeBlur) {
    Project p = withMove(twoClipsHere(), 0, MoveKind::Slide, 0, 0, 0.3, 8, -0.3, 0, 10);
    p.settings.edges = EdgeFill::Hold;
    const auto matched = withAllMatched(p, 0, Match::ByHandle);
    ASSERT_TRUE(matched) << describe(matched.error());
    const double before = blurLength(deep(*matched, 24)), at = blurLength(deep(*matched, 25)),
                 after = blurLength(deep(*matched, 26));
    EXPECT_GT(before, 10);
    EXPECT_NEAR(at, before, 0.05 * before);
    EXPECT_LT(after, at) << "and then it slows down";
    // As far as half of the seen speed, at 180 degrees.
    EXPECT_NEAR(at, velocitiesAtCut(*matched, 0).speedIn / 100 * size.width / 2, 0.06 * at);
    // Held at its ends, frame 0 keeps half of it.
    Project held = *matched;
    held.reel[1].transition.moves[0].holds = true;
    EXPECT_LT(blurLength(deep(held, 25)), 0.75 * before);
}

TEST_F(FinishFrame, ALayersBlurIsThatOfOpenCV) {
    Project p = twoClipsHere();
    p.reel[0].drift = {finishing(MoveKind::Blur, 3)};
    const auto sharp = deep(twoClipsHere(), 5), soft = deep(p, 5);
    cv::Mat light(size.height, size.width, CV_32F), expected;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) light.at<float>(y, x) = float(lightAt(sharp, x, y));
    const double sigma = 0.03 * size.height;
    cv::GaussianBlur(light, expected, {101, 101}, sigma, sigma, cv::BORDER_REFLECT);
    for (int x = 0; x < size.width; x += 7) EXPECT_NEAR(lightAt(soft, x, 180), expected.at<float>(180, x), 2e-3) << x;
}

// What a filter sees beyond the frame is what lies there: a picture slid half out brings its mirrored copy's light in.
TEST_F(FinishFrame, TheMarginHoldsWhatReallyLiesThere) {
    Project p = twoClipsHere();
    Move slide = makeMove(MoveKind::Slide, "s");
    slide.channels[0].incoming.keys = {Key{0, 0.5 - 4.0 / size.width}}; // the bright half begins 4 pixels inside
    p.reel[0].drift = {slide, finishing(MoveKind::Blur, 4)};
    p.settings.edges = EdgeFill::Hold;
    const double atEdge = lightAt(deep(p, 5), size.width - 1, 180);
    // Were the frame mirrored at its own edge, the dark would come back after four pixels.
    EXPECT_GT(atEdge, 0.5 * lightAt(deep(twoClipsHere(), 5), size.width - 1, 180));
}

TEST_F(FinishFrame, AnAdjustmentTreatsWhatLiesBeneathAndFadesIn) {
    Project p = withAdjustmentAdded(twoClipsHere(), 0, 20);
    p.adjustments[0].bars.reset();
    Move fade = makeMove(MoveKind::Fade, "fade");
    fade.channels[0].incoming = twoKeys(Space::Linear, 0, 0, 10, 1, {Interpolation::Linear});
    p.adjustments[0].moves = {finishing(MoveKind::Light, -2), fade};
    const double plain = lightAt(deep(twoClipsHere(), 5), 500, 100);
    EXPECT_NEAR(lightAt(deep(p, 0), 500, 100), plain, 2e-3);
    EXPECT_NEAR(lightAt(deep(p, 5), 500, 100), plain * 0.625, 3e-3) << "half of a quarter, half of it all";
    EXPECT_NEAR(lightAt(deep(p, 15), 500, 100), plain / 4, 3e-3);
    EXPECT_NEAR(lightAt(deep(p, 21), 500, 100), plain, 2e-3);
}

TEST_F(FinishFrame, OverlaysLieAboveAnAdjustment) {
    Project p = withAdjustmentAdded(twoClipsHere(), 0, 25);
    p.adjustments[0].bars.reset();
    p.adjustments[0].moves = {finishing(MoveKind::Light, -6)};
    p = withOverlayAdded(p, "media-2", 0);
    p.overlays[0].clip.placement.scale = 0.25;
    p.overlays[0].clip.placement.position = {0, 0};
    const auto picture = deep(p, 5);
    EXPECT_LT(lightAt(picture, 600, 20), 0.02);
    EXPECT_GT(lightAt(picture, 330, 182), 0.5) << "the overlay is as bright as ever";
}

// Off for playing: movement stays, finishing goes, bars stay.
TEST_F(FinishFrame, CanBeLeftOutOfAPreview) {
    Project p = twoClipsHere();
    p.reel[0].drift = {finishing(MoveKind::Blur, 5), finishing(MoveKind::Light, 1)};
    Quality quick = exactQuality;
    quick.finishing = false;
    const auto without = renderFrame(p, 5, size, quick, m_pool),
               plain = renderFrame(twoClipsHere(), 5, size, exactQuality, m_pool);
    ASSERT_TRUE(without && plain);
    EXPECT_EQ(compare(without->view(), plain->view()).most, 0);
}

// A preview of half the size is the full picture at half its size.
TEST_F(FinishFrame, APreviewLooksLikeTheExport) {
    const Size half{size.width / 2, size.height / 2};
    for (const MoveInfo& info : allMoves()) {
        if (info.role != MoveRole::Finishing) continue;
        Project p = twoClipsHere();
        p.reel[0].drift = {finishing(info.kind, info.channels[0].usual)};
        const auto large = deep(p, 5), small = deep(p, 5, half);
        double error = 0;
        for (int y = 0; y < half.height; ++y)
            for (int x = 0; x < half.width; ++x) {
                const double mean = (large.at(2 * x, 2 * y).g + large.at(2 * x + 1, 2 * y).g +
                                     large.at(2 * x, 2 * y + 1).g + large.at(2 * x + 1, 2 * y + 1).g) /
                                    4.0;
                const double d = (mean - small.at(x, y).g) / (deepWhite - deepBlack);
                error += d * d;
            }
        const double decibels = 10 * std::log10(double(half.width) * half.height / std::max(error, 1e-12));
        EXPECT_GT(decibels, 35) << info.name;
    }
}

// The same bytes on one thread and on many.
TEST_F(FinishFrame, DoesNotDependOnThreads) {
    const Project plain = twoClipsHere();
    for (const MoveInfo& info : allMoves()) {
        if (info.role == MoveRole::Opacity) continue;
        Project p = plain;
        p.reel[0].drift = {finishing(info.kind, info.channels[0].usual)};
        std::optional<Image<Deep16>> first;
        for (const std::size_t threads : {std::size_t(1), std::size_t(5)}) {
            const tbb::global_control limit(tbb::global_control::max_allowed_parallelism, threads);
            auto picture = deep(p, 5, {320, 180});
            if (!first) {
                first = std::move(picture);
                continue;
            }
            EXPECT_EQ(std::memcmp(first->row(0), picture.row(0), picture.bytes()), 0) << info.name;
        }
    }
}

// Zoom and spin blur are means of many warps (OpenCV's warpAffine, 512 of them).
TEST(PathBlur, IsTheMeanOfFiveHundredWarps) {
    for (const bool spin : {false, true}) {
        Canvas canvas = drawn({320, 200});
        for (int y = 0; y < canvas.height(); ++y)
            for (int x = 0; x < canvas.width(); ++x) {
                LinearF& p = canvas.row(y)[x];
                p = {std::min(p.r, 1.0f), std::min(p.g, 1.0f), std::min(p.b, 1.0f), 1};
            }
        const cv::Mat from = matOf(canvas);
        cv::Mat sum = cv::Mat::zeros(from.size(), CV_32FC4), one;
        for (int i = 0; i < 512; ++i) {
            const double part = (i + 0.5) / 512 - 0.5;
            const double scale = spin ? 1 : std::pow(1.3, part), angle = spin ? 12 * part : 0;
            // Pixels' middles are at a half in ours, at whole numbers in OpenCV's.
            const cv::Mat m = cv::getRotationMatrix2D({159.5f, 99.5f}, -angle, scale);
            cv::warpAffine(from, one, m, from.size(), cv::INTER_LINEAR, cv::BORDER_REFLECT);
            sum += one;
        }
        sum /= 512;
        if (spin)
            treat(canvas, SpinBlur{12, {0.5, 0.5}}, exactQuality, {});
        else
            treat(canvas, ZoomBlur{1.3, {0.5, 0.5}}, exactQuality, {});
        EXPECT_GT(psnr(matOf(canvas), sum, 10), 40) << spin;
    }
}

TEST(PathBlur, KeepsLightBeyondWhite) {
    Canvas canvas = filled({128, 96}, {8, 4, 2, 1});
    treat(canvas, SpinBlur{20, {0.5, 0.5}}, exactQuality, {});
    EXPECT_NEAR(canvas.row(40)[60].r, 8, 0.01);
    EXPECT_NEAR(canvas.row(40)[60].b, 2, 0.01);
}

TEST(ExportNeeds, CountFinishing) {
    Project p = twoClips();
    const ExportSettings settings{.path = "/tmp/none.mp4"};
    const std::size_t plain = exportNeeds(p, settings).frames;
    p.reel[0].drift = {finishing(MoveKind::Glow, 1)};
    EXPECT_GT(exportNeeds(p, settings).frames, plain + 2 * std::size_t(1280) * 720 * sizeof(LinearF));
}

} // namespace
} // namespace virga::finish_frame_test
