#pragma once
// Small source pictures for the reel, made in the background and kept.
#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <memory>

#include "core/project/project.h"
#include "core/render/source_pool.h"

namespace virga {

class Thumbnails : public QObject {
    Q_OBJECT
public:
    explicit Thumbnails(QObject* parent = nullptr);
    ~Thumbnails() override;

    /// The picture of a media at a time, or a null image while it is being made; `ready` is then emitted.
    QImage get(const Media& media, Rational seconds, QSize size);
    /// Why a media has no pictures; empty while that is not known.
    QString problem(const Media& media) const;
    bool isIdle() const { return m_wanted.isEmpty(); }
    void forget(const Media& media);

signals:
    void ready();

private:
    QHash<QString, QImage> m_pictures;
    QHash<QString, QString> m_problems;
    QSet<QString> m_wanted;
    std::shared_ptr<SourcePool> m_pool;
    QThreadPool m_threads;
};

} // namespace virga
