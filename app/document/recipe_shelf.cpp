#include "app/document/recipe_shelf.h"

#include <QSettings>
#include <algorithm>

namespace virga {
namespace {

constexpr int mostRecent = 8;

} // namespace

RecipeShelf::RecipeShelf(QObject* parent) : QObject(parent) {
    const QSettings settings;
    m_favourites = settings.value("recipes/favourites").toStringList();
    m_recent = settings.value("recipes/recent").toStringList();
    connect(&m_watcher, &QFileSystemWatcher::directoryChanged, this, &RecipeShelf::reload);
    reload();
}

void RecipeShelf::reload() {
    const auto folder = recipeFolder();
    Shelf shelf = shelfIn(folder);
    m_shelf = builtInRecipes();
    m_shelf.insert(m_shelf.end(), shelf.recipes.begin(), shelf.recipes.end());
    m_notReadable = std::move(shelf.notReadable);
    std::error_code error;
    const QString path = QString::fromStdString(folder.string());
    if (std::filesystem::is_directory(folder, error) && !m_watcher.directories().contains(path))
        m_watcher.addPath(path);
    merge();
}

void RecipeShelf::merge() {
    m_recipes = m_shelf;
    for (const Recipe& recipe : m_project) {
        const auto known =
            std::find_if(m_recipes.begin(), m_recipes.end(), [&](const Recipe& r) { return r.id == recipe.id; });
        known == m_recipes.end() ? m_recipes.push_back(recipe) : void(*known = recipe);
    }
    emit changed();
}

void RecipeShelf::setProjectRecipes(const std::vector<Recipe>& recipes) {
    if (recipes == m_project) return;
    m_project = recipes;
    merge();
}

bool RecipeShelf::isOnShelf(const Recipe& recipe) const {
    return std::find(m_shelf.begin(), m_shelf.end(), recipe) != m_shelf.end();
}

const Recipe* RecipeShelf::find(const QString& id) const {
    const auto at = std::find_if(m_recipes.begin(), m_recipes.end(),
                                 [key = id.toStdString()](const Recipe& r) { return r.id == key; });
    return at == m_recipes.end() ? nullptr : &*at;
}

void RecipeShelf::setFavourite(const QString& id, bool on) {
    if (on == isFavourite(id)) return;
    on ? m_favourites.append(id) : void(m_favourites.removeAll(id));
    QSettings().setValue("recipes/favourites", m_favourites);
    emit changed();
}

void RecipeShelf::noteUsed(const QString& id) {
    if (!m_recent.isEmpty() && m_recent.first() == id) return;
    m_recent.removeAll(id);
    m_recent.prepend(id);
    while (m_recent.size() > mostRecent) m_recent.removeLast();
    QSettings().setValue("recipes/recent", m_recent);
    emit changed();
}

Expected<void> RecipeShelf::put(const Recipe& recipe) {
    auto done = putOnShelf(recipe, recipeFolder());
    if (done) reload();
    return done;
}

Expected<Recipe> RecipeShelf::add(const Recipe& recipe) {
    auto added = addToShelf(recipe, recipeFolder(), m_recipes);
    if (added) reload();
    return added;
}

Expected<Recipe> RecipeShelf::take(const QString& file) {
    auto recipe = loadRecipe(file.toStdString());
    if (!recipe) return recipe;
    recipe->id = plainId(recipe->id);
    if (const Recipe* known = find(QString::fromStdString(recipe->id))) {
        if (*known == *recipe) return recipe; // it is there already
    }
    return add(*recipe);
}

Expected<void> RecipeShelf::remove(const QString& id) {
    auto done = takeFromShelf(id.toStdString(), recipeFolder());
    m_favourites.removeAll(id), m_recent.removeAll(id);
    QSettings().setValue("recipes/favourites", m_favourites);
    QSettings().setValue("recipes/recent", m_recent);
    reload();
    return done;
}

} // namespace virga
