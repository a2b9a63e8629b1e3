#include "app/style/icons.h"

#include <QCoreApplication>
#include <QFile>
#include <QHash>
#include <QPainter>
#include <QPixmapCache>
#include <QSvgRenderer>
#include <cmath>
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
    // Drawn once for each size and kept: a reel shows hundreds. On whole pixels, so that it stays crisp.
    const double dpr = painter.device()->devicePixelRatioF();
    const QSize pixels((where.size() * dpr).toSize().expandedTo({1, 1}));
    const QString key = QStringLiteral("icon-%1-%2-%3x%4-%5")
                            .arg(name)
                            .arg(colour.rgb(), 0, 16)
                            .arg(pixels.width())
                            .arg(pixels.height())
                            .arg(dpr);
    QPixmap drawn;
    if (!QPixmapCache::find(key, &drawn)) {
        drawn = QPixmap(pixels);
        drawn.fill(Qt::transparent);
        QPainter on(&drawn);
        rendererFor(name, colour)->render(&on, QRectF(QPointF(), QSizeF(pixels)));
        on.end();
        drawn.setDevicePixelRatio(dpr);
        QPixmapCache::insert(key, drawn);
    }
    const double opacity = painter.opacity();
    painter.setOpacity(opacity * colour.alphaF());
    painter.drawPixmap(QPointF(std::round(where.x() * dpr) / dpr, std::round(where.y() * dpr) / dpr), drawn);
    painter.setOpacity(opacity);
}

QIcon icon(const QString& name) {
    // One for each name and pair of colours: what styles make of it for their buttons is kept once for all of them.
    static QHash<QString, QIcon> kept;
    static const bool cleared = (qAddPostRoutine([] { kept.clear(); }), true);
    Q_UNUSED(cleared)
    const QColor colours[] = {theme().text, theme().faint};
    QIcon& result =
        kept[name + colours[0].name(QColor::HexArgb) + colours[1].name(QColor::HexArgb)]; // null until it is drawn
    if (!result.isNull()) return result;
    for (const int size : {16, 32, 48}) {
        for (const bool enabled : {true, false}) {
            QPixmap pixmap(size, size);
            pixmap.fill(Qt::transparent);
            QPainter painter(&pixmap);
            drawIcon(painter, name, QRectF(0, 0, size, size), colours[enabled ? 0 : 1]);
            painter.end();
            result.addPixmap(pixmap, enabled ? QIcon::Normal : QIcon::Disabled);
        }
    }
    return result;
}

} // namespace virga
