#include "core/edit/clipboard.h"

#include <algorithm>
#include <nlohmann/json.hpp>

#include "core/base/json.h"
#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;

// A project that holds only what is copied travels as an ordinary project document inside.
std::string wrapped(Project part, const Project& from, std::string_view kind) {
    part.settings = from.settings;
    const auto take = [&](const std::string& id) {
        if (const Media* media = findMedia(from, id); media && !findMedia(part, id)) part.media.push_back(*media);
    };
    for (const Clip& c : part.reel) take(c.mediaId);
    for (const Overlay& o : part.overlays) take(o.clip.mediaId);
    for (const Recipe& recipe : from.recipes)
        if (std::any_of(part.reel.begin(), part.reel.end(),
                        [&](const Clip& c) { return c.transition.link && c.transition.link->recipe == recipe.id; }))
            part.recipes.push_back(recipe);
    return json{{"virgaClipboard", kind}, {"project", documentOf(part, {})}}.dump();
}

// Recipes come along with the cuts that follow them. Where the project has another one of that id, the cuts are free.
void bringRecipes(Project& into, Project& part) {
    for (Clip& clip : part.reel) {
        auto& link = clip.transition.link;
        if (!link) continue;
        const auto isIt = [&](const Recipe& r) { return r.id == link->recipe; };
        const auto known = std::find_if(into.recipes.begin(), into.recipes.end(), isIt),
                   brought = std::find_if(part.recipes.begin(), part.recipes.end(), isIt);
        const bool here = known != into.recipes.end();
        if (brought != part.recipes.end() && !here)
            into.recipes.push_back(*brought);
        else if (!here || (brought != part.recipes.end() && !(*known == *brought))) {
            link.reset();
            for (Move& move : clip.transition.moves) move.recipeMove.clear();
        }
    }
}

} // namespace

std::string copiedClips(const Project& project, const std::vector<int>& clips) {
    Project part;
    std::vector<int> sorted = clips;
    std::sort(sorted.begin(), sorted.end());
    for (const int i : sorted)
        if (i >= 0 && i < int(project.reel.size())) part.reel.push_back(project.reel[std::size_t(i)]);
    return wrapped(std::move(part), project, "clips");
}

std::string copiedOverlay(const Project& project, int overlay) {
    Project part;
    if (overlay >= 0 && overlay < int(project.overlays.size()))
        part.overlays = {project.overlays[std::size_t(overlay)]};
    return wrapped(std::move(part), project, "overlay");
}

std::string copiedAdjustment(const Project& project, int adjustment) {
    Project part;
    if (adjustment >= 0 && adjustment < int(project.adjustments.size()))
        part.adjustments = {project.adjustments[std::size_t(adjustment)]};
    return wrapped(std::move(part), project, "adjustment");
}

std::string copiedTransition(const Project& project, int cut) {
    Project part;
    if (hasCut(project, cut)) {
        Clip carrier; // a gap that carries the transition
        carrier.id = "clip-1";
        carrier.transition = transitionAt(project, cut);
        part.reel = {carrier};
    }
    return wrapped(std::move(part), project, "transition");
}

Expected<Pasted> pasted(const Project& project, const std::string& text, int at, std::int64_t frame, int cut) {
    const auto nothing = [] {
        return fail(ErrorCode::BadInput, "there is nothing of Virga's on the clipboard", {},
                    "copy clips, an overlay or a cut's moves first");
    };
    const json copied = parseJson(text, "copied from Virga", "the clipboard").value_or(json());
    if (!copied.is_object() || !copied.contains("virgaClipboard") || !copied["virgaClipboard"].is_string() ||
        !copied.contains("project"))
        return nothing();
    const std::string kind = copied["virgaClipboard"];
    auto part = fromJson(copied["project"], {}, "clipboard");
    if (!part) return tl::unexpected(part.error());
    Pasted out{project, -1, 0, Pasted::Clips};
    std::map<std::string, std::string> ids;
    for (const Media& media : part->media) out.project = withMedia(out.project, media, &ids[media.id]);
    for (Clip& c : part->reel)
        if (!c.isGap()) c.mediaId = ids[c.mediaId];
    for (Overlay& o : part->overlays) o.clip.mediaId = ids[o.clip.mediaId];
    bringRecipes(out.project, *part);
    if (kind == "clips" && !part->reel.empty()) {
        out.first = std::clamp(at, 0, int(project.reel.size()));
        out.count = int(part->reel.size());
        if (project.reel.empty()) out.project.settings = part->settings;
        out.project = withClipsInserted(out.project, part->reel, out.first);
    } else if (kind == "overlay" && !part->overlays.empty()) {
        Overlay overlay = part->overlays.front();
        overlay.start = frame;
        out.project = withOverlayPut(out.project, overlay);
        out.first = int(out.project.overlays.size()) - 1;
        out.count = 1;
        out.kind = Pasted::Overlay;
    } else if (kind == "adjustment" && !part->adjustments.empty()) {
        Adjustment adjustment = part->adjustments.front();
        out.project = withAdjustmentAdded(out.project, frame, adjustment.length);
        adjustment.id = out.project.adjustments.back().id;
        adjustment.start = frame;
        out.project.adjustments.back() = adjustment;
        out.first = int(out.project.adjustments.size()) - 1;
        out.count = 1;
        out.kind = Pasted::Adjustment;
    } else if (kind == "transition" && !part->reel.empty()) {
        if (!hasCut(project, cut))
            return fail(ErrorCode::BadInput, "there is no cut to paste these moves to", {}, "select a cut first");
        Transition transition = part->reel.front().transition;
        transition.ignored.clear();
        for (Move& move : transition.moves) move.id.clear();
        out.project = withTransition(out.project, cut, transition);
        out.first = cut;
        out.count = 1;
        out.kind = Pasted::Transition;
    } else {
        return nothing();
    }
    return out;
}

} // namespace virga
