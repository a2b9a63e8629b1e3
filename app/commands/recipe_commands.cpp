#include "app/commands/recipe_commands.h"

#include <nlohmann/json.hpp>

#include "core/base/json.h"
#include "core/edit/clipboard.h"
#include "core/edit/move_edits.h"

namespace virga {
namespace {

QString nameOf(const Recipe& recipe) {
    return QString::fromStdString(recipe.name);
}

} // namespace

StackPlace placeOf(const Document& document, const Recipe& recipe) {
    const Selection s = document.selection();
    if (recipe.place == RecipePlace::Overlay)
        return {StackPlace::Overlay, s.kind == Selection::OverlaySelected ? s.index : -1};
    if (recipe.place == RecipePlace::Shot && s.kind == Selection::ClipSelected) return {StackPlace::Drift, s.index};
    return placeFor(recipe, document.cut());
}

bool canUse(const Document& document, const Recipe& recipe) {
    return stackAt(*document.project(), placeOf(document, recipe)) != nullptr;
}

void applyRecipe(Document& document, const Recipe& recipe, const RecipeUse& use, bool linked) {
    document.apply(QObject::tr("recipe %1").arg(nameOf(recipe)),
                   withRecipe(*document.project(), placeOf(document, recipe), recipe, use, linked));
}

void applyRecipeToCuts(Document& document, const std::vector<int>& cuts, const Recipe& recipe, const RecipeUse& use,
                       const ManyCuts& how) {
    document.apply(QObject::tr("recipe %1 at cuts").arg(nameOf(recipe)),
                   withRecipeOnCuts(*document.project(), cuts, recipe, use, how));
}

std::vector<int> chosenCuts(const Document& document) {
    const Selection s = document.selection();
    const int cuts = cutCount(*document.project());
    std::vector<int> chosen;
    if (s.kind == Selection::ClipSelected && s.all().size() > 1) {
        const auto clips = s.all();
        for (std::size_t i = 0; i + 1 < clips.size(); ++i)
            if (clips[i + 1] == clips[i] + 1) chosen.push_back(clips[i]);
    }
    if (chosen.empty() && document.cut() >= 0 && document.cut() < cuts) chosen.push_back(document.cut());
    return chosen;
}

void linkTo(Document& document, int cut, const Recipe& recipe) {
    const auto project = document.project();
    if (cut < 0 || cut >= cutCount(*project)) return;
    // The cut stays as it is: its moves take the names of the recipe's, in their order.
    Project next = withLinkCut(*project, cut);
    Transition& t = next.reel[std::size_t(cut) + 1].transition;
    std::size_t at = 0;
    for (const Move& move : recipe.transition.moves) {
        while (at < t.moves.size() && t.moves[at].kind != move.kind) ++at;
        if (at == t.moves.size()) break;
        t.moves[at++].recipeMove = move.id;
    }
    t.link = RecipeLink{recipe.id, {}, {}};
    next.recipes.push_back(recipe);
    document.apply(QObject::tr("keep as recipe"), std::move(next));
}

void foldOwn(Document& document, int cut) {
    document.apply(QObject::tr("give changes to the recipe"), withOwnFolded(*document.project(), cut));
}
void dropOwn(Document& document, int cut) {
    document.apply(QObject::tr("as the recipe says"), withOwnDropped(*document.project(), cut));
}
void cutLink(Document& document, int cut) {
    document.apply(QObject::tr("cut loose from the recipe"), withLinkCut(*document.project(), cut));
}
void changeRecipe(Document& document, const Recipe& recipe) {
    document.apply(QObject::tr("change recipe %1").arg(nameOf(recipe)), withRecipeChanged(*document.project(), recipe));
}

std::string copiedCut(const Project& project, int cut) {
    std::string text = copiedTransition(project, cut);
    const auto recipe = recipeFrom(project, cut, "copied");
    if (!recipe) return text;
    auto document = nlohmann::json::parse(text);
    document["recipe"] = nlohmann::json::parse(recipeText(*recipe));
    return document.dump();
}

Expected<Recipe> recipeInCopy(const std::string& text) {
    const auto copied = parseJson(text, "copied from Virga", "the clipboard");
    if (!copied || !copied->is_object() || !copied->contains("recipe"))
        return fail(ErrorCode::BadInput, "there are no moves of a cut on the clipboard", {}, "copy a cut first");
    return recipeFromText((*copied)["recipe"].dump(), "the clipboard");
}

void pasteParts(Document& document, int cut, const Recipe& recipe, const RecipeParts& parts) {
    document.apply(QObject::tr("paste moves"), withRecipeParts(*document.project(), cut, recipe, parts));
}

} // namespace virga
