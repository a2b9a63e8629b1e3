#pragma once
// Movement as data for other programs: per frame and layer where its pixels land, how opaque it is, what moment of its
// source it shows and how fast it is seen; and the easings of all keys as CSS text. JSON as movement-data.schema.json
// describes it, or CSV with a row for each layer of each frame.
#include <string>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/output.h"
#include "core/project/project.h"

namespace virga {

/// A projective matrix for column vectors, row by row: [x', y', w'] = M [x, y, 1] in pixels.
using DataMatrix = std::array<double, 9>;

struct LayerMovement {
    int clip = -1, overlay = -1; // its place in the reel, or among the overlays
    std::string media;           // the file's name
    double sourceTime = 0;       // seconds
    double opacity = 1;
    double open = 0, close = 0; // of the shutter, in frames from the frame's own time
    Size source;                // pixels, after cropping
    DataMatrix matrix;          // from the source to the first lens, or to the output
    struct Lens {
        double x = 0, y = 0, radius = 0, amount = 0; // as core/geom/screen_map.h has it
        DataMatrix after;
    };
    std::vector<Lens> lenses;
    double seenSpeed = 0; // % of the frame's width a frame
};

struct FrameMovement {
    std::int64_t frame = 0;
    std::vector<LayerMovement> layers; // lowest first
};

struct EasingText {
    int cut = -1;      // -1: not of a cut
    std::string where; // "cut", "drift", "overlay", "adjustment"
    int index = -1;    // of the clip, overlay or adjustment
    std::string move, channel, side;
    double fromTime = 0, toTime = 0, fromValue = 0, toValue = 0; // frames of its axis; the channel's own unit
    std::string space, css; // the css runs from 0 to 1 in the space: "linear", "log2", "depth"
};

struct MovementData {
    Size size;
    FrameRate rate = 25;
    std::vector<FrameMovement> frames;
    std::vector<EasingText> easings;
};

/// REQUIRES: a range in the reel. Errors: Cancelled.
Expected<MovementData> movementData(const Project& project, std::int64_t from, std::int64_t to,
                                    const Cancel& cancel = {});

std::string jsonOf(const MovementData& data);
/// Of its lenses a row has the first; how many there are is told.
std::string csvOf(const MovementData& data);

/// Where it may be written: .json or .csv. With `force` also over a file that is no movement data.
Output movementOutput(const Project& project, bool force);
/// By the file's ending. Errors: as mayWrite and writing a file; Cancelled.
Expected<void> writeMovement(const Project& project, const std::filesystem::path& path, std::int64_t from,
                             std::int64_t to, bool force = false, const Cancel& cancel = {});

} // namespace virga
