#include "app/style/icons.h"

#include <QFile>
#include <QHash>
#include <QPainter>
#include <QSvgRenderer>
#include <memory>

#include "app/style/theme.h"

namespace virga {
namespace {

std::shared_ptr<QSvgRenderer> rendererFor(const QString& name, const QColor& colour) {
    static QHash<QString, std::shared_ptr<QSvgRenderer>> kept;
    const QString key = name + colour.name(QColor::HexArgb);
    auto& renderer = kept[key];
    if (!renderer) {
        QFile file(":/icons/" + name + ".svg");
        QByteArray svg = file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        svg.replace("currentColor", colour.name().toUtf8());
        renderer = std::make_shared<QSvgRenderer>(svg);
    }
    return renderer;
}

} // namespace

void drawIcon(QPainter& painter, const QString& name, const QRectF& where, const QColor& colour) {
    painter.save();
    painter.setOpacity(painter.opacity() * colour.alphaF());
    rendererFor(name, colour)->render(&painter, where);
    painter.restore();
}

QIcon icon(const QString& name) {
    QIcon result;
    for (const int size : {16, 32, 48}) {
        for (const bool enabled : {true, false}) {
            QPixmap pixmap(size, size);
            pixmap.fill(Qt::transparent);
            QPainter painter(&pixmap);
            drawIcon(painter, name, QRectF(0, 0, size, size), enabled ? theme().text : theme().faint);
            painter.end();
            result.addPixmap(pixmap, enabled ? QIcon::Normal : QIcon::Disabled);
        }
    }
    return result;
}

} // namespace virga
