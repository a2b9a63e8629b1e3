// Movement between two pictures against known movement, and against OpenCV's own phase correlation and alignment.
#include <cmath>
#include <gtest/gtest.h>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

#include "core/analysis/measure_movement.h"
#include "core/analysis/step_finder.h"
#include "core/decode/video_reader.h"
#include "tests/core/analysis/drawn.h"
#include "tests/support/clips.h"

namespace virga::step_test {
namespace {

using namespace test;

// A whole picture, and a smaller one of it as it is seen under a movement: in widths from the centre.
cv::Mat seenUnder(const cv::Mat& world, const Matrix& map, cv::Size frame) {
    const double w = frame.width, cx = w / 2 - 0.5, cy = frame.height / 2.0 - 0.5;
    const double wx = world.cols / 2.0 - 0.5, wy = world.rows / 2.0 - 0.5;
    const cv::Matx33d to(w, 0, cx, 0, w, cy, 0, 0, 1), from(1 / w, 0, -wx / w, 0, 1 / w, -wy / w, 0, 0, 1);
    const cv::Matx33d m(map[0][0], map[1][0], map[2][0], map[0][1], map[1][1], map[2][1], map[0][2], map[1][2],
                        map[2][2]);
    cv::Mat seen;
    cv::warpPerspective(world, seen, to * m * from, frame, cv::INTER_CUBIC, cv::BORDER_REFLECT);
    return seen;
}

// At 1280 × 720, halved as the program does.
Grey frameOf(const cv::Mat& world, const Matrix& map) {
    const cv::Mat seen = seenUnder(world, map, {1280, 720});
    return greyOf(ImageView<const std::uint8_t>{seen.data, seen.cols, seen.rows, std::ptrdiff_t(seen.step)}, 0, 255,
                  measuredSide);
}

PictureStep stepBetween(const cv::Mat& world, const Matrix& from, const Matrix& to, bool thorough) {
    StepFinder finder(thorough);
    (void)finder.next(frameOf(world, from));
    return finder.next(frameOf(world, to)).step;
}

const cv::Mat& world() {
    static const cv::Mat picture = blobs(2000, 1400, 5, 5200);
    return picture;
}

void expectRead(const cv::Mat& picture, const TurnZoomSlide& move, bool thorough) {
    const PictureStep step = stepBetween(picture, {}, matrixOf(move), thorough);
    ASSERT_TRUE(step.isKnown()) << move.zoom << " " << move.degrees << " " << move.slide.x;
    const TurnZoomSlide read = partsOf(step.map);
    EXPECT_NEAR(read.zoom / move.zoom, 1, 0.0005);
    EXPECT_NEAR(read.degrees, move.degrees, 0.02);
    EXPECT_NEAR(read.slide.x * 1280, move.slide.x * 1280, 0.1);
    EXPECT_NEAR(read.slide.y * 1280, move.slide.y * 1280, 0.1);
    EXPECT_FALSE(step.perspective);
    EXPECT_GT(step.trust, 0.5);
}

TEST(StepFinder, ReadsPansZoomsAndTurns) {
    for (const bool thorough : {false, true})
        for (const TurnZoomSlide& move : {TurnZoomSlide{1, 0, {0.0037, 0}},
                                          {1, 0, {-0.0213, 0.0119}},
                                          {1.0112, 0, {0, 0}},
                                          {0.9871, 0, {0, 0}},
                                          {1, 0.83, {0, 0}},
                                          {1, -2.4, {0.004, -0.003}},
                                          {1.021, 1.37, {-0.011, 0.006}}})
            expectRead(world(), move, thorough);
}

// The same over photographs: VIRGA_REAL_FOOTAGE.
TEST(StepFinder, ReadsPansZoomsAndTurnsOnPhotographs) {
    const char* folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    for (const char* name : {"fruits.jpg", "home.jpg", "board.jpg", "aloeL.jpg"}) {
        auto reader = VideoReader::open(fs::path(folder) / name);
        ASSERT_TRUE(reader) << name;
        const Grey grey = *(*reader)->readGrey(0, 4000);
        const cv::Mat small(grey.size.height, grey.size.width, CV_8UC1, const_cast<std::uint8_t*>(grey.pixels.data()));
        cv::Mat photograph;
        const double by = std::max(2000.0 / small.cols, 1200.0 / small.rows);
        cv::resize(small, photograph, {}, by, by, cv::INTER_CUBIC);
        for (const TurnZoomSlide& move :
             {TurnZoomSlide{1, 0, {0.0213, 0.0119}}, {1.0112, 0, {0, 0}}, {1, 0.83, {0, 0}}, {1.02, -1.4, {0.01, 0}}}) {
            SCOPED_TRACE(name);
            expectRead(photograph, move, false);
        }
    }
}

TEST(StepFinder, ReadsWhatIsFarApartWhenItTriesHarder) {
    for (const TurnZoomSlide& move :
         {TurnZoomSlide{1.22, 0, {0, 0}}, {1, -24, {0, 0}}, {1, 0, {0.2, 0.03}}, {0.84, 17, {0.05, 0}}})
        expectRead(world(), move, true);
}

TEST(StepFinder, TellsATiltByItsPerspective) {
    Matrix tilt; // about one degree and a half of a picture's plane, seen through 40 degrees
    tilt[0][2] = 0.035;
    tilt[1][2] = -0.02;
    const PictureStep step = stepBetween(world(), {}, tilt, false);
    ASSERT_TRUE(step.isKnown());
    EXPECT_TRUE(step.perspective);
    EXPECT_LT(travelOf(then(*inverseOf(tilt), step.map), 16.0 / 9) * 1280, 0.1) << "pixels";
}

// What moves on its own is left out: a third of the picture goes its own way.
TEST(StepFinder, LeavesOutWhatMovesByItself) {
    const Matrix pan = matrixOf({1, 0, {0.012, 0.004}});
    const cv::Mat one = seenUnder(world(), {}, {1280, 720});
    cv::Mat two = seenUnder(world(), pan, {1280, 720});
    const cv::Mat boat = blobs(520, 400, 77, 300);
    cv::Mat first = one.clone();
    boat.copyTo(first(cv::Rect(500, 200, 520, 400)));
    boat.copyTo(two(cv::Rect(470, 190, 520, 400)));
    StepFinder finder;
    const auto grey = [](const cv::Mat& m) {
        return greyOf(ImageView<const std::uint8_t>{m.data, m.cols, m.rows, std::ptrdiff_t(m.step)}, 0, 255,
                      measuredSide);
    };
    (void)finder.next(grey(first));
    const PictureStep step = finder.next(grey(two)).step;
    ASSERT_TRUE(step.isKnown());
    EXPECT_LT(travelOf(then(*inverseOf(pan), step.map), 16.0 / 9) * 1280, 0.15);
    EXPECT_LT(step.agreeing, step.seen * 0.92);
}

// A large subject over a background that stands still has most of the features. The border does not go along: it is
// trusted little, and known as what may be a subject's. A pan of the camera, over the same, is not.
TEST(StepFinder, TrustsLittleWhatOnlyTheInsideShows) {
    const cv::Mat shore = blobs(1400, 840, 31, 900), boat = blobs(920, 500, 77, 1700);
    const auto shot = [&](int pan, int sail) {
        cv::Mat picture = shore(cv::Rect(60 + pan, 60, 1280, 720)).clone();
        boat.copyTo(picture(cv::Rect(170 + sail, 110, 920, 500)));
        return greyOf(
            ImageView<const std::uint8_t>{picture.data, picture.cols, picture.rows, std::ptrdiff_t(picture.step)}, 0,
            255, measuredSide);
    };
    StepFinder sails, pans;
    (void)sails.next(shot(0, 0));
    (void)pans.next(shot(0, 0));
    const PictureStep subject = sails.next(shot(0, 14)).step, camera = pans.next(shot(14, -14)).step;
    ASSERT_TRUE(subject.isKnown() && camera.isKnown());
    EXPECT_NEAR(partsOf(subject.map).slide.x * 1280, 14, 0.3) << "most of the features are the boat's";
    EXPECT_TRUE(subject.ofSubject);
    EXPECT_LT(subject.trust, 0.31);
    EXPECT_NEAR(partsOf(camera.map).slide.x * 1280, -14, 0.3);
    EXPECT_FALSE(camera.ofSubject);
    EXPECT_GT(camera.trust, 0.6);
}

TEST(StepFinder, SaysSoWhereNothingCanBeKnown) {
    StepFinder finder(true);
    const auto flat = [](int level) {
        const cv::Mat m(720, 1280, CV_8UC1, cv::Scalar(level));
        return greyOf(ImageView<const std::uint8_t>{m.data, m.cols, m.rows, std::ptrdiff_t(m.step)}, 0, 255,
                      measuredSide);
    };
    EXPECT_FALSE(finder.next(flat(3)).step.isKnown()) << "the first one";
    EXPECT_FALSE(finder.next(flat(3)).step.isKnown()) << "dark";
    EXPECT_FALSE(finder.next(flat(200)).step.isKnown()) << "flat";
    EXPECT_FALSE(finder.next(frameOf(world(), {})).step.isKnown()) << "another picture";
    EXPECT_FALSE(finder.next(frameOf(blobs(2000, 1400, 99, 5200), {})).step.isKnown()) << "a cut";
}

// Second opinions: OpenCV's phase correlation (cv::phaseCorrelate) for a pan, its alignment by enhanced correlation
// (Evangelidis and Psarakis, PAMI 30, 2008; cv::findTransformECC) for a turn.
TEST(StepFinder, AgreesWithPhaseCorrelationAndAlignment) {
    const Matrix pan = matrixOf({1, 0, {0.0064, -0.0031}});
    const PictureStep step = stepBetween(world(), {}, pan, false);
    cv::Mat a, b, window;
    seenUnder(world(), {}, {1280, 720}).convertTo(a, CV_32F);
    seenUnder(world(), pan, {1280, 720}).convertTo(b, CV_32F);
    cv::createHanningWindow(window, a.size(), CV_32F);
    const cv::Point2d shift = cv::phaseCorrelate(a, b, window);
    EXPECT_NEAR(step.map[2][0] * 1280, shift.x, 0.15);
    EXPECT_NEAR(step.map[2][1] * 1280, shift.y, 0.15);

    const Matrix turn = matrixOf({1, 1.1, {0, 0}});
    const TurnZoomSlide read = partsOf(stepBetween(world(), {}, turn, false).map);
    cv::Mat warp = cv::Mat::eye(2, 3, CV_32F);
    cv::findTransformECC(
        seenUnder(world(), {}, {1280, 720}), seenUnder(world(), turn, {1280, 720}), warp, cv::MOTION_EUCLIDEAN,
        cv::TermCriteria(cv::TermCriteria::COUNT | cv::TermCriteria::EPS, 100, 1e-7), cv::noArray(), 5);
    EXPECT_NEAR(read.degrees, std::atan2(warp.at<float>(1, 0), warp.at<float>(0, 0)) * 180 / M_PI, 0.02);
}

// On hand-held clips that nobody generated; the folder by VIRGA_REAL_FOOTAGE. The product of all steps over 60
// pictures, there and back, is no movement.
TEST(MeasureMovement, ClosesOnRealFootage) {
    const char* folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    for (const char* name : {"cityCC0.mpg", "birds.mp4", "tree.avi"}) {
        auto reader = VideoReader::open(std::filesystem::path(folder) / name);
        ASSERT_TRUE(reader) << name;
        std::vector<Grey> greys;
        for (int i = 30; i <= 90; ++i) greys.push_back(*(*reader)->readGrey(i, measuredSide));
        Matrix there, back;
        StepFinder forward, backward;
        for (std::size_t i = 0; i < greys.size(); ++i) {
            there = then(there, forward.next(greys[i]).step.map);
            back = then(back, backward.next(greys[greys.size() - 1 - i]).step.map);
        }
        EXPECT_LT(travelOf(then(there, back), 16.0 / 9), 0.01) << name;
    }
}

TEST(MeasureMovement, OfAFileIsKeptAndReadAgain) {
    // A video of its own: a slow pan over the field, 25 pictures.
    const TemporaryFolder folder;
    const fs::path path = folder / "pan.mp4";
    writeClip(path, {640, 360}, 25, 25, [](int i) {
        const cv::Mat seen = seenUnder(world(), matrixOf({1, 0, {0.004 * i, 0}}), {640, 360});
        Image<Rgba8> frame(640, 360);
        for (int y = 0; y < 360; ++y)
            for (int x = 0; x < 640; ++x) {
                const std::uint8_t v = seen.at<std::uint8_t>(y, x);
                frame.at(x, y) = {v, v, v, 255};
            }
        return frame;
    });
    std::vector<double> parts;
    const auto movement = keptMovement(path, folder / "kept", [&](double p) { parts.push_back(p); });
    ASSERT_TRUE(movement) << movement.error().message;
    EXPECT_EQ(movement->steps.size(), 24u);
    EXPECT_EQ(parts.back(), 1);
    const Point whole = partsOf(movement->between(0, 0.96)).slide;
    EXPECT_NEAR(whole.x, 0.096, 0.0006);
    EXPECT_NEAR(partsOf(movement->between(0.96, 0)).slide.x, -0.096, 0.0006) << "backwards";
    EXPECT_NEAR(partsOf(movement->between(0.1, 0.14)).slide.x, 0.004, 0.0002) << "between two pictures";
    EXPECT_EQ(movement->knownShare(0, 1), 1);
    bool asked = false;
    const auto again = keptMovement(path, folder / "kept", [&](double) { asked = true; });
    ASSERT_TRUE(again);
    EXPECT_FALSE(asked) << "read from what was kept";
    for (std::size_t i = 0; i < movement->steps.size(); ++i)
        EXPECT_LT(travelOf(then(*inverseOf(movement->steps[i].map), again->steps[i].map), 1.78), 1e-9);
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(measureMovement(path, {}, cancel).error().code, ErrorCode::Cancelled);
}

TEST(ShotMovement, BridgesWhatIsNotKnownFromBothSides) {
    std::vector<PictureStep> steps(7);
    for (const std::size_t i : {0u, 1u, 5u, 6u}) steps[i].trust = 1;
    for (const std::size_t i : {0u, 1u}) steps[i].map = matrixOf({1, 0, {0.01, 0}});
    for (const std::size_t i : {5u, 6u}) steps[i].map = matrixOf({1, 4, {0.05, 0}});
    bridge(steps);
    EXPECT_NEAR(partsOf(steps[3].map).slide.x, 0.03, 1e-9);
    EXPECT_NEAR(partsOf(steps[3].map).degrees, 2, 1e-9);
    EXPECT_FALSE(steps[3].isKnown());
    bridge(steps, 2);
    EXPECT_EQ(steps[3].map, Matrix()) << "too many in a row";
}

} // namespace
} // namespace virga::step_test
