#include "app/services/media_shelf.h"

#include "app/services/in_background.h"
#include "core/base/sequence_path.h"

namespace virga {

MediaShelf::MediaShelf(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    connect(document, &Document::opened, this, [this] {
        m_unreadable.clear();
        m_missing.clear();
        m_paths.clear();
        lookForMissing();
    });
    connect(document, &Document::projectChanged, this, [this] {
        std::vector<std::string> paths;
        for (const Media& m : m_document->project()->media) paths.push_back(m.id + m.path.string());
        if (paths != m_paths) lookForMissing();
    });
}

void MediaShelf::addUnreadable(const std::vector<Error>& errors) {
    for (const Error& e : errors) {
        const QString path = QString::fromStdString(e.place);
        std::erase_if(m_unreadable, [&](const Unreadable& u) { return u.path == path; });
        QString reason = QString::fromStdString(e.message);
        if (!e.remedy.empty()) reason += "; " + QString::fromStdString(e.remedy);
        m_unreadable.push_back({path, reason});
    }
    if (!errors.empty()) emit changed();
}

void MediaShelf::forgetUnreadable() {
    m_unreadable.clear();
    emit changed();
}

void MediaShelf::lookForMissing() {
    m_paths.clear();
    std::vector<std::pair<std::string, std::filesystem::path>> media;
    for (const Media& m : m_document->project()->media) {
        media.push_back({m.id, m.path});
        m_paths.push_back(m.id + m.path.string());
    }
    // A disk that is asleep or a network folder may answer late: never on the interface's thread.
    inBackground(
        this,
        [media] {
            QSet<QString> missing;
            for (const auto& [id, path] : media)
                if (!mediaExists(path)) missing.insert(QString::fromStdString(id));
            return missing;
        },
        [this, generation = ++m_generation](QSet<QString> missing) {
            if (generation != m_generation || missing == m_missing) return;
            m_missing = std::move(missing);
            emit changed();
        });
}

} // namespace virga
