#pragma once
// The Picture with its transport row.
#include <QWidget>

#include "app/picture/picture_view.h"

namespace virga {

class Transport;

class PicturePanel : public QWidget {
    Q_OBJECT
public:
    PicturePanel(Document* document, FrameService* frames, Player* player, QWidget* parent = nullptr);
    Transport* transport() { return m_transport; }
    PictureView* picture() const { return m_picture; }

private:
    PictureView* m_picture;
    Transport* m_transport;
};

} // namespace virga
