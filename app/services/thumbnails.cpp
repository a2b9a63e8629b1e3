#include "app/services/thumbnails.h"

#include "app/services/frame_service.h"
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>
#include <QStandardPaths>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/base/hash.h"
#include "core/base/sequence_path.h"
#include "core/render/thumbnail.h"

namespace virga {

Thumbnails::Thumbnails(QObject* parent) : QObject(parent), m_pool(std::make_shared<SourcePool>()) {
    setBudget(std::size_t(96) << 20);
    m_threads.setMaxThreadCount(1);
    m_close.setInterval(20000);
    connect(&m_close, &QTimer::timeout, this, [this] {
        if (m_wanted.isEmpty()) m_threads.start([pool = m_pool] { pool->closeUnused(); });
    });
    m_close.start();
    // The oldest go where there are very many.
    inBackground(
        this,
        [] {
            QDir kept(QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/thumbnails");
            const auto files = kept.entryInfoList(QDir::Files, QDir::Time);
            qint64 bytes = 0;
            for (const QFileInfo& file : files)
                if ((bytes += file.size()) > (qint64(256) << 20)) QFile::remove(file.absoluteFilePath());
            return true;
        },
        [](bool) {}, &m_threads);
}

void Thumbnails::setBudget(std::size_t bytes) {
    m_pictures.setMaxCost(qsizetype(bytes / 2));
    m_pool->setMost(bytes - bytes / 2);
}

Thumbnails::~Thumbnails() {
    m_threads.clear();
    m_threads.waitForDone();
}

// Where a picture is kept: named by all that it depends on, the file's own state included.
static QString fileFor(const Media& media, const QString& key) {
    const QString base = QStandardPaths::writableLocation(QStandardPaths::CacheLocation);
    if (base.isEmpty()) return {};
    const QFileInfo file(QString::fromStdString(filesOf(media.path).front().string()));
    const QString whole = key + QString::number(file.size()) + QString::number(file.lastModified().toMSecsSinceEpoch());
    const auto name = Hash().add(std::string_view(whole.toStdString())).value();
    return base + QStringLiteral("/thumbnails/%1.jpg").arg(name, 16, 16, QLatin1Char('0'));
}

QImage Thumbnails::get(const Media& media, Rational seconds, QSize size) {
    const QString path = QString::fromStdString(media.path.string());
    const QString key = QStringLiteral("%1|%2/%3|%4x%5")
                            .arg(path)
                            .arg(seconds.num)
                            .arg(seconds.den)
                            .arg(size.width())
                            .arg(size.height());
    if (const QImage* kept = m_pictures.object(key)) return *kept;
    if (m_wanted.contains(key) || m_problems.contains(path) || !media.hasPicture()) return {};
    m_wanted.insert(key);
    inBackground(
        this,
        [pool = m_pool, media, seconds, size, key]() -> Expected<QImage> {
            beNice();
            const QString file = fileFor(media, key);
            if (QImage kept(file); !kept.isNull() && kept.size() == size)
                return kept.convertToFormat(QImage::Format_RGB32);
            auto picture = thumbnail(*pool, media.path, seconds, media.pixelAspect, {size.width(), size.height()});
            if (!picture) return tl::unexpected(picture.error());
            const QImage image = toImage(*picture);
            if (!file.isEmpty()) {
                QDir().mkpath(QFileInfo(file).absolutePath());
                QSaveFile out(file); // written beside and renamed: a reader never meets half a picture
                if (out.open(QIODevice::WriteOnly) && image.save(&out, "JPG", 88)) out.commit();
            }
            return image;
        },
        [this, key, path](Expected<QImage> picture) {
            m_wanted.remove(key);
            if (picture)
                m_pictures.insert(key, new QImage(*picture), int(picture->sizeInBytes()));
            else
                m_problems.insert(path, QString::fromStdString(describe(picture.error())));
            emit ready();
        },
        &m_threads);
    return {};
}

void Thumbnails::forgetWaiting() {
    m_threads.clear();
    m_wanted.clear(); // the one being made comes as well, a little late
}

QString Thumbnails::problem(const Media& media) const {
    return m_problems.value(QString::fromStdString(media.path.string()));
}

void Thumbnails::forget(const Media& media) {
    m_problems.remove(QString::fromStdString(media.path.string()));
    m_pool->forget(media.path);
}

} // namespace virga
