#include "app/shell/project_files.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <QProcess>
#include <QProgressDialog>
#include <QSettings>

#include "core/base/error.h"

namespace virga {

ProjectFiles::ProjectFiles(Document* document, Autosave* autosave, QWidget* window)
    : QObject(window), m_document(document), m_autosave(autosave), m_window(window) {}

bool ProjectFiles::recover(const QString& copy, const QString& path) {
    const QString name = path.isEmpty() ? tr("a piece that was never saved") : QFileInfo(path).fileName();
    const auto answer = QMessageBox::question(
        m_window, tr("Recover"),
        tr("Virga ended without closing %1. Changes that were not saved were kept. Take them up again?").arg(name),
        QMessageBox::Yes | QMessageBox::No, QMessageBox::Yes);
    if (answer != QMessageBox::Yes) {
        QFile::rename(copy, copy + ".declined"); // not lost even then
        return false;
    }
    if (const auto done = m_document->recover(copy, path); !done) {
        emit problem(tr("The kept changes could not be read."), QString::fromStdString(describe(done.error())));
        return false;
    }
    return true;
}

bool ProjectFiles::open(const QString& path, bool offerRecovery) {
    if (offerRecovery)
        if (const QString copy = Autosave::leftFor(path); !copy.isEmpty() && recover(copy, path)) {
            remember(path);
            return true;
        }
    if (const auto done = m_document->open(path); !done) {
        emit problem(tr("The project could not be opened; what was open stays."),
                     QString::fromStdString(describe(done.error())));
        return false;
    }
    remember(path);
    return true;
}

void ProjectFiles::openAsking(const QString& path) {
    if (!mayLeave()) return;
    m_autosave->discard();
    open(path);
}

void ProjectFiles::offerUntitledRecovery() {
    if (const QString copy = Autosave::leftFor({}); !copy.isEmpty()) recover(copy, {});
}

void ProjectFiles::startNew() {
    if (!mayLeave()) return;
    m_autosave->discard();
    m_document->startNew();
}

void ProjectFiles::chooseAndOpen() {
    const QString path =
        QFileDialog::getOpenFileName(m_window, tr("Open a project"), QFileInfo(m_document->path()).absolutePath(),
                                     tr("Virga projects (*.virga);;All files (*)"));
    if (!path.isEmpty()) openAsking(path);
}

bool ProjectFiles::save() {
    if (m_document->path().isEmpty()) return saveAs();
    if (const auto done = m_document->save(m_document->path()); !done) {
        emit problem(tr("The project could not be saved; the file on disk is as it was."),
                     QString::fromStdString(describe(done.error())));
        return false;
    }
    remember(m_document->path());
    return true;
}

bool ProjectFiles::saveAs() {
    const QString start = m_document->path().isEmpty() ? m_document->title() + ".virga" : m_document->path();
    QString path =
        QFileDialog::getSaveFileName(m_window, tr("Save the project as"), start, tr("Virga projects (*.virga)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += ".virga";
    const auto done = m_document->save(path);
    if (!done) {
        emit problem(tr("The project could not be saved."), QString::fromStdString(describe(done.error())));
        return false;
    }
    remember(path);
    return true;
}

bool ProjectFiles::mayLeave() {
    if (!m_document->isModified()) return true;
    const auto answer =
        QMessageBox::question(m_window, tr("Save?"), tr("%1 has changes that are not saved.").arg(m_document->title()),
                              QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, QMessageBox::Save);
    if (answer == QMessageBox::Save) return save();
    return answer == QMessageBox::Discard;
}

void ProjectFiles::remember(const QString& path) {
    QSettings settings;
    QStringList recent = settings.value("recent").toStringList();
    const QString absolute = QFileInfo(path).absoluteFilePath();
    recent.removeAll(absolute);
    recent.prepend(absolute);
    while (recent.size() > 8) recent.removeLast();
    settings.setValue("recent", recent);
}

void ProjectFiles::fillRecent(QMenu* menu) {
    menu->clear();
    const QStringList recent = QSettings().value("recent").toStringList();
    for (const QString& path : recent) {
        QAction* a = menu->addAction(QFileInfo(path).completeBaseName(), this, [this, path] { openAsking(path); });
        a->setToolTip(path);
        a->setEnabled(QFileInfo::exists(path));
    }
    if (recent.isEmpty()) menu->addAction(tr("Nothing yet"))->setEnabled(false);
}

QString ProjectFiles::demoPath() {
    const QString here = QCoreApplication::applicationDirPath();
    for (const char* place : {"/../../../demo/lantern-regatta.virga", "/../share/virga/demo/lantern-regatta.virga"})
        if (QFileInfo::exists(here + place)) return QFileInfo(here + place).canonicalFilePath();
    return {};
}

void ProjectFiles::openDemo() {
    const QString path = demoPath();
    if (path.isEmpty())
        return emit problem(tr("The demo is not here."), tr("It comes with Virga's source: run ./start there."));
    if (!mayLeave()) return;
    const QString footage = QFileInfo(path).absolutePath() + "/footage",
                  generator = QCoreApplication::applicationDirPath() + "/../tools/demo_footage/demo_footage";
    if (!QFileInfo::exists(footage + "/last-light.mp4") && QFileInfo::exists(generator)) {
        // Drawn once; takes under a minute.
        QProgressDialog busy(tr("Drawing the demo's shots, once …"), tr("Cancel"), 0, 8, m_window);
        busy.setMinimumDuration(0);
        QProcess process;
        process.start(generator, {footage});
        while (process.state() != QProcess::NotRunning) {
            process.waitForFinished(100);
            busy.setValue(int(QDir(footage).entryList({"*.mp4"}, QDir::Files).size()));
            QCoreApplication::processEvents();
            if (busy.wasCanceled()) {
                process.kill();
                process.waitForFinished();
                return;
            }
        }
    }
    m_autosave->discard();
    open(path);
}

} // namespace virga
