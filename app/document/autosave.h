#pragma once
// Keeps what is not saved yet: within a second of a change a copy is written beside the project (or among the
// program's own data while it has no name), and removed once it is saved or closed in order. What is still there at the
// next start is what a crash left.
#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include "app/document/document.h"
#include "core/base/file_lock.h"

namespace virga {

class Autosave : public QObject {
    Q_OBJECT
public:
    explicit Autosave(Document* document, int delayMilliseconds = 800);
    ~Autosave() override;

    /// Where the copy of a project lies.
    static QString placeFor(const QString& projectPath);
    /// Of the document: a read-only one has its copy where pieces without a name have theirs, not beside another
    /// window's.
    QString place() const;
    /// The copy that a crash left for a project (empty for one without a name), if the project was not saved since.
    static QString leftFor(const QString& projectPath);

    /// Returns once all that was asked for is on the disk, or gone from it.
    void wait() { m_writer.waitForDone(); }
    /// Removes the copy: the project was closed in order.
    void discard();

public slots:
    void writeNow();

private:
    void changed();
    void lookAtFile();
    Document* m_document;
    std::shared_ptr<ProjectText> m_texts = std::make_shared<ProjectText>(); // the writer's
    QThreadPool m_writer; // one thread: writing and removing come in their order
    QTimer m_timer;
    QString m_written;
    std::unique_ptr<FileLock> m_untitled; // while this process has a copy of a piece without a name
    std::shared_ptr<std::string> m_content = std::make_shared<std::string>(); // the file's; for the writer's thread
};

} // namespace virga
