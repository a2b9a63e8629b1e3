#pragma once
// An export running on its own thread.
#include <QElapsedTimer>
#include <QObject>
#include <condition_variable>
#include <mutex>
#include <thread>

#include "app/document/document.h"
#include "core/export/parts.h"

namespace virga {

/// What is written of the piece: it as a whole, each cut's movement as a part, the movement as numbers, or a picture of
/// each cut.
enum class ExportKind { Whole, Parts, Movement, Stills };

class ExportJob : public QObject {
    Q_OBJECT
public:
    ExportJob(Snapshot project, PartsSettings settings, ExportKind kind, QObject* parent = nullptr);
    ~ExportJob() override;
    void start();
    void cancel();
    /// Waits before the next frame until it goes on.
    void setPaused(bool paused);

signals:
    /// `secondsLeft` is negative while it cannot be told yet.
    void progress(qint64 done, qint64 all, double secondsLeft);
    void finished(const virga::ExportReport& report);
    void failed(const virga::Error& error);

private:
    Expected<ExportReport> run();
    void told(std::int64_t done, std::int64_t all);

    Snapshot m_project;
    PartsSettings m_settings;
    ExportKind m_kind;
    Cancel m_cancel;
    std::thread m_thread;
    std::mutex m_mutex;
    std::condition_variable m_goesOn;
    bool m_paused = false;
    QElapsedTimer m_clock; // the work's thread only, as what follows
    qint64 m_last = -1000, m_waited = 0;
};

} // namespace virga
