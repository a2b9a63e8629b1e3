#pragma once
// How a shot's pictures move by themselves: what the camera did while it was filmed, from each picture to the next.
// Places are in widths of the picture from its centre, x to the right, y down, so that turns and zooms are about the
// centre and the same at every size. Plain data; threads may share const ones.
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/base/rational.h"
#include "core/geom/screen_map.h"

namespace virga {

/// From one picture to the next.
struct PictureStep {
    Matrix map;               // takes a place of the first picture to where it lies in the next one
    double trust = 0;         // 0: not known, the map is bridged from its neighbours; to 1
    double error = 0;         // how far the map may be off at the picture's edge, in widths (one standard deviation)
    int agreeing = 0;         // features that move along
    int seen = 0;             // of those that were found in both pictures
    bool perspective = false; // more than a turn, a zoom and a slide
    bool ofSubject = false;   // seen inside the picture and not at most of its border: a subject's, perhaps
    bool isKnown() const { return trust > 0; }
    bool operator==(const PictureStep&) const = default;
};

struct ShotMovement {
    Size size;                      // of the pictures, upright
    std::vector<Rational> times;    // when each one starts, in seconds from the first
    std::vector<PictureStep> steps; // one fewer: from each to the next
    bool operator==(const ShotMovement&) const = default;

    bool isEmpty() const { return steps.empty(); }
    /// What the pictures do from one moment to another, in seconds; parts of a step are parts of its movement. Identity
    /// outside.
    Matrix between(double from, double to) const;
    /// The share of a span's steps that are known.
    double knownShare(double from, double to) const;
    /// The share of them that may be a subject's movement rather than the camera's.
    double subjectShare(double from, double to) const;

private:
    double indexAt(double seconds) const;
    double shareOf(double from, double to, bool (*counts)(const PictureStep&)) const;
};

/// What is known of a project's shots, by their media's ids.
using ShotMovements = std::map<std::string, std::shared_ptr<const ShotMovement>>;

/// The turn, zoom and slide nearest to a map, by what it does near the centre.
struct TurnZoomSlide {
    double zoom = 1;    // a factor
    double degrees = 0; // clockwise
    Point slide{0, 0};  // of the centre, in widths
};
TurnZoomSlide partsOf(const Matrix& map);
Matrix matrixOf(const TurnZoomSlide& parts);

/// A part of a movement, 0 to 1 (beyond: carried on): its zoom and turn even, its slide along with them. Of a
/// perspective the matrix between.
Matrix partOf(const Matrix& step, double part);

/// The farthest that any of the nine probe points of a picture goes under a map, in widths. `aspect` is width : height.
double travelOf(const Matrix& map, double aspect);

/// Fills the steps that are not known from those before and after them, where no more than `most` are missing in a
/// row; others stand still.
void bridge(std::vector<PictureStep>& steps, int most = 6);

} // namespace virga
