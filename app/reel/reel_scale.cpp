#include "app/reel/reel_scale.h"

#include <algorithm>
#include <cmath>

namespace virga {

ReelScale ReelScale::fitting(std::int64_t frames, double width, double margin) {
    return {margin, frames > 0 ? std::max(1.0, width - 2 * margin) / double(frames) : 1.0};
}

ReelScale ReelScale::zoomed(double factor, double about, double least) const {
    ReelScale out;
    const double frame = frameAt(about);
    out.pixelsPerFrame = std::clamp(pixelsPerFrame * factor, std::min(least, 24.0), 24.0);
    out.left = about - frame * out.pixelsPerFrame;
    return out;
}

ReelHit hitTest(const Project& project, const ReelScale& scale, double x, double y, double top, double height) {
    if (y < top || y > top + height || project.reel.empty()) return {};
    const auto starts = clipStarts(project);
    const int clips = int(project.reel.size());
    // The joint nearest to the pointer: on a narrow clip two of them may be in reach.
    int joint = -1;
    double nearest = 10;
    for (int cut = 0; cut + 1 < clips; ++cut) {
        const double dx = x - scale.xOf(double(starts[std::size_t(cut) + 1])), dy = y - (top + height / 2);
        if (std::hypot(dx, dy) <= nearest) nearest = std::hypot(dx, dy), joint = cut;
    }
    if (joint >= 0) return {ReelHit::OnJoint, joint};
    const double frame = scale.frameAt(x);
    const auto near = [&](std::int64_t f) { return std::abs(x - scale.xOf(double(f))) <= 5; };
    if (frame < 0) return near(0) ? ReelHit{ReelHit::OnHead, 0} : ReelHit{};
    const int clip =
        int(std::upper_bound(starts.begin(), starts.end(), std::int64_t(std::floor(frame))) - starts.begin()) - 1;
    if (clip >= clips) return near(starts.back()) ? ReelHit{ReelHit::OnTail, clips - 1} : ReelHit{};
    // A clip narrower than its two handles together is only ever moved.
    const auto start = starts[std::size_t(clip)], end = starts[std::size_t(clip) + 1];
    if (double(end - start) * scale.pixelsPerFrame > 14) {
        if (near(start)) return {ReelHit::OnHead, clip};
        if (near(end)) return {ReelHit::OnTail, clip};
    }
    return {ReelHit::OnClip, clip};
}

int placeAt(const Project& project, const ReelScale& scale, double x) {
    const auto starts = clipStarts(project);
    int place = 0;
    for (; place < int(project.reel.size()); ++place)
        if (scale.frameAt(x) < double(starts[std::size_t(place)] + starts[std::size_t(place) + 1]) / 2) break;
    return place;
}

} // namespace virga
