#pragma once
// The recipes in their tab: found by words and groups, shown on the selected cut's own shots; a click uses one there.
#include <QWidget>

#include "app/recipes/recipe_grid.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace virga {

class RecipesPanel : public QWidget {
    Q_OBJECT
public:
    RecipesPanel(Document* document, FrameService* frames, RecipeShelf* shelf, QWidget* parent = nullptr);
    RecipeGrid* grid() const { return m_grid; }
    QLineEdit* search() const { return m_search; }
    bool isIdle() const { return m_grid->isIdle(); }
    /// Whether the user wants all cards to move at once.
    static bool alwaysMoving();
    void setAlwaysMoving(bool on);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

signals:
    void largeWanted(const QString& id);
    void menuWanted(const QString& id, const QPoint& at);
    void problem(const QString& text);

private:
    Document* m_document;
    RecipeShelf* m_shelf;
    RecipeGrid* m_grid;
    QLineEdit* m_search;
    QComboBox* m_group;
};

/// The groups to choose from: a label and the name by which RecipeGrid::setFilter knows it.
std::vector<std::pair<QString, QString>> recipeGroupChoices();

} // namespace virga
