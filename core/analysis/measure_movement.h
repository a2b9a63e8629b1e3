#pragma once
// How the pictures of a video move by themselves, picture by picture; kept on disk, so that it is found once.
#include <filesystem>
#include <functional>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/plan/shot_movement.h"

namespace virga {

/// Pixels of the longer side at which movement is measured.
inline constexpr int measuredSide = 640;

/// Reads a whole video on one thread; `report` gets 0 to 1. Steps that are not known are bridged. Nothing moves in a
/// still. Errors: as VideoReader; Cancelled.
Expected<ShotMovement> measureMovement(const std::filesystem::path& path,
                                       const std::function<void(double)>& report = {}, const Cancel& cancel = {});

/// Where it is kept in a folder, by the fingerprint of the file.
std::filesystem::path movementFile(const std::filesystem::path& folder, const std::string& fingerprint);

/// As JSON: the size, and for each picture its time and the step from it. Errors: as writeFileAtomically.
Expected<void> writeMovement(const std::filesystem::path& path, const ShotMovement& movement);
/// Errors: NotFound; Unreadable where the file is none, of another version or damaged.
Expected<ShotMovement> readMovement(const std::filesystem::path& path);

/// The same text, for people and scripts.
std::string movementText(const ShotMovement& movement, int indent = -1);

/// From what is kept, or measured and kept. Errors: as measureMovement; that it cannot be kept is none.
Expected<ShotMovement> keptMovement(const std::filesystem::path& path, const std::filesystem::path& folder,
                                    const std::function<void(double)>& report = {}, const Cancel& cancel = {});

} // namespace virga
