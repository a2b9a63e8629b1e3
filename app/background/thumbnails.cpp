#include "app/background/thumbnails.h"

#include "app/background/frame_service.h"
#include "app/background/in_background.h"
#include "core/render/thumbnail.h"

namespace virga {

Thumbnails::Thumbnails(QObject* parent) : QObject(parent), m_pool(std::make_shared<SourcePool>(std::size_t(96) << 20)) {
    m_threads.setMaxThreadCount(1);
}

Thumbnails::~Thumbnails() {
    m_threads.clear();
    m_threads.waitForDone();
}

QImage Thumbnails::get(const Media& media, Rational seconds, QSize size) {
    const QString path = QString::fromStdString(media.path.string());
    const QString key = QStringLiteral("%1|%2/%3|%4x%5")
                            .arg(path)
                            .arg(seconds.num)
                            .arg(seconds.den)
                            .arg(size.width())
                            .arg(size.height());
    if (const auto at = m_pictures.constFind(key); at != m_pictures.constEnd()) return *at;
    if (m_wanted.contains(key) || m_problems.contains(path) || !media.hasPicture()) return {};
    m_wanted.insert(key);
    inBackground(
        this,
        [pool = m_pool, file = media.path, seconds, aspect = media.pixelAspect, size] {
            return thumbnail(*pool, file, seconds, aspect, {size.width(), size.height()});
        },
        [this, key, path](Expected<Image<Rgba8>> picture) {
            m_wanted.remove(key);
            if (picture)
                m_pictures.insert(key, toImage(*picture));
            else
                m_problems.insert(path, QString::fromStdString(describe(picture.error())));
            emit ready();
        },
        &m_threads);
    return {};
}

QString Thumbnails::problem(const Media& media) const {
    return m_problems.value(QString::fromStdString(media.path.string()));
}

void Thumbnails::forget(const Media& media) {
    m_problems.remove(QString::fromStdString(media.path.string()));
    m_pool->forget(media.path);
}

} // namespace virga
