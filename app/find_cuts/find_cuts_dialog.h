#pragma once
// Finds the cuts of one flat video, shows each with its two frames and how sure it is, lets them be corrected, and
// splits the video into clips with no frame lost.
#include <QDialog>

#include "app/document/document.h"
#include "app/services/job.h"
#include "app/services/thumbnails.h"
#include "core/analysis/find_cuts.h"

class QLabel;
class QProgressBar;
class QPushButton;
class QScrollArea;
class QSlider;

namespace virga {

class CutStrip;
class NumberField;

class FindCutsDialog : public QDialog {
    Q_OBJECT
public:
    /// `mediaId` names a video of the project.
    FindCutsDialog(Document* document, Thumbnails* thumbnails, const std::string& mediaId, QWidget* parent = nullptr);
    ~FindCutsDialog() override;

    bool isSearching() const { return m_job.isRunning(); }
    /// The pictures at which the video would be split now.
    std::vector<std::int64_t> chosen() const;
    CutStrip* strip() { return m_strip; }

public slots:
    void accept() override;

signals:
    /// The movement at a cut is to be read in place of splitting.
    void traceWanted(qint64 picture);

private:
    void found(const Expected<CutList>& list);
    void refresh();

    Document* m_document;
    Media m_media;
    Job m_job;
    CutStrip* m_strip;
    QLabel *m_title, *m_state, *m_level;
    QProgressBar* m_progress;
    QSlider* m_sure;
    NumberField* m_add;
    QPushButton *m_split, *m_stop;
};

} // namespace virga
