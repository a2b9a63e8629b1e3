#include "app/services/shot_ends_watch.h"

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/analysis/find_shot.h"

namespace virga {
namespace {

constexpr int restMs = 700, tellMs = 300;

QString keyOf(const ShotLook& look) {
    return QString::fromStdString(toText(look.used.from) + " " + toText(look.used.to) + " " + toText(look.most) + " " +
                                  look.path.string());
}

} // namespace

ShotEndsWatch::ShotEndsWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_threads.setMaxThreadCount(1);
    m_rest.setSingleShot(true);
    m_rest.setInterval(restMs);
    m_tell.setSingleShot(true);
    m_tell.setInterval(tellMs);
    connect(&m_rest, &QTimer::timeout, this, &ShotEndsWatch::look);
    connect(&m_tell, &QTimer::timeout, this, &ShotEndsWatch::tell);
    connect(document, &Document::opened, this, [this] {
        m_asked -= std::exchange(m_failed, {}); // files that were away may be back
        m_rest.start();
    });
    connect(document, &Document::projectChanged, &m_rest, qOverload<>(&QTimer::start));
    m_rest.start();
}

ShotEndsWatch::~ShotEndsWatch() {
    m_cancel.request();
    m_threads.clear();
    m_threads.waitForDone();
}

void ShotEndsWatch::look() {
    if (m_document->isDragging()) return m_rest.start();
    const auto project = m_document->project();
    for (int i = 0; i < int(project->reel.size()); ++i) {
        const auto look = shotLookOf(*project, i);
        if (!look || m_asked.contains(keyOf(*look))) continue;
        m_asked.insert(keyOf(*look));
        inBackground(
            this,
            [look = *look, cancel = m_cancel] {
                beNice();
                return findShot(look.path, look.used, look.most, cancel);
            },
            [this, key = keyOf(*look)](const Expected<FoundShot>& shot) {
                if (shot)
                    m_found.insert(key, *shot);
                else
                    m_failed.insert(key); // the Tray tells of files that cannot be read
                m_tell.start();
            },
            &m_threads);
    }
    m_tell.start();
}

void ShotEndsWatch::tell() {
    if (m_document->isDragging()) return m_tell.start();
    Project same = *m_document->project();
    bool learnt = false;
    for (int i = 0; i < int(same.reel.size()); ++i) {
        const auto look = shotLookOf(same, i);
        const auto found = look ? m_found.constFind(keyOf(*look)) : m_found.constEnd();
        if (found == m_found.constEnd()) continue;
        const auto shot = found->isWhole() ? std::nullopt : std::optional(*found);
        if (std::as_const(same).reel[std::size_t(i)].shot == shot) continue;
        same.reel[std::size_t(i)].shot = shot;
        learnt = true;
    }
    if (learnt) m_document->learn(std::move(same));
}

} // namespace virga
