#include "app/shell/project_files.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QProcess>
#include <QProgressDialog>
#include <QPushButton>
#include <QSettings>

#include "app/document/words.h"
#include "core/base/error.h"
#include "core/project/project_file.h"

namespace virga {

ProjectFiles::ProjectFiles(Document* document, Autosave* autosave, QWidget* window)
    : QObject(window), m_document(document), m_autosave(autosave), m_window(window) {}

namespace {

// What was changed since it was saved, in a few words.
QString changesBetween(const Project& saved, const Project& kept) {
    QStringList parts;
    int changed = 0, gone = 0, added = 0;
    for (const Clip& clip : kept.reel) {
        const auto was =
            std::find_if(saved.reel.begin(), saved.reel.end(), [&](const Clip& c) { return c.id == clip.id; });
        if (was == saved.reel.end())
            ++added;
        else
            changed += !(*was == clip);
    }
    for (const Clip& clip : saved.reel)
        gone += std::none_of(kept.reel.begin(), kept.reel.end(), [&](const Clip& c) { return c.id == clip.id; });
    if (changed > 0)
        parts << ProjectFiles::tr("%1 with other moves or settings").arg(counted(changed, "clip", "clips"));
    if (added > 0) parts << ProjectFiles::tr("%1 added").arg(counted(added, "clip", "clips"));
    if (gone > 0) parts << ProjectFiles::tr("%1 taken out").arg(counted(gone, "clip", "clips"));
    if (!(saved.overlays == kept.overlays) || !(saved.adjustments == kept.adjustments))
        parts << ProjectFiles::tr("what lies above the reel");
    if (!(saved.music == kept.music) || !(saved.markers == kept.markers)) parts << ProjectFiles::tr("music or markers");
    if (!(saved.settings == kept.settings)) parts << ProjectFiles::tr("the piece's settings");
    return parts.join(ProjectFiles::tr(", "));
}

} // namespace

bool ProjectFiles::recover(const QString& copy, const QString& path) {
    const QString name = path.isEmpty() ? tr("a piece that was never saved") : QFileInfo(path).fileName();
    QString text = tr("Virga ended without closing %1. Its changes were kept at %2.")
                       .arg(name, QLocale().toString(QFileInfo(copy).lastModified(), QStringLiteral("d MMMM, HH:mm")));
    const auto kept = loadProject(copy.toStdString());
    const auto saved = path.isEmpty() ? Expected<Project>(Project()) : loadProject(path.toStdString());
    if (kept && saved) {
        const QString changes = changesBetween(*saved, *kept);
        if (!changes.isEmpty()) text += tr(" Changed since it was saved: %1.").arg(changes);
    }
    QMessageBox box(QMessageBox::Question, tr("Recover"), text, QMessageBox::Yes | QMessageBox::No, m_window);
    box.button(QMessageBox::Yes)->setText(tr("Take the changes up"));
    box.button(QMessageBox::No)->setText(path.isEmpty() ? tr("Leave them") : tr("Open it as it was saved"));
    box.setDefaultButton(QMessageBox::Yes);
    box.setInformativeText(tr("What is not taken up now is kept beside it."));
    if (box.exec() != QMessageBox::Yes) {
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

void ProjectFiles::saveSoon() {
    if (m_document->path().isEmpty()) {
        saveAs();
        return;
    }
    const QString path = m_document->path();
    m_document->saveSoon(path, [this, path](const Expected<void>& done) {
        if (done) return remember(path);
        emit problem(tr("The project could not be saved; the file on disk is as it was."),
                     QString::fromStdString(describe(done.error())));
    });
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
    QMessageBox box(QMessageBox::Question, tr("Save?"),
                    tr("%1 has changes that are not saved.").arg(m_document->title()),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, m_window);
    box.button(QMessageBox::Discard)->setText(tr("Close without saving"));
    box.button(QMessageBox::Cancel)->setText(tr("Go on working"));
    box.setDefaultButton(QMessageBox::Save);
    const int answer = box.exec();
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
