#pragma once
// One piece of long work with progress and cancel: finding beats, cuts or bars, collecting. Starting it again stops the
// one before; a stopped one reports nothing. Interface thread only, apart from the work itself.
#include <QElapsedTimer>
#include <QObject>
#include <functional>

#include "app/services/in_background.h"
#include "core/base/cancel.h"

namespace virga {

class Job : public QObject {
    Q_OBJECT
public:
    explicit Job(QObject* parent = nullptr) : QObject(parent) {}
    ~Job() override { m_cancel.request(); }

    bool isRunning() const { return m_running; }
    /// From 0 to 1.
    double part() const { return m_part; }
    /// "about 12 s left"; empty while that is not known.
    QString timeLeft() const;

    /// `work` gets a function to report progress with and a flag to obey; `done` its result, on the interface thread.
    template <typename Work, typename Done> void start(Work work, Done done) {
        stop();
        m_cancel = Cancel();
        begin();
        const int generation = m_generation;
        const auto report = [this, alive = QPointer<Job>(this), generation](double part) {
            QMetaObject::invokeMethod(qApp, [this, alive, generation, part] {
                if (alive && generation == m_generation) setPart(part);
            });
        };
        inBackground(
            this, [work = std::move(work), report, cancel = m_cancel]() mutable { return work(report, cancel); },
            [this, generation, done = std::move(done)](auto result) mutable {
                if (generation != m_generation) return;
                end();
                done(std::move(result));
            },
            threads(),
            [this, generation](const Error&) {
                if (generation == m_generation) end();
            });
    }
    void stop();
    /// Threads of their own: what somebody waits for does not stand behind what is done of itself.
    static QThreadPool* threads();

signals:
    void progress(double part);
    void runningChanged(bool running);

private:
    void begin();
    void end();
    void setPart(double part);

    Cancel m_cancel;
    QElapsedTimer m_clock;
    double m_part = 0;
    bool m_running = false;
    int m_generation = 0;
};

} // namespace virga
