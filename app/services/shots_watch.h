#pragma once
// How the shots of the reel move by themselves, read from their pictures in the background, one file after the other,
// while the project judges movement with them; kept on disk beside the other caches, so that it is read once. The
// document is told. Interface thread only.
#include <QHash>
#include <QObject>
#include <QSet>
#include <QThreadPool>

#include "app/document/document.h"
#include "core/base/cancel.h"

namespace virga {

class ShotsWatch : public QObject {
    Q_OBJECT
public:
    explicit ShotsWatch(Document* document, QObject* parent = nullptr);
    ~ShotsWatch() override;

    /// "movement of shots: 2 of 7, 40 %"; empty where nothing is being read.
    QString progressText() const;
    bool isIdle() const { return m_left == 0; }
    /// Stops what is being read until the project changes.
    void stop();
    static QString folder();
    /// After a file was changed or relinked.
    void forget(const QString& path);

signals:
    void changed();

private:
    void look();
    void tell();

    Document* m_document;
    QHash<QString, std::shared_ptr<const ShotMovement>> m_known; // by path
    QSet<QString> m_asked, m_failed;
    Cancel m_cancel;
    QThreadPool m_thread;
    int m_left = 0, m_done = 0;
    double m_part = 0;
};

} // namespace virga
