#pragma once
// One recipe as a picture made from the cut's own two shots: it moves while the pointer is over it. A click applies it,
// a click with Shift the other way round.
#include "app/style/moving_tile.h"
#include "core/recipe/recipe.h"

namespace virga {

class RecipeCard : public MovingTile {
    Q_OBJECT
public:
    explicit RecipeCard(const Recipe& recipe, QWidget* parent = nullptr);

    const Recipe& recipe() const { return m_recipe; }
    /// The moving picture's frames are those from firstFrame on, counted from the cut.
    static constexpr int firstFrame = -5, frameCount = 12;

private:
    Recipe m_recipe;
};

} // namespace virga
