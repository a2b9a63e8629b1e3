#include "app/services/bars_watch.h"

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/analysis/find_bars.h"

namespace virga {

BarsWatch::BarsWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_threads.setMaxThreadCount(1);
    m_tell.setSingleShot(true);
    m_tell.setInterval(300);
    connect(&m_tell, &QTimer::timeout, this, &BarsWatch::tell);
    connect(document, &Document::opened, this, [this] {
        m_asked -= std::exchange(m_failed, {}); // files that were away may be back
        look();
    });
    connect(document, &Document::projectChanged, this, &BarsWatch::look);
}

BarsWatch::~BarsWatch() {
    m_cancel.request();
    m_threads.clear();
    m_threads.waitForDone();
}

void BarsWatch::look() {
    for (const Media& m : m_document->project()->media) {
        if (m.bars || !m.hasPicture()) continue;
        const QString path = QString::fromStdString(m.path.string());
        if (m_found.contains(path)) {
            m_tell.start();
            continue;
        }
        if (m_asked.contains(path)) continue;
        m_asked.insert(path);
        inBackground(
            this,
            [path = m.path, to = m.duration, cancel = m_cancel] {
                beNice();
                return findBars(path, Rational(0), to, cancel);
            },
            [this, path](const Expected<Crop>& bars) {
                if (!bars) { // the Tray tells of files that cannot be read
                    m_failed.insert(path);
                    return;
                }
                m_found.insert(path, *bars);
                m_tell.start();
            },
            &m_threads);
    }
}

void BarsWatch::tell() {
    if (m_document->isDragging()) return m_tell.start();
    Project same = *m_document->project();
    for (Media& m : same.media) {
        const auto found = m_found.constFind(QString::fromStdString(m.path.string()));
        if (!m.bars && found != m_found.constEnd()) m.bars = *found;
    }
    m_document->learn(std::move(same));
}

} // namespace virga
