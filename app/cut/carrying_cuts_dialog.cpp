#include "app/cut/carrying_cuts_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

#include "app/commands/movement_commands.h"
#include "app/document/words.h"
#include "app/style/controls.h"
#include "app/style/progress_line.h"
#include "core/analysis/measure_movement.h"

namespace virga {
namespace {

QString moved(std::int64_t frames) {
    if (frames == 0) return QObject::tr("as it is");
    return frames < 0 ? QObject::tr("%1 earlier").arg(counted(int(-frames), "frame", "frames"))
                      : QObject::tr("%1 later").arg(counted(int(frames), "frame", "frames"));
}

QString rowOf(const CarryingCut& c) {
    QString text = QObject::tr("out %1, in %2: the shots differ by %3 % of the width a frame")
                       .arg(moved(c.out), moved(c.in))
                       .arg(c.movement, 0, 'f', 2);
    if (c.subjects)
        text += QObject::tr("; their subjects lie %1 widths apart, %2×")
                    .arg(c.place, 0, 'f', 2)
                    .arg(std::exp2(c.size), 0, 'f', 2);
    return text;
}

} // namespace

CarryingCutsDialog::CarryingCutsDialog(Document* document, int cut, const QString& folder, QWidget* parent)
    : QDialog(parent), m_document(document), m_cut(cut) {
    setWindowTitle(tr("Find a cut that carries on"));
    setObjectName("carryingCutsDialog");
    resize(620, 380);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    column->setSpacing(10);
    m_state = label({}, "caption", this);
    m_state->setWordWrap(true);
    column->addWidget(m_state);
    m_progress = progressLine(this);
    column->addWidget(m_progress);
    m_list = new QListWidget(this);
    m_list->setObjectName("carrying");
    m_list->setAccessibleName(tr("Cuts that carry on, the best first"));
    column->addWidget(m_list, 1);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addStretch(1);
    auto* close = new QPushButton(tr("Cancel"), this);
    m_put = new QPushButton(tr("Put the cut there"), this);
    m_put->setObjectName("primary");
    row->addWidget(close);
    row->addWidget(m_put);
    column->addLayout(row);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_put, &QPushButton::clicked, this, &CarryingCutsDialog::accept);
    connect(m_list, &QListWidget::currentRowChanged, this, &CarryingCutsDialog::tryChosen);
    connect(m_list, &QListWidget::itemActivated, this, &CarryingCutsDialog::accept);
    connect(&m_job, &Job::progress, this, [this](double part) { m_progress->setValue(int(part * 1000)); });
    m_state->setText(tr("Reading how the two shots move by themselves."));
    m_put->setEnabled(false);
    const auto project = document->project();
    m_job.start(
        [project, cut, folder = folder.toStdString()](auto report,
                                                      Cancel cancel) -> Expected<std::vector<CarryingCut>> {
            ShotMovements shots;
            for (const int side : {0, 1}) {
                const Clip& clip = project->reel[std::size_t(cut + side)];
                const Media* media = findMedia(*project, clip.mediaId);
                if (!media || media->still)
                    return fail(ErrorCode::BadInput, "a still picture does not move by itself", clip.name,
                                "choose a cut between two videos");
                auto movement = keptMovement(
                    media->path, folder, [&](double part) { report((side + part) / 2); }, cancel);
                if (!movement) return tl::unexpected(movement.error());
                shots[clip.mediaId] = std::make_shared<const ShotMovement>(std::move(*movement));
            }
            return carryingCuts(*project, cut, shots);
        },
        [this](Expected<std::vector<CarryingCut>> found) {
            m_progress->hide();
            if (found) return show(std::move(*found));
            m_state->setText(QString::fromStdString(describe(found.error())));
        });
}

CarryingCutsDialog::~CarryingCutsDialog() {
    m_document->tryOut(nullptr);
}

void CarryingCutsDialog::show(std::vector<CarryingCut> found) {
    m_found = std::move(found);
    for (const CarryingCut& c : m_found) m_list->addItem(rowOf(c));
    m_state->setText(m_found.empty()
                         ? tr("Within two seconds of the cut nothing carries on better than the cut does now, or too "
                              "little is known of both shots.")
                         : tr("The best first; what is chosen is shown in the window. The reel stays as "
                              "long as it is."));
    if (!m_found.empty()) m_list->setCurrentRow(0);
    m_put->setEnabled(!m_found.empty());
}

void CarryingCutsDialog::tryChosen() {
    const int row = m_list->currentRow();
    if (row < 0 || row >= int(m_found.size())) return;
    if (auto tried = withCarryingCut(*m_document->project(), m_cut, m_found[std::size_t(row)]))
        m_document->tryOut(std::make_shared<const Project>(std::move(*tried)));
}

void CarryingCutsDialog::accept() {
    const int row = m_list->currentRow();
    if (row < 0 || row >= int(m_found.size())) return;
    const QString why = putCut(*m_document, m_cut, m_found[std::size_t(row)]);
    if (!why.isEmpty()) return m_state->setText(why);
    QDialog::accept();
}

} // namespace virga
