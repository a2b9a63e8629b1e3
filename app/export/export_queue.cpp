#include "app/export/export_queue.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QVariantMap>
#include <algorithm>
#include <cmath>

namespace virga {

QString QueuedExport::file() const {
    const auto& path = settings.path;
    if ((kind == ExportKind::Whole || kind == ExportKind::Stills) && infoOf(settings.format).sequence)
        return QString::fromStdString(picturePath(path, long(settings.from)).string());
    return QString::fromStdString(path.string());
}

ExportQueue::ExportQueue(QObject* parent) : QObject(parent) {}

ExportQueue::~ExportQueue() {
    delete m_job; // it stops, and leaves nothing half written
}

const QueuedExport* ExportQueue::find(int id) const {
    const auto found = std::find_if(m_all.begin(), m_all.end(), [id](const QueuedExport& q) { return q.id == id; });
    return found == m_all.end() ? nullptr : &*found;
}

QueuedExport* ExportQueue::at(int id) {
    return const_cast<QueuedExport*>(find(id));
}

int ExportQueue::add(Snapshot project, const PartsSettings& settings, ExportKind kind) {
    QueuedExport q;
    q.id = ++m_ids;
    q.project = std::move(project);
    q.settings = settings;
    q.kind = kind;
    m_all.push_back(std::move(q));
    const int id = m_ids;
    startNext();
    emit changed();
    return id;
}

bool ExportQueue::isBusy() const {
    return std::any_of(m_all.begin(), m_all.end(), [](const QueuedExport& q) { return !q.isOver(); });
}

double ExportQueue::part() const {
    const QueuedExport* q = find(m_running);
    return q && q->all > 0 ? double(q->done) / double(q->all) : 0;
}

void ExportQueue::startNext() {
    if (m_job || m_paused) return;
    const auto next = std::find_if(m_all.begin(), m_all.end(),
                                   [](const QueuedExport& q) { return q.state == QueuedExport::Waiting; });
    if (next == m_all.end()) return;
    next->state = QueuedExport::Running;
    next->done = next->all = 0;
    next->secondsLeft = -1;
    const int id = m_running = next->id;
    m_job = new ExportJob(next->project, next->settings, next->kind, this);
    connect(m_job, &ExportJob::progress, this, [this, id](qint64 done, qint64 all, double left) {
        if (QueuedExport* q = at(id)) {
            q->done = done, q->all = all, q->secondsLeft = left;
            emit progressed(id);
        }
    });
    connect(m_job, &ExportJob::finished, this, [this, id](const ExportReport& report) {
        QString text = tr("Done: %1 frames in %2").arg(report.frames).arg(durationText(report.seconds));
        for (const Error& e : report.problems)
            text += "\n" + tr("Sound left out: %1").arg(QString::fromStdString(describe(e)));
        for (const std::string& note : report.notes) {
            QString line = QString::fromStdString(note);
            if (!line.isEmpty()) line[0] = line[0].toUpper();
            text += "\n" + line;
        }
        end(id, QueuedExport::Done, text);
    });
    connect(m_job, &ExportJob::failed, this, [this, id](const Error& error) {
        if (error.code == ErrorCode::Cancelled)
            end(id, QueuedExport::Cancelled, tr("Stopped. No file was written."));
        else
            end(id, QueuedExport::Failed, QString::fromStdString(describe(error)));
    });
    m_job->start();
}

void ExportQueue::end(int id, QueuedExport::State state, const QString& text) {
    m_job->deleteLater();
    m_job = nullptr;
    m_running = 0;
    if (QueuedExport* q = at(id)) {
        q->state = state;
        q->told = text;
    }
    startNext();
    emit changed();
    if (state != QueuedExport::Cancelled) emit ended(id);
}

void ExportQueue::cancel(int id) {
    QueuedExport* q = at(id);
    if (!q) return;
    if (q->state == QueuedExport::Running && m_job) {
        m_job->cancel(); // `end` follows
        return;
    }
    if (q->state != QueuedExport::Waiting) return;
    q->state = QueuedExport::Cancelled;
    q->told = tr("Not begun.");
    emit changed();
}

void ExportQueue::cancelAll() {
    for (QueuedExport& q : m_all)
        if (q.state == QueuedExport::Waiting) q.state = QueuedExport::Cancelled;
    if (m_job) m_job->cancel();
    emit changed();
}

void ExportQueue::retry(int id) {
    const auto found = std::find_if(m_all.begin(), m_all.end(), [id](const QueuedExport& q) { return q.id == id; });
    if (found == m_all.end() || !found->isOver()) return;
    QueuedExport again = std::move(*found);
    m_all.erase(found);
    again.state = QueuedExport::Waiting;
    again.told.clear();
    m_all.push_back(std::move(again));
    startNext();
    emit changed();
}

void ExportQueue::remove(int id) {
    std::erase_if(m_all, [id](const QueuedExport& q) { return q.id == id && q.isOver(); });
    emit changed();
}

void ExportQueue::setPaused(bool paused) {
    m_paused = paused;
    if (m_job) m_job->setPaused(paused);
    if (!paused) startNext();
    emit changed();
}

QString durationText(double seconds) {
    if (seconds < 1.5) return QObject::tr("a second");
    if (seconds < 90) return QObject::tr("%1 seconds").arg(int(std::ceil(seconds)));
    return QObject::tr("%1 min %2 s").arg(int(seconds) / 60).arg(int(seconds) % 60);
}

void tellDesktop(const QString& title, const QString& text) {
    QDBusConnection bus = QDBusConnection::sessionBus();
    if (!bus.isConnected()) return;
    QDBusMessage call = QDBusMessage::createMethodCall(
        "org.freedesktop.Notifications", "/org/freedesktop/Notifications", "org.freedesktop.Notifications", "Notify");
    // A server that shows markup in the body (Desktop Notifications Specification 1.2, "body-markup") must get none of
    // a file's name. Servers that show none, or do not say, get no character that could begin some.
    QString plain = text;
    plain.replace('<', QStringLiteral("‹")).replace('>', QStringLiteral("›")).replace('&', QStringLiteral("+"));
    call << QStringLiteral("Virga") << uint(0) << QStringLiteral("virga") << title << plain << QStringList()
         << QVariantMap() << -1;
    bus.send(call); // nobody waits for an answer
}

} // namespace virga
