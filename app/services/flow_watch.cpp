#include "app/services/flow_watch.h"

#include <optional>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/base/one_thread.h"

namespace virga {

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
        return;
    }
    m_running = true;
    m_again = false;
    inBackground(
        this,
        [project = m_document->project(), before = m_reel, shots = m_document->shots()] {
            beNice();
            // After an edit little is to be done: one thread serves, and the others stay the picture's.
            const std::optional<OneThread> alone =
                before.project ? std::optional<OneThread>(std::in_place) : std::nullopt;
            return flowOfReel(project, before, {}, shots);
        },
        [this](ReelFlow reel) {
            m_running = false;
            m_reel = std::move(reel);
            m_findings = int(m_reel.all().size());
            emit changed();
            if (m_again) check();
        },
        &m_threads, [this](const Error&) { m_running = false; });
}

void FlowWatch::checkTrial() {
    if (!m_document->isTrying()) {
        if (!m_trial.project) return;
        m_trial = {};
        emit trialChanged();
        return;
    }
    if (m_trying) return; // the one under way asks again
    m_trying = true;
    inBackground(
        this,
        [project = m_document->shown(), before = m_reel, shots = m_document->shots()] {
            beNice();
            const OneThread alone;
            return flowOfReel(project, before, {}, shots);
        },
        [this](ReelFlow trial) {
            m_trying = false;
            if (m_document->isTrying() && m_document->shown() != trial.project) return checkTrial();
            m_trial = m_document->isTrying() ? std::move(trial) : ReelFlow();
            emit trialChanged();
        },
        &m_threads, [this](const Error&) { m_trying = false; });
}

} // namespace virga
