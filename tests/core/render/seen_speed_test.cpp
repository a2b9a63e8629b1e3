// Seen speed and blur length against rendered pictures. A frame is rendered by exposures of no length at its begin and
// end (or at its shutter's); patches of the two pictures are laid onto each other by OpenCV's phase correlation (Kuglin
// and Hines, "The phase correlation image alignment method", 1975), and the homography that explains them tells how far
// the nine points travelled.
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <opencv2/calib3d.hpp>
#include <opencv2/imgproc.hpp>

#include "core/check/flow.h"
#include "core/plan/clip_facts.h"
#include "core/plan/seen_speed.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::seen_speed_test {
namespace {

using namespace test;

constexpr Size size{960, 540};

class SeenSpeed : public testing::Test {
protected:
    SeenSpeed() {
        const auto picture = detailedPicture(size, 5);
        for (const char* name : {"a.mp4", "b.mp4"})
            writeClip(
                m_folder / name, size, 25, 75, [&](int) { return copyOf(picture); }, 25);
        m_base = twoClips(m_folder / "a.mp4", m_folder / "b.mp4");
        for (Media& m : m_base.media) m.size = size;
        m_base.settings.size = size;
    }

    // The picture at a moment: `after` frames behind a frame's own time.
    cv::Mat at(Project p, int fromCut, double after) {
        p.settings.shutter = {.angle = 0, .phase = after * 360};
        const auto picture = renderFrame(p, 25 + fromCut, size, exactQuality, m_pool);
        EXPECT_TRUE(picture);
        cv::Mat grey(size.height, size.width, CV_64F);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) grey.at<double>(y, x) = picture->at(x, y).g;
        return grey;
    }

    // What takes one picture to the other, where they lie close together already.
    static cv::Mat between(const cv::Mat& a, const cv::Mat& b) {
        constexpr int patch = 128;
        cv::Mat window;
        cv::createHanningWindow(window, {patch, patch}, CV_64F);
        std::vector<cv::Point2d> here, there;
        for (int y = 0; y + patch <= size.height; y += 41)
            for (int x = 0; x + patch <= size.width; x += 64) {
                const cv::Rect where(x, y, patch, patch);
                double sure = 0; // copies: it multiplies its arguments by the window
                const cv::Point2d shift = cv::phaseCorrelate(a(where).clone(), b(where).clone(), window, &sure);
                if (sure < 0.05) continue;
                here.push_back({x + patch / 2.0, y + patch / 2.0});
                there.push_back(here.back() + shift);
            }
        EXPECT_GT(here.size(), 30u);
        const cv::Mat h = here.size() < 8 ? cv::Mat() : cv::findHomography(here, there, cv::RANSAC, 1.5);
        EXPECT_FALSE(h.empty());
        return h.empty() ? cv::Mat::eye(3, 3, CV_64F) : h;
    }

    // How far the fastest of the nine points travels between two moments, in % of the width, by the pictures.
    double travelled(const Project& p, int fromCut, double from, double to) {
        const cv::Mat a = at(p, fromCut, from), b = at(p, fromCut, to);
        // Laid onto each other by what was found, again and again, until nothing is left: within a patch everything
        // then moves alike.
        cv::Mat h = cv::Mat::eye(3, 3, CV_64F);
        for (int round = 0; round < 4; ++round) {
            cv::Mat laid;
            cv::warpPerspective(b, laid, h, b.size(), cv::INTER_CUBIC | cv::WARP_INVERSE_MAP, cv::BORDER_REFLECT);
            h = h * between(a, laid);
        }
        // The points lie under the probes at the frame's own time: half of the way back from there, and half on.
        const LayerPlan layer = planFrame(p, 25 + fromCut).layers.front();
        const double own = 25 + fromCut;
        const ScreenMap before = movementAt(layer, own + from, own, size), middle = movementAt(layer, own, own, size);
        double most = 0;
        for (const Point& probe : probePointsOf(size)) {
            const Point start = before.toScreen(middle.toSource(probe));
            std::vector<cv::Point2d> in{{start.x, start.y}}, out;
            cv::perspectiveTransform(in, out, h);
            most = std::max(most, std::hypot(out[0].x - start.x, out[0].y - start.y));
        }
        return 100 * most / size.width;
    }

    TemporaryFolder m_folder;
    SourcePool m_pool;
    Project m_base;
};

TEST_F(SeenSpeed, IsWhatThePicturesShowForEveryKindOfMovement) {
    const Shape straight{Interpolation::Linear}, eased = shapeNamed("ease-in-out").value();
    struct Kind {
        MoveKind kind;
        int channel;
        double o0, o1, i0, i1;
    };
    for (const Kind& k : {Kind{MoveKind::Zoom, 0, 1, 1.7, 0.62, 1}, Kind{MoveKind::Spin, 0, 0, 24, -24, 0},
                          Kind{MoveKind::Slide, 0, 0, 0.24, -0.24, 0}, Kind{MoveKind::Slide, 1, 0, -0.3, 0.3, 0},
                          Kind{MoveKind::Push, 0, 0, 0.35, -0.6, 0}, Kind{MoveKind::Tilt, 0, 0, 20, -20, 0},
                          Kind{MoveKind::Tilt, 1, 0, 16, -16, 0}})
        for (const Shape& shape : {straight, eased}) {
            const Project p = withMove(m_base, 0, k.kind, k.channel, k.o0, k.o1, 10, k.i0, k.i1, 10, shape, shape);
            const std::string what = std::string(moveInfo(k.kind).channels[std::size_t(k.channel)].label) +
                                     (shape == straight ? ", straight" : ", eased");
            // Straight ones before the cut, eased ones after it.
            for (const int n : {shape == straight ? -4 : 3}) {
                const FrameFacts facts = factsOf(p, 25 + n);
                ASSERT_GT(facts.speed, 0.5) << what << ": it moves";
                EXPECT_NEAR(travelled(p, n, -0.5, 0.5) / facts.speed, 1, 0.02) << what << ", frame " << n;
                EXPECT_NEAR(travelled(p, n, -0.25, 0.25) / facts.blur, 1, 0.03) << what << ", blur of frame " << n;
            }
        }
}

} // namespace
} // namespace virga::seen_speed_test
