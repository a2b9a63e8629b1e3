#pragma once
// The flow check of the whole reel, kept up to date in the background; and of what is tried out. Each answer knows the
// project that it was found for: what does not belong to the present reel any more is not given.
#include <QElapsedTimer>
#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include "app/document/document.h"
#include "core/base/cancel.h"
#include "core/check/flow.h"

namespace virga {

class FlowWatch : public QObject {
    Q_OBJECT
public:
    explicit FlowWatch(Document* document, QObject* parent = nullptr);
    ~FlowWatch() override;

    /// The latest finished check; without a project before the first one.
    const ReelFlow& reel() const { return m_reel; }
    /// What was found at a cut or a clip of the present reel; null where it was not checked yet.
    const CutFlow* at(int cut) const;
    const ClipFlow* clip(int clip) const;
    /// All findings of the reel.
    int findings() const { return m_findings; }
    /// The check of what is tried out; null where nothing is, or it is not finished.
    const ReelFlow* trial() const { return m_trial.project ? &m_trial : nullptr; }
    bool isIdle() const { return !m_running && !m_again && !m_timer.isActive() && !m_trying; }

signals:
    void changed();
    void trialChanged();

private:
    void check();
    void checkTrial();
    Document* m_document;
    QTimer m_timer;
    QThreadPool m_threads;
    ReelFlow m_reel, m_trial;
    Cancel m_cancel, m_trialCancel;
    QElapsedTimer m_began;
    int m_findings = 0;
    bool m_running = false, m_again = false, m_trying = false;
};

} // namespace virga
