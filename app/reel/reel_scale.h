#pragma once
// Reel frames to pixels across, and what lies under a point of the clips' band. Plain data; tested without a window.
#include <cstdint>

#include "core/project/project.h"

namespace virga {

struct ReelScale {
    double left = 12; // pixel of frame 0
    double pixelsPerFrame = 1;

    double xOf(double frame) const { return left + frame * pixelsPerFrame; }
    double frameAt(double x) const { return (x - left) / pixelsPerFrame; }
    /// The whole reel between two margins.
    static ReelScale fitting(std::int64_t frames, double width, double margin = 12);
    /// Larger or smaller about a pixel that keeps its frame, from the whole reel (never more than 24 pixels a frame,
    /// never less than `least` pixels a frame).
    ReelScale zoomed(double factor, double about, double least) const;
};

struct ReelHit {
    enum What {
        Nowhere,
        OnClip,
        OnJoint,
        OnHead,
        OnTail,
        OnOverlay,
        OnOverlayHead,
        OnOverlayTail,
        OnAdjustment,
        OnAdjustmentHead,
        OnAdjustmentTail,
        OnMusic,
        OnMusicHead,
        OnMusicTail,
        OnMarker,
        OnBeat,
        OnOverview,
        OnRuler,
        OnSnap,
        OnFlow,
        OnHeard
    };
    What what = Nowhere;
    int index = -1; // clip, cut for OnJoint, beat number for OnBeat, frame for OnFlow and OnHeard
    bool operator==(const ReelHit&) const = default;
};

/// What is under a point in the clips' band: a joint (within 10 pixels of its centre), an edge (within 5 pixels), or a
/// clip.
ReelHit hitTest(const Project& project, const ReelScale& scale, double x, double y, double top, double height);

/// The place (0 to clips) at which something dropped at x would be put.
int placeAt(const Project& project, const ReelScale& scale, double x);

} // namespace virga
