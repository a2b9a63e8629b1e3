#pragma once
// A plan of moves for the reel's cuts, to accept cut by cut; another one at a click. Pointing at an entry tries it out.
#include <QDialog>
#include <vector>

#include "app/document/document.h"
#include "app/services/job.h"
#include "core/analysis/loudness.h"
#include "core/recipe/chain.h"

class QCheckBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace virga {

class PlanDialog : public QDialog {
    Q_OBJECT
public:
    PlanDialog(Document* document, QWidget* parent);
    ~PlanDialog() override;

private:
    void make();
    struct Plan {
        std::shared_ptr<const LoudnessCourses> music;
        std::vector<Proposal> proposals;
    };
    void show(Plan plan);
    void tryCurrent();
    void take();
    Document* m_document;
    std::vector<Proposal> m_proposals;
    ChainOptions m_options;
    std::shared_ptr<const LoudnessCourses> m_music; // measured once, with the first plan
    QListWidget* m_list;
    QLabel* m_words;
    QCheckBox* m_all;
    QPushButton* m_take;
    Job m_planning;
    Snapshot m_planned; // the piece that the plan is for
};

} // namespace virga
