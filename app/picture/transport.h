#pragma once
// The row under the Picture: stepping, playing, looping, where the playhead is, and whether the picture is the exact
// one.
#include <QWidget>

#include "app/picture/picture_view.h"

class QLabel;
class QMenu;
class QPushButton;
class QToolButton;

namespace virga {

class Choices;

class Transport : public QWidget {
    Q_OBJECT
public:
    Transport(Document* document, Player* player, PictureView* picture, QWidget* parent = nullptr);

    /// Shows what is needed while assembling.
    /// Stands at the end of the menu of what is played.
    void addToMenu(QMenu* menu);
    void setAssembling(bool on);
    Choices* modes() const { return m_modes; }
    /// What there is no room for is left out.
    QSize minimumSizeHint() const override { return {330, QWidget::minimumSizeHint().height()}; }

signals:
    void splitWanted();
    void lengthWanted();
    void tapWanted();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void fitRow();
    Document* m_document;
    Player* m_player;
    PictureView* m_picture;
    std::vector<QPushButton*> m_commands; // for assembling
    QToolButton *m_play, *m_loop;
    Choices* m_modes;
    bool m_assembling = false;
    QLabel *m_timecode, *m_state;
};

} // namespace virga
