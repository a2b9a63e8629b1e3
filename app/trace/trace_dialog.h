#pragma once
// Takes a transition in a finished video apart: finds the video's cuts, reads the movement at the chosen one, shows
// what was read and the curves through it beside the frames, and puts it at the reel's cut or on the shelf of recipes.
#include <QDialog>
#include <QMap>

#include "app/document/document.h"
#include "app/document/recipe_shelf.h"
#include "app/services/job.h"
#include "core/analysis/find_cuts.h"
#include "core/analysis/trace.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;

namespace virga {

class NumberField;
class TraceChart;
class TraceCompare;

class TraceDialog : public QDialog {
    Q_OBJECT
public:
    /// `mediaId` names a video of the project; `picture` the first one of a shot, where a cut is known already.
    TraceDialog(Document* document, RecipeShelf* shelf, const std::string& mediaId, std::int64_t picture = -1,
                QWidget* parent = nullptr);
    ~TraceDialog() override;

    bool isBusy() const { return m_finding.isRunning() || m_tracing.isRunning() || m_rendering.isRunning(); }
    std::shared_ptr<const Trace> trace() const { return m_trace; }
    TraceChart* chart() { return m_chart; }
    TraceCompare* compare() { return m_compare; }

private:
    void findCutsFirst();
    void traceAt(std::int64_t picture);
    void traced(std::shared_ptr<Trace> trace);
    void renderOwn();
    void refresh();
    void fail(const Error& error);
    void useHere();
    void keep();
    Expected<Recipe> recipe() const;
    int cutToUse() const;

    Document* m_document;
    RecipeShelf* m_shelf;
    Media m_media;
    Job m_finding, m_tracing, m_rendering;
    std::shared_ptr<const Trace> m_trace;
    QMap<std::int64_t, QImage> m_pictures;
    TraceChart* m_chart;
    TraceCompare* m_compare;
    QComboBox* m_cuts;
    NumberField *m_picture, *m_keys;
    QLabel *m_state, *m_told;
    QProgressBar* m_progress;
    QLineEdit* m_name;
    QPushButton *m_use, *m_keep;
    QString m_problem;
};

} // namespace virga
