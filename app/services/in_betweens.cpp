#include "app/services/in_betweens.h"

#include <QElapsedTimer>
#include <QPointer>
#include <QStandardPaths>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/base/one_thread.h"
#include "core/render/optical_flow_needs.h"

namespace virga {

InBetweens::InBetweens(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames),
      m_pool(std::make_shared<SourcePool>(std::size_t(96) << 20)) {
    m_thread.setMaxThreadCount(1);
    m_pool->flow().keepIn(folder().toStdString(), mostOnDisk);
    frames->keepFlowIn(folder().toStdString(), mostOnDisk);
    m_wait.setSingleShot(true);
    m_wait.setInterval(400);
    connect(&m_wait, &QTimer::timeout, this, &InBetweens::work);
    connect(document, &Document::projectChanged, this, &InBetweens::look);
    look();
}

InBetweens::~InBetweens() {
    m_cancel.request();
    m_thread.clear();
    m_thread.waitForDone();
}

QString InBetweens::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/flow";
}

QString InBetweens::progressText() const {
    if (m_left <= 0) return {};
    return tr("pictures in between: %1 of %2").arg(m_done).arg(m_done + m_left);
}

void InBetweens::stop() {
    m_stopped = true;
    m_wait.stop();
    m_cancel.request();
    emit changed();
}

void InBetweens::start() {
    m_stopped = false;
    look();
}

// Whatever is being done for an older state goes on to its end where nobody needs another: what is found stays good.
void InBetweens::look() {
    const auto project = m_document->project();
    const auto needs = [](const Clip& clip) { return needsOpticalFlow(clip.inBetween, clip.shotBlur); };
    bool any = false;
    for (const Clip& clip : project->reel) any = any || needs(clip);
    for (const Overlay& overlay : project->overlays) any = any || needs(overlay.clip);
    m_cancel.request();
    bool stale = false; // what was known of clips that make nothing up any more
    for (const Clip& clip : project->reel) stale = stale || (clip.guess && !needs(clip));
    if ((any || stale) && !m_stopped) {
        m_wait.start();
    } else if (m_left > 0) {
        m_left = m_done = 0;
        emit changed();
    }
}

// How good the made-up pictures are belongs into the project, for the flow check.
void InBetweens::learn(const std::map<std::string, Guess>& guesses) {
    if (m_document->isDragging()) return;
    Project same = *m_document->project();
    for (Clip& clip : same.reel) {
        const auto known = guesses.find(clip.id);
        clip.guess = known == guesses.end() ? std::nullopt : std::optional(known->second);
    }
    if (!(same == *m_document->project())) m_document->learn(std::move(same));
}

void InBetweens::work() {
    if (m_busy) {
        m_again = true;
        return;
    }
    m_again = false;
    m_busy = true;
    m_cancel = Cancel();
    const int generation = ++m_generation;
    struct Counted {
        int left = 0, done = 0;
        std::map<std::string, Guess> guesses;
    };
    const auto tell = [alive = QPointer<InBetweens>(this), generation](int left, int done, bool found) {
        QMetaObject::invokeMethod(qApp, [alive, generation, left, done, found] {
            if (!alive || generation != alive->m_generation) return;
            alive->m_left = left, alive->m_done = done;
            if (found) alive->m_frames->flowFound();
            emit alive->changed();
        });
    };
    inBackground(
        this,
        [project = m_document->project(), pool = m_pool, cancel = m_cancel, tell, head = m_document->playhead()] {
            beNice();
            // From the playhead on, then what lies before it.
            std::vector<FlowNeed> needs = flowNeeds(*project, head, reelLength(*project), *pool, cancel);
            const auto before = flowNeeds(*project, 0, head, *pool, cancel);
            needs.insert(needs.end(), before.begin(), before.end());
            const int all = int(needs.size());
            int done = 0;
            QElapsedTimer clock;
            clock.start();
            tell(all, 0, false);
            const OneThread alone; // the other cores are for what is waited for
            for (const FlowNeed& need : needs) {
                if (cancel.requested()) break;
                pool->findFlow(need.path, need.time, need.look);
                ++done;
                const bool time = clock.elapsed() > 500;
                if (time) clock.restart();
                if (time || done == all) tell(all - done, done, true);
            }
            Counted counted{cancel.requested() ? all - done : 0, done, {}};
            if (!cancel.requested()) counted.guesses = guessesOf(*project, *pool, cancel);
            if (cancel.requested()) counted.left = std::max(counted.left, 1);
            return counted;
        },
        [this](const Counted& counted) {
            m_busy = false;
            if (counted.left == 0 && !m_again) learn(counted.guesses);
            if (counted.left == 0) m_left = m_done = 0;
            if (counted.done > 0) m_frames->flowFound();
            emit changed();
            if ((counted.left > 0 || m_again) && !m_stopped) look();
        },
        &m_thread, [this](const Error&) { m_busy = false; });
}

} // namespace virga
