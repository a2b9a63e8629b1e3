#include "app/export/export_job.h"

#include "app/services/in_betweens.h"
#include "core/base/guard.h"
#include "core/export/export_needs.h"
#include "core/export/movement_data.h"

namespace virga {

ExportJob::ExportJob(Snapshot project, PartsSettings settings, ExportKind kind, QObject* parent)
    : QObject(parent), m_project(std::move(project)), m_settings(std::move(settings)), m_kind(kind) {}

ExportJob::~ExportJob() {
    cancel();
    if (m_thread.joinable()) m_thread.join();
}

void ExportJob::cancel() {
    m_cancel.request();
    setPaused(false);
}

void ExportJob::setPaused(bool paused) {
    const std::lock_guard lock(m_mutex);
    m_paused = paused;
    m_goesOn.notify_all();
}

void ExportJob::told(std::int64_t done, std::int64_t all) {
    const qint64 now = m_clock.elapsed() - m_waited;
    if (now - m_last >= 100 || done == all) {
        m_last = now;
        const double left = done >= 3 ? double(now) / 1000 / double(done) * double(all - done) : -1;
        QMetaObject::invokeMethod(this, [this, done, all, left] { emit progress(done, all, left); });
    }
    std::unique_lock lock(m_mutex);
    if (!m_paused) return;
    const qint64 from = m_clock.elapsed();
    m_goesOn.wait(lock, [this] { return !m_paused; });
    m_waited += m_clock.elapsed() - from;
}

Expected<ExportReport> ExportJob::run() {
    SourcePool pool(exportPoolBytes); // the export raises it to what it needs
    pool.flow().keepIn(InBetweens::folder().toStdString(), InBetweens::mostOnDisk);
    const auto tell = [this](std::int64_t done, std::int64_t all) { told(done, all); };
    switch (m_kind) {
    case ExportKind::Whole:
        break;
    case ExportKind::Parts: {
        const auto parts = exportParts(*m_project, m_settings, pool, tell, m_cancel);
        if (!parts) return tl::unexpected(parts.error());
        ExportReport report;
        for (const Part& p : parts->parts) report.frames += p.fileTo - p.fileFrom;
        report.seconds = parts->seconds;
        report.notes = parts->notes;
        report.notes.insert(report.notes.begin(), "the lists that lay them over the clips are " +
                                                      parts->timeline.filename().string() + " and " +
                                                      parts->list.filename().string());
        return report;
    }
    case ExportKind::Movement: {
        const auto to = m_settings.to < 0 ? reelLength(*m_project) : m_settings.to;
        const auto done = writeMovement(*m_project, m_settings.path, m_settings.from, to, m_settings.force, m_cancel);
        if (!done) return tl::unexpected(done.error());
        ExportReport report;
        report.frames = to - m_settings.from;
        report.seconds = double(m_clock.elapsed()) / 1000;
        return report;
    }
    case ExportKind::Stills: {
        ExportReport report;
        const int cuts = cutCount(*m_project);
        for (int c = 0; c < cuts; ++c) {
            ExportSettings one = m_settings;
            one.from = cutFrame(*m_project, c);
            one.to = one.from + 1;
            one.sound = false;
            const auto done = exportReel(*m_project, one, pool, {}, m_cancel);
            if (!done) return tl::unexpected(done.error());
            report.frames += done->frames;
            tell(c + 1, cuts);
        }
        report.seconds = double(m_clock.elapsed()) / 1000;
        return report;
    }
    }
    return exportReel(*m_project, m_settings, pool, tell, m_cancel);
}

void ExportJob::start() {
    m_thread = std::thread([this] {
        m_clock.start();
        const auto result = guarded(m_settings.path.string(), [this] { return run(); });
        QMetaObject::invokeMethod(this, [this, result] {
            if (result)
                emit finished(*result);
            else
                emit failed(result.error());
        });
    });
}

} // namespace virga
