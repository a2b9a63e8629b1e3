#include "app/style/flow_layout.h"

#include <QWidget>

namespace virga {

FlowLayout::FlowLayout(QWidget* parent, int spacing) : QLayout(parent) {
    setSpacing(spacing);
    setContentsMargins(0, 0, 0, 0);
    QSizePolicy policy = parent->sizePolicy();
    policy.setHeightForWidth(true);
    parent->setSizePolicy(policy);
}

FlowLayout::~FlowLayout() {
    while (QLayoutItem* item = takeAt(0)) delete item;
}

void FlowLayout::setGeometry(const QRect& rect) {
    QLayout::setGeometry(rect);
    arrange(rect, true);
}

QSize FlowLayout::minimumSize() const {
    QSize size;
    for (const QLayoutItem* item : m_items) size = size.expandedTo(item->minimumSize());
    return size;
}

int FlowLayout::arrange(const QRect& rect, bool move) const {
    int x = rect.x(), y = rect.y(), line = 0;
    for (QLayoutItem* item : m_items) {
        if (item->isEmpty()) continue;
        const QSize size = item->sizeHint();
        if (x > rect.x() && x + size.width() > rect.right() + 1) x = rect.x(), y += line + spacing(), line = 0;
        if (move) item->setGeometry(QRect(QPoint(x, y), size));
        x += size.width() + spacing();
        line = qMax(line, size.height());
    }
    return y + line - rect.y();
}

} // namespace virga
