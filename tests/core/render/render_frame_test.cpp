#include "core/render/render_frame.h"

#include <gtest/gtest.h>
#include <tbb/global_control.h>

#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/thumbnail.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::render_frame_test {
namespace {

using namespace test;

class RenderFrame : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 75);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 75);
        m_project = twoClips(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_project.media) m.size = {320, 180};
        m_project.settings.size = {320, 180};
    }
    Image<Rgba8> render(const Project& p, std::int64_t frame, Size size = {320, 180}, Quality quality = exactQuality) {
        auto picture = renderFrame(p, frame, size, quality, m_pool);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? std::move(*picture) : Image<Rgba8>(size);
    }
    TemporaryFolder m_folder;
    Project m_project;
    SourcePool m_pool;
};

TEST_F(RenderFrame, ShowsTheRightSourceFrame) {
    for (const int n : {0, 1, 24, 25, 26, 49}) EXPECT_EQ(numberIn(render(m_project, n).view()), 25 + n % 25) << n;
    EXPECT_EQ(render(m_project, 50).at(100, 100), (Rgba8{0, 0, 0, 0})) << "outside the reel there is nothing";
}

TEST_F(RenderFrame, AtRestItIsTheSource) {
    auto reader = VideoReader::open(m_folder / "a.mp4");
    ASSERT_TRUE(reader);
    const auto source = (*reader)->read(30);
    ASSERT_TRUE(source);
    const auto picture = render(m_project, 5);
    for (int y = 0; y < 180; y += 7)
        for (int x = 0; x < 320; x += 7) {
            const Linear16 p = source->at(x, y);
            const auto code = [](std::uint16_t v) {
                return std::clamp(codeFromLinear(lightOf(v)), 0.0, 1.0) * 255; // where two codes are as near, either
            };
            for (const auto& [got, want] : {std::pair(picture.at(x, y).r, p.r), std::pair(picture.at(x, y).g, p.g),
                                            std::pair(picture.at(x, y).b, p.b)})
                EXPECT_NEAR(got, code(want), 0.56);
        }
}

TEST_F(RenderFrame, IsTheSameOnAnyNumberOfThreads) {
    const Project p = withMove(withMove(m_project, 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.62, 1, 12), 0, MoveKind::Spin, 0,
                               0, 90, 6, -90, 0, 9);
    const auto many = render(p, 24);
    const tbb::global_control one(tbb::global_control::max_allowed_parallelism, 1);
    EXPECT_EQ(compare(render(p, 24).view(), many.view()).most, 0);
}

TEST_F(RenderFrame, NothingDependsOnTheSizeButSharpness) {
    const Project p = withMove(m_project, 0, MoveKind::Slide, 0, 0, 0.5, 5, -0.5, 0, 5);
    const auto large = render(p, 23, {320, 180}), small = render(p, 23, {160, 90});
    double sum = 0;
    for (int y = 10; y < 80; y += 3)
        for (int x = 10; x < 150; x += 3)
            sum += std::abs(small.at(x, y).g - (large.at(2 * x, 2 * y).g + large.at(2 * x + 1, 2 * y + 1).g) / 2.0);
    EXPECT_LT(sum / (24 * 47), 6);
}

TEST_F(RenderFrame, MissingAndBrokenFilesAreNamed) {
    Project p = m_project;
    p.media[0].path = m_folder / "gone.mp4";
    const auto gone = renderFrame(p, 3, {320, 180}, exactQuality, m_pool);
    ASSERT_FALSE(gone);
    EXPECT_NE(describe(gone.error()).find("gone.mp4"), std::string::npos);
    EXPECT_TRUE(renderFrame(p, 30, {320, 180}, exactQuality, m_pool)) << "the rest of the reel stays";
    p.media.clear();
    EXPECT_FALSE(renderFrame(p, 3, {320, 180}, exactQuality, m_pool));
}

TEST_F(RenderFrame, StopsWhenAskedTo) {
    Cancel cancel;
    cancel.request();
    const auto picture = renderFrame(m_project, 3, {320, 180}, exactQuality, m_pool, cancel);
    ASSERT_FALSE(picture);
    EXPECT_EQ(picture.error().code, ErrorCode::Cancelled);
}

TEST_F(RenderFrame, ClipsOfOtherSizesAndRatesFit) {
    writeNumberedClip(m_folder / "tall.mp4", {180, 320}, 50, 100);
    Project p = m_project;
    const auto info = probe(m_folder / "tall.mp4");
    ASSERT_TRUE(info);
    std::string id;
    p = withMedia(p, mediaFrom(*info), &id);
    p = withClip(p, 2, clipFor(p, *findMedia(p, id)));
    EXPECT_EQ(p.reel[2].length, 50) << "two seconds, at this reel's rate";
    p.reel[2].fit = Fit::Stretch;
    for (const int n : {0, 10, 49})
        EXPECT_EQ(numberIn(render(p, 50 + n).view()), 2 * n) << "every second frame of 50 a second";
    p.reel[2].fit = Fit::Fit;
    p.reel[2].edges = EdgeFill::Empty;
    const auto picture = render(p, 60);
    EXPECT_EQ(picture.at(20, 90).a, 0);
    EXPECT_EQ(picture.at(160, 90).a, 255);
}

TEST_F(RenderFrame, ThumbnailsFillTheirFrame) {
    const auto small = thumbnail(m_pool, m_folder / "a.mp4", Rational(40, 25), 1, {96, 54});
    ASSERT_TRUE(small);
    EXPECT_EQ(numberIn(small->view()), 40);
    EXPECT_EQ(small->at(95, 53).a, 255);
    EXPECT_FALSE(thumbnail(m_pool, m_folder / "no.mp4", 0, 1, {96, 54}));
}

} // namespace
} // namespace virga::render_frame_test
