#include "app/find_cuts/find_cuts_dialog.h"
#include "app/commands/media_commands.h"
#include "app/document/words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>

#include "app/find_cuts/cut_strip.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/progress_line.h"
#include "core/base/sequence_path.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"

namespace virga {

FindCutsDialog::FindCutsDialog(Document* document, Thumbnails* thumbnails, const std::string& mediaId, QWidget* parent)
    : QDialog(parent), m_document(document), m_media(*findMedia(*document->project(), mediaId)),
      m_strip(new CutStrip(thumbnails, m_media, this)) {
    setWindowTitle(tr("Find cuts"));
    resize(860, 560);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    column->setSpacing(10);
    m_title = label(tr("Cuts in %1").arg(QString::fromStdString(mediaName(m_media.path))), "title", this);
    column->addWidget(m_title);
    m_state = label({}, "caption", this);
    m_state->setWordWrap(true);
    column->addWidget(m_state);
    m_progress = progressLine(this);
    column->addWidget(m_progress);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setWidget(m_strip);
    column->addWidget(scroll, 1);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(label(tr("at least"), "caption", this));
    m_sure = new QSlider(Qt::Horizontal, this);
    m_sure->setRange(int(leastConfidence * 100), 99);
    m_sure->setValue(int(surely * 100));
    m_sure->setFixedWidth(140);
    m_sure->setAccessibleName(tr("How sure a cut must be"));
    row->addWidget(m_sure);
    m_level = label({}, "mono", this);
    m_level->setFixedWidth(64);
    row->addWidget(m_level);
    row->addSpacing(12);
    row->addWidget(label(tr("a cut at picture"), "caption", this));
    m_add = new NumberField(this);
    m_add->setUnit({}, 0, 1);
    m_add->setRange(1, 1e7);
    m_add->setFixedWidth(74);
    m_add->setAccessibleName(tr("Add a cut at picture"));
    m_add->clearValue();
    row->addWidget(m_add);
    row->addStretch(1);
    m_stop = new QPushButton(tr("Cancel"), this);
    m_split = new QPushButton(tr("Split"), this);
    m_split->setObjectName("primary");
    row->addWidget(m_stop);
    row->addWidget(m_split);
    column->addLayout(row);
    connect(m_stop, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_split, &QPushButton::clicked, this, &FindCutsDialog::accept);
    connect(m_strip, &CutStrip::changed, this, &FindCutsDialog::refresh);
    connect(m_strip, &CutStrip::traceWanted, this, [this](qint64 picture) {
        emit traceWanted(picture);
        reject();
    });
    connect(m_sure, &QSlider::valueChanged, this, [this](int v) {
        m_strip->setLeast(v / 100.0);
        refresh();
    });
    connect(m_add, &NumberField::edited, this, [this](double picture) {
        m_strip->add(std::int64_t(picture));
        m_add->clearValue();
    });
    connect(&m_job, &Job::progress, this, [this](double part) {
        m_progress->setValue(int(part * 1000));
        m_state->setText(tr("Looking at every picture … %1 %   %2").arg(int(part * 100)).arg(m_job.timeLeft()));
    });
    m_state->setText(tr("Looking at every picture …"));
    m_job.start([path = m_media.path](auto report, const Cancel& cancel) { return findCuts(path, report, cancel); },
                [this](const Expected<CutList>& list) { found(list); });
    refresh();
}

FindCutsDialog::~FindCutsDialog() = default;

void FindCutsDialog::found(const Expected<CutList>& list) {
    m_progress->hide();
    if (!list) {
        m_state->setText(QString::fromStdString(describe(list.error())));
        return refresh();
    }
    std::vector<CutStrip::Item> items;
    for (const FoundCut& cut : list->cuts)
        items.push_back({cut.picture, cut.confidence, cut.confidence >= surely, false,
                         cut.isGradual() ? cut.picture - cut.from - 1 : 0, cut.isGradual() ? cut.to - cut.picture : 0});
    m_strip->setTimes(list->times);
    m_strip->setItems(std::move(items));
}

std::vector<std::int64_t> FindCutsDialog::chosen() const {
    std::vector<std::int64_t> out;
    for (const auto& item : m_strip->items())
        if (item.taken) out.push_back(item.picture);
    return out;
}

void FindCutsDialog::refresh() {
    const auto count = int(chosen().size());
    m_level->setText(tr("%1 % sure").arg(m_sure->value()));
    m_split->setEnabled(!m_job.isRunning() && count > 0);
    m_split->setText(count > 0 ? tr("Split into %1 clips").arg(count + 1) : tr("Split"));
    m_sure->setEnabled(!m_job.isRunning());
    m_add->setEnabled(!m_job.isRunning());
    if (m_job.isRunning() || m_progress->isVisible()) return;
    m_state->setText(
        m_strip->items().empty()
            ? tr("No cut was found. Add one by its picture's number where you know better.")
            : tr("%1 chosen. A click leaves one out or takes it; Shift and an arrow key move it by one picture.")
                  .arg(counted(count, "cut", "cuts")));
}

void FindCutsDialog::accept() {
    const auto cuts = chosen();
    if (cuts.empty()) return;
    std::vector<CutTimes> found;
    for (const std::int64_t picture : cuts) {
        const Rational at = m_strip->timeOf(picture);
        CutTimes cut{at, at, at};
        for (const auto& item : m_strip->items()) // a gradual cut: both shots are seen for a while
            if (item.picture == picture && !item.byHand)
                cut.begin = m_strip->timeOf(picture - item.before), cut.end = m_strip->timeOf(picture + item.after);
        found.push_back(cut);
    }
    partAtCuts(*m_document, m_media, found);
    QDialog::accept();
}

} // namespace virga
