#pragma once
// The music's beats on the reel, in frames: what the ruler shows, what edges snap to, and what clips are cut to. The
// first music that has a tempo gives them.
#include <vector>

#include "core/project/project.h"

namespace virga {

const Music* musicWithBeats(const Project& project);
inline bool hasBeats(const Project& project) {
    return musicWithBeats(project) != nullptr;
}

struct BeatMark {
    int beat = 0;
    double frame = 0; // exact
    bool startsBar = false;
    int bar = 1; // as people count
};

/// The beats from one reel frame to another; empty without a tempo. At most 100,000.
std::vector<BeatMark> beatsBetween(const Project& project, double from, double to);

/// The frame on which a beat falls: the nearest one. REQUIRES: hasBeats.
std::int64_t beatFrame(const Project& project, int beat);
/// The last beat whose frame is at or before a reel frame. REQUIRES: hasBeats.
int beatAtFrame(const Project& project, std::int64_t frame);
/// Seconds into the music's file of a reel frame, and back. REQUIRES: hasBeats.
double musicSeconds(const Project& project, double frame);

/// Places that edges and clips cling to.
struct SnapPlace {
    std::int64_t frame = 0;
    enum Kind { Beat, Bar, Marker, Cut, Playhead, Start } kind = Beat;
};
/// Beats, markers, cuts and the reel's two ends, ascending.
std::vector<SnapPlace> snapPlaces(const Project& project);
/// The nearest place within `reach` frames; the frame itself, and no place, where there is none.
struct Snapped {
    std::int64_t frame = 0;
    bool snapped = false;
    SnapPlace place;
};
Snapped snapTo(const std::vector<SnapPlace>& places, double frame, double reach);

} // namespace virga
