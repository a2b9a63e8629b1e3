#pragma once
// Finds where a cut's two shots would carry on from each other, and lists the pairs of frames, the best first. What is
// pointed at is tried out in the window.
#include <QDialog>

#include "app/document/document.h"
#include "app/services/job.h"
#include "core/edit/carrying_cuts.h"

class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace virga {

class CarryingCutsDialog : public QDialog {
    Q_OBJECT
public:
    /// `folder` keeps what was read of the shots.
    CarryingCutsDialog(Document* document, int cut, const QString& folder, QWidget* parent = nullptr);
    ~CarryingCutsDialog() override;

    bool isBusy() const { return m_job.isRunning(); }
    const std::vector<CarryingCut>& found() const { return m_found; }
    QListWidget* list() { return m_list; }

public slots:
    void accept() override;

private:
    void show(std::vector<CarryingCut> found);
    void tryChosen();
    Document* m_document;
    int m_cut;
    Job m_job;
    std::vector<CarryingCut> m_found;
    QLabel* m_state;
    QProgressBar* m_progress;
    QListWidget* m_list;
    QPushButton* m_put;
};

} // namespace virga
