// Light copies of sources: the same pictures in the same places, smaller; and what should have one.
#include "core/encode/proxy.h"

#include <cmath>
#include <fstream>
#include <gtest/gtest.h>

#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/raster/pyramid.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"

namespace virga::proxy_test {
namespace {

using test::TemporaryFolder;

const auto unheard = [](double) {};

TEST(Proxy, HoldsTheSmallestLevelThatIsLongEnough) {
    EXPECT_EQ(proxyShapeOf({3840, 2160}), (ProxyShape{2, {960, 540}}));
    EXPECT_EQ(proxyShapeOf({1920, 1080}), (ProxyShape{1, {960, 540}}));
    EXPECT_EQ(proxyShapeOf({1280, 720}), (ProxyShape{0, {1280, 720}}));
    EXPECT_EQ(proxyShapeOf({2160, 3840}), (ProxyShape{2, {540, 960}}));
    EXPECT_EQ(proxyShapeOf({2703, 1519}), (ProxyShape{1, {1352, 760}}));
}

TEST(Proxy, IsWantedForLargePicturesAndForFewEntryPoints) {
    VideoInfo video;
    video.coded = video.size = {1280, 720};
    video.frames = 500;
    video.keyInterval = 50;
    EXPECT_EQ(whyProxy(video), "");
    video.keyInterval = 250;
    EXPECT_EQ(whyProxy(video), "few places to begin decoding at");
    video.coded = {3840, 2160};
    EXPECT_EQ(whyProxy(video), "large pictures");
    video.alpha = true;
    EXPECT_EQ(whyProxy(video), "") << "H.264 has no transparency";
    video.alpha = false;
    video.still = true;
    EXPECT_EQ(whyProxy(video), "");
}

TEST(Proxy, ProbingTellsTheLongestRunBetweenKeyFrames) {
    TemporaryFolder folder;
    test::writeNumberedClip(folder / "a.mp4", {64, 48}, 25, 40, 12);
    EXPECT_EQ(probe(folder / "a.mp4")->video->keyInterval, 12);
    test::writeNumberedClip(folder / "b.mp4", {64, 48}, 25, 40, 1);
    EXPECT_EQ(probe(folder / "b.mp4")->video->keyInterval, 1);
}

double luma(Rgba8 p) { // ITU-R BT.709
    return 0.2126 * p.r + 0.7152 * p.g + 0.0722 * p.b;
}

// Every picture against the source's own mip level, of an odd size, so that the stored one is padded.
TEST(Proxy, PictureByPictureTheSourcesOwnSmaller) {
    TemporaryFolder folder;
    ASSERT_TRUE(
        test::ffmpeg("-f lavfi -i testsrc2=s=1704x960:r=30:d=0.7 -vf format=yuv444p,scale=1703:959 -c:v libx264 -crf 4 "
                     "-colorspace bt709 -color_primaries bt709 -color_trc bt709 " +
                     (folder / "a.mp4").string()));
    ASSERT_TRUE(makeProxy(folder / "a.mp4", folder / "a-light.mp4", true, unheard, {}));
    const auto source = VideoReader::open(folder / "a.mp4");
    const auto proxy = ProxyReader::open(folder / "a-light.mp4", *(*source)->info().video);
    ASSERT_TRUE(proxy) << describe(proxy.error());
    EXPECT_EQ((*proxy)->shape(), (ProxyShape{1, {852, 480}}));
    EXPECT_EQ(probe(folder / "a-light.mp4")->video->keyInterval, 1);
    for (const std::int64_t n : {17, 0, 9, 20}) { // any order
        const Pyramid whole((*source)->read(n).value());
        const auto light = (*proxy)->read(n);
        ASSERT_TRUE(light);
        ASSERT_EQ(light->size(), whole.level(1).size());
        double error = 0;
        std::vector<Rgba8> a(852), b(852);
        for (int y = 0; y < 480; ++y) {
            encodeRow(light->row(y), a.data(), 852);
            encodeRow(whole.level(1).row(y), b.data(), 852);
            for (std::size_t x = 0; x < 852; ++x) error += std::pow(luma(a[x]) - luma(b[x]), 2);
        }
        const double psnr = 10 * std::log10(255.0 * 255 * 852 * 480 / error);
        EXPECT_GT(psnr, 33) << n; // what chroma of half the size leaves of a test chart's loud edges
    }
}

TEST(Proxy, OfAnotherFileIsRefused) {
    TemporaryFolder folder;
    test::writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 12);
    test::writeNumberedClip(folder / "b.mp4", {320, 180}, 25, 13);
    ASSERT_TRUE(makeProxy(folder / "a.mp4", folder / "light.mp4", true, unheard, {}));
    const auto other = ProxyReader::open(folder / "light.mp4", *probe(folder / "b.mp4")->video);
    ASSERT_FALSE(other);
    EXPECT_EQ(other.error().code, ErrorCode::BadInput);
}

TEST(Proxy, StoppedHalfWayLeavesNothing) {
    TemporaryFolder folder;
    test::writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 30);
    const Cancel cancel;
    const auto made = makeProxy(folder / "a.mp4", folder / "light" / "a.mp4", true, unheard, cancel);
    EXPECT_FALSE(made) << "there is no such folder";
    const auto stopped = makeProxy(
        folder / "a.mp4", folder / "a-light.mp4", true,
        [&](double part) {
            if (part > 0.4) cancel.request();
        },
        cancel);
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, ErrorCode::Cancelled);
    int files = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder.path())) files += entry.is_regular_file();
    EXPECT_EQ(files, 1) << "the source alone";
}

} // namespace
} // namespace virga::proxy_test
