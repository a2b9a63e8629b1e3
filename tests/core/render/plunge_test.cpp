// A zoom 1 -> 2.5 in 5 frames into 0.62 -> 1 in 12, as editors use it.
#include <gtest/gtest.h>

#include "core/plan/clip_facts.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::plunge_test {
namespace {

using namespace test;

class Plunge : public testing::Test {
protected:
    void SetUp() override {
        static const Image<Rgba8> picture = texturedPicture({640, 360}, 5);
        const auto draw = [](int) { return copyOf(picture); };
        writeClip(m_folder / "a.mp4", {640, 360}, 25, 75, draw, 25);
        fs::copy(m_folder / "a.mp4", m_folder / "b.mp4");
        m_project = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_project.media) m.size = {640, 360};
        m_project.settings.size = {640, 360};
    }
    Image<Rgba8> render(const Project& p, int fromCut) {
        auto picture = renderFrame(p, 25 + fromCut, {640, 360}, exactQuality, m_pool);
        EXPECT_TRUE(picture);
        return std::move(*picture);
    }
    // How much the open shutter changes the picture, in mean code values: the picture at 180 degrees against the still
    // one.
    double blurOf(int fromCut) {
        Project still = m_project;
        still.settings.shutter.angle = 0;
        const auto a = render(m_project, fromCut), b = render(still, fromCut);
        double sum = 0;
        for (int y = 0; y < 360; y += 2)
            for (int x = 0; x < 640; x += 2) sum += std::abs(a.at(x, y).g - b.at(x, y).g);
        return sum / (180 * 320);
    }
    TemporaryFolder m_folder;
    Project m_project;
    SourcePool m_pool;
};

TEST_F(Plunge, EveryFrameFromMinusFiveToElevenHasBlur) {
    double most = 0, last = 0;
    for (int n = -5; n <= 11; ++n) {
        const double blur = blurOf(n);
        EXPECT_GT(blur, 0.02) << "frame " << n;
        EXPECT_GT(factsOf(m_project, 25 + n).blur, 0.01) << "frame " << n;
        if (n < 0) most = std::max(most, factsOf(m_project, 25 + n).blur);
        if (n == -1) last = factsOf(m_project, 25 + n).blur;
    }
    EXPECT_EQ(last, most) << "frame -1 has the most on its side";
    EXPECT_GT(blurOf(-1), blurOf(-3));
    EXPECT_EQ(blurOf(-7), 0) << "before it, nothing moves";
    EXPECT_EQ(blurOf(14), 0);
}

TEST_F(Plunge, NoFrameShowsABarePixelWithMirror) {
    for (int n = -5; n <= 12; ++n) {
        const auto picture = render(m_project, n);
        for (int y = 0; y < 360; ++y)
            for (int x = 0; x < 640; ++x)
                ASSERT_EQ(picture.at(x, y).a, 255) << "frame " << n << " at " << x << ' ' << y;
    }
}

TEST_F(Plunge, EmptyShowsTransparentBlackWhereNothingCovers) {
    Project p = m_project;
    p.settings.edges = EdgeFill::Empty;
    const auto picture = render(p, 0);
    EXPECT_EQ(picture.at(2, 2), (Rgba8{0, 0, 0, 0}));
    EXPECT_EQ(picture.at(637, 357), (Rgba8{0, 0, 0, 0}));
    EXPECT_EQ(picture.at(320, 180).a, 255);
    long bare = 0;
    for (int y = 0; y < 360; ++y)
        for (int x = 0; x < 640; ++x) bare += picture.at(x, y).a == 0;
    // At its smallest 0.62 of the frame's sides are covered; the shutter lets it grow a little.
    EXPECT_NEAR(double(bare) / (640 * 360), 1 - 0.62 * 0.62, 0.05);
    EXPECT_EQ(render(p, 14).at(2, 2).a, 255);
}

TEST_F(Plunge, QuickPicturesAreLikeExactOnes) {
    for (const int n : {-3, -1, 0, 4}) {
        auto quick = renderFrame(m_project, 25 + n, {640, 360}, quickQuality, m_pool);
        ASSERT_TRUE(quick);
        EXPECT_GT(compare(quick->view(), render(m_project, n).view()).psnr, 27) << n;
    }
}

} // namespace
} // namespace virga::plunge_test
