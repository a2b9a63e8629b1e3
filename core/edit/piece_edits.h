#pragma once
// Edits of the piece's own settings: its size and rate.
#include <vector>

#include "core/project/project.h"

namespace virga {

/// The piece at another rate. Times in seconds stay as nearly as whole frames allow: every cut goes to its nearest
/// frame, keys keep their times in seconds, beats stay where they are heard.
Project withRate(const Project& project, FrameRate rate);

/// Settings put in their place, with all that a change of the rate asks for.
Project withPieceSettings(const Project& project, const Settings& settings);

/// What most of the media ask for: the size that most of their time is shot in, and the rate likewise; those of `now`
/// where there is nothing to go by.
struct PieceFormat {
    Size size;
    FrameRate rate = 25;
    bool operator==(const PieceFormat&) const = default;
};
PieceFormat formatOf(const SharedList<Media>& media, const PieceFormat& now);

} // namespace virga
