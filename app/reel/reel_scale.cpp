#include "app/reel/reel_scale.h"

#include <algorithm>
#include <cmath>

namespace virga {

ReelScale ReelScale::fitting(std::int64_t frames, double width, double margin) {
    return {margin, frames > 0 ? std::max(1.0, width - 2 * margin) / double(frames) : 1.0};
}

ReelHit hitTest(const Project& project, const ReelScale& scale, double x, double y, double top, double height) {
    if (y < top || y > top + height) return {};
    for (int cut = 0; cut < cutCount(project); ++cut) {
        const double dx = x - scale.xOf(double(cutFrame(project, cut))), dy = y - (top + height / 2);
        if (std::hypot(dx, dy) <= 10) return {ReelHit::OnJoint, cut};
    }
    const int clip = clipAt(project, std::int64_t(std::floor(scale.frameAt(x))));
    const auto near = [&](double frame) { return std::abs(x - scale.xOf(frame)) <= 5; };
    const int clips = int(project.reel.size());
    if (clip < 0) {
        if (clips > 0 && near(double(reelLength(project)))) return {ReelHit::OnTail, clips - 1};
        if (clips > 0 && near(0)) return {ReelHit::OnHead, 0};
        return {};
    }
    // A clip narrower than its two handles together is only ever moved.
    const double start = double(clipStart(project, clip)), end = double(clipStart(project, clip + 1));
    if ((end - start) * scale.pixelsPerFrame > 14) {
        if (near(start)) return {ReelHit::OnHead, clip};
        if (near(end)) return {ReelHit::OnTail, clip};
    }
    return {ReelHit::OnClip, clip};
}

int placeAt(const Project& project, const ReelScale& scale, double x) {
    int place = 0;
    for (; place < int(project.reel.size()); ++place)
        if (scale.frameAt(x) < (double(clipStart(project, place)) + double(clipStart(project, place + 1))) / 2) break;
    return place;
}

} // namespace virga
