#include "app/flow/reel_findings.h"

#include <QHeaderView>
#include <QPainter>
#include <QScrollArea>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <map>

#include "app/flow/finding_card.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/check/mend.h"

namespace virga {
namespace {

constexpr int keyRole = Qt::UserRole;
constexpr int groupedReelFrom = 9; // so many findings are easier in groups

QString keyOf(const Finding& f) {
    return QString::fromStdString(f.place.id + (f.place.kind == FlowPlace::Cut ? "|cut|" : "|clip|") + f.name);
}

QIcon dotOf(Severity severity) {
    QPixmap dot(20, 20);
    dot.setDevicePixelRatio(2);
    dot.fill(Qt::transparent);
    QPainter p(&dot);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(severity == Severity::Breaks ? theme().breaks : theme().look);
    if (severity == Severity::Breaks) // a form of its own, not only a colour
        p.drawEllipse(QRectF(1, 1, 8, 8));
    else
        p.drawPolygon(QPolygonF({QPointF(5, 1), QPointF(9.5, 9), QPointF(0.5, 9)}));
    return dot;
}

} // namespace

ReelFindings::ReelFindings(Document* document, FlowWatch* flow, QWidget* parent)
    : QWidget(parent), m_document(document), m_flow(flow) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    m_list = new QTreeWidget(this);
    m_list->setObjectName("findings");
    m_list->setHeaderHidden(true);
    m_list->setRootIsDecorated(false);
    m_list->setIndentation(12);
    m_list->setUniformRowHeights(true);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setTextElideMode(Qt::ElideRight);
    m_list->setFrameShape(QFrame::NoFrame);
    m_list->setAccessibleName(tr("All findings of the reel, the gravest first"));
    column->addWidget(m_list, 1);
    m_below = new QVBoxLayout;
    m_below->setContentsMargins(0, 0, 0, 0);
    column->addLayout(m_below);
    connect(m_list, &QTreeWidget::currentItemChanged, this, [this] {
        if (m_filling) return;
        showCurrent();
        if (const Finding* f = findingOf(m_list->currentItem())) goTo(*m_document, *f);
    });
    connect(flow, &FlowWatch::changed, this, &ReelFindings::refresh);
    refresh();
}

const Finding* ReelFindings::findingOf(const QTreeWidgetItem* item) const {
    if (!item) return nullptr;
    const QString key = item->data(0, keyRole).toString();
    for (const Finding* f : m_flow->reel().all())
        if (keyOf(*f) == key) return f;
    return nullptr;
}

void ReelFindings::takeFocus() {
    m_list->setFocus();
}

void ReelFindings::showCurrent() {
    if (m_card) m_card->hide(), m_card->deleteLater();
    m_card = nullptr;
    const Finding* f = findingOf(m_list->currentItem());
    if (!f) return;
    auto* card = new FindingCard(m_document, *f, this);
    connect(card, &FindingCard::problem, this, &ReelFindings::problem);
    connect(card, &FindingCard::limitsWanted, this, &ReelFindings::limitsWanted);
    m_below->addWidget(card);
    card->show();
    m_card = card;
}

void ReelFindings::showEvent(QShowEvent*) {
    refresh();
}

void ReelFindings::refresh() {
    if (!isVisible()) return; // a long reel has many; they are listed when they are looked at
    const auto all = m_flow->reel().all();
    QString key = theme().name;
    for (const Finding* f : all) key += '|' + keyOf(*f) + QString::fromStdString(f->title + f->detail);
    if (key == m_shownKey) return;
    m_shownKey = key;
    const QString current = m_list->currentItem() ? m_list->currentItem()->data(0, keyRole).toString() : QString();
    const QIcon breaks = dotOf(Severity::Breaks), look = dotOf(Severity::WorthALook);
    m_filling = true;
    m_list->clear();
    std::map<std::string, int> counts;
    for (const Finding* f : all) ++counts[kindOf(*f)];
    std::map<std::string, QTreeWidgetItem*> groups;
    for (const Finding* f : all) {
        QTreeWidgetItem* parent = nullptr;
        const std::string kind = kindOf(*f);
        if (int(all.size()) >= groupedReelFrom && counts[kind] > 1) {
            if (!groups.contains(kind)) {
                auto* group = new QTreeWidgetItem(m_list);
                group->setText(0, tr("%1 times: %2").arg(counts[kind]).arg(shown(f->title)));
                group->setIcon(0, f->severity == Severity::Breaks ? breaks : look);
                groups[kind] = group;
            }
            parent = groups[kind];
        }
        auto* item = parent ? new QTreeWidgetItem(parent) : new QTreeWidgetItem(m_list);
        item->setText(0, QStringLiteral("%1 · %2").arg(
                             QString::fromStdString(placeText(*m_flow->reel().project, f->place)), shown(f->title)));
        item->setToolTip(0, plainTip(QString::fromStdString(f->detail)));
        item->setIcon(0, f->severity == Severity::Breaks ? breaks : look);
        item->setData(0, keyRole, keyOf(*f));
        if (keyOf(*f) == current) m_list->setCurrentItem(item);
    }
    m_list->setRootIsDecorated(!groups.empty());
    m_filling = false;
    showCurrent();
}

} // namespace virga
