#pragma once
// Recipes as cards, as many in a row as there is room for, each shown on the selected cut's own two shots. What each
// would be there is worked out in the background; pictures come as they are rendered, the one at rest of every card
// first.
#include <QScrollArea>
#include <QTimer>

#include "app/document/document.h"
#include "app/document/recipe_shelf.h"
#include "app/services/frame_service.h"
#include "app/services/job.h"

namespace virga {

class RecipeCard;

class RecipeGrid : public QScrollArea {
    Q_OBJECT
public:
    /// `slot` names its pictures at the frame service; `widest` is the largest width of a card's picture.
    RecipeGrid(Document* document, FrameService* frames, RecipeShelf* shelf, const QString& slot, int widest,
               QWidget* parent = nullptr);

    /// Only recipes with all of these words in their name, tags, group or note; of a group, or "favourites", "recent",
    /// "mine"; empty for all.
    void setFilter(const QString& words, const QString& group);
    std::vector<RecipeCard*> cards() const; // those that are shown, in their order
    RecipeCard* card(const QString& id) const;
    QString chosen() const { return m_chosen; }
    void choose(const QString& id);
    /// By arrows: so many cards along, so many rows down.
    void step(int along, int down);
    void setAlwaysMoving(bool on);
    /// While something lies over it: no pictures are made.
    void setPaused(bool on);
    /// Nothing is to be worked out any more; pictures may still come.
    bool isIdle() const { return !m_timer.isActive() && !m_job.isRunning(); }

signals:
    void chosenChanged();
    void used(const QString& id, bool otherWay);
    void menuWanted(const QString& id, const QPoint& at);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void build();
    void enable();
    void arrange();
    void refresh();
    void request(int card, int picture, const Snapshot& project, std::int64_t frame);
    Document* m_document;
    FrameService* m_frames;
    RecipeShelf* m_shelf;
    QString m_slot, m_words, m_group, m_chosen;
    int m_widest, m_columns = 1;
    bool m_always = false, m_paused = false;
    QTimer m_timer;
    Job m_job;
    QWidget* m_page;
    std::vector<RecipeCard*> m_cards; // of every recipe of the shelf
    std::vector<Recipe> m_built;
    QString m_shownFor;
};

} // namespace virga
