#pragma once
// The exports of this window: one after the other in the background, each of the piece as it was when it was asked for.
#include <QObject>
#include <vector>

#include "app/export/export_job.h"

namespace virga {

struct QueuedExport {
    enum State { Waiting, Running, Done, Failed, Cancelled };
    int id = 0;
    Snapshot project;
    PartsSettings settings;
    ExportKind kind = ExportKind::Whole;
    State state = Waiting;
    qint64 done = 0, all = 0;
    double secondsLeft = -1;
    QString told; // how it ended

    bool isOver() const { return state == Done || state == Failed || state == Cancelled; }
    /// What can be opened: the file, or a sequence's first picture.
    QString file() const;
};

class ExportQueue : public QObject {
    Q_OBJECT
public:
    explicit ExportQueue(QObject* parent = nullptr);
    ~ExportQueue() override;

    int add(Snapshot project, const PartsSettings& settings, ExportKind kind = ExportKind::Whole);
    void cancel(int id);
    /// Puts one that is over at the queue's end, once more.
    void retry(int id);
    /// Takes one that is over off the list.
    void remove(int id);
    void setPaused(bool paused);
    bool isPaused() const { return m_paused; }

    const std::vector<QueuedExport>& all() const { return m_all; }
    const QueuedExport* find(int id) const;
    /// Whether something runs or waits; the part of it that is done, from 0 to 1.
    bool isBusy() const;
    double part() const;
    void cancelAll();

signals:
    void changed();
    void progressed(int id);
    /// Done or failed; not for what was cancelled.
    void ended(int id);

private:
    QueuedExport* at(int id);
    void startNext();
    void end(int id, QueuedExport::State state, const QString& text);

    std::vector<QueuedExport> m_all;
    ExportJob* m_job = nullptr;
    int m_running = 0; // its id; 0: none
    int m_ids = 0;
    bool m_paused = false;
};

/// "12 seconds", "3 min 5 s"
QString durationText(double seconds);

/// Tells the desktop, where there is one that listens (org.freedesktop.Notifications).
void tellDesktop(const QString& title, const QString& text);

} // namespace virga
