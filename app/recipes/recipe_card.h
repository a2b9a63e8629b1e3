#pragma once
// One recipe as a picture made from the cut's own two shots: it moves while the pointer is over it, or always. A click
// uses it, a click with Shift the other way round; the star in its corner makes it a favourite. It can be dragged out
// as a file.
#include <QPoint>
#include <optional>

#include "app/style/moving_tile.h"
#include "core/plan/clip_facts.h"
#include "core/project/recipe.h"

namespace virga {

class RecipeCard : public MovingTile {
    Q_OBJECT
public:
    explicit RecipeCard(const Recipe& recipe, QWidget* parent = nullptr);

    const Recipe& recipe() const { return m_recipe; }
    QString id() const { return QString::fromStdString(m_recipe.id); }
    /// The pictures of its movement.
    static constexpr int pictures = 14;
    void setFavourite(bool on);
    /// What it would show at the cut; nothing where that is not known.
    void setShowing(const std::optional<CutShowing>& showing);
    /// Framed: the one that the keyboard is at.
    void setChosen(bool on);
    bool isChosen() const { return m_chosen; }
    /// Where its star is.
    QRect starRect() const;

signals:
    void starClicked();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    void dragOut();
    void setTipWith(const QString& more);
    Recipe m_recipe;
    QPoint m_pressed;
    bool m_favourite = false, m_chosen = false, m_onStar = false, m_dragging = false;
};

} // namespace virga
