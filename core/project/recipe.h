#pragma once
// A recipe: a transition kept for reuse, with the lengths that it was made for. Its files and a project's list of
// recipes hold the same object; core/recipe fits it to a cut.
#include <memory>

#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/geom/edge_fill.h"
#include "core/project/transition.h"

namespace virga {

struct UnknownFields; // what the file had beyond this version; see project_json.h

/// What a recipe is for: a cut, an overlay's entrance and exit, or the drift of one shot.
enum class RecipePlace { Cut, Overlay, Shot };

struct Recipe {
    std::string id;    // by which cuts and files name it: "plunge"
    std::string name;  // as people read it
    std::string note;  // what it is for, or why it is as it is
    std::string group; // by its movement: "in", "turn", "slide"
    std::vector<std::string> tags;
    RecipePlace place = RecipePlace::Cut;
    std::vector<Heading> headings;       // that it can take, the one it was made for first; empty where it has none
    FrameRate rate = 25;                 // at which its frames are counted
    int framesOut = 8, framesIn = 8;     // its usual lengths
    int wholeFrames = 0;                 // so many frames' widths or heights are passed; 0: it passes none
    int step = 0;                        // frames from shot to shot, where shots are stacked by it; 0: they are not
    Transition transition;               // its moves' ids name them in the recipe; its link stays unset
    std::optional<EdgeFill> edges;       // of both shots
    std::optional<Ramp> rampOut, rampIn; // of the shots' own speed
    std::shared_ptr<const UnknownFields> unknown; // not part of what == compares

    bool operator==(const Recipe& o) const {
        return id == o.id && name == o.name && note == o.note && group == o.group && tags == o.tags &&
               place == o.place && headings == o.headings && rate == o.rate && framesOut == o.framesOut &&
               framesIn == o.framesIn && wholeFrames == o.wholeFrames && step == o.step && transition == o.transition &&
               edges == o.edges && rampOut == o.rampOut && rampIn == o.rampIn;
    }
};

inline constexpr int recipeVersion = 1;

/// The recipe as the text of a file, with the fields that were read and are not known.
std::string recipeText(const Recipe& recipe);
/// Errors: Unreadable with the place for whatever is against the schema; Unsupported for a newer version.
Expected<Recipe> recipeFromText(std::string_view text, const std::string& file);

std::string_view nameOf(Heading heading);
std::optional<Heading> headingNamed(std::string_view name);

/// The schema (JSON Schema draft 7), as text; published as recipe.schema.json, which a test compares.
std::string recipeSchemaText();

/// Held to the limits of a project.
Recipe withinLimits(const Recipe& recipe);

} // namespace virga
