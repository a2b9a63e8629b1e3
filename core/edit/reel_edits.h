#pragma once
// Edits for assembling: cutting, moving and spreading clips of the reel. Each is a function from a project to a
// project; what is out of range gives the project back unchanged. Clips stay in their order unless an edit says
// otherwise.
#include <vector>

#include "core/project/project.h"

namespace virga {

/// The clip under a frame cut in two there: no frame is lost, and every frame looks as before. The cut that it makes is
/// hard; moves that reach over it go on as drift. Unchanged where the frame is a clip's first.
Project withSplit(const Project& project, std::int64_t frame);

/// A cut moved between its two clips (positive to the right): one grows as the other shrinks, the reel's length stays.
Project withCutRolled(const Project& project, int cut, std::int64_t frames);
/// What of a roll is possible: the frames it can go, as far as `frames` at most.
std::int64_t rollable(const Project& project, int cut, std::int64_t frames);

/// The source moved under a clip that stays in its place: positive shows later pictures.
Project withClipSlipped(const Project& project, int clip, std::int64_t frames);

/// A clip's length set at its tail, as far as its source goes; what follows moves along.
Project withLength(const Project& project, int clip, std::int64_t frames);

/// A constant speed set, from `slowestSpeed` to `fastestSpeed`; the clip goes on showing the same part of its source,
/// so its length changes. A still stays as it is.
Project withSpeed(const Project& project, int clip, Rational speed);

/// Clips taken out and the reel closed up.
Project withoutClips(const Project& project, const std::vector<int>& clips);
/// Clips turned into gaps of the same length, so that nothing moves; neighbouring gaps become one, and one at the end
/// goes.
Project withClipsLifted(const Project& project, const std::vector<int>& clips);
/// Gaps of a length in front of a clip.
Project withGap(const Project& project, int at, std::int64_t frames);

/// Clips taken out together and put back, side by side, in front of what was at `to`. `place` receives the index of the
/// first of them.
Project withClipsMoved(const Project& project, const std::vector<int>& clips, int to, int* place = nullptr);
/// Copies of clips, with their transitions, put in front of `to`, under fresh ids.
Project withClipsInserted(const Project& project, const SharedList<Clip>& clips, int to);

/// What happened to clips that were to be spread but are too short in their source.
struct Spread {
    Project project;
    std::vector<int> tooShort; // clips that could not reach their beat
};

/// Clips cut to the beats: each, in order, ends on the n-th beat after the one it starts on. Clips whose source is too
/// short end on the last beat that they reach.
Spread cutToBeats(const Project& project, const std::vector<int>& clips, int everyBeats);

enum class Direction { Right, Left, Down, Up };

/// Clips stacked: each begins `apart` frames after the one before and slides in on top of it, from the side away from
/// `direction`, over `slideFrames`, while those beneath stay on screen. The last keeps its length.
Project withCascade(const Project& project, const std::vector<int>& clips, std::int64_t apart, std::int64_t slideFrames,
                    Direction direction);

/// A cut's overlap, and who lies on top.
Project withOverlap(const Project& project, int cut, Overlap overlap, Side top);
/// Both shots fading into each other over so many frames around the cut, as far as spare frames go on each side.
Project withCrossfade(const Project& project, int cut, std::int64_t frames);

/// What probing found of a file that an edit only named, put in its media's place. Source times were counted from the
/// timecode that was known then, and stay at the same pictures.
Project withMediaProbed(const Project& project, const std::string& id, Media probed);

} // namespace virga
