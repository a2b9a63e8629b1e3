#include "app/flow/flow_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/commands/cut_commands.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/theme.h"

namespace virga {
namespace {

// A card with a coloured edge; the word before the title says what the colour means.
class Card : public QWidget {
public:
    Card(Severity severity, QWidget* parent) : QWidget(parent), m_severity(severity) {}

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(Qt::NoPen);
        p.setBrush(theme().raised);
        p.drawRoundedRect(rect(), 4, 4);
        p.setBrush(m_severity == Severity::Breaks ? theme().breaks : theme().look);
        p.drawRoundedRect(QRectF(0, 0, 3, height()), 1.5, 1.5);
    }

private:
    Severity m_severity;
};

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

} // namespace

FlowPanel::FlowPanel(Document* document, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_flow(flow) {
    setObjectName("panel");
    setAttribute(Qt::WA_StyledBackground);
    setAccessibleName(tr("Flow at this cut"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(10, 6, 10, 6);
    column->setSpacing(5);
    auto* head = new QHBoxLayout;
    m_heading = label(tr("Flow at this cut"), "heading", this);
    m_count = label({}, "caption", this);
    head->addWidget(m_heading);
    head->addStretch(1);
    head->addWidget(m_count);
    column->addLayout(head);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list = new QWidget;
    m_cards = new QVBoxLayout(m_list);
    m_cards->setContentsMargins(0, 0, 0, 0);
    m_cards->setSpacing(6);
    scroll->setWidget(m_list);
    column->addWidget(scroll, 1);
    connect(flow, &FlowWatch::changed, this, &FlowPanel::refresh);
    connect(document, &Document::selectionChanged, this, &FlowPanel::refresh);
    refresh();
}

QWidget* FlowPanel::card(const Finding& finding) {
    auto* card = new Card(finding.severity, m_list);
    auto* column = new QVBoxLayout(card);
    column->setContentsMargins(12, 6, 6, 8);
    column->setSpacing(3);
    auto* title = label(QString::fromStdString(finding.title), "title", card);
    title->setWordWrap(true);
    title->setAccessibleName(
        (finding.severity == Severity::Breaks ? tr("Breaks the illusion: %1") : tr("Worth a look: %1"))
            .arg(title->text()));
    auto* head = new QHBoxLayout;
    head->setSpacing(4);
    head->addWidget(title, 1);
    auto* ignore = iconButton("close", tr("Ignore this finding here"), card, 20);
    ignore->setObjectName("quiet");
    ignore->setIconSize({11, 11});
    head->addWidget(ignore, 0, Qt::AlignTop);
    column->addLayout(head);
    // Outgoing and incoming keep their colours in the words too.
    QString words = QString::fromStdString(finding.detail).toHtmlEscaped();
    words.replace("Outgoing", QStringLiteral("<span style='color:%1'>Outgoing</span>").arg(theme().outgoing.name()));
    words.replace("incoming", QStringLiteral("<span style='color:%1'>incoming</span>").arg(theme().incoming.name()));
    auto* detail = label(words, "caption", card);
    detail->setTextFormat(Qt::RichText);
    detail->setWordWrap(true);
    column->addWidget(detail);
    auto* row = new QHBoxLayout;
    row->setSpacing(5);
    for (const Fix& fix : finding.fixes) {
        auto* button = new QPushButton(QString::fromStdString(fix.label), card);
        button->setObjectName("fix");
        button->setFixedHeight(24);
        connect(button, &QPushButton::clicked, this, [this, fix] {
            const QString why = applyFix(*m_document, fix);
            if (!why.isEmpty()) emit problem(why);
        });
        row->addWidget(button);
    }
    const int cut = finding.cut;
    auto* show = new QPushButton(tr("Show"), card);
    show->setFixedHeight(24);
    show->setToolTip(tr("Go to frame %1").arg(finding.frame));
    connect(show, &QPushButton::clicked, this, [this, cut, frame = finding.frame] {
        m_document->setPlayhead(cutFrame(*m_document->project(), cut) + frame);
    });
    row->addWidget(show);
    row->addStretch(1);
    connect(ignore, &QToolButton::clicked, this,
            [this, cut, name = finding.name] { ignoreFinding(*m_document, cut, name); });
    column->addSpacing(2);
    column->addLayout(row);
    return card;
}

void FlowPanel::refresh() {
    const int cut = m_document->cut();
    const CutFlow* flow = m_flow->at(cut);
    const int here = flow ? int(flow->findings.size()) : 0, all = m_flow->findings();
    m_count->setText(cut < 0 ? QString()
                     : here == 0 && all == 0
                         ? tr("nothing found in the reel")
                         : tr("%1 here · %2 in the reel").arg(here == 0 ? tr("none") : QString::number(here)).arg(all));
    // Rebuilt only when the words change, so that a button under the pointer stays while something is dragged.
    QString key = QString::number(cut) + theme().name;
    if (flow) {
        for (const Finding& f : flow->findings)
            key += QString::fromStdString("|" + f.name + f.title + f.detail) + QString::number(f.fixes.size());
        for (const auto& fine : flow->fine) key += QString::fromStdString("/" + fine);
    }
    key += flow ? "checked" : "";
    if (key == m_shownKey) return;
    m_shownKey = key;
    while (auto* item = m_cards->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater(), item->widget()->hide();
        delete item;
    }
    if (cut < 0)
        m_cards->addWidget(label(tr("Add two clips; the check begins with their cut."), "caption", m_list));
    else if (flow && flow->findings.empty() && flow->fine.empty()) {
        auto* words =
            label(tr("Nothing moves at this cut yet. Pick a recipe, or add a move below."), "caption", m_list);
        words->setWordWrap(true);
        m_cards->addWidget(words);
    }
    if (flow) {
        for (const Finding& finding : flow->findings) m_cards->addWidget(card(finding));
        for (const auto& fine : flow->fine) m_cards->addWidget(new FineLine(QString::fromStdString(fine), m_list));
    }
    m_cards->addStretch(1);
}

} // namespace virga
