#pragma once
// Looks in the background for frames of other shots at the ends of the reel's clips, one clip after the other, and has
// the document learn where its clips' shots begin and end. Interface thread only.
#include <QHash>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <QTimer>

#include "app/document/document.h"
#include "core/base/cancel.h"

namespace virga {

class ShotEndsWatch : public QObject {
    Q_OBJECT
public:
    explicit ShotEndsWatch(Document* document, QObject* parent = nullptr);
    ~ShotEndsWatch() override;

private:
    void look();
    void tell();

    Document* m_document;
    QHash<QString, FoundShot> m_found; // by what was looked at
    QSet<QString> m_asked, m_failed;
    QTimer m_rest; // an edit is followed once it rests
    QTimer m_tell; // several at once
    Cancel m_cancel;
    QThreadPool m_threads;
};

} // namespace virga
