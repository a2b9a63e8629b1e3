#pragma once
// The row under the Picture: stepping, playing, looping, where the playhead is, and whether the picture is the exact
// one.
#include <QWidget>

#include "app/picture/picture_view.h"

class QLabel;
class QToolButton;

namespace virga {

class Choices;

class Transport : public QWidget {
    Q_OBJECT
public:
    Transport(Document* document, Player* player, PictureView* picture, QWidget* parent = nullptr);

private:
    void refresh();
    Document* m_document;
    Player* m_player;
    PictureView* m_picture;
    QToolButton* m_play;
    Choices* m_loop;
    QLabel *m_timecode, *m_state;
};

} // namespace virga
