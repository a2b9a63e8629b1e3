#include "app/export/export_list.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QLabel>
#include <QProgressBar>
#include <QToolButton>
#include <QUrl>
#include <QVBoxLayout>

#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

ExportRow::ExportRow(ExportQueue* queue, int id, QWidget* parent) : QWidget(parent), m_queue(queue), m_id(id) {
    setObjectName("exportRow");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 6, 0, 6);
    column->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->setSpacing(4);
    m_name = new ElidedLabel(this);
    m_again = iconButton("again", tr("Export it again"), this, 24);
    m_folder = iconButton("folder", tr("Open its folder"), this, 24);
    m_away = iconButton("close", tr("Stop"), this, 24);
    top->addWidget(m_name, 1);
    for (QToolButton* b : {m_again, m_folder, m_away}) top->addWidget(b);
    column->addLayout(top);
    m_bar = new QProgressBar(this);
    m_bar->setTextVisible(false);
    m_bar->setFixedHeight(8);
    column->addWidget(m_bar);
    m_state = label({}, "caption", this);
    m_state->setAccessibleName(tr("How far it is"));
    m_state->setWordWrap(true);
    m_state->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_state);
    connect(m_again, &QToolButton::clicked, this, [this] { m_queue->retry(m_id); });
    connect(m_folder, &QToolButton::clicked, this, [this] {
        if (const QueuedExport* q = m_queue->find(m_id))
            QDesktopServices::openUrl(QUrl::fromLocalFile(QFileInfo(q->file()).absolutePath()));
    });
    connect(m_away, &QToolButton::clicked, this, [this] {
        const QueuedExport* q = m_queue->find(m_id);
        if (!q) return;
        if (q->isOver())
            m_queue->remove(m_id);
        else
            m_queue->cancel(m_id);
    });
    refresh();
}

void ExportRow::refresh() {
    const QueuedExport* q = m_queue->find(m_id);
    if (!q) return;
    m_name->setFullText(shown(q->settings.path.filename().string()));
    setTip(m_name, shown(q->settings.path.string()));
    const bool moves = q->state == QueuedExport::Running;
    m_bar->setRange(0, moves ? int(q->all) : 1);
    m_bar->setValue(moves ? int(q->done) : q->state == QueuedExport::Done);
    m_again->setVisible(q->state == QueuedExport::Failed || q->state == QueuedExport::Cancelled);
    m_folder->setVisible(q->state == QueuedExport::Done);
    setTip(m_away, q->isOver() ? tr("Take it off the list") : tr("Stop"));
    m_away->setAccessibleName(m_away->toolTip());
    QString text = q->told;
    if (q->state == QueuedExport::Waiting) text = m_queue->isPaused() ? tr("waits; the list is paused") : tr("waits");
    if (q->state == QueuedExport::Running) {
        text = q->all > 0 ? tr("frame %1 of %2").arg(q->done).arg(q->all) : tr("starting …");
        if (m_queue->isPaused())
            text += tr(", paused");
        else if (q->secondsLeft >= 0)
            text += tr(", about %1 left").arg(durationText(q->secondsLeft));
    }
    m_state->setText(text);
    m_state->setStyleSheet(q->state == QueuedExport::Failed ? QStringLiteral("color: %1;").arg(theme().breaks.name())
                                                            : QString());
}

ExportList::ExportList(ExportQueue* queue, QWidget* parent) : QScrollArea(parent), m_queue(queue) {
    setObjectName("exportList");
    setAccessibleName(tr("Exports"));
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget(this);
    m_rows = new QVBoxLayout(inside);
    m_rows->setContentsMargins(0, 0, 8, 0);
    m_rows->setSpacing(0);
    m_nothing =
        label(tr("Exports stand here. They are made one after the other, while you go on editing."), "caption", inside);
    m_nothing->setWordWrap(true);
    m_rows->addWidget(m_nothing);
    m_rows->addStretch(1);
    setWidget(inside);
    connect(queue, &ExportQueue::changed, this, &ExportList::rebuild);
    connect(queue, &ExportQueue::progressed, this, [this](int id) {
        for (ExportRow* row : m_shown)
            if (row->id() == id) row->refresh();
    });
    rebuild();
}

// Rows stay where they are as long as their exports do.
void ExportList::rebuild() {
    std::vector<int> ids, had;
    for (const QueuedExport& q : m_queue->all()) ids.insert(ids.begin(), q.id); // the newest first
    for (const ExportRow* row : m_shown) had.push_back(row->id());
    if (ids != had) {
        for (ExportRow* row : m_shown) {
            m_rows->removeWidget(row);
            row->hide();
            row->deleteLater();
        }
        m_shown.clear();
        int at = 1;
        for (const int id : ids) {
            m_shown.push_back(new ExportRow(m_queue, id, widget()));
            m_rows->insertWidget(at++, m_shown.back());
        }
    }
    for (ExportRow* row : m_shown) row->refresh();
    m_nothing->setVisible(ids.empty());
}

} // namespace virga
