#include "app/services/flow_watch.h"

#include <optional>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/base/one_thread.h"

namespace virga {
namespace {
constexpr qint64 longest = 200; // ms that a check of a state that is gone may still take
}

FlowWatch::FlowWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_threads.setMaxThreadCount(2); // a trial does not wait for a check
    m_timer.setSingleShot(true);
    m_timer.setInterval(40);
    connect(&m_timer, &QTimer::timeout, this, &FlowWatch::check);
    connect(document, &Document::projectChanged, this, [this] {
        if (!m_timer.isActive()) m_timer.start();
    });
    connect(document, &Document::shotsChanged, this, [this] { m_timer.start(); });
    connect(document, &Document::shownChanged, this, &FlowWatch::checkTrial);
    check();
}

FlowWatch::~FlowWatch() {
    m_cancel.request();
    m_trialCancel.request();
    m_threads.clear();
    m_threads.waitForDone();
}

const CutFlow* FlowWatch::at(int cut) const {
    const Project& now = *m_document->project();
    if (cut < 0 || cut >= int(m_reel.cuts.size()) || cut >= cutCount(now)) return nullptr;
    const auto i = std::size_t(cut);
    const Project& then = *m_reel.project;
    return then.reel[i].id == now.reel[i].id && then.reel[i + 1].id == now.reel[i + 1].id ? m_reel.cuts[i].get()
                                                                                          : nullptr;
}

const ClipFlow* FlowWatch::clip(int clip) const {
    const Project& now = *m_document->project();
    if (clip < 0 || clip >= int(m_reel.clips.size()) || clip >= int(now.reel.size())) return nullptr;
    const auto i = std::size_t(clip);
    return m_reel.project->reel[i].id == now.reel[i].id ? m_reel.clips[i].get() : nullptr;
}

void FlowWatch::check() {
    if (m_running) {
        m_again = true;
        // What is nearly done is shown while a hand drags; what takes long would be told too late.
        if (m_began.elapsed() > longest) m_cancel.request();
        return;
    }
    m_running = true;
    m_again = false;
    m_cancel = Cancel();
    m_began.start();
    const auto end = [this] {
        m_running = false;
        if (m_again) check();
    };
    inBackground(
        this,
        [project = m_document->project(), before = m_reel, shots = m_document->shots(), cancel = m_cancel] {
            beNice();
            // After an edit little is to be done: one thread serves, and the others stay the picture's.
            const std::optional<OneThread> alone =
                before.project ? std::optional<OneThread>(std::in_place) : std::nullopt;
            return flowOfReel(project, before, cancel, shots);
        },
        [this, end](ReelFlow reel) {
            if (reel.project) { // else it was cancelled
                m_reel = std::move(reel);
                m_findings = int(m_reel.all().size());
                emit changed();
            }
            end();
        },
        &m_threads, [end](const Error&) { end(); });
}

void FlowWatch::checkTrial() {
    m_trialCancel.request(); // of what was tried before
    if (!m_document->isTrying()) {
        if (!m_trial.project) return;
        m_trial = {};
        emit trialChanged();
        return;
    }
    if (m_trying) return; // the one under way asks again
    m_trying = true;
    m_trialCancel = Cancel();
    inBackground(
        this,
        [project = m_document->shown(), before = m_reel, shots = m_document->shots(), cancel = m_trialCancel] {
            beNice();
            const OneThread alone;
            return std::pair(project, flowOfReel(project, before, cancel, shots));
        },
        [this](const std::pair<Snapshot, ReelFlow>& tried) {
            m_trying = false;
            const auto& [project, trial] = tried;
            if (m_document->isTrying() && (m_document->shown() != project || !trial.project)) return checkTrial();
            m_trial = m_document->isTrying() ? trial : ReelFlow();
            emit trialChanged();
        },
        &m_threads, [this](const Error&) { m_trying = false; });
}

} // namespace virga
