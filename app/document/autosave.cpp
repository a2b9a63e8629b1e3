#include "app/document/autosave.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QRandomGenerator>
#include <QStandardPaths>

#include "core/base/guard.h"
#include "core/project/project_file.h"

namespace virga {

Autosave::Autosave(Document* document, int delayMilliseconds) : QObject(document), m_document(document) {
    m_writer.setMaxThreadCount(1);
    m_timer.setSingleShot(true);
    m_timer.setInterval(delayMilliseconds);
    connect(&m_timer, &QTimer::timeout, this, [this] {
        // Where the last copy is still being written (a long reel) the next one waits: copies never queue up.
        if (m_writer.activeThreadCount() > 0)
            m_timer.start();
        else
            writeNow();
    });
    connect(document, &Document::projectChanged, this, &Autosave::changed);
    connect(document, &Document::fileChanged, this, &Autosave::changed);
    connect(document, &Document::opened, this, [this] {
        m_written.clear();
        m_timer.stop();
        lookAtFile();
    });
    connect(document, &Document::fileChanged, this, &Autosave::lookAtFile);
    lookAtFile();
}

QString Autosave::placeFor(const QString& projectPath) {
    // Process numbers mean nothing across containers that share a home.
    static const QString mark = QString::number(QRandomGenerator::system()->generate64(), 16);
    if (projectPath.isEmpty())
        return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
               QStringLiteral("/untitled-%1.virga.autosave").arg(mark);
    const QFileInfo info(projectPath);
    return info.absolutePath() + "/." + info.fileName() + ".autosave";
}

QString Autosave::place() const {
    return placeFor(m_document->isReadOnly() ? QString() : m_document->path());
}

namespace {

// The newest copy of an unnamed piece whose window is gone; others belong to windows that are open.
QString untitledLeft() {
    const QDir folder(QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation));
    for (const QFileInfo& copy : folder.entryInfoList({"untitled*.virga.autosave"}, QDir::Files, QDir::Time)) {
        if (copy.size() == 0) continue;
        const QString place = copy.absoluteFilePath();
        if (FileLock::take(place.toStdString())) return place; // nobody holds it
    }
    return {};
}

} // namespace

QString Autosave::leftFor(const QString& projectPath) {
    if (projectPath.isEmpty()) return untitledLeft();
    const QFileInfo copy(placeFor(projectPath));
    if (!copy.exists() || copy.size() == 0) return {};
    const QString place = copy.absoluteFilePath();
    return goesOnFrom(place.toStdString(), projectPath.toStdString()) ? place : QString();
}

void Autosave::changed() {
    if (m_document->isModified()) {
        if (!m_timer.isActive()) m_timer.start();
    } else {
        discard();
    }
}

void Autosave::lookAtFile() {
    m_writer.start([path = m_document->path().toStdString(), content = m_content] { *content = contentOf(path); });
}

void Autosave::writeNow() {
    if (!m_document->isModified()) return;
    const QString place = this->place();
    if (place == placeFor({})) {
        QDir().mkpath(QFileInfo(place).absolutePath());
        if (!m_untitled) m_untitled = FileLock::take(place.toStdString());
    }
    m_written = place;
    m_writer.start([project = m_document->project(), place, content = m_content, texts = m_texts] {
        QDir().mkpath(QFileInfo(place).absolutePath());
        (void)guarded(place.toStdString(),
                      [&] { return keepCopy(*project, place.toStdString(), *content, texts.get()); });
    });
}

Autosave::~Autosave() {
    m_writer.waitForDone();
}

void Autosave::discard() {
    m_timer.stop();
    if (m_written.isEmpty()) return;
    m_writer.start([place = m_written] { QFile::remove(place); });
    m_written.clear();
    if (m_untitled) m_writer.waitForDone(); // the copy goes before its lock
    m_untitled.reset();
}

} // namespace virga
