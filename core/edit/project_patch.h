#pragma once
// What lies between two states of a project, as small as it is: the clips that differ, and of the rest only what
// differs. Undo steps hold these, so that a long session over a long reel costs what was changed, not so many reels.
#include <cstddef>
#include <optional>
#include <vector>

#include "core/project/project.h"

namespace virga {

class ProjectPatch {
public:
    ProjectPatch(const Project& before, const Project& after);

    /// The one from the other. What was learnt meanwhile about clips and media that the patch does not touch stays.
    /// REQUIRES: as many clips as that state had.
    Project back(Project after) const;
    Project forth(Project before) const;

    /// What it takes in memory, about.
    std::size_t bytes() const { return m_bytes; }

private:
    struct Side {
        SharedList<Clip> clips;
        // Parts of the project beside its reel, where they differ.
        std::optional<std::string> name;
        std::optional<Settings> settings;
        std::optional<SharedList<Media>> media;
        std::optional<std::vector<Overlay>> overlays;
        std::optional<std::vector<Adjustment>> adjustments;
        std::optional<std::vector<Music>> music;
        std::optional<std::vector<Marker>> markers;
        std::optional<std::vector<Recipe>> recipes;
        std::optional<std::vector<std::string>> notes;
    };
    Project put(Project into, const Side& leaving, const Side& coming) const;

    std::size_t m_kept = 0; // so many clips at the beginning are the same; those at the end follow from the sizes
    Side m_before, m_after;
    std::size_t m_bytes = 0;
};

/// What a clip takes in memory, about.
std::size_t bytesOf(const Clip& clip);

} // namespace virga
