#include "app/picture/picture_panel.h"

#include <QVBoxLayout>

#include "app/picture/transport.h"

namespace virga {

PicturePanel::PicturePanel(Document* document, FrameService* frames, Player* player, QWidget* parent)
    : QWidget(parent), m_picture(new PictureView(document, frames, player, this)),
      m_transport(new Transport(document, player, m_picture, this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(m_picture, 1);
    column->addWidget(m_transport);
}

} // namespace virga
