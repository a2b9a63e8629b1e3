#pragma once
// The recipes, each shown on the selected cut's own shots.
#include <QTimer>
#include <QWidget>

#include "app/background/frame_service.h"
#include "app/document/document.h"

class QLabel;

namespace virga {

class RecipeCard;

class RecipesPanel : public QWidget {
    Q_OBJECT
public:
    RecipesPanel(Document* document, FrameService* frames, QWidget* parent = nullptr);
    RecipeCard* card(int index) const { return m_cards[std::size_t(index)]; }
    bool isIdle() const { return !m_timer.isActive(); }

protected:
    void showEvent(QShowEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    Document* m_document;
    FrameService* m_frames;
    QTimer m_timer;
    QString m_shownFor;
    std::vector<RecipeCard*> m_cards;
    QLabel* m_hint;
};

} // namespace virga
