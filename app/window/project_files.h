#pragma once
// New, open, save, recent, recovery and the demo: what asks people before something could be lost.
#include <QObject>

#include "app/document/autosave.h"
#include "app/document/document.h"
#include "core/base/file_lock.h"

class QMenu;
class QWidget;

namespace virga {

class ProjectFiles : public QObject {
    Q_OBJECT
public:
    ProjectFiles(Document* document, Autosave* autosave, QWidget* window);

    /// Opens without a question; false (and a notice) where it cannot. With `offerRecovery` an autosave left by a crash
    /// is offered first.
    bool open(const QString& path, bool offerRecovery = true);
    /// The same, read in the background; the last one asked for counts.
    void openSoon(const QString& path, bool offerRecovery = true);
    bool isReading() const { return m_underWay > 0; }
    /// Asks what to do with unsaved changes first.
    void openAsking(const QString& path);
    void startNew();
    void chooseAndOpen();
    bool save();
    /// The same in the background; `problem` is told where it fails.
    void saveSoon();
    void saveAs();
    /// Asks what to do with unsaved changes; false to stay.
    bool mayLeave();
    void fillRecent(QMenu* menu);
    /// Where the demo project is; empty where it was not shipped.
    static QString demoPath();
    /// A copy left by a crash of a project without a name.
    void offerUntitledRecovery();

public slots:
    void openDemo();

signals:
    void problem(const QString& title, const QString& details);

private:
    struct Reading;
    static Reading read(const QString& path, bool offerRecovery);
    bool finish(Reading reading);
    bool wantsCopy(const Reading& reading);
    void saveTo(const QString& path, bool replace = false);
    bool chooseName(QString& path);
    /// Saves in the background and returns once that is done; the window goes on being drawn.
    bool saveWaiting(const QString& path);
    bool drawDemo(const QString& generator, const QString& footage);
    void remember(const QString& path);
    /// Takes the lock on a project that is opened. Where another window has it, asks what to do.
    enum class Access { Own, Copy, ReadOnly, None };
    Access access(const QString& path);
    /// After saving under a name: its lock is this window's.
    void keepLock(const QString& path);
    /// The file was saved by somebody else: asks what to do; true to save again, over it.
    bool mayReplaceOther(const QString& path);
    void reportSaveFailed(const Error& error);

    Document* m_document;
    Autosave* m_autosave;
    QWidget* m_window;
    std::unique_ptr<FileLock> m_lock; // on m_locked
    QString m_locked;
    int m_reading = 0; // counts what was asked for: only the last is opened
    int m_underWay = 0;
    int m_edits = 0; // counts edits, undone and done again too; what is found out in the background is none
};

} // namespace virga
