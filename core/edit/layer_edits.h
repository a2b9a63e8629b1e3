#pragma once
// Edits of what lies above and below the reel: overlays, adjustments, markers. What is out of range gives the project
// back unchanged.
#include <string_view>

#include "core/project/project.h"

namespace virga {

/// A media as an overlay: fitted into the frame at half its size, edges empty, in the lowest row that is free there.
Project withOverlayAdded(const Project& project, const std::string& mediaId, std::int64_t start);
/// An overlay with all that it holds, put at its own start in the lowest free row from its own on, under fresh ids.
Project withOverlayPut(const Project& project, Overlay overlay);
Project withoutOverlay(const Project& project, int overlay);
/// Moved in time and to another row; where that place is taken, the next free row above.
Project withOverlayMoved(const Project& project, int overlay, std::int64_t start, int row);
/// An edge dragged by frames; kept within its source, at least one frame long, never before the reel's start.
Project withOverlayTrimmed(const Project& project, int overlay, bool head, std::int64_t frames);
int overlayRows(const Project& project);

/// How an overlay comes in and goes out.
enum class Entrance { Cut, Fade, PopUp, FromBelow, FromAbove, FromLeft, FromRight, SpinIn, PushIn, SwivelIn, BlurIn };
inline constexpr Entrance lastEntrance = Entrance::BlurIn;
/// "pop up", as it is chosen, and "pops up", as it is told of an overlay; the latter empty for Cut.
std::string_view nameOf(Entrance entrance);
std::string_view toldOf(Entrance entrance);
/// The moves of one side replaced by those of an entrance (incoming) or its mirror image, an exit (outgoing). Common
/// practice for a pop-up: zoom 0 to 1 and a slide from below in about 8 frames.
Project withEntrance(const Project& project, int overlay, Side side, Entrance entrance, int frames);
/// Which entrance those moves are; empty for moves shaped by hand. `frames` receives its length.
std::optional<Entrance> entranceOf(const Overlay& overlay, Side side, int* frames = nullptr);

/// A reel clip taken up as an overlay at the same time; the reel keeps a gap in its place.
Project withClipLiftedToOverlay(const Project& project, int clip);

Project withAdjustmentAdded(const Project& project, std::int64_t start, std::int64_t length);
Project withoutAdjustment(const Project& project, int adjustment);
Project withAdjustmentChanged(const Project& project, int adjustment, const Adjustment& changed);

/// A marker at a frame, named; one that is there already gets the name.
Project withMarker(const Project& project, std::int64_t frame, const std::string& name);
Project withoutMarker(const Project& project, int marker);
Project withMarkerMoved(const Project& project, int marker, std::int64_t frame);

} // namespace virga
