#pragma once
// An export running on its own thread.
#include <QElapsedTimer>
#include <QObject>
#include <thread>

#include "app/document/document.h"
#include "core/deliver/export_reel.h"

namespace virga {

class ExportJob : public QObject {
    Q_OBJECT
public:
    ExportJob(Snapshot project, ExportSettings settings, QObject* parent = nullptr);
    ~ExportJob() override;
    void start();
    void cancel() { m_cancel.request(); }

signals:
    /// `secondsLeft` is negative while it cannot be told yet.
    void progress(qint64 done, qint64 all, double secondsLeft);
    void finished(const virga::ExportReport& report);
    void failed(const virga::Error& error);

private:
    Snapshot m_project;
    ExportSettings m_settings;
    Cancel m_cancel;
    std::thread m_thread;
};

} // namespace virga
