#pragma once
// Fixes of what the frame shows at its edges and how finely: edge fill, covering, bars, copies, magnification, shutter.
// What is not there leaves the project as it is.
#include <optional>
#include <vector>

#include "core/base/error.h"
#include "core/geom/cover.h"
#include "core/project/project.h"

namespace virga {

/// Whether black bars that were found burnt into a clip's shot are left in by its crop.
bool leavesBarsIn(const Project& project, const Clip& clip);
/// Every clip of the medium, on the reel and above it, cropped at least by the bars found in it.
Project withBarsCropped(const Project& project, const std::string& mediaId);

/// Both clips at the cut given an edge fill of their own.
Project withEdgesAt(const Project& project, int cut, EdgeFill edges);

/// The least zoom about the middle, and the least slide, over everything else, with which no frame of the cut's moves
/// is left uncovered at any moment of its exposure, and what asks for it; empty where none does.
std::optional<LeastZoom> zoomThatCovers(const Project& project, int cut);
std::optional<LeastSlide> slideThatCovers(const Project& project, int cut);
/// A constant zoom of that factor, rounded up to a hundredth, put on top of the stack, on both sides.
Project withCoveringZoom(const Project& project, int cut, double factor);
/// A constant slide, in pixels of the frame, likewise.
Project withCoveringSlide(const Project& project, int cut, Point by);

/// What scales a shot's place: the point that comes to the frame's middle, in fractions of the frame, and by how much
/// all grows about it.
struct ShotScale {
    double factor = 1;
    Point about{0.5, 0.5};
};
Project withShotScaled(const Project& project, int clip, const ShotScale& scale);
/// The same of both clips of a cut, with the anchors of its moves: what lies on each other there goes on doing so.
Project withBothShotsScaled(const Project& project, int cut, const ShotScale& scale);
/// The least factor, to a hundredth, with which a clip covers the frame on those of its frames: about the frame's
/// middle, or about the shot's own, whichever asks for less. Empty where none up to 8 does.
std::optional<ShotScale> scaleThatCovers(const Project& project, int clip, const std::vector<std::int64_t>& frames);

/// How much of a clip's enlargement at one of its frames its own zooms are: a factor of at least 1.
double enlargedByZooms(const Project& project, int clip, std::int64_t frame);
/// Zooms of a clip, and of its sides of its cuts, taken back so far that `factor` less of it is left at the largest.
/// Errors: BadInput where its zooms are not what enlarges it.
Expected<Project> withZoomLimited(const Project& project, int clip, double factor);

/// The cut's shutter opened to at least an angle, about the same phase.
Project withShutterOpened(const Project& project, int cut, double angle);

} // namespace virga
