#include "app/recipes/recipe_card.h"

namespace virga {

RecipeCard::RecipeCard(const Recipe& recipe, QWidget* parent)
    : MovingTile(frameCount, -firstFrame - 2, parent), m_recipe(recipe) { // frame -2 tells most at rest
    const QString name = QString::fromStdString(recipe.label);
    setText(name);
    setSecondLine(QStringLiteral("%1 | %2").arg(recipe.framesOut).arg(recipe.framesIn));
    setAccessibleName(tr("Recipe %1").arg(name));
    setToolTip(tr("%1: %2 frames out, %3 in. Click to use it at this cut, Shift+click the other way round.")
                   .arg(name)
                   .arg(recipe.framesOut)
                   .arg(recipe.framesIn));
}

} // namespace virga
