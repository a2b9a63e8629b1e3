#pragma once
// The moving span of each cut as a file of its own, with handles, and lists that lay these parts over the original
// clips, for an edit that lives elsewhere.
#include "core/export/export_reel.h"

namespace virga {

struct PartsSettings : ExportSettings { // `path` names the parts: "parts/regatta.mov" gives regatta-cut-03.mov
    int handles = 12;                   // frames beyond the movement on each side, as far as the reel goes
    std::vector<int> cuts;              // empty: all that move
};

struct Part {
    int cut = 0;
    std::int64_t from = 0, to = 0;         // reel frames that it replaces
    std::int64_t fileFrom = 0, fileTo = 0; // and that its file holds
    std::filesystem::path path;
    enum Shots { Both, Lower, Upper } shots = Both; // in an overlap with alpha each shot is a part of its own
};

/// Those that the settings ask for, in their order; no two replace the same frame. Errors: BadInput where nothing
/// moves, or for a cut that there is not.
Expected<std::vector<Part>> partsOf(const Project& project, const PartsSettings& settings);

/// The piece with the parts above its clips, which stand there without moves; and the same in one row, where parts
/// take the clips' place. `problems` receives what the row cannot hold.
Project withPartsAbove(const Project& project, const std::vector<Part>& parts);
Project withPartsBetween(const Project& project, const std::vector<Part>& parts,
                         std::vector<std::string>* problems = nullptr);

struct PartsReport {
    std::vector<Part> parts;
    std::filesystem::path timeline, list; // .otio and .edl
    double seconds = 0;
    std::vector<std::string> notes;
};

/// Parts have no sound: it stays where it is. `progress` counts frames over all parts. Errors: as exportReel.
Expected<PartsReport> exportParts(const Project& project, const PartsSettings& settings, SourcePool& pool,
                                  const ExportProgress& progress = {}, const Cancel& cancel = {});

} // namespace virga
