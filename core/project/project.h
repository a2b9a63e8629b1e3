#pragma once
// The project: one value that holds everything a piece is made of. Cheap enough to copy; threads share only const ones.
// Frames are counted at the project's rate from the reel's start; nothing depends on the size it is rendered at.
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/rational.h"
#include "core/geom/edge_fill.h"
#include "core/motion/move.h"
#include "core/motion/shutter.h"
#include "core/project/flow_limits.h"
#include "core/project/recipe.h"
#include "core/project/tempo.h"

namespace virga {

enum class Fit { Fill, Fit, Stretch };

inline constexpr int mostCopies = 99;

/// Code values by the sRGB curve, 0 to 1.
struct Colour {
    double r = 0, g = 0, b = 0;
    bool operator==(const Colour&) const = default;
};

/// A sound made of the movement itself: noise as loud and as bright as the picture is seen to go.
struct Heard {
    bool on = false;
    double level = 0.6; // at the fastest movement, of full scale
    double body = 0.5;  // how much of it is low
    double air = 0.5;   // and how much of it is high
    double length = 0;  // seconds by which it swells before and fades behind the movement
    double thud = 0;    // of a low beat where the speed peaks
    bool operator==(const Heard&) const = default;
};

struct Settings {
    Size size{1920, 1080};
    FrameRate rate = 25;
    Shutter shutter;
    EdgeFill edges = EdgeFill::Mirror;
    int copies = 0;    // repeated or mirrored frames on each side at most, to `mostCopies`; 0 is without a limit
    Colour background; // beneath everything: gaps, empty edges, what can be seen through
    std::optional<std::int64_t> startFrame; // the reel's first frame by the piece's own timecode; unset: it has none
    FlowLimits flow;
    bool withShots = false; // speeds at cuts are judged with what the shots' own pictures do
    Heard heard;
    std::vector<std::string> ignored; // kinds of findings that are not reported anywhere
    bool operator==(const Settings&) const = default;
};

/// What is cut off a source's edges, in fractions of its width and height. Edge fill and fit see what is left.
struct Crop {
    double left = 0, top = 0, right = 0, bottom = 0;
    bool isEmpty() const { return left == 0 && top == 0 && right == 0 && bottom == 0; }
    bool operator==(const Crop&) const = default;
};

/// A file, and what probing found, so that a project can be planned while its media is away.
struct Media {
    std::string id;
    std::filesystem::path path; // absolute; a numbered sequence as core/base/sequence_path.h writes it
    Size size;                  // of the picture, upright; empty for sound alone
    Rational pixelAspect = 1;
    FrameRate rate = 25;
    Rational duration; // seconds; 0 for a still
    bool still = false;
    bool sound = false;
    bool interlaced = false;  // its pictures hold the lines of two moments
    std::string colour;       // what it is converted from, such as "HLG, BT.2020"; empty for ordinary pictures
    std::string fingerprint;  // of the file's content; empty where it was not taken
    Rational timecode;        // seconds of the first picture by the file's own timecode; 0 where it has none
    std::optional<Crop> bars; // black bars burnt into the picture; unset: not looked for yet
    bool hasPicture() const { return !size.isEmpty(); }
    bool operator==(const Media&) const = default;
};

/// A clip's own scale and place, on top of its fit.
struct Placement {
    double scale = 1;       // about the anchor
    double angle = 0;       // about the anchor, in degrees, clockwise
    Point position{0, 0};   // in frame widths and heights
    Point anchor{0.5, 0.5}; // in fractions of the frame
    bool operator==(const Placement&) const = default;
};

/// Where a shot's subject is in its source's picture: in fractions of its width and height, how large as a fraction of
/// its width, and how it is turned, in degrees, clockwise.
struct SubjectSpot {
    Rational time; // seconds of the source
    Point at{0.5, 0.5};
    double size = 0.1, angle = 0;
    bool byHand = false; // else it was followed there
    bool operator==(const SubjectSpot&) const = default;
};

/// What a shot is about, at one of its cuts: one place, or the places it was followed to.
struct Subject {
    Point at{0.5, 0.5};
    double size = 0.1, angle = 0;
    std::vector<SubjectSpot> path; // in the order of their times; where there are some, they count
    bool operator==(const Subject&) const = default;
};

/// Where it is at a time of the source, between its spots on the straight way from one to the next.
SubjectSpot spotAt(const Subject& subject, Rational time);

/// The largest speed of a clip, forwards or backwards, in source seconds per second; in % for its keys. The slowest one
/// by which a length is reckoned; 0 stands still.
inline const Rational fastestSpeed(10), slowestSpeed(1, 100);
inline constexpr double fastestPercent = 1000;

/// Where a slow clip's pictures between those that were filmed come from.
enum class InBetween { Nearest, Mix, MadeUp };
/// Whether a shot's optical flow is needed: for pictures in between, or to smear what moves in it (shotBlur, or
/// what one picture is smeared by).
inline bool needsOpticalFlow(InBetween between, double smear) {
    return between == InBetween::MadeUp || smear > 0;
}

/// A clip's sound at another speed. Automatic: it follows from 50 to 200 %, and is silent beyond.
enum class SpeedSound { Automatic, Follows, KeepsPitch, Silent };

/// What was found out of a clip's made-up pictures: the share of the worst of them that is not to be trusted.
struct Guess {
    double share = 0;
    std::int64_t frame = 0; // from the clip's first
    bool operator==(const Guess&) const = default;
};

/// Where the shot that a clip shows begins and ends in its source, as far as that was found near the clip's ends: what
/// lies before and behind are other shots.
struct FoundShot {
    std::optional<Rational> from, to; // seconds of the source: the shot's first picture, the first one of the next shot
    bool isWhole() const { return !from && !to; }
    bool operator==(const FoundShot&) const = default;
};

/// A moment of the source that is to be seen on a frame: what is between two of them may give, they do not.
struct Pin {
    Rational source;        // seconds
    std::int64_t frame = 0; // from the clip's first
    bool operator==(const Pin&) const = default;
};

struct Clip {
    std::string id;
    std::string mediaId; // empty: a gap, which shows nothing
    std::string name;
    Rational sourceIn;       // seconds from the media's first picture
    std::int64_t length = 1; // frames, at least 1
    Rational speed = 1;      // source seconds per second where there are no keys; negative runs backwards
    Channel speedCurve;      // keys in %: incoming from the first frame, outgoing from the end; see clip_time.h
    InBetween inBetween = InBetween::Nearest;
    double shotBlur = 0; // of what moves in the shot, as a factor of the shutter; 0: off
    SpeedSound speedSound = SpeedSound::Automatic;
    std::vector<Pin> pins;         // in the order of their frames
    std::optional<Guess> guess;    // unset: not looked for yet, or nothing is made up
    std::optional<FoundShot> shot; // unset: not looked for yet, or no other shot is near
    Fit fit = Fit::Fill;
    Crop crop;
    Placement placement;
    std::optional<EdgeFill> edges;                // unset: as the project
    std::optional<Subject> subjectIn, subjectOut; // at its first frame and its last one
    std::optional<Shutter> shutter;               // unset: as the project
    double gain = 1;
    bool muted = false;
    bool deinterlace = true;          // makes whole pictures where the media is interlaced
    Stack drift;                      // incoming side, counted from the clip's first frame
    Transition transition;            // at the cut before this clip
    std::vector<std::string> ignored; // names of findings about the clip that are not reported
    bool isGap() const { return mediaId.empty(); }
    bool operator==(const Clip&) const = default;
};

/// A clip above the reel. Its transition's incoming side is its entrance, counted from its first frame; the outgoing
/// side its exit, counted from its end.
struct Overlay {
    Clip clip;
    std::int64_t start = 0; // reel frame
    int row = 0;            // higher rows lie on top
    std::int64_t end() const { return start + clip.length; }
    bool operator==(const Overlay&) const = default;
};

/// A span that treats the reel beneath it; overlays lie above it and stay as they are.
struct Adjustment {
    std::string id;
    std::string name;
    std::int64_t start = 0;
    std::int64_t length = 25;
    std::optional<double> bars; // width : height of what black bars leave free
    Stack moves;                // the incoming side counted from its first frame, the outgoing one from its end
    std::int64_t end() const { return start + length; }
    bool operator==(const Adjustment&) const = default;
};

struct Marker {
    std::string id;
    std::int64_t frame = 0;
    std::string name;
    bool operator==(const Marker&) const = default;
};

struct Music {
    std::string id;
    std::string mediaId;
    std::int64_t start = 0; // reel frame of its first sample
    Rational sourceIn;
    std::int64_t length = 0; // frames; 0: to the end of the file
    double gain = 1;
    std::int64_t fadeIn = 0, fadeOut = 0; // frames
    std::optional<Tempo> tempo;
    bool operator==(const Music&) const = default;
};

struct Project {
    std::string name;
    Settings settings;
    SharedList<Media> media;
    SharedList<Clip> reel;
    std::vector<Overlay> overlays;
    std::vector<Adjustment> adjustments;
    std::vector<Music> music;
    std::vector<Marker> markers;
    std::vector<Recipe> recipes;    // those that its cuts follow
    std::vector<std::string> notes; // lines of imported edits that Virga has no object for; written out with edit lists
    std::shared_ptr<const UnknownFields> unknown; // not part of what == compares

    bool operator==(const Project& o) const {
        return name == o.name && settings == o.settings && media == o.media && reel == o.reel &&
               overlays == o.overlays && adjustments == o.adjustments && music == o.music && markers == o.markers &&
               recipes == o.recipes && notes == o.notes;
    }
};

const Media* findMedia(const Project& project, const std::string& id);

/// The reel frame at which a clip starts; the reel's length for index reel.size().
std::int64_t clipStart(const Project& project, int clip);
std::int64_t reelLength(const Project& project);
/// All starts in one pass, with the reel's length at the end.
std::vector<std::int64_t> clipStarts(const Project& project);

/// Where the clips of a reel lie, for who asks for many frames of it.
struct ReelIndex {
    std::vector<std::int64_t> starts;           // as clipStarts
    std::int64_t mostBefore = 0, mostAfter = 0; // of all overlaps
};
ReelIndex reelIndex(const Project& project);

/// The clip on screen at a frame, or -1 outside the reel.
int clipAt(const Project& project, std::int64_t frame);

/// Cuts are numbered from 0: cut c joins clips c and c + 1, at frame clipStart(c + 1).
inline int cutCount(const Project& project) {
    return project.reel.empty() ? 0 : int(project.reel.size()) - 1;
}
inline bool hasCut(const Project& project, int cut) {
    return cut >= 0 && cut < cutCount(project);
}
inline bool hasClip(const Project& project, int clip) {
    return clip >= 0 && clip < int(project.reel.size());
}
inline std::int64_t cutFrame(const Project& project, int cut) {
    return clipStart(project, cut + 1);
}
/// The transition at a cut. REQUIRES: 0 <= cut < cutCount.
inline const Transition& transitionAt(const Project& project, int cut) {
    return project.reel[std::size_t(cut) + 1].transition;
}

EdgeFill edgesOf(const Project& project, const Clip& clip);

bool hasSpeedKeys(const Clip& clip);

/// The source time, in seconds, of a frame counted from a clip's start; outside the source its first or last picture.
/// 0 for a still.
Rational sourceTime(const Project& project, const Clip& clip, std::int64_t frame);

/// The frames that a music is heard for, by its length or to the end of its file.
std::int64_t musicLength(const Project& project, const Music& music);

/// Unused source frames, in project frames at the clip's speed, before its first and after its last one. A still and a
/// gap have plenty.
struct Spare {
    std::int64_t before = 0, after = 0;
};
inline constexpr std::int64_t plenty = 1000000;
Spare spareFrames(const Project& project, const Clip& clip);

/// The frames of a clip that are seen, its overlaps with its neighbours included: [from, to), from its first frame.
struct SeenFrames {
    std::int64_t from = 0, to = 0;
};
SeenFrames seenFrames(const Project& project, int clip);

/// An overlap for which a clip lacks spare frames: the side's clip shows its first or last picture frozen instead.
struct SpareShortage {
    int cut = -1;
    Side side = Side::Outgoing; // whose clip is too short
    std::int64_t wanted = 0, there = 0;
    bool operator==(const SpareShortage&) const = default;
};
std::vector<SpareShortage> spareShortages(const Project& project);

/// An id that no object of the project has: PREFIX followed by a number.
std::string freshId(const Project& project, const std::string& prefix);

} // namespace virga
