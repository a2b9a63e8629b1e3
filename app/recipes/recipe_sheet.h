#pragma once
// Recipes in large, laid over the middle band: cards, and beside them the chosen one with its strength, length and
// direction, tried out at the cut while the Reel above and the Lanes below show it. Arrows choose, Enter uses (Shift:
// the other way round), letters search, Escape closes.
#include <QWidget>

#include "app/recipes/recipe_detail.h"
#include "app/recipes/recipe_grid.h"

class QButtonGroup;
class QLineEdit;

namespace virga {

class RecipeSheet : public QWidget {
    Q_OBJECT
public:
    RecipeSheet(Document* document, FrameService* frames, FlowWatch* flow, RecipeShelf* shelf, QWidget* parent);

    /// Over a part of its parent, with a recipe chosen: the given one, else the cut's, else the first.
    void open(const QRect& where, const QString& id);
    RecipeGrid* grid() const { return m_grid; }
    RecipeDetail* detail() const { return m_detail; }
    QLineEdit* search() const { return m_search; }
    void close();
    bool isIdle() const { return !isVisible() || m_grid->isIdle(); }

signals:
    void closed();
    void alwaysMovingChanged(bool on);
    void menuWanted(const QString& id, const QPoint& at);
    void manyWanted(const QString& id, const virga::RecipeUse& use);

protected:
    void paintEvent(QPaintEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    bool handleKey(QKeyEvent* event);
    void filter();
    Document* m_document;
    RecipeShelf* m_shelf;
    RecipeGrid* m_grid;
    RecipeDetail* m_detail;
    QLineEdit* m_search;
    QButtonGroup* m_groups;
};

} // namespace virga
