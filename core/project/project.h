#pragma once
// The project: one value that holds everything a piece is made of. Cheap enough to copy; threads share only const ones.
// Frames are counted at the project's rate from the reel's start; nothing depends on the size it is rendered at.
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/geom/edge_fill.h"
#include "core/motion/move.h"
#include "core/motion/shutter.h"
#include "core/time/rational.h"

namespace virga {

enum class Fit { Fill, Fit, Stretch };

struct Settings {
    Size size{1920, 1080};
    FrameRate rate = 25;
    Shutter shutter;
    EdgeFill edges = EdgeFill::Mirror;
    bool operator==(const Settings&) const = default;
};

/// A file, and what probing found, so that a project can be planned while its media is away.
struct Media {
    std::string id;
    std::filesystem::path path; // absolute
    Size size;                  // of the picture, upright; empty for sound alone
    Rational pixelAspect = 1;
    FrameRate rate = 25;
    Rational duration; // seconds; 0 for a still
    bool still = false;
    bool sound = false;
    bool hasPicture() const { return !size.isEmpty(); }
    bool operator==(const Media&) const = default;
};

/// What happens at a cut. It belongs to the incoming clip, travels with it, and rests while that clip is the first.
struct Transition {
    Stack moves;
    std::optional<Shutter> shutter;
    std::vector<std::string> ignored; // names of findings not to report here
    bool operator==(const Transition&) const = default;
};

struct Clip {
    std::string id;
    std::string mediaId;
    std::string name;
    Rational sourceIn;       // seconds from the media's first picture
    std::int64_t length = 1; // frames, at least 1
    Fit fit = Fit::Fill;
    std::optional<EdgeFill> edges;  // unset: as the project
    std::optional<Shutter> shutter; // unset: as the project
    double gain = 1;
    bool muted = false;
    Stack drift;           // incoming side, counted from the clip's first frame
    Transition transition; // at the cut before this clip
    bool operator==(const Clip&) const = default;
};

struct Tempo {
    double beatsPerMinute = 120;
    Rational firstBeat; // seconds into the file
    int beatsPerBar = 4;
    bool operator==(const Tempo&) const = default;
};

struct Music {
    std::string id;
    std::string mediaId;
    std::int64_t start = 0; // reel frame of its first sample
    Rational sourceIn;
    double gain = 1;
    std::optional<Tempo> tempo;
    bool operator==(const Music&) const = default;
};

struct UnknownFields; // what the file had beyond this version; see project_json.cpp

struct Project {
    std::string name;
    Settings settings;
    std::vector<Media> media;
    std::vector<Clip> reel;
    std::vector<Music> music;
    std::shared_ptr<const UnknownFields> unknown; // not part of what == compares

    bool operator==(const Project& o) const {
        return name == o.name && settings == o.settings && media == o.media && reel == o.reel && music == o.music;
    }
};

const Media* findMedia(const Project& project, const std::string& id);

/// The reel frame at which a clip starts; the reel's length for index reel.size().
std::int64_t clipStart(const Project& project, int clip);
std::int64_t reelLength(const Project& project);
/// The clip on screen at a frame, or -1 outside the reel.
int clipAt(const Project& project, std::int64_t frame);

/// Cuts are numbered from 0: cut c joins clips c and c + 1, at frame clipStart(c + 1).
inline int cutCount(const Project& project) {
    return project.reel.empty() ? 0 : int(project.reel.size()) - 1;
}
inline std::int64_t cutFrame(const Project& project, int cut) {
    return clipStart(project, cut + 1);
}
/// The transition at a cut. REQUIRES: 0 <= cut < cutCount.
inline const Transition& transitionAt(const Project& project, int cut) {
    return project.reel[std::size_t(cut) + 1].transition;
}
/// The cut nearest to a frame, or -1 where there is none.
int nearestCut(const Project& project, std::int64_t frame);

EdgeFill edgesOf(const Project& project, const Clip& clip);

/// Unused source frames, in project frames, before a clip's first and after its last one. A still has plenty.
struct Spare {
    std::int64_t before = 0, after = 0;
};
Spare spareFrames(const Project& project, const Clip& clip);

/// An id that no object of the project has: PREFIX followed by a number.
std::string freshId(const Project& project, const std::string& prefix);

} // namespace virga
