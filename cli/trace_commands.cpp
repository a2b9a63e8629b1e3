// Movement read from videos: a transition taken apart, and what a shot's camera does.
#include <algorithm>
#include <fmt/format.h>

#include "cli/commands.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/analysis/find_cuts.h"
#include "core/analysis/measure_movement.h"
#include "core/analysis/trace.h"
#include "core/base/output.h"
#include "core/recipe/shelf.h"

namespace virga::cli {

int runTrace(const TraceCommand& options) {
    if (!options.out.empty()) {
        const Output output{"a recipe",
                            {std::string(recipeSuffix)},
                            {options.file},
                            !options.force,
                            [](const std::filesystem::path& path) { return loadRecipe(path).has_value(); }};
        if (const auto may = mayWrite(options.out, output); !may) return complain(may.error());
    }
    std::int64_t picture = options.picture;
    if (picture < 0) {
        const auto list = findCuts(options.file);
        if (!list) return complain(list.error());
        const auto& cuts = list->cuts; // counted as 'cuts' lists them
        if (options.cut < 1 || options.cut > int(cuts.size()))
            return complain({ErrorCode::BadInput,
                             fmt::format("there is no cut {} among the {} that were found", options.cut, cuts.size()),
                             options.file, "see virga-cli cuts, or name the first picture of a shot by --picture"});
        picture = cuts[std::size_t(options.cut - 1)].picture;
    }
    TraceOptions how;
    how.most = options.frames;
    const auto trace = traceTransition(options.file, picture, how);
    if (!trace) return complain(trace.error());
    if (options.json) {
        sayJson(traceText(*trace));
    } else {
        say("picture {}, {:.3f} s\n  before: {}\n  after:  {}\n", trace->picture, trace->seconds.toDouble(),
            textOf(*trace, Side::Outgoing), textOf(*trace, Side::Incoming));
        if (trace->moves()) say("  explained: {:.1f} % of the way\n", trace->explained * 100);
        if (trace->shutterAngle >= 0) say("  shutter: about {:.0f}°\n", trace->shutterAngle);
        for (const std::string& note : trace->notes) say("  {}\n", note);
    }
    if (options.out.empty()) return Fine;
    const std::string name = options.name.empty() ? std::filesystem::path(options.out).stem().string() : options.name;
    auto recipe = recipeOf(*trace, name);
    if (!recipe) return complain(recipe.error());
    recipe->id = plainId(name);
    if (const auto saved = saveRecipe(*recipe, options.out); !saved) return complain(saved.error());
    if (!options.json) say("{}\n", options.out);
    return Fine;
}

int runMovement(const ProbeOptions& options) {
    const auto movement = measureMovement(options.file);
    if (!movement) return complain(movement.error());
    if (options.json) {
        sayJson(movementText(*movement, 2));
        return Fine;
    }
    say("{:>7} {:>9} {:>9} {:>9} {:>9} {:>8} {:>7}\n", "picture", "zoom %", "turn °", "across %", "down %", "speed %",
        "trust");
    for (std::size_t i = 0; i < movement->steps.size(); ++i) {
        const PictureStep& s = movement->steps[i];
        const TurnZoomSlide parts = partsOf(s.map);
        if (!s.isKnown()) {
            say("{:>7} not known\n", i);
            continue;
        }
        say("{:>7} {:>9.3f} {:>9.3f} {:>9.3f} {:>9.3f} {:>8.3f} {:>7.2f}{}\n", i, (parts.zoom - 1) * 100, parts.degrees,
            parts.slide.x * 100, parts.slide.y * 100, 100 * travelOf(s.map, movement->size.aspect()), s.trust,
            s.perspective ? "  perspective" : "");
    }
    return Fine;
}

} // namespace virga::cli
