// Interlaced footage: told, and made whole exactly as FFmpeg's bwdif does, wherever reading begins.
#include <gtest/gtest.h>

#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"

namespace virga::interlaced_test {
namespace {

using namespace test;

class Interlaced : public testing::Test {
protected:
    void SetUp() override {
        // 50 moments a second, two in each picture, with something that moves across.
        for (const char* order : {"tff", "bff"}) {
            const auto raw = m_folder / (std::string(order) + ".mkv");
            ASSERT_TRUE(ffmpeg(std::string("-f lavfi -i testsrc2=s=192x96:r=50:d=1.2 -vf "
                                           "format=yuv420p,tinterlace=mode=interleave_") +
                               (order == std::string("tff") ? "top" : "bottom") + ",setfield=" + order +
                               " -c:v ffv1 -flags +ildct+ilme " + raw.string()));
        }
    }
    TemporaryFolder m_folder;
};

TEST_F(Interlaced, IsToldAndMadeWholeAsFFmpegDoes) {
    for (const char* name : {"tff.mkv", "bff.mkv"}) {
        const auto path = m_folder / name, whole = m_folder / "whole.mkv";
        ASSERT_TRUE(ffmpeg("-i " + path.string() + " -vf setfield=" + std::string(name).substr(0, 3) +
                           ",bwdif=mode=send_frame:deint=all -c:v ffv1 " + whole.string()));
        auto combed = VideoReader::open(path), want = VideoReader::open(whole, {}, false);
        ASSERT_TRUE(combed && want);
        EXPECT_TRUE((*combed)->info().video->interlaced);
        ASSERT_FALSE((*combed)->info().warnings.empty());
        EXPECT_NE((*combed)->info().warnings[0].find("interlaced"), std::string::npos);
        const auto frames = (*combed)->info().video->frames;
        EXPECT_EQ(frames, 30);
        const auto same = [&](std::int64_t n) {
            const auto a = (*combed)->read(n), b = (*want)->read(n);
            EXPECT_TRUE(a && b);
            for (int y = 0; y < 96; ++y)
                for (int x = 0; x < 192; ++x)
                    if (!(a->at(x, y) == b->at(x, y))) return false;
            return true;
        };
        for (std::int64_t n = 0; n < frames; ++n) EXPECT_TRUE(same(n)) << name << " forwards " << n;
        for (const std::int64_t n : {17, 3, 29, 28, 0, 1, 12}) EXPECT_TRUE(same(n)) << name << " anywhere " << n;
    }
}

TEST_F(Interlaced, MayBeLeftAsItIs) {
    auto whole = VideoReader::open(m_folder / "tff.mkv"), combed = VideoReader::open(m_folder / "tff.mkv", {}, false);
    ASSERT_TRUE(whole && combed);
    // How much lines differ from the mean of their neighbours: combs do.
    const auto combs = [](const Image<Linear16>& p) {
        double sum = 0;
        for (int y = 1; y + 1 < p.height(); ++y)
            for (int x = 0; x < p.width(); ++x)
                sum += std::abs(2.0 * p.at(x, y).g - p.at(x, y - 1).g - p.at(x, y + 1).g);
        return sum;
    };
    const auto a = (*whole)->read(10), b = (*combed)->read(10);
    ASSERT_TRUE(a && b);
    EXPECT_LT(combs(*a), 0.8 * combs(*b));
}

} // namespace
} // namespace virga::interlaced_test
