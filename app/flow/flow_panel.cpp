#include "app/flow/flow_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <map>

#include "app/commands/cut_commands.h"
#include "app/document/words.h"
#include "app/flow/finding_card.h"
#include "app/flow/limits_dialog.h"
#include "app/flow/plan_dialog.h"
#include "app/flow/reel_findings.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {
namespace {

class FineLine : public QWidget {
public:
    FineLine(const QString& text, QWidget* parent) : QWidget(parent) {
        auto* row = new QHBoxLayout(this);
        row->setContentsMargins(22, 1, 0, 1);
        auto* words = label(text, "caption", this);
        words->setWordWrap(true);
        row->addWidget(words, 1);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        drawIcon(p, "tick", QRectF(3, height() / 2.0 - 7, 14, 14), theme().fine);
    }
};

constexpr std::size_t groupedFrom = 5; // so many findings at one cut are easier in groups

} // namespace

FlowPanel::FlowPanel(Document* document, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_flow(flow) {
    setObjectName("panel");
    setAttribute(Qt::WA_StyledBackground);
    setAccessibleName(tr("Flow"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 10, 8);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    m_heading = label({}, "heading", this);
    m_count = new QToolButton(this);
    m_count->setObjectName("quiet");
    m_count->setCheckable(true);
    setTip(m_count, tr("Between this cut and the whole reel"));
    connect(m_count, &QToolButton::toggled, this, &FlowPanel::showReel);
    head->addWidget(m_heading);
    head->addStretch(1);
    head->addWidget(m_count);
    column->addLayout(head);
    m_pages = new QStackedWidget(this);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list = new QWidget;
    m_cards = new QVBoxLayout(m_list);
    m_cards->setContentsMargins(0, 0, 0, 0);
    m_cards->setSpacing(6);
    scroll->setWidget(m_list);
    m_pages->addWidget(scroll);
    m_reel = new ReelFindings(document, flow, this);
    m_pages->addWidget(m_reel);
    column->addWidget(m_pages, 1);
    auto* foot = new QHBoxLayout;
    foot->setSpacing(5);
    m_mend = new QPushButton(tr("Mend all that is safe"), this);
    m_mend->setFixedHeight(24);
    setTip(m_mend, tr("Every fix that keeps what was made but for the fault itself, as one step"));
    connect(m_mend, &QPushButton::clicked, this, &FlowPanel::mend);
    m_continue = new QPushButton(this);
    m_continue->setObjectName("quiet");
    m_continue->setFixedHeight(24);
    setTip(m_continue, tr("The same movement at the next cut"));
    connect(m_continue, &QPushButton::clicked, this, [this] {
        const int next = m_document->cut() + 1;
        const auto proposal = continuationOf(*m_document->project(), next);
        if (!proposal) return;
        const QString why = applyProposal(*m_document, *proposal);
        if (!why.isEmpty()) return emit problem(why);
        m_document->select({Selection::CutSelected, next, {}});
        m_document->setPlayhead(cutFrame(*m_document->project(), next));
    });
    m_plan = new QPushButton(tr("Plan moves…"), this);
    m_plan->setFixedHeight(24);
    setTip(m_plan, tr("Moves for the reel's cuts that carry on from one to the next, to accept cut by cut"));
    connect(m_plan, &QPushButton::clicked, this, &FlowPanel::planMoves);
    foot->addWidget(m_mend);
    foot->addWidget(m_plan);
    foot->addWidget(m_continue);
    foot->addStretch(1);
    column->addLayout(foot);
    connect(flow, &FlowWatch::changed, this, &FlowPanel::refresh);
    connect(document, &Document::selectionChanged, this, [this] {
        m_mended.clear();
        refresh();
    });
    connect(m_reel, &ReelFindings::problem, this, &FlowPanel::problem);
    connect(m_reel, &ReelFindings::limitsWanted, this, &FlowPanel::editLimits);
    connect(&m_mending, &Job::runningChanged, this, &FlowPanel::refreshFoot);
    refresh();
}

bool FlowPanel::showsReel() const {
    return m_pages->currentIndex() == 1;
}

void FlowPanel::showReel(bool on) {
    if (m_count->isChecked() != on) return m_count->setChecked(on); // which comes back here
    m_pages->setCurrentIndex(on);
    refresh();
    if (on) m_reel->takeFocus();
}

std::vector<const Finding*> FlowPanel::findingsHere() const {
    std::vector<const Finding*> here;
    const int cut = m_document->cut();
    if (const CutFlow* flow = m_flow->at(cut))
        for (const Finding& f : flow->findings) here.push_back(&f);
    for (const int clip : {cut, cut + 1})
        if (const ClipFlow* flow = cut >= 0 ? m_flow->clip(clip) : nullptr)
            for (const Finding& f : flow->findings) here.push_back(&f);
    std::stable_sort(here.begin(), here.end(),
                     [](const Finding* a, const Finding* b) { return a->severity < b->severity; });
    return here;
}

void FlowPanel::mend() {
    startMending(showsReel());
}

void FlowPanel::mendReel() {
    startMending(true);
}

void FlowPanel::startMending(bool reel) {
    const Snapshot before = m_document->project();
    m_mending.start(
        [before, cut = m_document->cut(), reel](const auto&, const Cancel& cancel) {
            return reel ? mendedReel(*before, cancel) : mendedCut(*before, cut);
        },
        [this, before, reel, step = m_document->undoStack()->index()](const Mended& mended) {
            if (m_document->project() != before && m_document->undoStack()->index() == step &&
                !m_document->isDragging())
                return startMending(reel); // only facts about files came in
            if (m_document->project() != before)
                return emit problem(tr("The project has changed meanwhile; nothing was mended. Try it again."));
            if (mended.done.empty())
                return emit problem(tr("No fix here is safe: each changes more than the fault, so "
                                       "it is left to you. Point at a fix to see what it does."));
            applyMended(*m_document, mended);
            m_mended.clear();
            for (const std::string& line : mended.done) m_mended << QString::fromStdString(line);
            m_shownKey.clear();
            refresh();
        });
}

QWidget* FlowPanel::mendedCard() {
    auto* card = new QWidget(m_list);
    card->setObjectName("mended");
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(0, 0, 0, 4);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->addWidget(label(tr("Mended %1").arg(counted(m_mended.size(), "fault", "faults")), "title", card));
    head->addStretch(1);
    auto* undo = new QPushButton(tr("Undo"), card);
    undo->setFixedHeight(24);
    connect(undo, &QPushButton::clicked, this, [this] {
        m_mended.clear();
        m_shownKey.clear();
        m_document->undoStack()->undo();
        refresh();
    });
    head->addWidget(undo);
    column->addLayout(head);
    for (const QString& line : m_mended) column->addWidget(new FineLine(line, card));
    return card;
}

void FlowPanel::addCards(const std::vector<const Finding*>& findings) {
    std::map<std::string, int> counts, shown;
    for (const Finding* f : findings) ++counts[kindOf(*f)];
    for (const Finding* f : findings) {
        const std::string kind = kindOf(*f);
        const QString name = QString::fromStdString(kind);
        const bool grouped = findings.size() >= groupedFrom && counts[kind] > 1 && !m_open.contains(name);
        if (grouped && shown[kind]++ > 0) {
            if (shown[kind] > 2) continue;
            auto* more = new QPushButton(tr("%1 more like this").arg(counts[kind] - 1), m_list);
            more->setObjectName("quiet");
            more->setFixedHeight(24);
            connect(more, &QPushButton::clicked, this, [this, name] {
                m_open.insert(name);
                m_shownKey.clear();
                refresh();
            });
            m_cards->addWidget(more, 0, Qt::AlignLeft);
            continue;
        }
        auto* card = new FindingCard(m_document, *f, m_list);
        connect(card, &FindingCard::problem, this, &FlowPanel::problem);
        connect(card, &FindingCard::limitsWanted, this, &FlowPanel::editLimits);
        m_cards->addWidget(card);
    }
}

void FlowPanel::refreshFoot() {
    const int cut = m_document->cut();
    const Project& project = *m_document->project();
    const auto isSafe = [](const Finding* f) {
        return std::any_of(f->fixes.begin(), f->fixes.end(), [](const Fix& fix) { return fix.safe; });
    };
    const auto findings = showsReel() ? m_flow->reel().all() : findingsHere();
    m_mend->setEnabled(!m_mending.isRunning() && std::any_of(findings.begin(), findings.end(), isSafe));
    m_mend->setText(m_mending.isRunning() ? tr("Mending…") : tr("Mend all that is safe"));
    m_plan->setVisible(showsReel());
    const int next = cut + 1;
    const bool free = cut >= 0 && next < cutCount(project) && transitionAt(project, next).moves.empty() &&
                      !transitionAt(project, cut).moves.empty();
    const auto proposal = free && !showsReel() ? continuationOf(project, next) : std::nullopt;
    m_continue->setVisible(proposal.has_value());
    if (proposal) {
        const QString label = shown(proposal->label);
        m_continue->setText(tr("Continue at cut %1: %2").arg(next + 1).arg(label.mid(label.indexOf(':') + 2)));
    }
}

void FlowPanel::refresh() {
    const int cut = m_document->cut();
    const auto here = findingsHere();
    const CutFlow* flow = m_flow->at(cut);
    const int all = m_flow->findings();
    m_heading->setText(showsReel() ? tr("Flow of the reel") : tr("Flow at this cut"));
    m_count->setVisible(cut >= 0);
    m_count->setText(
        showsReel() ? tr("◂ this cut")
        : here.empty() && all == 0
            ? tr("nothing found in the reel ▸")
            : tr("%1 here · %2 in the reel ▸").arg(here.empty() ? tr("none") : QString::number(here.size())).arg(all));
    refreshFoot();
    // Rebuilt only when the words change, so that a button under the pointer stays while something is dragged.
    QString key = QString::number(cut) + theme().name + m_mended.join('\n');
    for (const Finding* f : here)
        key += QString::fromStdString("|" + f->place.id + f->name + f->title + f->detail) +
               QString::number(f->fixes.size());
    if (flow)
        for (const auto& fine : flow->fine) key += QString::fromStdString("/" + fine);
    key += flow ? "checked" : "";
    if (key == m_shownKey) return;
    m_shownKey = key;
    while (auto* item = m_cards->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater(), item->widget()->hide();
        delete item;
    }
    if (!m_mended.isEmpty()) m_cards->addWidget(mendedCard());
    if (cut < 0)
        m_cards->addWidget(label(tr("Add two clips; the check begins with their cut."), "caption", m_list));
    else if (flow && here.empty() && flow->fine.empty()) {
        auto* words =
            label(tr("Nothing moves at this cut yet. Pick a recipe, or add a move below."), "caption", m_list);
        words->setWordWrap(true);
        m_cards->addWidget(words);
    }
    addCards(here);
    if (flow)
        for (const auto& fine : flow->fine) m_cards->addWidget(new FineLine(QString::fromStdString(fine), m_list));
    m_cards->addStretch(1);
}

void FlowPanel::editLimits() {
    LimitsDialog(m_document, window()).exec();
}

void FlowPanel::planMoves() {
    PlanDialog(m_document, window()).exec();
}

} // namespace virga
