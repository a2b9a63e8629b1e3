#include "app/background/importer.h"

#include <QDir>
#include <QFileInfo>

#include "app/background/in_background.h"
#include "core/media/probe.h"

namespace virga {

void Importer::start(const QStringList& paths, int place) {
    QStringList files;
    for (const QString& path : paths) {
        const QFileInfo info(path);
        if (!info.isDir())
            files << path;
        else
            for (const QFileInfo& inside : QDir(path).entryInfoList(QDir::Files | QDir::Readable, QDir::Name))
                files << inside.absoluteFilePath();
    }
    if (files.isEmpty()) return;
    ++m_running;
    m_cancel = Cancel();
    emit progress(0, int(files.size()));
    inBackground(
        this,
        [this, files, cancel = m_cancel] {
            Imported imported;
            int done = 0;
            for (const QString& file : files) {
                if (cancel.requested()) break;
                auto info = probe(file.toStdString(), cancel);
                if (info)
                    imported.files.push_back(std::move(*info));
                else if (info.error().code != ErrorCode::Cancelled)
                    imported.unreadable.push_back(info.error());
                ++done;
                const int all = int(files.size());
                QMetaObject::invokeMethod(qApp, [this, alive = QPointer<Importer>(this), done, all] {
                    if (alive) emit progress(done, all);
                });
            }
            return imported;
        },
        [this, place](Imported imported) {
            --m_running;
            emit finished(imported, place);
        });
}

} // namespace virga
