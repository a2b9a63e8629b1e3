#pragma once
// Bringing files in and keeping track of them: import, edits made elsewhere, relinking, collecting.
#include <QObject>

#include "app/document/document.h"
#include "app/services/importer.h"
#include "app/services/job.h"
#include "app/services/media_shelf.h"
#include "app/services/thumbnails.h"
#include "core/edit/collect.h"
#include "core/interchange/edit_file.h"

class QWidget;

namespace virga {

class MediaFiles : public QObject {
    Q_OBJECT
public:
    MediaFiles(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, QWidget* window);

    /// Probes files and adds them at a place of the reel or to the Tray (toTray); edit lists and timelines among them
    /// are read as edits.
    void add(const QStringList& paths, int place, bool sequences = true);
    void cancel() { m_importer.cancel(); }
    bool isBusy() const {
        return m_importer.isBusy() || m_relink.isRunning() || m_collect.isRunning() || m_edit.isRunning();
    }

    /// Reads an edit list or a timeline in the background and puts it in place of the reel, as one undoable step.
    void readEdit(const QString& path);
    void writeEdit(const QString& path);
    void chooseEditToRead();
    void chooseEditToWrite(bool timeline);

    void relink(const std::string& id, const QString& path);
    void chooseRelink(const QString& id);
    /// Looks for all missing files in a folder.
    void relinkFrom(const QString& folder);
    void chooseRelinkAll();

    /// `promised` is what was shown to the person; what lies elsewhere by now is not copied.
    void collect(const QString& folder, std::vector<ToCollect> promised);
    /// Shows what would be copied from outside the project's folder, and asks.
    void chooseCollect();
    /// A sequence taken apart into single pictures.
    void takeApart(const QString& id);

    static bool isEdit(const QString& path);

signals:
    /// A project was opened, and none of its media is missing.
    void allThere();
    /// A file of the piece is another one now, or may be.
    void fileChanged(const QString& path);
    void problem(const QString& title, const QString& details);
    void progress(int done, int all); // all = 0: nothing is being read
    void busyText(const QString& text);

private:
    void tellOfMissing();
    bool mayCollect(const std::vector<ToCollect>& files);
    void imported(const Imported& imported, int place);
    void takeEdit(const QString& path, Expected<ImportedEdit> read);
    void probeNew(const QString& name);
    /// Files that were exchanged for others since the project was saved are reported.
    void lookForChanged();

    Document* m_document;
    MediaShelf* m_shelf;
    Thumbnails* m_thumbnails;
    QWidget* m_window;
    Importer m_importer;
    Job m_relink, m_collect, m_edit;
};

} // namespace virga
