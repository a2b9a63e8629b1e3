// The flow check of long reels: all of it, and after one edit; and the polygon of coverage beside OpenCV's intersection
// of convex polygons, in the same run. Usage: flow_benchmark PROJECT [short]
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include "core/check/flow.h"
#include "core/check/mend.h"
#include "core/edit/edits.h"
#include "core/geom/coverage.h"
#include "core/project/project_file.h"

using namespace virga;

namespace {

template <typename Work> double seconds(const Work& work) {
    const auto began = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
}

// The project's clips over and over, under ids of their own.
Project longReel(const Project& demo, int clips) {
    Project p = demo;
    p.overlays.clear(), p.adjustments.clear();
    p.reel.clear();
    for (int i = 0; i < clips; ++i) {
        Clip clip = demo.reel[std::size_t(i) % demo.reel.size()];
        clip.id = fmt::format("clip-{}", i + 1);
        p.reel.push_back(clip);
    }
    return p;
}

void measure(const Project& demo, int clips) {
    const auto reel = std::make_shared<const Project>(longReel(demo, clips));
    ReelFlow whole;
    const double first = seconds([&] { whole = flowOfReel(reel); });
    // One value typed at a cut in the middle.
    double worst = 0, sum = 0;
    int measured = 0;
    constexpr int times = 9;
    for (int k = 0; k < times; ++k) {
        Project edited = *reel;
        Clip& clip = edited.reel[edited.reel.size() / 2 + std::size_t(k)];
        for (Move& move : clip.transition.moves)
            for (Channel& channel : move.channels)
                for (Key& key : channel.incoming.keys) key.value *= 1.01;
        const auto now = std::make_shared<const Project>(std::move(edited));
        ReelFlow after;
        const double took = seconds([&] { after = flowOfReel(now, whole); });
        worst = std::max(worst, took), sum += took, measured = std::max(measured, after.measured);
    }
    fmt::print("| {} clips, {} frames | {:.0f} ms | {:.1f} ms ({:.1f} at most; {} clips measured anew) |\n", clips,
               reelLength(*reel), 1000 * first, 1000 * sum / times, 1000 * worst, measured);
}

void coverage() {
    constexpr int count = 200000;
    const Size frame{1280, 720};
    double ours = 0, theirs = 0, apart = 0;
    std::vector<cv::Point2f> output{{0, 0}, {1280, 0}, {1280, 720}, {0, 720}};
    const auto mapOf = [&](int i) {
        const double a = 0.37 * i, z = 1 + 0.4 * std::sin(0.11 * i);
        return ScreenMap(then(then(translation(-640, -360), then(rotation(40 * std::sin(a)), scaling(z, z))),
                              translation(640 + 90 * std::cos(a), 360 + 50 * std::sin(2 * a))));
    };
    const double t1 = seconds([&] {
        for (int i = 0; i < count; ++i) ours += uncoveredShare(mapOf(i), frame, frame);
    });
    const double t2 = seconds([&] {
        for (int i = 0; i < count; ++i) {
            const ScreenMap map = mapOf(i);
            std::vector<cv::Point2f> quad, both;
            for (const Point& c : cornersOf(frame)) {
                const Point p = map.toScreen(c);
                quad.emplace_back(float(p.x), float(p.y));
            }
            theirs += 1 - double(cv::intersectConvexConvex(quad, output, both)) / (1280.0 * 720);
        }
    });
    apart = std::abs(ours - theirs) / count;
    fmt::print("\nShare of a frame left uncovered, of a turned and shifted source: {:.2f} µs; OpenCV's "
               "intersectConvexConvex in "
               "the same run {:.2f} µs (the answers are {:.0e} of the frame apart).\n",
               1e6 * t1 / count, 1e6 * t2 / count, apart);
}

} // namespace

int main(int argc, char** argv) {
    const auto demo = loadProject(argc > 1 ? argv[1] : "demo/lantern-regatta.virga");
    if (!demo) {
        fmt::print(stderr, "{}\n", describe(demo.error()));
        return 1;
    }
    fmt::print("| reel | the whole check | after one edit |\n|---|---|---|\n");
    measure(*demo, 300);
    if (argc < 3) measure(*demo, 10000);
    coverage();
    return 0;
}
