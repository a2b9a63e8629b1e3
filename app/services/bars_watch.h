#pragma once
// Looks for black bars burnt into the shots of the open project, in the background and one shot after the other, and
// has the document learn what it found. Interface thread only.
#include <QHash>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <QTimer>

#include "app/document/document.h"
#include "core/base/cancel.h"

namespace virga {

class BarsWatch : public QObject {
    Q_OBJECT
public:
    explicit BarsWatch(Document* document, QObject* parent = nullptr);
    ~BarsWatch() override;

private:
    void look();
    void tell();

    Document* m_document;
    QHash<QString, Crop> m_found; // by path; kept, as undo brings back projects that do not know yet
    QSet<QString> m_asked, m_failed;
    QTimer m_tell; // several at once: each makes the views look again
    Cancel m_cancel;
    QThreadPool m_threads;
};

} // namespace virga
