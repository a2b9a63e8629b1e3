#include "app/services/shots_watch.h"

#include <QPointer>
#include <QStandardPaths>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/analysis/measure_movement.h"

namespace virga {

ShotsWatch::ShotsWatch(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    m_thread.setMaxThreadCount(1);
    connect(document, &Document::opened, this, [this] {
        stop();
        m_asked -= std::exchange(m_failed, {}); // files that were away may be back
        look();
    });
    connect(document, &Document::projectChanged, this, &ShotsWatch::look);
}

ShotsWatch::~ShotsWatch() {
    m_cancel.request();
    m_thread.clear();
    m_thread.waitForDone();
}

QString ShotsWatch::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/movement";
}

QString ShotsWatch::progressText() const {
    if (m_left == 0) return {};
    return tr("movement of shots: %1 of %2, %3 %").arg(m_done + 1).arg(m_done + m_left).arg(int(m_part * 100));
}

void ShotsWatch::stop() {
    m_cancel.request();
    m_thread.clear();
    for (const QString& path : std::as_const(m_asked))
        if (!m_known.contains(path)) m_failed.insert(path);
    m_asked -= m_failed;
    m_failed.clear();
    m_cancel = Cancel();
    m_left = m_done = 0;
    emit changed();
}

void ShotsWatch::forget(const QString& path) {
    m_known.remove(path);
    m_asked.remove(path);
    m_failed.remove(path);
    look();
}

void ShotsWatch::look() {
    const auto project = m_document->project();
    if (!project->settings.withShots) {
        if (m_left > 0) stop();
        m_document->setShots(nullptr);
        return;
    }
    QSet<QString> used;
    for (const Clip& clip : project->reel) used.insert(QString::fromStdString(clip.mediaId));
    for (const Media& m : project->media) {
        if (m.still || !m.hasPicture() || !used.contains(QString::fromStdString(m.id))) continue;
        const QString path = QString::fromStdString(m.path.string());
        if (m_asked.contains(path) || m_failed.contains(path)) continue;
        m_asked.insert(path);
        ++m_left;
        const auto report = [alive = QPointer<ShotsWatch>(this), last = 0.0](double part) mutable {
            if (part - last < 0.02 && part < 1) return;
            last = part;
            QMetaObject::invokeMethod(qApp, [alive, part] {
                if (!alive || alive->m_left == 0) return;
                alive->m_part = part;
                emit alive->changed();
            });
        };
        inBackground(
            this,
            [path = m.path, report, folder = folder().toStdString(), cancel = m_cancel]() mutable {
                beNice();
                return keptMovement(path, folder, report, cancel);
            },
            [this, path](Expected<ShotMovement> movement) {
                if (!movement && movement.error().code == ErrorCode::Cancelled) return;
                m_left = std::max(0, m_left - 1);
                m_done = m_left > 0 ? m_done + 1 : 0;
                m_part = 0;
                if (movement)
                    m_known.insert(path, std::make_shared<const ShotMovement>(std::move(*movement)));
                else
                    m_failed.insert(path); // the Tray tells of files that cannot be read
                tell();
                emit changed();
            },
            &m_thread);
    }
    tell();
}

void ShotsWatch::tell() {
    const auto project = m_document->project();
    if (!project->settings.withShots) return;
    auto shots = std::make_shared<ShotMovements>();
    for (const Media& m : project->media)
        if (const auto known = m_known.value(QString::fromStdString(m.path.string()))) (*shots)[m.id] = known;
    const auto before = m_document->shots();
    if (before && *before == *shots) return;
    m_document->setShots(std::move(shots));
}

} // namespace virga
