#pragma once
// The recipes that can be chosen: built-in ones, and the user's own, which lie as single files in the folder for them;
// with what the user thinks of them: favourites, and those used lately. Interface thread only.
#include <QFileSystemWatcher>
#include <QObject>
#include <QStringList>

#include "core/recipe/shelf.h"

namespace virga {

class RecipeShelf : public QObject {
    Q_OBJECT
public:
    explicit RecipeShelf(QObject* parent = nullptr);

    /// Built-in ones by group, then the user's by name, then those that only the open project has. What the project has
    /// changed of a recipe counts.
    const std::vector<Recipe>& recipes() const { return m_recipes; }
    const Recipe* find(const QString& id) const;
    bool isOwn(const QString& id) const { return !findRecipe(id.toStdString()); }
    /// A sentence for each file of the folder that is no recipe.
    const std::vector<std::string>& notReadable() const { return m_notReadable; }

    bool isFavourite(const QString& id) const { return m_favourites.contains(id); }
    void setFavourite(const QString& id, bool on);
    /// The latest first, a few.
    const QStringList& recent() const { return m_recent; }
    void noteUsed(const QString& id);

    /// A new one among the user's own, with an id of its own; see addToShelf(). Errors: as writing a file.
    Expected<Recipe> add(const Recipe& recipe);
    /// Put in the place of the one with its id. Errors: as putOnShelf.
    Expected<void> put(const Recipe& recipe);
    /// One read from a file and put among the user's own, under another id where that is taken by another one.
    /// Errors: as loadRecipe and put.
    Expected<Recipe> take(const QString& file);
    Expected<void> remove(const QString& id);
    void reload();
    /// The open project's own.
    void setProjectRecipes(const std::vector<Recipe>& recipes);
    /// Whether a recipe is as it lies on the shelf, or the project has another state of it, or it alone.
    bool isOnShelf(const Recipe& recipe) const;

signals:
    void changed(); // recipes, favourites or recent ones

private:
    void merge();
    std::vector<Recipe> m_recipes, m_shelf, m_project;
    std::vector<std::string> m_notReadable;
    QStringList m_favourites, m_recent;
    QFileSystemWatcher m_watcher;
};

} // namespace virga
