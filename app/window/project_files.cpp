#include "app/window/project_files.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QEventLoop>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QProcess>
#include <QProgressDialog>
#include <QPushButton>
#include <QSettings>
#include <QTimer>
#include <QUndoStack>
#include <optional>

#include "app/document/words.h"
#include "app/services/in_background.h"
#include "app/services/job.h"
#include "app/style/plain_text.h"
#include "core/base/error.h"
#include "core/base/guard.h"
#include "core/project/project_file.h"

namespace virga {

ProjectFiles::ProjectFiles(Document* document, Autosave* autosave, QWidget* window)
    : QObject(window), m_document(document), m_autosave(autosave), m_window(window) {
    connect(document->undoStack(), &QUndoStack::indexChanged, this, [this] { ++m_edits; });
}

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

// What was found on the disk: the project, and the copy of unsaved work that a crash left beside it.
struct ProjectFiles::Reading {
    QString path, copy; // empty: never saved, none
    Expected<Document::Opened> saved = Document::Opened(), kept = Document::Opened();
    QString when, changes;
    bool asks = false; // whether there is somebody to ask
};

ProjectFiles::Reading ProjectFiles::read(const QString& path, bool offerRecovery) {
    Reading r;
    r.path = path;
    r.asks = offerRecovery;
    const auto reading = [](const QString& from) {
        return guarded(from.toStdString(), [&] { return Document::read(from); });
    };
    if (!path.isEmpty()) r.saved = reading(path);
    if (offerRecovery) r.copy = Autosave::leftFor(path);
    if (r.copy.isEmpty()) return r;
    r.when = QLocale().toString(QFileInfo(r.copy).lastModified(), QStringLiteral("d MMMM, HH:mm"));
    r.kept = reading(r.copy);
    if (r.kept && r.saved) r.changes = changesBetween(r.saved->project, r.kept->project);
    return r;
}

// Asks whether to go on with the copy.
bool ProjectFiles::wantsCopy(const Reading& r) {
    const QString name = r.path.isEmpty() ? tr("a piece that was never saved") : QFileInfo(r.path).fileName();
    QString text = tr("Virga ended without closing %1. Its changes were kept at %2.").arg(name, r.when);
    if (!r.changes.isEmpty()) text += tr(" Changed since it was saved: %1.").arg(r.changes);
    MessageBox box(QMessageBox::Question, tr("Recover"), text, QMessageBox::Yes | QMessageBox::No, m_window);
    box.button(QMessageBox::Yes)->setText(tr("Take the changes up"));
    box.button(QMessageBox::No)->setText(r.path.isEmpty() ? tr("Leave them") : tr("Open it as it was saved"));
    box.setDefaultButton(QMessageBox::Yes);
    box.setInformativeText(tr("What is not taken up now is kept beside it."));
    if (box.exec() == QMessageBox::Yes) return true;
    QFile::rename(r.copy, r.copy + ".declined"); // not lost even then
    return false;
}

ProjectFiles::Access ProjectFiles::access(const QString& path) {
    const QString file = QFileInfo(path).canonicalFilePath();
    if (file == m_locked && m_lock) return Access::Own;
    LockOwner owner;
    if (auto lock = FileLock::take(file.toStdString(), &owner)) {
        m_lock.reset(); // of what was open
        m_lock = std::move(lock);
        m_locked = file;
        return Access::Own;
    }
    const QDateTime since = QDateTime::fromString(QString::fromStdString(owner.since), Qt::ISODate).toLocalTime();
    const QString who =
        owner.user.empty() ? tr("another window") : tr("%1 on %2").arg(shown(owner.user), shown(owner.machine));
    MessageBox box(QMessageBox::Question, tr("Already open"),
                   since.isValid() ? tr("%1 is open in a window of %2 since %3.")
                                         .arg(QFileInfo(path).fileName(), who,
                                              QLocale().toString(since, QStringLiteral("d MMMM, HH:mm")))
                                   : tr("%1 is open in a window of %2.").arg(QFileInfo(path).fileName(), who),
                   QMessageBox::NoButton, m_window);
    box.setInformativeText(tr("Two windows that save to one file would lose each other's work."));
    auto* copy = box.addButton(tr("Open a copy"), QMessageBox::AcceptRole);
    auto* look = box.addButton(tr("Open read-only"), QMessageBox::ActionRole);
    box.addButton(QMessageBox::Cancel);
    box.setDefaultButton(copy);
    box.exec();
    return box.clickedButton() == copy ? Access::Copy : box.clickedButton() == look ? Access::ReadOnly : Access::None;
}

void ProjectFiles::keepLock(const QString& path) {
    const QString file = QFileInfo(path).canonicalFilePath();
    if (file == m_locked && m_lock) return;
    if (auto lock = FileLock::take(file.toStdString())) m_lock = std::move(lock), m_locked = file;
}

bool ProjectFiles::finish(Reading r) {
    Access access = Access::Own;
    if (!r.path.isEmpty() && r.saved && r.asks) access = this->access(r.path);
    if (access == Access::None) return false;
    if (access != Access::Own) r.copy.clear(); // the unsaved work beside it is the other window's
    if (!r.copy.isEmpty() && wantsCopy(r)) {
        if (r.kept) {
            if (r.saved) r.kept->content = r.saved->content;
            m_autosave->discard(); // of what was open
            m_document->take(std::move(*r.kept), r.path, true);
            if (!r.path.isEmpty()) remember(r.path);
            return true;
        }
        emit problem(tr("The kept changes could not be read."), QString::fromStdString(describe(r.kept.error())));
    }
    if (r.path.isEmpty()) return false;
    if (!r.saved) {
        emit problem(tr("The project could not be opened; what was open stays."),
                     QString::fromStdString(describe(r.saved.error())));
        return false;
    }
    m_autosave->discard();
    m_document->take(std::move(*r.saved), access == Access::Copy ? QString() : r.path, access == Access::Copy);
    if (access != Access::Own) m_lock.reset();
    m_document->setReadOnly(access == Access::ReadOnly);
    remember(r.path);
    return true;
}

bool ProjectFiles::open(const QString& path, bool offerRecovery) {
    ++m_reading;
    return finish(read(path, offerRecovery));
}

void ProjectFiles::openSoon(const QString& path, bool offerRecovery) {
    const int asked = ++m_reading;
    const bool own = QFileInfo(path).absoluteFilePath() == m_document->path(); // its copy is this window's, no crash's
    ++m_underWay;
    QGuiApplication::setOverrideCursor(Qt::BusyCursor);
    const auto done = [this] {
        QGuiApplication::restoreOverrideCursor();
        --m_underWay;
    };
    inBackground(
        this, [path, offer = offerRecovery && !own] { return read(path, offer); },
        [this, done, asked, before = m_edits](Reading reading) {
            done();
            if (asked != m_reading) return;               // another one was chosen meanwhile
            if (m_edits != before && !mayLeave()) return; // edited meanwhile
            finish(std::move(reading));
        },
        Job::threads(), [done](const Error&) { done(); });
}

void ProjectFiles::openAsking(const QString& path) {
    if (mayLeave()) openSoon(path);
}

void ProjectFiles::offerUntitledRecovery() {
    inBackground(
        this, [] { return read({}, true); }, [this](Reading reading) { finish(std::move(reading)); });
}

void ProjectFiles::startNew() {
    if (!mayLeave()) return;
    ++m_reading;
    m_autosave->discard();
    m_document->startNew();
    m_lock.reset();
}

void ProjectFiles::chooseAndOpen() {
    const QString path =
        QFileDialog::getOpenFileName(m_window, tr("Open a project"), QFileInfo(m_document->path()).absolutePath(),
                                     tr("Virga projects (*.virga);;All files (*)"));
    if (!path.isEmpty()) openAsking(path);
}

bool ProjectFiles::save() {
    QString path = m_document->isReadOnly() ? QString() : m_document->path();
    return (!path.isEmpty() || chooseName(path)) && saveWaiting(path);
}

bool ProjectFiles::mayReplaceOther(const QString& path) {
    const auto there = Document::read(path);
    QString what =
        tr("%1 was saved by another window or program since it was opened here.").arg(QFileInfo(path).fileName());
    if (there) {
        const QString changes = changesBetween(there->project, *m_document->project());
        if (!changes.isEmpty()) what += tr(" What is here differs from it: %1.").arg(changes);
    }
    MessageBox box(QMessageBox::Warning, tr("The file has changed"), what, QMessageBox::NoButton, m_window);
    auto* beside = box.addButton(tr("Save under another name…"), QMessageBox::AcceptRole);
    auto* replace = box.addButton(tr("Replace it"), QMessageBox::DestructiveRole);
    box.addButton(QMessageBox::Cancel);
    box.setDefaultButton(beside);
    box.exec();
    if (box.clickedButton() == beside) saveAs();
    return box.clickedButton() == replace;
}

void ProjectFiles::reportSaveFailed(const Error& error) {
    emit problem(tr("The project could not be saved; the file on disk is as it was."),
                 QString::fromStdString(describe(error)));
}

bool ProjectFiles::saveWaiting(const QString& path) {
    for (const bool replace : {false, true}) {
        QEventLoop loop;
        std::optional<Expected<void>> saved;
        QGuiApplication::setOverrideCursor(Qt::BusyCursor);
        m_document->saveSoon(
            path,
            [&](const Expected<void>& done) {
                saved = done;
                loop.quit();
            },
            replace);
        loop.exec(QEventLoop::ExcludeUserInputEvents);
        QGuiApplication::restoreOverrideCursor();
        if (*saved) {
            keepLock(path);
            remember(path);
            return true;
        }
        if (saved->error().code != ErrorCode::Changed) {
            reportSaveFailed(saved->error());
            return false;
        }
        if (!mayReplaceOther(path)) return false;
    }
    return false;
}

void ProjectFiles::saveSoon() {
    if (m_document->path().isEmpty() || m_document->isReadOnly())
        saveAs();
    else
        saveTo(m_document->path());
}

void ProjectFiles::saveTo(const QString& path, bool replace) {
    m_document->saveSoon(
        path,
        [this, path](const Expected<void>& done) {
            if (done) {
                keepLock(path);
                return remember(path);
            }
            if (done.error().code != ErrorCode::Changed) return reportSaveFailed(done.error());
            if (mayReplaceOther(path)) saveTo(path, true);
        },
        replace);
}

bool ProjectFiles::chooseName(QString& path) {
    const QString start = m_document->path().isEmpty() ? m_document->title() + ".virga" : m_document->path();
    path = QFileDialog::getSaveFileName(m_window, tr("Save the project as"), start, tr("Virga projects (*.virga)"));
    if (path.isEmpty()) return false;
    if (QFileInfo(path).suffix().isEmpty()) path += ".virga";
    const QString file = QFileInfo(path).canonicalFilePath();
    if (!file.isEmpty() && !(file == m_locked && m_lock) && !FileLock::take(file.toStdString())) {
        emit problem(tr("The project was not saved."),
                     tr("%1 is open in another window; choose another name.").arg(QFileInfo(path).fileName()));
        return false;
    }
    return true;
}

void ProjectFiles::saveAs() {
    QString path;
    if (chooseName(path)) saveTo(path);
}

bool ProjectFiles::mayLeave() {
    if (!m_document->isModified()) return true;
    MessageBox box(QMessageBox::Question, tr("Save?"),
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
        QAction* a = menu->addAction(menuText(shown(QFileInfo(path).completeBaseName().toStdString())), this,
                                     [this, path] { openAsking(path); });
        setTip(a, path);
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

// Drawn once; takes under a minute. False where it was stopped.
bool ProjectFiles::drawDemo(const QString& generator, const QString& footage) {
    QProgressDialog busy(tr("Drawing the demo's shots, once …"), tr("Cancel"), 0, 8, m_window);
    busy.setMinimumDuration(0);
    QProcess process;
    QEventLoop loop;
    QTimer look;
    connect(&process, &QProcess::finished, &loop, &QEventLoop::quit);
    connect(&process, &QProcess::errorOccurred, &loop, &QEventLoop::quit);
    connect(&busy, &QProgressDialog::canceled, &process, &QProcess::kill);
    connect(&look, &QTimer::timeout, &busy,
            [&] { busy.setValue(int(QDir(footage).entryList({"*.mp4"}, QDir::Files).size())); });
    look.start(100);
    process.start(generator, {footage});
    if (process.state() != QProcess::NotRunning) loop.exec(); // else it could not even be started
    return !busy.wasCanceled();
}

void ProjectFiles::openDemo() {
    const QString path = demoPath();
    if (path.isEmpty())
        return emit problem(tr("The demo is not here."), tr("It comes with Virga's source: run ./start there."));
    if (!mayLeave()) return;
    const QString footage = QFileInfo(path).absolutePath() + "/footage",
                  generator = QCoreApplication::applicationDirPath() + "/../tools/demo_footage/demo_footage";
    if (!QFileInfo::exists(footage + "/last-light.mp4") && QFileInfo::exists(generator))
        if (!drawDemo(generator, footage)) return;
    openSoon(path);
}

} // namespace virga
