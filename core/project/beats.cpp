#include "core/project/beats.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

double frameOfSeconds(const Project& project, const Music& music, double seconds) {
    return double(music.start) + (seconds - music.sourceIn.toDouble()) * project.settings.rate.toDouble();
}

int floorDivide(int a, int b) {
    return a >= 0 ? a / b : -((-a + b - 1) / b);
}

} // namespace

const Music* musicWithBeats(const Project& project) {
    for (const Music& music : project.music)
        if (music.tempo) return &music;
    return nullptr;
}

double musicSeconds(const Project& project, double frame) {
    const Music& music = *musicWithBeats(project);
    return (frame - double(music.start)) / project.settings.rate.toDouble() + music.sourceIn.toDouble();
}

std::vector<BeatMark> beatsBetween(const Project& project, double from, double to) {
    std::vector<BeatMark> marks;
    const Music* music = musicWithBeats(project);
    if (!music) return marks;
    const Tempo& tempo = *music->tempo;
    for (int beat = beatBefore(tempo, musicSeconds(project, from)); marks.size() < 100000; ++beat) {
        const double frame = frameOfSeconds(project, *music, beatTime(tempo, beat));
        if (frame > to) break;
        if (frame < from - 1e-6) continue;
        const int bar = floorDivide(beat, tempo.beatsPerBar);
        marks.push_back({beat, frame, beat == bar * tempo.beatsPerBar, bar + 1});
    }
    return marks;
}

std::int64_t beatFrame(const Project& project, int beat) {
    const Music& music = *musicWithBeats(project);
    return std::llround(frameOfSeconds(project, music, beatTime(*music.tempo, beat)));
}

int beatAtFrame(const Project& project, std::int64_t frame) {
    const Music& music = *musicWithBeats(project);
    int beat = beatBefore(*music.tempo, musicSeconds(project, double(frame)));
    while (beatFrame(project, beat + 1) <= frame) ++beat; // rounded to this frame from after it
    while (beatFrame(project, beat) > frame) --beat;
    return beat;
}

std::vector<SnapPlace> snapPlaces(const Project& project) {
    std::vector<SnapPlace> places;
    const auto length = reelLength(project);
    for (const BeatMark& mark : beatsBetween(project, 0, double(length) * 2 + 1000))
        places.push_back({std::llround(mark.frame), mark.startsBar ? SnapPlace::Bar : SnapPlace::Beat});
    for (const Marker& marker : project.markers) places.push_back({marker.frame, SnapPlace::Marker});
    const auto starts = clipStarts(project);
    for (std::size_t i = 0; i < starts.size(); ++i)
        places.push_back({starts[i], i == 0 || i + 1 == starts.size() ? SnapPlace::Start : SnapPlace::Cut});
    std::stable_sort(places.begin(), places.end(),
                     [](const SnapPlace& a, const SnapPlace& b) { return a.frame < b.frame; });
    return places;
}

Snapped snapTo(const std::vector<SnapPlace>& places, double frame, double reach) {
    Snapped best{std::llround(frame), false, {}};
    double nearest = reach;
    for (const SnapPlace& place : places) {
        const double distance = std::abs(double(place.frame) - frame);
        if (distance > nearest) continue;
        nearest = distance;
        best = {place.frame, true, place};
    }
    return best;
}

} // namespace virga
