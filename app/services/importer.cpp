#include "app/services/importer.h"

#include <QCollator>
#include <QDirIterator>
#include <QFileInfo>

#include "app/services/in_background.h"
#include "core/base/fingerprint.h"
#include "core/base/sequence_path.h"
#include "core/decode/probe.h"

namespace virga {
namespace {

// In a folder there are also things that nobody means: those are passed over without a word.
bool mayBeMedia(const QString& name) {
    static const QStringList others = {"txt", "md",  "pdf",  "doc", "xml", "json", "virga", "autosave", "edl", "otio",
                                       "zip", "thm", "html", "htm", "csv", "srt",  "ini",   "db",       "log", "py",
                                       "sh",  "deb", "exe",  "xmp", "lrv", "js",   "css",   "h",        "cpp", "odt"};
    return !others.contains(QFileInfo(name).suffix().toLower());
}

} // namespace

std::vector<std::filesystem::path> filesToProbe(const QStringList& paths, bool sequences) {
    QCollator naturally(QLocale::c());
    naturally.setNumericMode(true);
    std::vector<std::filesystem::path> files;
    for (const QString& path : paths) {
        if (!QFileInfo(path).isDir()) {
            files.push_back(path.toStdString());
            continue;
        }
        QStringList inside;
        QDirIterator walk(path, QDir::Files | QDir::Readable, QDirIterator::Subdirectories);
        while (walk.hasNext() && inside.size() < 20000)
            if (const QString file = walk.next(); mayBeMedia(file)) inside << file;
        std::sort(inside.begin(), inside.end(),
                  [&](const QString& a, const QString& b) { return naturally.compare(a, b) < 0; });
        for (const QString& file : inside) files.push_back(file.toStdString());
    }
    return sequences ? withSequences(files) : files;
}

void Importer::cancel() {
    m_cancel.request();
}

void Importer::abandon() {
    m_cancel.request();
    ++m_generation;
}

void Importer::start(const QStringList& paths, int place, bool sequences) {
    if (paths.isEmpty()) return;
    if (m_running == 0) m_cancel = Cancel();
    ++m_running;
    emit progress(0, int(paths.size()));
    inBackground(
        this,
        [this, paths, sequences, cancel = m_cancel, alive = QPointer<Importer>(this)] {
            Imported imported;
            const auto files = filesToProbe(paths, sequences);
            int done = 0;
            for (const auto& file : files) {
                if (cancel.requested()) {
                    imported.stopped = true;
                    break;
                }
                auto info = probe(file, cancel);
                if (info) {
                    info->fingerprint = fingerprintOf(file);
                    imported.files.push_back(std::move(*info));
                } else if (info.error().code != ErrorCode::Cancelled) {
                    imported.unreadable.push_back(info.error());
                }
                ++done;
                QMetaObject::invokeMethod(qApp, [this, alive, done, all = int(files.size())] {
                    if (alive) emit progress(done, all);
                });
            }
            return imported;
        },
        [this, place, generation = m_generation](const Imported& imported) {
            --m_running;
            if (generation == m_generation) emit finished(imported, place);
        },
        QThreadPool::globalInstance(),
        [this, place](const Error&) {
            --m_running;
            emit finished({}, place);
        });
}

} // namespace virga
