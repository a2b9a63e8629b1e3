#include "app/export/export_job.h"

#include "app/background/in_betweens.h"
#include "core/base/guard.h"
#include "core/deliver/export_needs.h"

namespace virga {

ExportJob::ExportJob(Snapshot project, ExportSettings settings, QObject* parent)
    : QObject(parent), m_project(std::move(project)), m_settings(std::move(settings)) {}

ExportJob::~ExportJob() {
    m_cancel.request();
    if (m_thread.joinable()) m_thread.join();
}

void ExportJob::start() {
    m_thread = std::thread([this] {
        SourcePool pool(exportPoolBytes); // the export raises it to what it needs
        pool.flow().keepIn(InBetweens::folder().toStdString(), InBetweens::mostOnDisk);
        QElapsedTimer clock;
        clock.start();
        qint64 last = -1000;
        const auto result = guarded(m_settings.path.string(), [&] {
            return exportReel(
                *m_project, m_settings, pool,
                [&](std::int64_t done, std::int64_t all) {
                    const qint64 now = clock.elapsed();
                    if (now - last < 100 && done != all) return;
                    last = now;
                    const double left = done >= 3 ? double(now) / 1000 / double(done) * double(all - done) : -1;
                    QMetaObject::invokeMethod(this, [this, done, all, left] { emit progress(done, all, left); });
                },
                m_cancel);
        });
        QMetaObject::invokeMethod(this, [this, result] {
            if (result)
                emit finished(*result);
            else
                emit failed(result.error());
        });
    });
}

} // namespace virga
