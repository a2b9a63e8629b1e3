#pragma once
// What a project may hold: the one table of limits that files, edits, importers and saving share, so that what is made
// can be saved and what is saved can be opened. fields.h says which field is held to which; the schema is made of them.
#include <cstdint>
#include <string>
#include <vector>

#include "core/project/project.h"

namespace virga {

inline constexpr int smallestSide = 16, largestSide = 16384;   // of the frame, in pixels
inline constexpr std::int64_t longestClip = 10000000;          // frames: 4.6 days at 25 a second
inline constexpr std::int64_t latestFrame = 100000000;         // of overlays, adjustments, markers, the start frame
inline constexpr std::int64_t longestOverlap = 100000;         // frames on each side
inline constexpr double farthestKey = 1e7, largestValue = 1e9; // frames from the cut; a channel's value or rise
inline constexpr std::int64_t longestSource = 10000000;        // seconds: 115 days
inline constexpr double loudestGain = 16;
inline constexpr std::size_t mostKeys = 100000; // of one curve
inline constexpr double farthestPlace = 1e6;    // of anchors and positions, in frames
inline constexpr int highestRow = 1000;         // of overlays
inline constexpr int longestRecipe = 10000;     // frames of one side of a recipe
inline constexpr double weakestUse = 0.05, strongestUse = 4, shortestUse = 0.1, longestUse = 10; // of a recipe
inline constexpr std::size_t longestText = 4096; // bytes of a name or a path

/// The project held to the limits. `problems` receives a sentence for each thing that was changed.
Project withinLimits(const Project& project, std::vector<std::string>* problems = nullptr);

} // namespace virga
