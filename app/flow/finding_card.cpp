#include "app/flow/finding_card.h"

#include <QContextMenuEvent>
#include <QEnterEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>

#include "app/commands/cut_commands.h"
#include "app/document/words.h"
#include "app/services/in_background.h"
#include "app/style/controls.h"
#include "app/style/flow_layout.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

FixButton::FixButton(Document* document, const Fix& fix, QWidget* parent)
    : QPushButton(menuText(shown(fix.label)), parent), m_document(document), m_fix(fix) {
    setObjectName("fix");
    setFixedHeight(24);
    connect(document, &Document::projectChanged, this, &FixButton::again);
    connect(this, &QPushButton::pressed, this, &FixButton::end);
    setTip(this, fix.safe ? tr("Pointing at it shows what it does")
                          : tr("Pointing at it shows what it does; it changes "
                               "more than the fault, so it is left to you"));
}

// What is found out about files in the background changes the project, too.
void FixButton::again() {
    if (!m_pointed) return;
    m_pointed = false;
    begin();
}

FixButton::~FixButton() {
    end();
}

void FixButton::begin() {
    if (m_pointed) return;
    m_pointed = true;
    const Snapshot before = m_document->project();
    struct Tried {
        Expected<Project> project;
        EditChange change;
    };
    inBackground(
        this,
        [before, apply = m_fix.apply] {
            Tried tried{apply(*before), {}};
            if (tried.project) tried.change = changeBetween(*before, *tried.project);
            return tried;
        },
        [this, before](Tried tried) {
            if (tried.project) tellChange(tried.change);
            if (m_pointed && tried.project && m_document->project() == before)
                m_document->tryOut(std::make_shared<const Project>(std::move(*tried.project)));
        });
}

// How much it changes stands in its tooltip as soon as that is known.
void FixButton::tellChange(const EditChange& change) {
    QString text = change.frames > 0 ? tr("Moves the picture by %1 % of the width, the mean of %2.")
                                           .arg(change.seen, 0, 'f', change.seen < 10 ? 1 : 0)
                                           .arg(counted(change.frames, "frame", "frames"))
                                     : tr("Leaves the picture's movement as it is.");
    const double kept = std::min(change.travel, change.length);
    if (kept < 0.995) text += QLatin1Char(' ') + tr("%1 % of the moves is kept.").arg(int(100 * kept));
    if (m_fix.safe && !change.keepsMoves()) text += QLatin1Char(' ') + tr("That is not safe: it is left to you.");
    setTip(this, text);
}

void FixButton::end() {
    if (!m_pointed) return;
    m_pointed = false;
    m_document->tryOut(nullptr);
}

void FixButton::enterEvent(QEnterEvent* event) {
    QPushButton::enterEvent(event);
    begin();
}

void FixButton::leaveEvent(QEvent* event) {
    QPushButton::leaveEvent(event);
    end();
}

void FixButton::focusInEvent(QFocusEvent* event) {
    QPushButton::focusInEvent(event);
    if (event->reason() == Qt::TabFocusReason || event->reason() == Qt::BacktabFocusReason) begin();
}

void FixButton::focusOutEvent(QFocusEvent* event) {
    QPushButton::focusOutEvent(event);
    end();
}

bool goTo(Document& document, const Finding& finding) {
    const auto index = indexOf(*document.project(), finding.place);
    if (!index) return false;
    const auto kind = finding.place.kind == FlowPlace::Cut    ? Selection::CutSelected
                      : finding.place.kind == FlowPlace::Clip ? Selection::ClipSelected
                                                              : Selection::OverlaySelected;
    document.select({kind, *index, {}});
    document.setPlayhead(originOf(*document.project(), finding.place) + finding.frame);
    return true;
}

FindingCard::FindingCard(Document* document, const Finding& finding, QWidget* parent)
    : QWidget(parent), m_document(document), m_finding(finding) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 6, 8);
    column->setSpacing(3);
    auto* title = label(shown(finding.title), "title", this);
    title->setWordWrap(true);
    title->setAccessibleName(
        (finding.severity == Severity::Breaks ? tr("Breaks the illusion: %1") : tr("Worth a look: %1"))
            .arg(title->text()));
    auto* head = new QHBoxLayout;
    head->setSpacing(2);
    head->addWidget(title, 1);
    auto* more = iconButton("more", tr("More about this finding"), this, 20);
    more->setObjectName("quiet");
    more->setIconSize({12, 12});
    connect(more, &QToolButton::clicked, this,
            [this, more] { showMenu(more->mapToGlobal(QPoint(0, more->height()))); });
    head->addWidget(more, 0, Qt::AlignTop);
    auto* ignore = iconButton("close", tr("Ignore this finding here"), this, 20);
    ignore->setObjectName("quiet");
    ignore->setIconSize({11, 11});
    connect(ignore, &QToolButton::clicked, this, [this] { ignoreFinding(*m_document, m_finding); });
    head->addWidget(ignore, 0, Qt::AlignTop);
    column->addLayout(head);
    if (!finding.detail.empty()) {
        // Outgoing and incoming keep their colours in the words too.
        QString words = shownLines(finding.detail).toHtmlEscaped();
        const auto colour = [&](const char* word, const QColor& c) {
            words.replace(QLatin1String(word),
                          QStringLiteral("<span style='color:%1'>%2</span>").arg(c.name(), QLatin1String(word)));
        };
        colour("Outgoing", theme().outgoing), colour("outgoing", theme().outgoing);
        colour("incoming", theme().incoming);
        auto* detail = label({}, "caption", this);
        showOwnMarkup(detail, words);
        detail->setWordWrap(true);
        column->addWidget(detail);
    }
    auto* buttons = new QWidget(this);
    auto* row = new FlowLayout(buttons, 5);
    for (const Fix& fix : finding.fixes) {
        auto* button = new FixButton(document, fix, buttons);
        connect(button, &QPushButton::clicked, this, [this, fix] {
            const QString why = applyFix(*m_document, fix);
            if (!why.isEmpty()) emit problem(why);
        });
        row->addWidget(button);
    }
    auto* show = new QPushButton(tr("Show"), buttons);
    show->setFixedHeight(24);
    setTip(show, tr("Go to frame %1").arg(finding.frame));
    connect(show, &QPushButton::clicked, this, [this] {
        if (!goTo(*m_document, m_finding)) emit problem(tr("It is gone from the reel."));
    });
    row->addWidget(show);
    column->addSpacing(2);
    column->addWidget(buttons);
}

void FindingCard::showMenu(const QPoint& globalAt) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->addAction(tr("Ignore this finding here"), this, [this] { ignoreFinding(*m_document, m_finding); });
    menu->addAction(tr("Ignore this kind in the whole project"), this,
                    [this] { ignoreFinding(*m_document, m_finding, true); });
    menu->addSeparator();
    menu->addAction(tr("Limits of the check…"), this, &FindingCard::limitsWanted);
    menu->popup(globalAt);
}

void FindingCard::contextMenuEvent(QContextMenuEvent* event) {
    showMenu(event->globalPos());
}

// A coloured edge; the accessible name says what the colour means.
void FindingCard::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().raised);
    p.drawRoundedRect(rect(), 4, 4);
    p.setBrush(m_finding.severity == Severity::Breaks ? theme().breaks : theme().look);
    p.drawRoundedRect(QRectF(0, 0, 3, height()), 1.5, 1.5);
}

} // namespace virga
