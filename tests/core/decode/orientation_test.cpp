// The eight ways a picture may be stored, against FFmpeg's matrices and by EXIF's own table.
#include "core/decode/orientation.h"

#include <array>
#include <fstream>
#include <gtest/gtest.h>

#include "core/decode/video_reader.h"
#include "core/raster/kept_light.h"
#include "tests/support/clips.h"

extern "C" {
#include <libavutil/display.h>
}

namespace virga::orientation_test {
namespace {

using namespace test;

// Each pixel tells where it was stored.
Image<Rgba8> marked(int width, int height) {
    Image<Rgba8> picture(width, height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) picture.at(x, y) = {std::uint8_t(x), std::uint8_t(y), 0, 255};
    return picture;
}

// CIPA DC-008 (EXIF 2.32), table of orientations: where row 0 and column 0 of the stored picture are seen.
TEST(Orientation, ExifTagsPutRowsAndColumnsWhereTheTableSays) {
    struct Row {
        int tag;
        const char *row0, *column0;
    };
    for (const Row& r :
         {Row{1, "top", "left"}, Row{2, "top", "right"}, Row{3, "bottom", "right"}, Row{4, "bottom", "left"},
          Row{5, "left", "top"}, Row{6, "right", "top"}, Row{7, "right", "bottom"}, Row{8, "left", "bottom"}}) {
        const auto seen = upright(marked(7, 5), orientationOfExif(r.tag));
        EXPECT_EQ(seen.width(), r.tag < 5 ? 7 : 5);
        const auto edge = [&](std::string_view side, auto isOn) {
            const int w = seen.width(), h = seen.height();
            for (int i = 0; i < (side == "top" || side == "bottom" ? w : h); ++i) {
                const Rgba8 p = side == "top"      ? seen.at(i, 0)
                                : side == "bottom" ? seen.at(i, h - 1)
                                : side == "left"   ? seen.at(0, i)
                                                   : seen.at(w - 1, i);
                EXPECT_TRUE(isOn(p)) << r.tag << ' ' << side;
            }
        };
        edge(r.row0, [](Rgba8 p) { return p.g == 0; });
        edge(r.column0, [](Rgba8 p) { return p.r == 0; });
    }
}

// av_display_rotation_set turns counter-clockwise for positive angles; a flip comes before it.
TEST(Orientation, MatricesMeanWhatFFmpegMeans) {
    for (const int angle : {0, 90, 180, 270})
        for (const bool flipped : {false, true}) {
            std::int32_t matrix[9];
            av_display_rotation_set(matrix, -angle);
            if (flipped) av_display_matrix_flip(matrix, 1, 0);
            const Orientation o = orientationOfMatrix(matrix);
            const auto seen = upright(marked(7, 5), o);
            // The stored pixel (6, 0) by the matrix itself: p' = a p + c q, q' = b p + d q.
            const auto at = [&](double x, double y) {
                return std::pair(matrix[0] * x + matrix[3] * y, matrix[1] * x + matrix[4] * y);
            };
            const auto [dx, dy] = at(1, 0); // where the stored picture's right is seen
            const Rgba8 corner = seen.at(dx > 0 ? seen.width() - 1 : 0, dy > 0 ? seen.height() - 1 : 0);
            EXPECT_EQ(corner.r, 6) << angle << flipped;
            const auto [ex, ey] = at(0, 1);
            const Rgba8 other = seen.at(ex > 0 ? seen.width() - 1 : 0, ey > 0 ? seen.height() - 1 : 0);
            EXPECT_EQ(other.g, 4) << angle << flipped;
        }
    const std::int32_t none[9] = {};
    EXPECT_EQ(orientationOfMatrix(none), Orientation());
}

// A JPEG with an orientation tag, made by hand: APP1 with one entry, 0x0112.
TEST(Orientation, PhotographsAreLaidAsTheirTagSays) {
    TemporaryFolder folder;
    ASSERT_TRUE(ffmpeg("-f lavfi -i color=c=black:s=64x48 -vf drawbox=x=0:y=0:w=16:h=12:color=white:t=fill -frames:v 1 "
                       "-q:v 2 " +
                       (folder / "flat.jpg").string()));
    std::ifstream in(folder / "flat.jpg", std::ios::binary);
    const std::string flat(std::istreambuf_iterator<char>(in), {});
    for (int tag = 1; tag <= 8; ++tag) {
        const unsigned char app1[] = {0xff,
                                      0xe1,
                                      0,
                                      34,
                                      'E',
                                      'x',
                                      'i',
                                      'f',
                                      0,
                                      0,
                                      'I',
                                      'I',
                                      42,
                                      0,
                                      8,
                                      0,
                                      0,
                                      0,
                                      1,
                                      0,
                                      0x12,
                                      1,
                                      3,
                                      0,
                                      1,
                                      0,
                                      0,
                                      0,
                                      static_cast<unsigned char>(tag),
                                      0,
                                      0,
                                      0,
                                      0,
                                      0,
                                      0,
                                      0};
        const auto path = folder / ("t" + std::to_string(tag) + ".jpg");
        std::ofstream out(path, std::ios::binary);
        out << flat.substr(0, 2) << std::string(reinterpret_cast<const char*>(app1), sizeof app1) << flat.substr(2);
        out.close();
        const auto reader = VideoReader::open(path);
        ASSERT_TRUE(reader) << tag;
        EXPECT_EQ((*reader)->info().video->orientation, orientationOfExif(tag));
        const auto picture = (*reader)->read(0);
        ASSERT_TRUE(picture);
        const bool right = tag == 2 || tag == 3 || tag == 6 || tag == 7,
                   low = tag == 3 || tag == 4 || tag == 7 || tag == 8;
        const int w = picture->width(), h = picture->height();
        EXPECT_EQ(w, tag < 5 ? 64 : 48);
        EXPECT_GT(lightOf(picture->at(right ? w - 4 : 3, low ? h - 4 : 3).g), 0.8) << tag;
        EXPECT_LT(lightOf(picture->at(right ? 3 : w - 4, low ? 3 : h - 4).g), 0.2) << tag;
    }
}

} // namespace
} // namespace virga::orientation_test
