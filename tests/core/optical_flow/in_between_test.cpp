// Optical flow on movements that are known, and the pictures that are made up along it.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>
#include <random>

#include "core/base/one_thread.h"
#include "core/decode/video_reader.h"
#include "core/edit/speed_edits.h"
#include "core/optical_flow/made_up.h"
#include "core/optical_flow/movement.h"
#include "core/optical_flow/optical_flow_file.h"
#include "core/optical_flow/optical_flow_grid.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "core/render/optical_flow_needs.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::in_between_test {
namespace {

using namespace test;

// Soft blobs of all sizes, so that there is something to follow everywhere.
cv::Mat ground(int width, int height, unsigned seed) {
    std::mt19937 draw(seed);
    cv::Mat picture(height, width, CV_8UC3, cv::Scalar(90, 100, 110));
    const auto within = [&](int most) { return int(draw() % unsigned(most)); };
    for (int i = 0; i < width * height / 500; ++i)
        cv::ellipse(picture, {within(width), within(height)}, {3 + within(18), 3 + within(18)}, within(360), 0, 360,
                    cv::Scalar(20 + within(220), 20 + within(220), 20 + within(220)), cv::FILLED, cv::LINE_AA);
    cv::GaussianBlur(picture, picture, {}, 1);
    return picture;
}

cv::Mat moved(const cv::Mat& from, cv::Matx23d by, cv::Size size) {
    cv::Mat out;
    cv::warpAffine(from, out, by, size, cv::INTER_CUBIC, cv::BORDER_REFLECT);
    return out;
}

Image<Linear16> linearOf(const cv::Mat& bgr) {
    Image<Linear16> picture(bgr.cols, bgr.rows);
    for (int y = 0; y < bgr.rows; ++y)
        for (int x = 0; x < bgr.cols; ++x) {
            const auto p = bgr.at<cv::Vec3b>(y, x);
            const auto kept = [](int code) { return keptOf(linearFromCode(code / 255.0)); };
            picture.at(x, y) = {kept(p[2]), kept(p[1]), kept(p[0]), std::uint16_t(linearOne)};
        }
    return picture;
}

// Of 8-bit code values, without a margin.
double psnr(const Image<Linear16>& a, const Image<Linear16>& b, int margin) {
    double sum = 0;
    std::vector<Rgba8> p(std::size_t(a.width())), q(std::size_t(a.width()));
    for (int y = margin; y < a.height() - margin; ++y) {
        encodeRow(a.row(y), p.data(), a.width());
        encodeRow(b.row(y), q.data(), a.width());
        for (int x = margin; x < a.width() - margin; ++x) {
            const auto i = std::size_t(x);
            for (const int d : {p[i].r - q[i].r, p[i].g - q[i].g, p[i].b - q[i].b}) sum += double(d) * d;
        }
    }
    return 10 * std::log10(255 * 255 * 3.0 * (a.width() - 2 * margin) * (a.height() - 2 * margin) / std::max(sum, 1.0));
}

FlowPair flowOf(const Image<Linear16>& a, const Image<Linear16>& b) {
    return flowBetween(greyOf(a, flowSide), greyOf(b, flowSide));
}

struct Known {
    const char* name;
    cv::Matx23d matrix;
};

TEST(Flow, FindsShiftsTurnsAndZooms) {
    const cv::Size size(480, 320);
    const cv::Mat big = ground(700, 520, 5);
    const auto about = [&](double degrees, double scale) { // as seen in the middle of the smaller picture
        const double a = scale * std::cos(degrees * CV_PI / 180), b = scale * std::sin(degrees * CV_PI / 180);
        const double cx = size.width / 2.0, cy = size.height / 2.0;
        return cv::Matx23d(a, -b, cx - a * cx + b * cy, b, a, cy - b * cx - a * cy);
    };
    const cv::Mat first = moved(big, {1, 0, -110, 0, 1, -100}, size);
    for (const Known& known : {Known{"shift", {1, 0, 9.4, 0, 1, -5.2}}, Known{"turn", about(2.5, 1)},
                               Known{"zoom", about(0, 1.04)}, Known{"both", about(-2, 0.97)}}) {
        const cv::Matx23d m = known.matrix;
        const cv::Mat second = moved(big,
                                     {m(0, 0), m(0, 1), m(0, 2) - 110 * m(0, 0) - 100 * m(0, 1), m(1, 0), m(1, 1),
                                      m(1, 2) - 110 * m(1, 0) - 100 * m(1, 1)},
                                     size);
        const FlowPair flow = flowOf(linearOf(first), linearOf(second));
        ASSERT_EQ(flow.grid, (Size{240, 160}));
        double sum = 0;
        int count = 0;
        for (int y = 15; y < 145; ++y)
            for (int x = 15; x < 225; ++x) {
                const double px = 2 * x + 0.5, py = 2 * y + 0.5; // the cell's middle in pixels
                const Point f = flowAt(flow.forward, flow.grid, x, y) * 2;
                const double qx = m(0, 0) * px + m(0, 1) * py + m(0, 2), qy = m(1, 0) * px + m(1, 1) * py + m(1, 2);
                sum += std::hypot(px + f.x - qx, py + f.y - qy), ++count;
            }
        EXPECT_LT(sum / count, 0.25) << known.name << ": pixels off on the mean";
        EXPECT_LT(flow.untrusted, 0.12) << known.name;
    }
}

TEST(Flow, IsTrustedByHowItComesBack) {
    EXPECT_DOUBLE_EQ(trustIn(0, 10, 2), 1);
    EXPECT_NEAR(trustIn(1, 0, 1), 0.5, 1e-12) << "a pixel off";
    EXPECT_NEAR(trustIn(1 + 0.05 * 40, 40, 1), 0.5, 1e-12) << "and 5 % of its length";
    EXPECT_LT(trustIn(4, 0, 1), 0.01);
}

class MadeUp : public testing::Test {
protected:
    // A card that travels over a ground that drifts the other way, at a moment.
    Image<Linear16> at(double t) const {
        const cv::Size size(480, 320);
        cv::Mat out = moved(m_ground, {1, 0, -100 + 6 * t, 0, 1, -90}, size), card, mask;
        const cv::Matx23d place(1, 0, 150 + 22 * t, 0, 1, 90 + 8 * t);
        cv::warpAffine(m_card, card, place, size, cv::INTER_CUBIC);
        cv::warpAffine(cv::Mat(120, 140, CV_8UC1, cv::Scalar(255)), mask, place, size);
        card.copyTo(out, mask > 127);
        return linearOf(out);
    }
    cv::Mat m_ground = ground(720, 520, 3), m_card = ground(140, 120, 8);
};

TEST_F(MadeUp, IsWhatWasThereAndBetterThanAMixEverywhere) {
    const Image<Linear16> a = at(0), b = at(1);
    const FlowPair flow = flowOf(a, b);
    for (const double part : {0.25, 0.5, 0.75}) {
        const Image<Linear16> truth = at(part);
        const double made = psnr(madeUp(a, b, flow, part), truth, 16), mix = psnr(mixed(a, b, part), truth, 16);
        EXPECT_GT(made, mix + 6) << part;
        EXPECT_GT(made, 28) << part;
    }
    // At its ends it is the pictures themselves, but for what a cubic takes.
    EXPECT_GT(psnr(madeUp(a, b, flow, 0), a, 16), 40);
    EXPECT_GT(psnr(madeUp(a, b, flow, 1), b, 16), 40);
}

TEST_F(MadeUp, IsTheSameOnAnyNumberOfThreads) {
    const Image<Linear16> a = at(0), b = at(1);
    const FlowPair flow = flowOf(a, b);
    const Image<Linear16> many = madeUp(a, b, flow, 0.4), smear = smeared(a, flow, 0.4, 0.8);
    const OneThread alone;
    EXPECT_EQ(flowOf(a, b), flow);
    const Image<Linear16> one = madeUp(a, b, flow, 0.4), smearOne = smeared(a, flow, 0.4, 0.8);
    EXPECT_EQ(std::memcmp(one.row(0), many.row(0), one.bytes()), 0);
    EXPECT_EQ(std::memcmp(smearOne.row(0), smear.row(0), smear.bytes()), 0);
}

TEST_F(MadeUp, AcrossACutItIsAMix) {
    const Image<Linear16> a = at(0), b = linearOf(ground(480, 320, 99));
    const FlowPair flow = flowOf(a, b);
    EXPECT_GT(flow.untrusted, 0.5);
    const Image<Linear16> made = madeUp(a, b, flow, 0.5), mix = mixed(a, b, 0.5);
    EXPECT_GT(psnr(made, mix, 0), flow.untrusted >= mostUntrusted ? 90 : 24);
    double trust = 0;
    for (const float t : trustAt(flow, 0.5)) trust += t;
    EXPECT_LT(trust / double(flow.grid.width * flow.grid.height), 0.3);
}

TEST_F(MadeUp, SmearsAsFarAsThingsMove) {
    // A bright bar on black that travels 16 pixels: open for half the way it is 8 pixels longer, and as much light.
    const auto bar = [](int x) {
        cv::Mat m(200, 320, CV_8UC3, cv::Scalar(40, 40, 40));
        for (int i = 0; i < 40; ++i)
            cv::rectangle(m, {x + (i * 37) % 60, (i * 53) % 190}, {x + (i * 37) % 60 + 9, (i * 53) % 190 + 9},
                          cv::Scalar(60 + i * 4, 250 - i * 5, 80 + i * 3), cv::FILLED);
        cv::GaussianBlur(m, m, {}, 0.8);
        return linearOf(m);
    };
    const Image<Linear16> a = bar(100), b = bar(116);
    const FlowPair flow = flowOf(a, b);
    const Image<Linear16> out = smeared(a, flow, 0, 0.5);
    // A true exposure over half of the way, about the first picture: the mean of what was there.
    std::vector<double> sum(std::size_t(320 * 200));
    for (int i = 0; i < 8; ++i) {
        cv::Mat m;
        const Image<Linear16> one = bar(100 - 4 + i);
        for (int y = 0; y < 200; ++y)
            for (int x = 0; x < 320; ++x) sum[std::size_t(y * 320 + x)] += one.at(x, y).g / 8.0;
    }
    double off = 0, plain = 0;
    for (int y = 20; y < 180; ++y)
        for (int x = 90; x < 200; ++x) {
            const double truth = sum[std::size_t(y * 320 + x)];
            off += std::pow(out.at(x, y).g - truth, 2), plain += std::pow(a.at(x, y).g - truth, 2);
        }
    EXPECT_LT(off, plain / 4) << "four times nearer to the exposure than the sharp picture";
}

TEST(FlowFile, ComesBackAndSaysWhatIsDamaged) {
    const TemporaryFolder folder;
    const cv::Mat big = ground(300, 220, 2);
    const FlowPair flow = flowOf(linearOf(moved(big, {1, 0, -20, 0, 1, -20}, {200, 140})),
                                 linearOf(moved(big, {1, 0, -16, 0, 1, -22}, {200, 140})));
    const auto path = folder / "a.flow";
    ASSERT_TRUE(writeFlow(path, flow));
    const auto again = readFlow(path);
    ASSERT_TRUE(again) << describe(again.error());
    EXPECT_EQ(*again, flow);
    std::string bytes;
    {
        std::ifstream file(path, std::ios::binary);
        bytes.assign(std::istreambuf_iterator<char>(file), {});
    }
    std::mt19937 draw(1);
    for (int i = 0; i < 200; ++i) {
        std::string bad = bytes;
        if (i % 3 == 0)
            bad.resize(draw() % bad.size());
        else
            bad[draw() % bad.size()] = char(draw());
        std::ofstream(path, std::ios::binary) << bad;
        const auto read = readFlow(path);
        if (bad != bytes && read) EXPECT_NE(read->untrusted, -1) << "only the share may differ";
        if (bad.size() != bytes.size()) EXPECT_FALSE(read);
    }
    EXPECT_EQ(readFlow(folder / "none.flow").error().code, ErrorCode::NotFound);
}

// Slow shots, from files to frames.
class SlowClip : public testing::Test {
protected:
    void SetUp() override {
        writeClip(
            m_folder / "a.mp4", {320, 192}, 25, 24,
            [&](int n) {
                const cv::Mat m = moved(m_ground, {1, 0, -60 + 6.0 * n, 0, 1, -40}, {320, 192});
                Image<Rgba8> picture(320, 192);
                for (int y = 0; y < 192; ++y)
                    for (int x = 0; x < 320; ++x) {
                        const auto p = m.at<cv::Vec3b>(y, x);
                        picture.at(x, y) = {p[2], p[1], p[0], 255};
                    }
                return picture;
            },
            12);
        m_project = twoClips(m_folder / "a.mp4", m_folder / "a.mp4");
        for (Media& m : m_project.media) m.size = {320, 192}, m.duration = Rational(24, 25);
        m_project.settings.size = {320, 192};
        for (Clip& c : m_project.reel) c.sourceIn = Rational(4, 25), c.length = 16, c.speed = Rational(1, 2);
    }
    Image<Rgba8> frame(std::int64_t n, InBetween way, Quality quality = exactQuality) {
        for (Clip& c : m_project.reel) c.inBetween = way;
        auto picture = renderFrame(m_project, n, {320, 192}, quality, m_pool);
        EXPECT_TRUE(picture) << (picture ? "" : describe(picture.error()));
        return picture ? std::move(*picture) : Image<Rgba8>(320, 192);
    }
    static double apart(const Image<Rgba8>& a, const Image<Rgba8>& b) {
        double sum = 0;
        for (int y = 12; y < 180; ++y)
            for (int x = 24; x < 296; ++x) sum += std::pow(a.at(x, y).g - b.at(x, y).g, 2);
        return std::sqrt(sum / (168 * 272));
    }
    TemporaryFolder m_folder;
    cv::Mat m_ground = ground(620, 300, 11);
    Project m_project;
    SourcePool m_pool;
};

TEST_F(SlowClip, ShowsNearestMixedAndMadeUpPictures) {
    const auto even = frame(4, InBetween::MadeUp); // on a picture: all ways are one
    EXPECT_EQ(apart(even, frame(4, InBetween::Nearest)), 0);
    EXPECT_EQ(apart(even, frame(4, InBetween::Mix)), 0);
    EXPECT_EQ(apart(frame(5, InBetween::Nearest), even), 0) << "the picture before is held";
    const auto next = frame(6, InBetween::Nearest), mix = frame(5, InBetween::Mix), made = frame(5, InBetween::MadeUp);
    // The truth: the ground between its two places.
    const cv::Mat truth = moved(m_ground, {1, 0, -60 + 6.0 * 6.5, 0, 1, -40}, {320, 192});
    double offMix = 0, offMade = 0, offHeld = 0;
    for (int y = 12; y < 180; ++y)
        for (int x = 24; x < 296; ++x) {
            const double t = truth.at<cv::Vec3b>(y, x)[1];
            offMix += std::pow(mix.at(x, y).g - t, 2), offMade += std::pow(made.at(x, y).g - t, 2);
            offHeld += std::pow(even.at(x, y).g - t, 2);
        }
    EXPECT_LT(offMade, offMix / 8);
    EXPECT_LT(offMix, offHeld);
    EXPECT_GT(apart(next, even), 5);
}

TEST_F(SlowClip, QuickPicturesMixUntilTheFlowIsKnown) {
    const auto quick = frame(5, InBetween::MadeUp, quickQuality);
    EXPECT_EQ(apart(quick, frame(5, InBetween::Mix, quickQuality)), 0);
    for (Clip& c : m_project.reel) c.inBetween = InBetween::MadeUp;
    const auto needs = flowNeeds(m_project, 0, 16, m_pool);
    EXPECT_EQ(needs.size(), 8u) << "each pair once";
    for (const FlowNeed& need : needs) m_pool.findFlow(need.path, need.time, need.look);
    EXPECT_TRUE(flowNeeds(m_project, 0, 16, m_pool).empty());
    EXPECT_GT(apart(frame(5, InBetween::MadeUp, quickQuality), quick), 2);
}

TEST_F(SlowClip, ARacingShotNeedsTheFlowOfAllThatPasses) {
    for (Clip& c : m_project.reel) c.speed = 4, c.inBetween = InBetween::MadeUp, c.length = 8;
    m_project.settings.shutter = {360, -180, 0};
    const auto needs = flowNeeds(m_project, 0, 4, m_pool);
    EXPECT_GE(needs.size(), 10u) << "four pictures pass in each frame";
    for (const FlowNeed& need : needs) m_pool.findFlow(need.path, need.time, need.look);
    EXPECT_TRUE(flowNeeds(m_project, 0, 4, m_pool).empty());
    // Known beforehand, a quick picture looks like an exact one does: nothing is left to be found while rendering.
    Quality known = exactQuality;
    known.findsFlow = false;
    const auto exact = renderFrame(m_project, 2, {320, 192}, exactQuality, m_pool);
    const auto quick = renderFrame(m_project, 2, {320, 192}, known, m_pool);
    ASSERT_TRUE(exact && quick);
    EXPECT_EQ(apart(*exact, *quick), 0);
}

TEST_F(SlowClip, FlowIsKeptOnDiskWithinItsBound) {
    for (Clip& c : m_project.reel) c.inBetween = InBetween::MadeUp;
    const auto kept = m_folder.path() / "flow";
    {
        SourcePool first;
        first.flow().keepIn(kept, 1 << 30);
        for (const FlowNeed& need : flowNeeds(m_project, 0, 16, first)) first.findFlow(need.path, need.time, need.look);
    }
    SourcePool again;
    again.flow().keepIn(kept, 1 << 30);
    EXPECT_TRUE(flowNeeds(m_project, 0, 16, again).empty()) << "found in another session";
    SourcePool small;
    small.flow().keepIn(kept, 1);
    const auto needs = flowNeeds(m_project, 16, 32, small);
    for (const FlowNeed& need : needs) small.findFlow(need.path, need.time, need.look);
    std::uintmax_t files = 0;
    for ([[maybe_unused]] const auto& file : fs::directory_iterator(kept)) ++files;
    EXPECT_LT(files, 32u) << "what is beyond the bound goes, now and then";
}

TEST_F(SlowClip, ARealShotsOwnMovementIsMeasured) {
    const auto movement = ownMovementOf(m_folder / "a.mp4");
    ASSERT_TRUE(movement) << describe(movement.error());
    EXPECT_NEAR(movement->perFrame, 100 * 6.0 / 320, 0.15) << "6 pixels of 320 a frame";
}

TEST_F(SlowClip, BackwardsTheExposureRunsTheOtherWay) {
    for (Clip& c : m_project.reel) c.speed = 3, c.length = 5;
    m_project.settings.shutter.angle = 360;
    Project back = m_project;
    back.reel[0] = runBackwards(m_project, m_project.reel[0]);
    for (int n = 0; n < 5; ++n) {
        const auto a = renderFrame(m_project, n, {320, 192}, exactQuality, m_pool),
                   b = renderFrame(back, 4 - n, {320, 192}, exactQuality, m_pool);
        ASSERT_TRUE(a && b);
        EXPECT_LT(apart(*a, *b), 1.0) << n << ": the same pictures pass";
    }
}

// The published pair of Debian's opencv-doc (RubberWhale, of Baker et al., "A database and evaluation methodology for
// optical flow", IJCV 92, 2011; its true flow is not in the package): our field is OpenCV's own but for its grid and
// its steps, and brings the second picture onto the first.
TEST(FlowOnRealFootage, OfThePublishedPairIsOpenCvsOwn) {
    const char* const folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    auto first = VideoReader::open(fs::path(folder) / "rubberwhale1.png"),
         second = VideoReader::open(fs::path(folder) / "rubberwhale2.png");
    ASSERT_TRUE(first && second);
    const auto a = (*first)->read(0), b = (*second)->read(0);
    ASSERT_TRUE(a && b);
    const Grey p = greyOf(*a, flowSide), q = greyOf(*b, flowSide);
    const FlowPair flow = flowBetween(p, q);
    const auto mat = [](const Grey& g) {
        return cv::Mat(g.size.height, g.size.width, CV_8UC1, const_cast<std::uint8_t*>(g.pixels.data()));
    };
    cv::Mat theirs;
    cv::setNumThreads(1);
    cv::DISOpticalFlow::create(cv::DISOpticalFlow::PRESET_MEDIUM)->calc(mat(p), mat(q), theirs);
    double off = 0, there = 0, before = 0;
    int count = 0;
    for (int y = 8; y < flow.grid.height - 8; ++y)
        for (int x = 8; x < flow.grid.width - 8; ++x) {
            const Point f = flowAt(flow.forward, flow.grid, x, y) * 2;
            const auto v = theirs.at<cv::Vec2f>(2 * y, 2 * x);
            off += std::hypot(f.x - double(v[0]), f.y - double(v[1])), ++count;
            const auto at = [](const Grey& g, double px, double py) { // between its pixels
                px = std::clamp(px, 0.0, g.size.width - 1.001), py = std::clamp(py, 0.0, g.size.height - 1.001);
                const int ix = int(px), iy = int(py);
                const double u = px - ix, w = py - iy;
                const auto code = [&](int i, int j) {
                    return double(g.pixels[std::size_t((iy + j) * g.size.width + ix + i)]);
                };
                return (1 - w) * ((1 - u) * code(0, 0) + u * code(1, 0)) + w * ((1 - u) * code(0, 1) + u * code(1, 1));
            };
            const double px = 2 * x + 0.5, py = 2 * y + 0.5;
            there += std::abs(at(p, px, py) - at(q, px + f.x, py + f.y)),
                before += std::abs(at(p, px, py) - at(q, px, py));
        }
    EXPECT_LT(off / count, 0.15) << "pixels, on the mean";
    EXPECT_LT(there, before / 2) << "the pictures differ half as much along it";
}

// Real footage: every second picture left out and made up again (see benchmarks/in_between_benchmark for all figures).
TEST(MadeUpOnRealFootage, IsBetterThanAMixOnTheMeanAndNeverWorse) {
    const char* const folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    double gains = 0;
    for (const char* name : {"cockatoo.mp4", "birds.mp4", "cityCC0.mpg", "Megamind.avi", "vtest.avi"}) {
        auto reader = VideoReader::open(fs::path(folder) / name);
        ASSERT_TRUE(reader) << name;
        double gain = 0;
        for (int i = 0; i < 6; ++i) {
            auto a = (*reader)->read(4 * i), truth = (*reader)->read(4 * i + 1), b = (*reader)->read(4 * i + 2);
            ASSERT_TRUE(a && truth && b);
            gain += (psnr(madeUp(*a, *b, flowOf(*a, *b), 0.5), *truth, 0) - psnr(mixed(*a, *b, 0.5), *truth, 0)) / 6;
        }
        EXPECT_GT(gain, 0) << name;
        gains += gain / 5;
        std::printf("%s: %+.2f dB\n", name, gain);
    }
    EXPECT_GT(gains, 1.8);
}

} // namespace
} // namespace virga::in_between_test
