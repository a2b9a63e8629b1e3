#include "app/export/export_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QProgressBar>
#include <QPushButton>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>

#include "app/background/in_betweens.h"
#include "app/document/words.h"
#include "app/export/export_job.h"
#include "app/style/controls.h"
#include "app/style/theme.h"
#include "core/render/audio_mix.h"
#include "core/deliver/export_needs.h"
#include "core/render/flow_needs.h"
#include "core/time/timecode.h"

namespace virga {
namespace {

int even(double v) {
    return std::max(16, int(std::lround(v / 2)) * 2);
}

QString timeText(double seconds) {
    if (seconds < 1.5) return QObject::tr("a second");
    if (seconds < 90) return QObject::tr("%1 seconds").arg(int(std::ceil(seconds)));
    return QObject::tr("%1 min %2 s").arg(int(seconds) / 60).arg(int(seconds) % 60);
}

} // namespace

ExportDialog::ExportDialog(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setObjectName("exportDialog");
    setWindowTitle(tr("Export"));
    setMinimumWidth(520);
    const auto project = document->project();
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(20, 18, 20, 16);
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(10);
    int row = 0;
    const auto add = [&](const QString& name, QWidget* widget) {
        grid->addWidget(label(name, "caption", this), row, 0, Qt::AlignVCenter | Qt::AlignRight);
        grid->addWidget(widget, row++, 1, 1, 2);
    };
    // Beside the project; a piece without a name goes to the films, where there is such a folder.
    QString folder = QStandardPaths::writableLocation(QStandardPaths::MoviesLocation);
    if (!document->path().isEmpty())
        folder = QFileInfo(document->path()).absolutePath();
    else if (!QFileInfo::exists(folder))
        folder = QDir::homePath();
    m_path = new QLineEdit(QDir(folder).filePath(document->title().toLower().replace(' ', '-') + ".mp4"), this);
    m_path->setObjectName("exportPath");
    m_path->setAccessibleName(tr("File to write"));
    m_browse = new QPushButton(tr("Choose…"), this);
    grid->addWidget(label(tr("file"), "caption", this), row, 0, Qt::AlignVCenter | Qt::AlignRight);
    grid->addWidget(m_path, row, 1);
    grid->addWidget(m_browse, row++, 2);
    connect(m_browse, &QPushButton::clicked, this, &ExportDialog::browse);
    m_size = new QComboBox(this);
    m_size->setAccessibleName(tr("Size"));
    const Size s = project->settings.size;
    for (const auto& [scale, name] :
         {std::pair(1.0, tr("as the piece")), std::pair(0.5, tr("half")), std::pair(0.25, tr("a quarter")),
          std::pair(1.5, tr("one and a half")), std::pair(2.0, tr("double"))}) {
        const QSize size(even(s.width * scale), even(s.height * scale));
        m_size->addItem(tr("%1 × %2, %3").arg(size.width()).arg(size.height()).arg(name), size);
    }
    connect(m_size, &QComboBox::currentIndexChanged, this, [this] {
        if (m_summary) refresh();
    });
    add(tr("size"), m_size);
    m_quality = new QComboBox(this);
    m_quality->setAccessibleName(tr("Quality"));
    m_quality->addItem(tr("very good, for handing on"), 16);
    m_quality->addItem(tr("good, smaller, for sharing"), 21);
    m_quality->addItem(tr("small, for a quick look"), 27);
    add(tr("quality"), m_quality);
    m_depth = new Choices({{tr("8 bit"), {}, tr("Dithered; every player shows it")},
                           {tr("10 bit"), {}, tr("For grading and for slow gradients; not every player shows it")}},
                          this);
    m_depth->setCurrent(0);
    connect(m_depth, &Choices::chosen, this, &ExportDialog::refresh);
    add(tr("depth"), m_depth);
    m_enlarging = new Choices({{tr("soft"), {}, tr("Bilinear")},
                               {tr("sharp"), {}, tr("Catmull-Rom; takes longer where a shot is enlarged")},
                               {tr("sharper"), {}, tr("Lanczos; takes longer where a shot is enlarged")}},
                              this);
    m_enlarging->setCurrent(0);
    connect(m_enlarging, &Choices::chosen, this, &ExportDialog::refresh);
    add(tr("enlarged shots"), m_enlarging);
    m_range = new Choices(
        {{tr("whole reel"), {}, {}}, {tr("around this cut"), {}, tr("Two seconds around the selected cut")}}, this);
    m_range->setCurrent(0);
    m_range->button(1)->setEnabled(document->cut() >= 0);
    connect(m_range, &Choices::chosen, this, &ExportDialog::refresh);
    add(tr("part"), m_range);
    m_sound = new QCheckBox(tr("with sound"), this);
    m_sound->setChecked(hasSound(*project));
    m_sound->setEnabled(hasSound(*project));
    add({}, m_sound);
    m_summary = label({}, "caption", this);
    m_summary->setWordWrap(true);
    m_summary->setMinimumHeight(34); // two lines: what is to be prepared comes a moment later
    m_summary->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    add({}, m_summary);
    m_bar = new QProgressBar(this);
    m_bar->setTextVisible(false);
    m_bar->setFixedHeight(8);
    QSizePolicy kept = m_bar->sizePolicy(); // nothing moves when it appears
    kept.setRetainSizeWhenHidden(true);
    m_bar->setSizePolicy(kept);
    m_bar->hide();
    grid->addWidget(m_bar, row++, 0, 1, 3);
    m_state = label({}, "caption", this);
    m_state->setObjectName("exportState");
    m_state->setWordWrap(true);
    m_state->setMinimumHeight(34);
    m_state->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    grid->addWidget(m_state, row++, 0, 1, 3);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch(1);
    m_close = new QPushButton(tr("Close"), this);
    m_start = new QPushButton(tr("Export"), this);
    m_start->setObjectName("primary");
    m_start->setDefault(true);
    buttons->addWidget(m_close);
    buttons->addWidget(m_start);
    grid->addLayout(buttons, row++, 0, 1, 3);
    connect(m_close, &QPushButton::clicked, this, &ExportDialog::reject);
    connect(m_start, &QPushButton::clicked, this, &ExportDialog::start);
    refresh();
}

void ExportDialog::refresh() {
    const auto project = m_document->project();
    const auto rate = project->settings.rate;
    auto frames = reelLength(*project);
    if (m_range->current() == 1 && m_document->cut() >= 0) {
        const auto second = roundToInteger(rate), at = cutFrame(*project, m_document->cut());
        frames = std::min(frames, at + second) - std::max<std::int64_t>(0, at - second);
    }
    QString text = tr("%1 frames, %2, H.264 in MP4 at %3 frames/s")
                       .arg(frames)
                       .arg(QString::fromStdString(timecodeOfFrame(frames, rate)))
                       .arg(rate.toDouble(), 0, 'g', 5);
    if (frames > 0) text += tr(", needs %1 MB of memory").arg((exportNeeds(*project, settings()).all() >> 20) + 1);
    m_needs = text;
    m_missing = 0;
    m_summary->setText(text);
    m_start->setEnabled(frames > 0);
    countInBetweens();
}

// What the files' indexes say is asked for in the background; about a third of a second each at 720p on two cores.
void ExportDialog::countInBetweens() {
    const auto project = m_document->project();
    const ExportSettings range = settings();
    m_counting.start(
        [project, range](auto, const Cancel& cancel) {
            SourcePool pool(std::size_t(16) << 20);
            pool.flow().keepIn(InBetweens::folder().toStdString(), InBetweens::mostOnDisk);
            const auto to = range.to < 0 ? reelLength(*project) : range.to;
            return int(flowNeeds(*project, range.from, to, pool, cancel).size());
        },
        [this](int missing) {
            m_missing = missing;
            if (missing > 0)
                m_summary->setText(
                    m_needs +
                    tr("; %1 to be prepared first").arg(counted(missing, "picture in between", "pictures in between")));
        });
}

ExportSettings ExportDialog::settings() const {
    const auto project = m_document->project();
    ExportSettings settings;
    const QSize size = m_size->currentData().toSize();
    settings.size = {size.width(), size.height()};
    settings.quality = m_quality->currentData().toInt();
    settings.sound = m_sound->isChecked();
    settings.depth = m_depth->current() == 1 ? 10 : 8;
    settings.render.enlarging = Enlarging(std::max(0, m_enlarging->current()));
    if (m_range->current() == 1) {
        const auto second = roundToInteger(project->settings.rate), at = cutFrame(*project, m_document->cut());
        settings.from = std::max<std::int64_t>(0, at - second);
        settings.to = std::min(reelLength(*project), at + second);
    }
    return settings;
}

void ExportDialog::browse() {
    const QString path = QFileDialog::getSaveFileName(this, tr("Export as"), m_path->text(), tr("MP4 video (*.mp4)"),
                                                      nullptr, QFileDialog::DontConfirmOverwrite);
    if (!path.isEmpty()) m_path->setText(path);
}

void ExportDialog::start() {
    if (m_job) return;
    QString path = m_path->text().trimmed();
    if (path.isEmpty()) return ended(tr("Type a file name first."), false);
    if (QFileInfo(path).suffix().isEmpty()) m_path->setText(path += ".mp4");
    if (QFileInfo::exists(path) &&
        QMessageBox::question(this, tr("Export"),
                              tr("%1 is there already. Replace it?").arg(QFileInfo(path).fileName()),
                              QMessageBox::Yes | QMessageBox::No, QMessageBox::No) != QMessageBox::Yes)
        return;
    const auto project = m_document->project();
    ExportSettings settings = this->settings();
    settings.path = path.toStdString();
    m_job = new ExportJob(project, settings, this);
    connect(m_job, &ExportJob::progress, this, [this](qint64 done, qint64 all, double left) {
        m_bar->setRange(0, int(all));
        m_bar->setValue(int(done));
        m_state->setText(tr("frame %1 of %2").arg(done).arg(all) +
                         (left >= 0 ? tr(", about %1 left").arg(timeText(left)) : QString()));
    });
    connect(m_job, &ExportJob::finished, this, [this, path](const ExportReport& report) {
        QString text = tr("Done: %1 frames in %2. %3").arg(report.frames).arg(timeText(report.seconds), path);
        for (const Error& e : report.problems)
            text += "\n" + tr("Sound left out: %1").arg(QString::fromStdString(describe(e)));
        for (const std::string& note : report.notes) text += "\n" + QString::fromStdString(note);
        ended(text, true);
    });
    connect(m_job, &ExportJob::failed, this, [this](const Error& error) {
        ended(error.code == ErrorCode::Cancelled ? tr("Stopped. No file was written.")
                                                 : QString::fromStdString(describe(error)),
              false);
    });
    for (QWidget* w :
         {static_cast<QWidget*>(m_path), static_cast<QWidget*>(m_browse), static_cast<QWidget*>(m_size),
          static_cast<QWidget*>(m_quality), static_cast<QWidget*>(m_depth), static_cast<QWidget*>(m_enlarging),
          static_cast<QWidget*>(m_range), static_cast<QWidget*>(m_sound), static_cast<QWidget*>(m_start)})
        w->setEnabled(false);
    m_close->setText(tr("Cancel"));
    m_state->setText(tr("starting …"));
    m_bar->setRange(0, 0);
    m_bar->show();
    m_job->start();
}

void ExportDialog::ended(const QString& text, bool good) {
    if (m_job) {
        m_job->deleteLater();
        m_job = nullptr;
    }
    m_bar->setRange(0, 1);
    m_bar->setValue(good ? 1 : 0);
    m_state->setText(text);
    m_state->setStyleSheet(QStringLiteral("color: %1;").arg((good ? theme().text : theme().breaks).name()));
    for (QWidget* w :
         {static_cast<QWidget*>(m_path), static_cast<QWidget*>(m_browse), static_cast<QWidget*>(m_size),
          static_cast<QWidget*>(m_quality), static_cast<QWidget*>(m_depth), static_cast<QWidget*>(m_enlarging),
          static_cast<QWidget*>(m_range), static_cast<QWidget*>(m_start)})
        w->setEnabled(true);
    m_sound->setEnabled(hasSound(*m_document->project()));
    m_close->setText(tr("Close"));
}

void ExportDialog::reject() {
    if (m_job) return m_job->cancel(); // the first Escape or click stops the work; `ended` then says so
    QDialog::reject();
}

} // namespace virga
