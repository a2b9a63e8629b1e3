#pragma once
// What the Tray knows beyond the project: files that could not be read and why, and media whose files are not there.
// Lives as long as the window; emptied with each project. Interface thread only.
#include <QObject>
#include <QSet>
#include <QString>
#include <vector>

#include "app/document/document.h"

namespace virga {

class MediaShelf : public QObject {
    Q_OBJECT
public:
    explicit MediaShelf(Document* document, QObject* parent = nullptr);

    struct Unreadable {
        QString path, reason;
    };
    const std::vector<Unreadable>& unreadable() const { return m_unreadable; }
    void addUnreadable(const std::vector<Error>& errors);
    void forgetUnreadable();

    bool isMissing(const Media& media) const { return m_missing.contains(QString::fromStdString(media.id)); }
    int missing() const { return int(m_missing.size()); }
    /// Looks again, in the background; `changed` follows.
    void lookForMissing();

signals:
    void changed();

private:
    Document* m_document;
    std::vector<Unreadable> m_unreadable;
    QSet<QString> m_missing;
    std::vector<std::string> m_paths; // those looked for last
    int m_generation = 0;
};

} // namespace virga
