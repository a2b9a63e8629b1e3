#include "app/background/shot_ends_watch.h"

#include "app/background/be_nice.h"
#include "app/background/in_background.h"
#include "core/detect/find_shot.h"

namespace virga {
namespace {

constexpr int restMs = 700, tellMs = 300;

struct Look {
    std::filesystem::path path;
    ClipTime::Span seen;
    Rational most;
    QString key() const {
        return QString::fromStdString(toText(seen.from) + " " + toText(seen.to) + " " + toText(most) + " " +
                                      path.string());
    }
};

std::optional<Look> lookOf(const Project& project, int clip) {
    const Clip& c = project.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    if (!media || !media->hasPicture() || !ClipTime(project, c).runs()) return std::nullopt;
    return Look{media->path, seenOfSource(project, clip), foreignSeconds(project, clip)};
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
        const auto look = lookOf(*project, i);
        if (!look || m_asked.contains(look->key())) continue;
        m_asked.insert(look->key());
        inBackground(
            this,
            [look = *look, cancel = m_cancel] {
                beNice();
                return findShot(look.path, look.seen, look.most, cancel);
            },
            [this, key = look->key()](const Expected<FoundShot>& shot) {
                if (shot) m_found.insert(key, *shot); // the Tray tells of files that cannot be read
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
        const auto look = lookOf(same, i);
        const auto found = look ? m_found.constFind(look->key()) : m_found.constEnd();
        if (found == m_found.constEnd()) continue;
        const auto shot = found->isWhole() ? std::nullopt : std::optional(*found);
        if (std::as_const(same).reel[std::size_t(i)].shot == shot) continue;
        same.reel[std::size_t(i)].shot = shot;
        learnt = true;
    }
    if (learnt) m_document->learn(std::move(same));
}

} // namespace virga
