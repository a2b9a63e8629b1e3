#pragma once
// The chosen recipe beside the cards: large and moving, what it would be at this cut, and how it is used there:
// strength, length, direction. Every change is tried out at once, in the Picture, the Lanes and the Reel.
#include <QTimer>
#include <QWidget>

#include "app/document/recipe_shelf.h"
#include "app/services/flow_watch.h"
#include "app/services/frame_service.h"
#include "core/recipe/many.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QSlider;

namespace virga {

class ElidedLabel;
class MovingTile;
class NumberField;

class RecipeDetail : public QWidget {
    Q_OBJECT
public:
    RecipeDetail(Document* document, FrameService* frames, FlowWatch* flow, RecipeShelf* shelf,
                 QWidget* parent = nullptr);

    /// Shows a recipe; the cut's own use of it where it follows it already.
    void showRecipe(const QString& id);
    const RecipeUse& use() const { return m_use; }
    bool isLinked() const;
    /// Tried out at the cut from now on, or no more.
    void setTrying(bool on);
    /// At this cut as it is set; false where it has no place.
    bool useHere(bool otherWay = false);

protected:
    void keyPressEvent(QKeyEvent* event) override;

signals:
    void usedHere();
    void manyWanted(const QString& id, const virga::RecipeUse& use);

private:
    void changed();
    void refresh();
    void refreshFlow();
    void requestPictures();
    Document* m_document;
    FrameService* m_frames;
    FlowWatch* m_flow;
    RecipeShelf* m_shelf;
    QString m_id;
    RecipeUse m_use;
    bool m_trying = false;
    QTimer m_later;
    MovingTile* m_picture;
    QLabel *m_name, *m_state, *m_note, *m_edges;
    QSlider *m_strength, *m_length;
    NumberField *m_strengthField, *m_out, *m_in, *m_whole, *m_step;
    QLabel *m_wholeCaption, *m_stepCaption;
    QComboBox* m_heading;
    QCheckBox *m_mirrored, *m_reversed, *m_byTime, *m_linked;
    QPushButton *m_here, *m_many;
};

/// A heading as people say it.
QString headingText(Heading heading);

} // namespace virga
