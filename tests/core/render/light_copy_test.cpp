// Frames rendered from light copies lie where the others do; what a quality leaves out; files that nobody asks for.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <gtest/gtest.h>
#include <thread>

#include "core/edit/layer_edits.h"
#include "core/encode/proxy.h"
#include "core/motion/move.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::light_copy_test {
namespace {

using namespace test;

double psnr(const Image<Rgba8>& a, const Image<Rgba8>& b) {
    double error = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) error += std::pow(double(a.at(x, y).g) - b.at(x, y).g, 2);
    return 10 * std::log10(255.0 * 255 * a.width() * a.height() / std::max(error, 1e-9));
}

bool same(const Image<Rgba8>& a, const Image<Rgba8>& b) {
    for (int y = 0; y < a.height(); ++y)
        if (!std::equal(a.row(y), a.row(y) + a.width(), b.row(y))) return false;
    return a.size() == b.size();
}

class LightCopies : public testing::Test {
protected:
    void SetUp() override {
        // A slow picture, so that what differs is place and not detail.
        writeClip(m_folder / "a.mp4", {1702, 958}, 25, 12, [](int n) {
            Image<Rgba8> picture(1702, 958);
            for (int y = 0; y < 958; ++y)
                for (int x = 0; x < 1702; ++x) {
                    const double wave = std::sin(x * 0.021 + n) + std::cos(y * 0.024 - n * 0.5);
                    const auto v = std::uint8_t(std::lround(128 + 55 * wave));
                    picture.at(x, y) = {v, v, std::uint8_t(255 - v), 255};
                }
            return picture;
        });
        ASSERT_TRUE(makeProxy(m_folder / "a.mp4", m_folder / "light.mp4", true, [](double) {}, {}));
        m_project = twoClips(m_folder / "a.mp4", m_folder / "a.mp4");
        for (Media& m : m_project.media) m.size = {1702, 958}, m.duration = Rational(12, 25);
        m_project.settings.size = {640, 360};
        for (Clip& clip : m_project.reel) clip.sourceIn = 0, clip.length = 6;
    }
    Image<Rgba8> picture(std::int64_t frame, bool light) {
        Quality quality = quickQuality;
        quality.proxies = light;
        auto made = renderFrame(m_project, frame, {640, 360}, quality, m_pool);
        EXPECT_TRUE(made) << (made ? "" : describe(made.error()));
        return made ? std::move(*made) : Image<Rgba8>(640, 360);
    }
    TemporaryFolder m_folder;
    Project m_project;
    SourcePool m_pool;
};

TEST_F(LightCopies, LieWhereTheSourceLies) {
    Move zoom = makeMove(MoveKind::Zoom, "z"), spin = makeMove(MoveKind::Spin, "s");
    zoom.channels[0].outgoing.keys = {Key{-5, 1}, Key{0, 2.5}};
    spin.channels[0].incoming.keys = {Key{0, 40}, Key{5, 0}};
    m_project.reel[1].transition.moves = {zoom, spin};
    m_project.reel[0].placement.scale = 1.3;
    const auto compare = [&](const char* what) {
        for (const std::int64_t frame : {0, 3, 5, 7, 10}) {
            m_pool.useProxy(m_folder / "a.mp4", true, {});
            const auto whole = picture(frame, true);
            m_pool.useProxy(m_folder / "a.mp4", true, m_folder / "light.mp4");
            EXPECT_TRUE(same(whole, picture(frame, false))) << "exact frames never use them";
            EXPECT_GT(psnr(whole, picture(frame, true)), 38) << what << ", frame " << frame;
        }
    };
    compare("filled");
    for (Clip& clip : m_project.reel) clip.crop = {0.123, 0.071, 0.2, 0.05};
    compare("cropped");
    for (Clip& clip : m_project.reel) clip.fit = Fit::Fit;
    compare("fitted");
}

TEST_F(LightCopies, OneOfAnotherFileIsNotUsed) {
    writeNumberedClip(m_folder / "b.mp4", {1702, 958}, 25, 13);
    ASSERT_TRUE(makeProxy(m_folder / "b.mp4", m_folder / "other.mp4", true, [](double) {}, {}));
    const auto whole = picture(2, false);
    m_pool.useProxy(m_folder / "a.mp4", true, m_folder / "other.mp4");
    EXPECT_TRUE(same(picture(2, true), whole));
    m_pool.useProxy(m_folder / "a.mp4", true, m_folder / "not-there.mp4");
    EXPECT_TRUE(same(picture(2, true), whole));
}

TEST_F(LightCopies, ForgettingAFileForgetsItsCopyAndNoOtherFilesPictures) {
    std::filesystem::copy_file(m_folder / "a.mp4", m_folder / "b.mp4");
    const auto kept = m_pool.picture(m_folder / "b.mp4", 0);
    ASSERT_TRUE(kept);
    m_pool.useProxy(m_folder / "a.mp4", true, m_folder / "light.mp4");
    m_pool.forget(m_folder / "a.mp4");
    const auto shown = m_pool.shownAt(m_folder / "a.mp4", 0, {{}, Enlarging::Bilinear, true, true});
    ASSERT_TRUE(shown);
    EXPECT_TRUE(shown->source.isEmpty()) << "the source itself";
    m_pool.closeUnused();
    m_pool.closeUnused();
    EXPECT_EQ(m_pool.openFiles(), 0u) << "nobody asked in between";
    EXPECT_EQ(*m_pool.picture(m_folder / "b.mp4", 0), *kept) << "opened anew, its pictures are still there";
    EXPECT_EQ(m_pool.openFiles(), 1u);
    m_pool.closeUnused();
    EXPECT_EQ(m_pool.openFiles(), 1u) << "asked for a moment ago";
}

// Six files of 1702 x 958 hold about 45 MB each while they are open.
TEST_F(LightCopies, DecodersTakeNoMoreThanTheSetting) {
    m_pool.setMost(100 << 20);
    const auto see = [&](int n) {
        const auto file = m_folder / ("c" + std::to_string(n) + ".mp4");
        if (!std::filesystem::exists(file)) std::filesystem::copy_file(m_folder / "a.mp4", file);
        return m_pool.picture(file, 0);
    };
    for (int n = 0; n < 6; ++n) ASSERT_TRUE(see(n));
    const auto late = std::chrono::steady_clock::now() + std::chrono::seconds(20);
    while (m_pool.openFiles() > 3 && std::chrono::steady_clock::now() < late) {
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
        ASSERT_TRUE(see(5));
    }
    EXPECT_LE(m_pool.openFiles(), 3u);
    EXPECT_GE(m_pool.openFiles(), 2u);
    EXPECT_TRUE(see(0)) << "opened anew";
}

TEST_F(LightCopies, QualityLeavesOutOverlaysAndBlur) {
    Quality quality = exactQuality;
    const auto bare = renderFrame(m_project, 3, {640, 360}, quality, m_pool);
    Overlay above;
    above.clip = m_project.reel[1];
    above.clip.id = "above";
    above.clip.placement.scale = 0.4;
    above.clip.length = 12;
    m_project.overlays = {above};
    const auto with = renderFrame(m_project, 3, {640, 360}, quality, m_pool);
    EXPECT_FALSE(same(*with, *bare));
    quality.overlays = false;
    EXPECT_TRUE(same(*renderFrame(m_project, 3, {640, 360}, quality, m_pool), *bare));
    m_project.overlays.clear();
    Move slide = makeMove(MoveKind::Slide, "s");
    slide.channels[0].outgoing.keys = {Key{-5, 0}, Key{0, 1}};
    m_project.reel[1].transition.moves = {slide};
    const auto blurred = renderFrame(m_project, 4, {640, 360}, quality, m_pool);
    quality.blur = false;
    const auto sharp = renderFrame(m_project, 4, {640, 360}, quality, m_pool);
    EXPECT_FALSE(same(*sharp, *blurred));
    m_project.settings.shutter.angle = 0;
    EXPECT_GT(psnr(*sharp, *renderFrame(m_project, 4, {640, 360}, exactQuality, m_pool)), 20)
        << "as with a closed shutter, but for the moment";
}

} // namespace
} // namespace virga::light_copy_test
