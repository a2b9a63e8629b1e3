#pragma once
// Small source pictures for the Reel and the Tray, made in the background; kept in memory up to a bound and on disk, so
// that a project opens with its pictures the next time.
#include <QCache>
#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <QTimer>
#include <memory>

#include "core/project/project.h"
#include "core/render/source_pool.h"

namespace virga {

class Thumbnails : public QObject {
    Q_OBJECT
public:
    explicit Thumbnails(QObject* parent = nullptr);
    /// Bytes kept in memory at most, of small pictures and of the shots' own that they are made from.
    void setBudget(std::size_t bytes);
    std::size_t bytes() const { return std::size_t(m_pictures.totalCost()) + m_pool->bytes(); }
    ~Thumbnails() override;

    /// The picture of a media at a time, or a null image while it is being made; `ready` is then emitted.
    QImage get(const Media& media, Rational seconds, QSize size);
    /// Forgets what is wanted but not begun: after scrolling, what is in sight comes first.
    void forgetWaiting();
    /// Why a media has no pictures; empty while that is not known.
    QString problem(const Media& media) const;
    bool isIdle() const { return m_wanted.isEmpty(); }
    void forget(const Media& media);

signals:
    void ready();

private:
    QCache<QString, QImage> m_pictures;
    QTimer m_close; // files that nobody asks for
    QHash<QString, QString> m_problems;
    QSet<QString> m_wanted;
    std::shared_ptr<SourcePool> m_pool;
    QThreadPool m_threads;
};

} // namespace virga
