// Following a subject through drawn pictures whose movement is known, and finding what two pictures have in common.
#include <cmath>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <numbers>
#include <opencv2/imgproc.hpp>
#include <random>

#include "core/analysis/follow_subject.h"
#include "core/analysis/follower.h"
#include "core/analysis/subject_match.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/edit/line_up.h"
#include "tests/core/analysis/drawn.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::follow_test {
namespace {

using namespace test;

// A card that travels, grows and turns over a ground that drifts another way.
struct Card {
    cv::Mat ground = blobs(900, 520, 3, 700), card = blobs(120, 120, 11, 60);
    struct Pose {
        double x, y, scale, degrees;
    };
    static Pose poseAt(int n) {
        return {200 + 5.3 * n + 12 * std::sin(n * 0.21), 150 + 2.1 * n, 1 + 0.009 * n, 1.6 * n};
    }
    Grey picture(int n) const {
        cv::Mat out;
        cv::warpAffine(ground, out, cv::Matx23d(1, 0, -40 + 0.8 * n, 0, 1, -20 - 0.3 * n), {640, 400}, cv::INTER_LINEAR,
                       cv::BORDER_REFLECT);
        const Pose p = poseAt(n);
        const double a = p.scale * std::cos(p.degrees * std::numbers::pi / 180),
                     b = p.scale * std::sin(p.degrees * std::numbers::pi / 180);
        const double c = 59.5; // the card's own middle
        const cv::Matx23d m(a, -b, p.x - a * c + b * c, b, a, p.y - b * c - a * c);
        cv::Mat laid, mask;
        cv::warpAffine(card, laid, m, {640, 400}, cv::INTER_CUBIC);
        cv::warpAffine(cv::Mat(120, 120, CV_8UC1, cv::Scalar(255)), mask, m, {640, 400});
        laid.copyTo(out, mask > 127);
        return greyOfMat(out);
    }
};

TEST(Follower, StaysOnADrawnSubject) {
    const Card card;
    SubjectSpot start;
    const auto first = Card::poseAt(0);
    start.at = {(first.x + 0.5) / 640, (first.y + 0.5) / 400};
    start.size = 100.0 / 640;
    Follower follower(card.picture(0), start);
    double worst = 0, worstScale = 0, worstTurn = 0;
    for (int n = 1; n <= 60; ++n) {
        const auto spot = follower.next(card.picture(n));
        ASSERT_TRUE(spot) << n;
        const auto pose = Card::poseAt(n);
        worst = std::max(worst, std::hypot(spot->at.x * 640 - 0.5 - pose.x, spot->at.y * 400 - 0.5 - pose.y));
        worstScale = std::max(worstScale, std::abs(spot->size / start.size / pose.scale - 1));
        worstTurn = std::max(worstTurn, std::abs(std::remainder(spot->angle - pose.degrees, 360)));
    }
    EXPECT_LT(worst, 0.5) << "pixels, over 60 pictures";
    EXPECT_LT(worstScale, 0.01);
    EXPECT_LT(worstTurn, 0.6);
}

TEST(Follower, SaysSoWhenItsSubjectIsGone) {
    const Card card;
    SubjectSpot start;
    start.at = {200.5 / 640, 150.5 / 400};
    start.size = 100.0 / 640;
    Follower follower(card.picture(0), start);
    ASSERT_TRUE(follower.next(card.picture(1)));
    const Grey flat = greyOfMat(cv::Mat(400, 640, CV_8UC1, cv::Scalar(77)));
    EXPECT_FALSE(follower.next(flat));
    EXPECT_FALSE(follower.next(card.picture(2))) << "lost is lost";
}

// *Line up* on two photographs with a known transform between them: position within a pixel, size within 0.5 %. The
// photograph's own texture is what is matched, so a drawn field serves as well; real ones are tried below.
TEST(SubjectMatch, FindsTheTransformBetweenTwoPictures) {
    const cv::Mat picture = blobs(960, 540, 7, 900);
    std::mt19937 draw(5);
    for (int round = 0; round < 6; ++round) {
        const double scale = 0.6 + 0.15 * round, turn = -25 + 11 * round;
        const double a = scale * std::cos(turn * std::numbers::pi / 180),
                     b = scale * std::sin(turn * std::numbers::pi / 180);
        const double dx = 480 - a * 480 + b * 270 + 20, dy = 270 - b * 480 - a * 270 - 14;
        cv::Mat other;
        cv::warpAffine(picture, other, cv::Matx23d(a, -b, dx, b, a, dy), {960, 540}, cv::INTER_AREA);
        const auto pair = matchSubjects(greyOfMat(picture), greyOfMat(other));
        ASSERT_TRUE(pair) << round;
        const double x = pair->first.at.x * 960 - 0.5, y = pair->first.at.y * 540 - 0.5;
        EXPECT_NEAR(pair->second.at.x * 960 - 0.5, a * x - b * y + dx, 1);
        EXPECT_NEAR(pair->second.at.y * 540 - 0.5, b * x + a * y + dy, 1);
        EXPECT_NEAR(pair->second.size / pair->first.size / scale, 1, 0.005);
        EXPECT_NEAR(pair->second.angle, turn, 0.2);
    }
}

TEST(SubjectMatch, FindsNothingWherePicturesHaveNothingInCommon) {
    EXPECT_FALSE(matchSubjects(greyOfMat(blobs(640, 360, 1, 400)), greyOfMat(blobs(640, 360, 2, 400))));
    EXPECT_FALSE(
        matchSubjects(greyOfMat(cv::Mat(360, 640, CV_8UC1, cv::Scalar(9))), greyOfMat(blobs(640, 360, 2, 400))));
}

class FollowInAClip : public testing::Test {
protected:
    void SetUp() override {
        const Card card;
        writeClip(
            m_folder / "a.mp4", {640, 400}, 25, 40,
            [&](int n) {
                const Grey grey = card.picture(n);
                Image<Rgba8> picture(640, 400);
                for (int y = 0; y < 400; ++y)
                    for (int x = 0; x < 640; ++x) {
                        const std::uint8_t v = grey.pixels[std::size_t(y * 640 + x)];
                        picture.at(x, y) = {v, v, v, 255};
                    }
                return picture;
            },
            20);
        m_project = twoClips(m_folder / "a.mp4", m_folder / "a.mp4");
        for (Media& m : m_project.media) m.size = {640, 400}, m.duration = Rational(40, 25);
        m_project.settings.size = {640, 400};
        for (Clip& clip : m_project.reel) clip.sourceIn = Rational(4, 25), clip.length = 30;
    }
    double off(const SubjectSpot& spot) {
        const auto pose = Card::poseAt(int(std::lround((spot.time * 25).toDouble())));
        return std::hypot(spot.at.x * 640 - 0.5 - pose.x, spot.at.y * 400 - 0.5 - pose.y);
    }
    Subject subjectOf(int n) {
        const auto pose = Card::poseAt(n);
        return {{(pose.x + 0.5) / 640, (pose.y + 0.5) / 400}, 0.15, 0, {}};
    }
    TemporaryFolder m_folder;
    Project m_project;
};

TEST_F(FollowInAClip, GoesBackFromTheLastFrameAndForwardFromTheFirst) {
    m_project.reel[0].subjectOut = subjectOf(33);
    m_project.reel[1].subjectIn = subjectOf(4);
    double told = 0;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const int clip = side == Side::Incoming;
        const auto done = followSubject(m_project, clip, side, [&](double part) { told = part; }, {});
        ASSERT_TRUE(done) << describe(done.error());
        EXPECT_EQ(done->lostAt, -1);
        ASSERT_EQ(done->subject.path.size(), 30u);
        int byHand = 0;
        for (const SubjectSpot& spot : done->subject.path) {
            EXPECT_LT(off(spot), 0.8) << spot.time.toDouble() * 25;
            byHand += spot.byHand;
        }
        EXPECT_EQ(byHand, 1);
        (clip ? m_project.reel[1].subjectIn : m_project.reel[0].subjectOut) = done->subject;
    }
    EXPECT_GT(told, 0.4);
    // Rolled, the cut finds its subjects where they are by then.
    m_project.reel[0].length = 20;
    const auto seen = subjectAt(m_project, 0, Side::Outgoing);
    ASSERT_TRUE(seen);
    EXPECT_NEAR(seen->at.x, Card::poseAt(23).x + 0.5, 1);
    EXPECT_NEAR(seen->at.y, Card::poseAt(23).y + 0.5, 1);
}

TEST_F(FollowInAClip, AHandSetSpotStaysAndItsNeighboursGoToIt) {
    m_project.reel[1].subjectIn = subjectOf(4);
    m_project.reel[1].subjectIn->path = followSubject(m_project, 1, Side::Incoming, [](double) {}, {})->subject.path;
    // Put 12 pixels beside it on one frame: a subject of another kind from there on.
    const auto seen = subjectAt(m_project, 1, Side::Incoming, 30 + 15);
    ASSERT_TRUE(seen);
    SubjectSeen other = *seen;
    other.at.x += 12;
    m_project = withSubject(m_project, 1, Side::Incoming, 30 + 15, other);
    const auto done = followSubject(m_project, 1, Side::Incoming, [](double) {}, {});
    ASSERT_TRUE(done);
    const auto& path = done->subject.path;
    ASSERT_EQ(path.size(), 30u);
    EXPECT_TRUE(path[15].byHand);
    EXPECT_NEAR(off(path[15]), 12, 0.2);
    EXPECT_LT(off(path[1]), 1.6) << "near the first one it is the first one's";
    EXPECT_GT(off(path[14]), 9) << "near the corrected one it is that one's";
    EXPECT_NEAR(off(path[25]), 12 * 1.19, 2) << "behind it too, grown with the card";
}

TEST_F(FollowInAClip, IsStoppedAndRefusesWithoutASubject) {
    EXPECT_FALSE(followSubject(m_project, 0, Side::Outgoing, [](double) {}, {}));
    m_project.reel[0].subjectOut = subjectOf(33);
    const Cancel cancel;
    const auto stopped = followSubject(
        m_project, 0, Side::Outgoing, [&](double) { cancel.request(); }, cancel);
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, ErrorCode::Cancelled);
}

// Real clips against points that a person set by looking at magnified pictures; see followed-points.json. Run where the
// footage is: VIRGA_REAL_FOOTAGE=FOLDER (tools/check_real_footage).
TEST(FollowOnRealFootage, StaysWithinThreePixelsOfWhatAPersonSees) {
    const char* const folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    std::ifstream file(std::string(VIRGA_SOURCE_DIR) + "/tests/core/analysis/followed-points.json");
    const auto all = nlohmann::json::parse(file);
    for (const auto& clip : all["clips"]) {
        const fs::path path = fs::path(folder) / clip["file"].get<std::string>();
        auto reader = VideoReader::open(path);
        ASSERT_TRUE(reader) << path;
        const Size size = (*reader)->info().video->size;
        const auto& points = clip["points"];
        const std::int64_t first = points.front()["picture"], last = points.back()["picture"];
        SubjectSpot start;
        start.at = {points.front()["x"].get<double>() / size.width, points.front()["y"].get<double>() / size.height};
        start.size = clip["size"].get<double>() / size.width;
        Follower follower(greyOf(*(*reader)->read(first)), start);
        std::size_t next = 1;
        double worst = 0;
        for (std::int64_t n = first + 1; n <= last; ++n) {
            const auto spot = follower.next(greyOf(*(*reader)->read(n)));
            ASSERT_TRUE(spot) << path << ", picture " << n;
            if (points[next]["picture"] != n) continue;
            const double off = std::hypot(spot->at.x * size.width - points[next]["x"].get<double>(),
                                          spot->at.y * size.height - points[next]["y"].get<double>());
            EXPECT_LT(off, 3) << path << ", picture " << n << ": followed to " << spot->at.x * size.width << ", "
                              << spot->at.y * size.height;
            worst = std::max(worst, off);
            ++next;
        }
        EXPECT_EQ(next, points.size());
        std::printf("%s: %.2f pixels off at most\n", path.filename().c_str(), worst);
    }
}

// *Line up* on two photographs: the second is the first as OpenCV's warpAffine turns, sizes and shifts it, darker and
// with a sensor's noise. Photographs of Debian's opencv-doc; run where they are (tools/check_real_footage).
TEST(SubjectMatchOnPhotographs, FindsPositionWithinAPixelAndSizeWithinHalfAPercent) {
    const char* const folder = std::getenv("VIRGA_REAL_FOOTAGE");
    if (!folder) GTEST_SKIP() << "set VIRGA_REAL_FOOTAGE";
    std::mt19937 draw(17);
    std::normal_distribution<double> noise(0, 3);
    for (const char* name : {"fruits.jpg", "home.jpg", "board.jpg", "aloeL.jpg"}) {
        auto reader = VideoReader::open(fs::path(folder) / name);
        ASSERT_TRUE(reader) << name;
        const Grey photograph = greyOf(*(*reader)->read(0));
        const int w = photograph.size.width, h = photograph.size.height;
        cv::Mat picture(h, w, CV_8UC1);
        std::copy(photograph.pixels.begin(), photograph.pixels.end(), picture.data);
        for (const auto& [scale, turn] : {std::pair{0.7, -18.0}, {1.0, 7.0}, {1.45, 30.0}}) {
            const double a = scale * std::cos(turn * std::numbers::pi / 180),
                         b = scale * std::sin(turn * std::numbers::pi / 180);
            const double cx = w * 0.5, cy = h * 0.5, dx = cx - a * cx + b * cy + 9, dy = cy - b * cx - a * cy - 6;
            cv::Mat other;
            cv::warpAffine(picture, other, cv::Matx23d(a, -b, dx, b, a, dy), {w, h}, cv::INTER_AREA);
            for (int i = 0; i < w * h; ++i)
                other.data[i] = cv::saturate_cast<uchar>(other.data[i] * 0.85 + 6 + noise(draw));
            const auto pair = matchSubjects(photograph, greyOfMat(other));
            ASSERT_TRUE(pair) << name << ", " << scale;
            const double x = pair->first.at.x * w - 0.5, y = pair->first.at.y * h - 0.5;
            EXPECT_NEAR(pair->second.at.x * w - 0.5, a * x - b * y + dx, 1) << name << ", " << scale;
            EXPECT_NEAR(pair->second.at.y * h - 0.5, b * x + a * y + dy, 1) << name << ", " << scale;
            EXPECT_NEAR(pair->second.size / pair->first.size / scale, 1, 0.005) << name << ", " << scale;
            EXPECT_NEAR(pair->second.angle, turn, 0.2) << name << ", " << scale;
        }
    }
}

} // namespace
} // namespace virga::follow_test
