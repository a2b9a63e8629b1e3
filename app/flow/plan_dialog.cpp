#include "app/flow/plan_dialog.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/commands/cut_commands.h"
#include "app/document/words.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"

namespace virga {

PlanDialog::PlanDialog(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setWindowTitle(tr("Plan moves for the reel"));
    setObjectName("planDialog");
    resize(460, 420);
    auto* column = new QVBoxLayout(this);
    m_words = label({}, "caption", this);
    m_words->setWordWrap(true);
    m_words->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    m_words->setMinimumHeight(2 * m_words->fontMetrics().lineSpacing()); // what it says later needs: nothing jumps
    column->addWidget(m_words);
    m_list = new QListWidget(this);
    m_list->setObjectName("plan");
    m_list->setAccessibleName(tr("Proposed moves, cut by cut"));
    column->addWidget(m_list, 1);
    connect(m_list, &QListWidget::currentRowChanged, this, &PlanDialog::tryCurrent);
    m_all = new QCheckBox(tr("Also for cuts that have moves"), this);
    connect(m_all, &QCheckBox::toggled, this, [this](bool on) {
        m_options.overExisting = on;
        make();
    });
    column->addWidget(m_all);
    auto* foot = new QHBoxLayout;
    auto* another = new QPushButton(tr("Another plan"), this);
    connect(another, &QPushButton::clicked, this, [this] {
        ++m_options.seed;
        make();
    });
    m_take = new QPushButton(tr("Take the ticked ones"), this);
    m_take->setObjectName("primary");
    m_take->setDefault(true);
    connect(m_take, &QPushButton::clicked, this, &PlanDialog::take);
    auto* close = new QPushButton(tr("Close"), this);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    foot->addWidget(another);
    foot->addStretch(1);
    foot->addWidget(close);
    foot->addWidget(m_take);
    column->addLayout(foot);
    make();
}

PlanDialog::~PlanDialog() {
    m_document->tryOut(nullptr);
}

void PlanDialog::make() {
    m_document->tryOut(nullptr);
    m_planned = m_document->project();
    m_options.shots = m_document->judgedShots();
    m_list->clear();
    m_proposals.clear();
    m_take->setEnabled(false);
    m_words->setText(tr("Planning…"));
    m_planning.start(
        [project = m_planned, options = m_options, music = m_music](auto, const Cancel& cancel) mutable {
            if (!music) music = std::make_shared<const LoudnessCourses>(loudnessOfMusic(*project, cancel));
            options.loudness = loudnessAtCuts(*project, *music);
            return Plan{music, chainOf(*project, options)};
        },
        [this](Plan plan) { show(std::move(plan)); });
}

void PlanDialog::show(Plan plan) {
    const Project& project = *m_planned;
    m_music = std::move(plan.music);
    m_proposals = std::move(plan.proposals);
    for (const Proposal& p : m_proposals) {
        const auto cut = indexOf(project, p.cut);
        auto* item = new QListWidgetItem(tr("Cut %1   %2").arg(cut ? *cut + 1 : 0).arg(shown(p.label)));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Checked);
        m_list->addItem(item);
    }
    m_words->setText(
        m_proposals.empty()
            ? tr("Every cut has moves. Tick below to plan over them.")
            : tr("Moves for %1: they answer each other, and the strong ones fall on strong beats. Choose one "
                 "to see it.")
                  .arg(counted(qint64(m_proposals.size()), "cut", "cuts")));
    m_take->setEnabled(!m_proposals.empty());
}

void PlanDialog::tryCurrent() {
    const int row = m_list->currentRow();
    if (row < 0 || row >= int(m_proposals.size())) return;
    const Proposal& p = m_proposals[std::size_t(row)];
    const auto cut = indexOf(*m_document->project(), p.cut);
    auto tried = withProposal(*m_document->project(), p);
    if (!cut || !tried) return;
    m_document->select({Selection::CutSelected, *cut, {}});
    m_document->setPlayhead(cutFrame(*m_document->project(), *cut));
    m_document->tryOut(std::make_shared<const Project>(std::move(*tried)));
}

void PlanDialog::take() {
    m_document->tryOut(nullptr);
    std::vector<Proposal> taken;
    for (int i = 0; i < m_list->count(); ++i)
        if (m_list->item(i)->checkState() == Qt::Checked) taken.push_back(m_proposals[std::size_t(i)]);
    applyPlan(*m_document, taken);
    accept();
}

} // namespace virga
