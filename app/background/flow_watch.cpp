#include "app/background/flow_watch.h"

#include "app/background/in_background.h"

namespace virga {

FlowWatch::FlowWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_timer.setSingleShot(true);
    m_timer.setInterval(40);
    connect(&m_timer, &QTimer::timeout, this, &FlowWatch::check);
    connect(document, &Document::projectChanged, this, [this] {
        if (!m_timer.isActive()) m_timer.start();
    });
    check();
}

const CutFlow* FlowWatch::at(int cut) const {
    return cut >= 0 && cut < int(m_cuts.size()) ? &m_cuts[std::size_t(cut)] : nullptr;
}

int FlowWatch::findings() const {
    int sum = 0;
    for (const CutFlow& cut : m_cuts) sum += int(cut.findings.size());
    return sum;
}

void FlowWatch::check() {
    if (m_running) {
        m_again = true;
        return;
    }
    m_running = true;
    m_again = false;
    inBackground(
        this, [project = m_document->project()] { return flowOfReel(*project); },
        [this](std::vector<CutFlow> cuts) {
            m_running = false;
            m_cuts = std::move(cuts);
            emit changed();
            if (m_again) check();
        },
        QThreadPool::globalInstance(), [this](const Error&) { m_running = false; });
}

} // namespace virga
