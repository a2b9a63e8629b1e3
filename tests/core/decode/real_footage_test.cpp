// Real files against FFmpeg's own decoder: the pictures that `ffmpeg -f framemd5` lists, in that order, are the ones
// that come out here, forwards, anywhere and backwards. VIRGA_REAL_FOOTAGE names a folder of files
// (tools/check_real_footage fills one from Debian packages); without it there is nothing to compare.
#include <cstdlib>
#include <fstream>
#include <gtest/gtest.h>
#include <random>
#include <sstream>

#include "core/decode/picture_decoder.h"
#include "tests/support/clips.h"

extern "C" {
#include <libavutil/imgutils.h>
#include <libavutil/md5.h>
}

namespace virga::real_footage_test {
namespace {

using namespace test;

std::vector<std::string> picturesByFfmpeg(const fs::path& path) {
    const Ran ran = runProgram("ffmpeg -nostdin -v quiet -noautorotate -i '" + path.string() +
                               "' -map 0:v:0 -vsync passthrough -f framemd5 -");
    std::vector<std::string> sums;
    std::istringstream lines(ran.out);
    for (std::string line; std::getline(lines, line);)
        if (!line.empty() && line[0] != '#') sums.push_back(line.substr(line.rfind(' ') + 1));
    return sums;
}

std::string sumOf(const AVFrame& frame) {
    const auto format = AVPixelFormat(frame.format);
    const int size = av_image_get_buffer_size(format, frame.width, frame.height, 1);
    std::vector<std::uint8_t> bytes(std::size_t(std::max(size, 1)));
    av_image_copy_to_buffer(bytes.data(), size, frame.data, frame.linesize, format, frame.width, frame.height, 1);
    std::uint8_t sum[16];
    av_md5_sum(sum, bytes.data(), std::size_t(size));
    std::string text;
    for (const auto b : sum) {
        constexpr char digits[] = "0123456789abcdef";
        text += digits[b >> 4], text += digits[b & 15];
    }
    return text;
}

TEST(RealFootage, EveryPictureIsTheDecodersOwn) {
    const char* const folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "VIRGA_REAL_FOOTAGE is not set; see tools/check_real_footage";
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(folder)) {
        if (!entry.is_regular_file()) continue;
        SCOPED_TRACE(entry.path().filename().string());
        const auto want = picturesByFfmpeg(entry.path());
        auto opened = av::openPictures(entry.path(), {});
        EXPECT_EQ(bool(opened), !want.empty()) << (opened ? "" : describe(opened.error()));
        if (!opened || want.empty()) continue;
        auto decoder = av::openDecoder(opened->format->streams[opened->video], entry.path().string());
        ASSERT_TRUE(decoder);
        av::PictureDecoder pictures(std::move(*opened), std::move(*decoder));
        const auto count = std::int64_t(pictures.index().stamps.size());
        EXPECT_EQ(count, std::int64_t(want.size()));
        const auto is = [&](std::int64_t n) {
            const auto frame = pictures.picture(n);
            return frame && n < std::int64_t(want.size()) && sumOf(**frame) == want[std::size_t(n)];
        };
        int wrong = 0;
        for (std::int64_t n = 0; n < count; ++n) wrong += !is(n);
        EXPECT_EQ(wrong, 0) << "forwards, of " << count;
        std::mt19937 random(3);
        wrong = 0;
        for (int i = 0; i < 40; ++i) wrong += !is(std::int64_t(random() % std::uint64_t(count)));
        EXPECT_EQ(wrong, 0) << "anywhere, of 40";
        wrong = 0;
        for (std::int64_t n = count - 1; n >= 0; n -= std::max<std::int64_t>(1, count / 25)) wrong += !is(n);
        EXPECT_EQ(wrong, 0) << "backwards";
        // A decoder that has seen nothing else: some streams say at their beginning alone how they are to be read.
        for (const std::int64_t n : {count / 3, count / 2, count - 1}) {
            auto again = av::openPictures(entry.path(), {});
            ASSERT_TRUE(again);
            auto fresh = av::openDecoder(again->format->streams[again->video], entry.path().string());
            ASSERT_TRUE(fresh);
            av::PictureDecoder other(std::move(*again), std::move(*fresh));
            const auto frame = other.picture(n);
            EXPECT_TRUE(frame && n < std::int64_t(want.size()) && sumOf(**frame) == want[std::size_t(n)])
                << "fresh, " << n;
        }
        ++files;
    }
    EXPECT_GT(files, 0);
    RecordProperty("files", files);
}

} // namespace
} // namespace virga::real_footage_test
