#include "app/export/export_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QStandardPaths>
#include <algorithm>
#include <cmath>

#include "app/document/words.h"
#include "app/export/export_list.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/audio/audio_mix.h"
#include "core/export/movement_data.h"

namespace virga {
namespace {

// Sizes that are asked for: by a scale of the piece, or by the shorter side.
struct SizeChoice {
    double scale;
    int shortSide;
    const char* name;
};
constexpr SizeChoice sizeChoices[] = {{1, 0, "as the piece"},     {0.5, 0, "half"},      {0.25, 0, "a quarter"},
                                      {1.5, 0, "one and a half"}, {2, 0, "double"},      {1, 720, "720 high"},
                                      {1, 1080, "1080 high"},     {1, 2160, "2160 high"}};
// Rates of film, television and screens (common practice).
const FrameRate rateChoices[] = {Rational(24000, 1001), 24, 25, Rational(30000, 1001), 30, 50,
                                 Rational(60000, 1001), 60};

QString rateName(FrameRate rate) {
    return QObject::tr("%1 frames/s").arg(rate.toDouble(), 0, 'g', 5);
}

QComboBox* combo(const QString& name, const char* object, QWidget* parent) {
    auto* box = new QComboBox(parent);
    box->setAccessibleName(name);
    box->setObjectName(object);
    return box;
}

} // namespace

ExportDialog::ExportDialog(Document* document, ExportQueue* queue, QWidget* parent)
    : QDialog(parent), m_document(document), m_queue(queue) {
    setObjectName("exportDialog");
    setWindowTitle(tr("Export"));
    auto* columns = new QHBoxLayout(this);
    columns->setContentsMargins(20, 18, 20, 16);
    columns->setSpacing(24);
    auto* left = new QVBoxLayout;
    auto* right = new QVBoxLayout;
    columns->addLayout(left, 5);
    columns->addLayout(right, 4);
    buildForm(left);
    buildQueue(right);
    resize(980, 470);
    fillPresets(builtInPresets().front().name.c_str());
    takePreset(builtInPresets().front());
    connect(document, &Document::projectChanged, this, &ExportDialog::refresh);
    connect(document, &Document::selectionChanged, this, &ExportDialog::refresh);
    connect(document, &Document::markedChanged, this, &ExportDialog::refresh);
}

void ExportDialog::showEvent(QShowEvent* event) {
    QDialog::showEvent(event);
    m_hidden = false;
    refresh();
}

void ExportDialog::hideEvent(QHideEvent* event) {
    QDialog::hideEvent(event);
    m_hidden = true;
    m_counting.stop();
}

void ExportDialog::buildForm(QVBoxLayout* column) {
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(8);
    grid->setColumnStretch(1, 1);
    int row = 0;
    const auto caption = [&](const QString& name) {
        grid->addWidget(label(name, "caption", this), row, 0, Qt::AlignVCenter | Qt::AlignRight);
    };
    const auto add = [&](const QString& name, QWidget* widget) {
        caption(name);
        grid->addWidget(widget, row++, 1, 1, 3);
    };
    m_presets = combo(tr("Preset"), "exportPreset", this);
    m_remove = new QPushButton(tr("Remove"), this);
    setTip(m_remove, tr("Remove this preset of yours"));
    auto* keep = new QPushButton(tr("Keep…"), this);
    setTip(keep, tr("Keep what is set here as a preset"));
    caption(tr("preset"));
    grid->addWidget(m_presets, row, 1);
    grid->addWidget(keep, row, 2);
    grid->addWidget(m_remove, row++, 3);
    m_kind =
        new Choices({{tr("the piece"), {}, {}},
                     {tr("its cuts as parts"), {}, tr("Each cut's movement as a file, and lists for other programs")},
                     {tr("movement as numbers"), {}, tr("Matrices, lenses, opacity, times and easings")}},
                    this);
    m_kind->setCurrent(0);
    add(tr("what"), m_kind);
    m_range = new Choices({{tr("whole reel"), {}, {}},
                           {tr("around this cut"), {}, tr("Two seconds around the selected cut")},
                           {tr("marked span"), {}, tr("The span that is marked for playing")},
                           {tr("this frame"), {}, tr("The frame at the playhead")},
                           {tr("each cut"), {}, tr("The first frame after each cut, as a picture")}},
                          this);
    m_range->setCurrent(0);
    add(tr("frames"), m_range);
    // Beside the project; a piece without a name goes to the films, where there is such a folder.
    QString folder = QStandardPaths::writableLocation(QStandardPaths::MoviesLocation);
    if (!m_document->path().isEmpty())
        folder = QFileInfo(m_document->path()).absolutePath();
    else if (!QFileInfo::exists(folder))
        folder = QDir::homePath();
    m_path = new QLineEdit(QDir(folder).filePath(m_document->title().toLower().replace(' ', '-') + ".mp4"), this);
    m_path->setObjectName("exportPath");
    m_path->setAccessibleName(tr("File to write"));
    auto* choose = new QPushButton(tr("Choose…"), this);
    caption(tr("file"));
    grid->addWidget(m_path, row, 1, 1, 2);
    grid->addWidget(choose, row++, 3);
    m_format = combo(tr("Format"), "exportFormat", this);
    for (const FormatInfo& f : deliveryFormats()) m_format->addItem(tr(f.name), int(f.format));
    add(tr("format"), m_format);
    m_formatTold = label({}, "caption", this);
    grid->addWidget(m_formatTold, row++, 1, 1, 3);
    m_quality = combo(tr("Quality"), "exportQuality", this);
    m_bits = combo(tr("Bits a colour"), "exportBits", this);
    caption(tr("quality"));
    grid->addWidget(m_quality, row, 1, 1, 2);
    grid->addWidget(m_bits, row++, 3);
    m_size = combo(tr("Size"), "exportSize", this);
    m_rate = combo(tr("Frame rate"), "exportRate", this);
    caption(tr("size, rate"));
    grid->addWidget(m_size, row, 1);
    grid->addWidget(m_rate, row++, 2, 1, 2);
    m_enlarging = new Choices({{tr("soft"), {}, tr("Bilinear")},
                               {tr("sharp"), {}, tr("Catmull-Rom; takes longer where a shot is enlarged")},
                               {tr("sharper"), {}, tr("Lanczos; takes longer where a shot is enlarged")}},
                              this);
    add(tr("enlarged shots"), m_enlarging);
    m_sound = combo(tr("Sound"), "exportSound", this);
    add(tr("sound"), m_sound);
    m_alpha = new QCheckBox(tr("what nothing covers stays transparent"), this);
    m_alpha->setObjectName("exportAlpha");
    add({}, m_alpha);
    m_summary = label({}, "caption", this);
    m_summary->setWordWrap(true);
    m_summary->setMinimumHeight(50); // three lines: what is to be prepared comes a moment later
    m_summary->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    add({}, m_summary);
    // What the check finds at the result's rate and not at the piece's own.
    m_steps = label({}, "caption", this);
    m_steps->setAccessibleName(tr("What another rate shows"));
    m_steps->setWordWrap(true);
    m_matchCurves = new QPushButton(tr("Match frames and curves"), this);
    setTip(m_matchCurves, tr("The speeds at these cuts agree within a frame, too; the piece keeps its rate"));
    m_matchCurves->setAutoDefault(false);
    grid->addWidget(m_steps, row++, 1, 1, 3);
    grid->addWidget(m_matchCurves, row++, 1, 1, 2, Qt::AlignLeft);
    tellSteps({});
    column->addLayout(grid);
    column->addStretch(1);
    m_told = label({}, "caption", this);
    m_told->setAccessibleName(tr("What is wrong"));
    m_told->setWordWrap(true);
    m_told->setStyleSheet(QStringLiteral("color: %1;").arg(theme().breaks.name()));
    column->addWidget(m_told);
    auto* buttons = new QHBoxLayout;
    buttons->addStretch(1);
    auto* close = new QPushButton(tr("Close"), this);
    close->setAutoDefault(false);
    m_start = new QPushButton(tr("Export"), this);
    m_start->setObjectName("primary");
    m_start->setDefault(true);
    buttons->addWidget(close);
    buttons->addWidget(m_start);
    column->addLayout(buttons);
    for (QPushButton* b : {keep, m_remove, choose}) b->setAutoDefault(false);

    connect(m_presets, &QComboBox::activated, this, [this](int i) {
        for (const ExportPreset& p : allPresets(presetFolder()))
            if (m_presets->itemText(i).toStdString() == p.name) takePreset(p);
    });
    connect(keep, &QPushButton::clicked, this, &ExportDialog::keepPreset);
    connect(m_remove, &QPushButton::clicked, this, &ExportDialog::removePreset);
    connect(choose, &QPushButton::clicked, this, &ExportDialog::browse);
    connect(m_format, &QComboBox::currentIndexChanged, this, &ExportDialog::formatChanged);
    for (QComboBox* box : {m_quality, m_bits, m_size, m_rate, m_sound})
        connect(box, &QComboBox::currentIndexChanged, this, &ExportDialog::refresh);
    for (Choices* c : {m_range, m_enlarging, m_kind}) connect(c, &Choices::chosen, this, &ExportDialog::refresh);
    connect(m_alpha, &QCheckBox::toggled, this, &ExportDialog::refresh);
    connect(m_path, &QLineEdit::textEdited, this, [this] { tell({}); });
    connect(close, &QPushButton::clicked, this, &ExportDialog::reject);
    connect(m_start, &QPushButton::clicked, this, &ExportDialog::start);
    connect(m_matchCurves, &QPushButton::clicked, this, &ExportDialog::matchCurves);
}

void ExportDialog::buildQueue(QVBoxLayout* column) {
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("Exports"), "heading", this));
    top->addStretch(1);
    m_pause = new QPushButton(tr("Pause"), this);
    m_pause->setAutoDefault(false);
    top->addWidget(m_pause);
    column->addLayout(top);
    column->addWidget(new ExportList(m_queue, this), 1);
    const auto refreshPause = [this] {
        m_pause->setEnabled(m_queue->isBusy());
        m_pause->setText(m_queue->isPaused() ? tr("Go on") : tr("Pause"));
    };
    refreshPause();
    connect(m_queue, &ExportQueue::changed, this, refreshPause);
    connect(m_pause, &QPushButton::clicked, this, [this] { m_queue->setPaused(!m_queue->isPaused()); });
}

void ExportDialog::fillPresets(const QString& chosen) {
    m_presets->clear();
    std::vector<std::string> problems;
    for (const ExportPreset& p : allPresets(presetFolder(), &problems)) m_presets->addItem(shown(p.name));
    m_presets->setCurrentIndex(std::max(0, m_presets->findText(chosen)));
    if (!problems.empty()) tell(QString::fromStdString(problems.front()));
}

void ExportDialog::takePreset(const ExportPreset& preset) {
    m_filling = true;
    m_presets->setCurrentText(shown(preset.name));
    m_format->setCurrentIndex(m_format->findData(int(preset.delivery.format)));
    m_filling = false;
    formatChanged();
    m_filling = true;
    const auto decided = settled(preset.delivery);
    const DeliverySettings d = decided ? *decided : preset.delivery;
    m_quality->setCurrentIndex(std::max(0, m_quality->findData(d.quality)));
    m_bits->setCurrentIndex(std::max(0, m_bits->findData(d.depth)));
    m_alpha->setChecked(d.alpha);
    m_sound->setCurrentIndex(std::max(0, m_sound->findData(preset.sound ? int(d.soundCodec) : -1)));
    for (int i = 0; i < int(std::size(sizeChoices)); ++i)
        if (preset.shortSide > 0 ? sizeChoices[i].shortSide == preset.shortSide
                                 : sizeChoices[i].shortSide == 0 && sizeChoices[i].scale == preset.scale)
            m_size->setCurrentIndex(i);
    m_rate->setCurrentIndex(0);
    for (int i = 1; i < m_rate->count(); ++i)
        if (rateChoices[i - 1] == preset.rate) m_rate->setCurrentIndex(i);
    m_enlarging->setCurrent(int(preset.enlarging));
    m_filling = false;
    refresh();
}

// What the format has; what was chosen stays, where it has that.
void ExportDialog::formatChanged() {
    if (m_filling) return;
    m_filling = true;
    const FormatInfo& info = infoOf(DeliveryFormat(m_format->currentData().toInt()));
    m_formatTold->setText(tr(info.told));
    const int quality = m_quality->currentIndex(), bits = m_bits->currentData().toInt();
    const int sound = m_sound->count() ? m_sound->currentData().toInt() : 0;
    m_quality->clear();
    for (const QualityLevel& q : info.qualities) m_quality->addItem(tr(q.name), q.value);
    if (info.qualities.empty()) m_quality->addItem(info.hasPictures() ? tr("lossless") : tr("none"), 0);
    m_quality->setEnabled(info.qualities.size() > 1);
    if (quality >= 0 && quality < m_quality->count()) m_quality->setCurrentIndex(quality);
    m_bits->clear();
    for (const int d : info.depths)
        m_bits->addItem(info.format == DeliveryFormat::Exr ? tr("half float") : tr("%1 bit").arg(d), d);
    if (m_bits->count() == 0) m_bits->addItem(tr("none"), 0);
    m_bits->setCurrentIndex(std::max(0, m_bits->findData(bits)));
    m_sound->clear();
    for (const SoundCodec c : info.sounds)
        m_sound->addItem(info.sequence ? tr("%1, beside the pictures").arg(nameOf(c)) : tr(nameOf(c)), int(c));
    if (info.hasPictures()) m_sound->addItem(tr("none"), -1);
    m_sound->setCurrentIndex(sound < 0 ? m_sound->count() - 1 : 0); // the format's usual one
    if (info.alphaDepths.empty()) m_alpha->setChecked(false);
    m_filling = false;
    fitEnding();
    refresh();
}

// The file's ending follows what is written.
void ExportDialog::fitEnding() {
    const QString ending = kind() == ExportKind::Movement
                               ? QStringLiteral(".json")
                               : QString(infoOf(DeliveryFormat(m_format->currentData().toInt())).ending);
    const QFileInfo info(m_path->text());
    const QString now = "." + info.suffix().toLower();
    if (m_path->text().isEmpty() || now == ending || (kind() == ExportKind::Movement && now == ".csv")) return;
    const bool known = formatByEnding(now.toStdString()) || now == ".json" || now == ".csv";
    const QString base = known ? m_path->text().chopped(now.size()) : m_path->text();
    m_path->setText(base + ending);
}

ExportKind ExportDialog::kind() const {
    return m_kind->current() == 1          ? ExportKind::Parts
           : m_kind->current() == 2        ? ExportKind::Movement
           : m_range->current() == EachCut ? ExportKind::Stills
                                           : ExportKind::Whole;
}

ExportPreset ExportDialog::preset() const {
    ExportPreset p;
    p.name = m_presets->currentText().toStdString();
    p.delivery.format = DeliveryFormat(m_format->currentData().toInt());
    p.delivery.quality = m_quality->currentData().toInt();
    p.delivery.depth = m_bits->currentData().toInt();
    p.delivery.alpha = m_alpha->isChecked();
    p.sound = m_sound->currentData().toInt() >= 0;
    if (p.sound) p.delivery.soundCodec = SoundCodec(m_sound->currentData().toInt());
    const int size = std::max(0, m_size->currentIndex());
    p.scale = sizeChoices[size].scale;
    p.shortSide = sizeChoices[size].shortSide;
    p.rate = m_rate->currentIndex() > 0 ? rateChoices[m_rate->currentIndex() - 1] : FrameRate(0);
    p.enlarging = Enlarging(std::max(0, m_enlarging->current()));
    return p;
}

PartsSettings ExportDialog::settings() const {
    const auto project = m_document->project();
    PartsSettings s;
    static_cast<ExportSettings&>(s) = settingsOf(preset(), *project);
    if (const auto decided = settled(s)) static_cast<DeliverySettings&>(s) = *decided; // bits that go with a quality
    const auto length = reelLength(*project);
    switch (m_range->current()) {
    case AroundCut:
        if (m_document->cut() >= 0) {
            const auto second = roundToInteger(project->settings.rate), at = cutFrame(*project, m_document->cut());
            s.from = std::max<std::int64_t>(0, at - second);
            s.to = std::min(length, at + second);
            s.cuts = {m_document->cut()};
        }
        break;
    case MarkedSpan:
        if (const auto marked = m_document->marked()) s.from = marked->first, s.to = marked->second;
        break;
    case OneFrame:
        s.from = std::clamp<std::int64_t>(m_document->playhead(), 0, std::max<std::int64_t>(0, length - 1));
        s.to = s.from + 1;
        break;
    case EachCut:
        if (cutCount(*project) > 0) s.from = cutFrame(*project, 0), s.to = s.from + 1;
        break;
    default:
        break;
    }
    return s;
}

void ExportDialog::refresh() {
    if (m_filling || m_hidden) return;
    m_filling = true;
    const auto project = m_document->project();
    const bool numbers = kind() == ExportKind::Movement, parts = kind() == ExportKind::Parts;
    const FormatInfo& info = infoOf(DeliveryFormat(m_format->currentData().toInt()));
    const int size = std::max(0, m_size->currentIndex()), rate = std::max(0, m_rate->currentIndex());
    m_size->clear();
    for (const SizeChoice& c : sizeChoices) {
        ExportPreset p;
        p.delivery.format = info.format;
        p.scale = c.scale, p.shortSide = c.shortSide;
        const Size s = sizeOf(p, project->settings.size);
        m_size->addItem(tr("%1 × %2, %3").arg(s.width).arg(s.height).arg(tr(c.name)));
    }
    m_size->setCurrentIndex(size);
    m_rate->clear();
    m_rate->addItem(tr("as the piece, %1").arg(project->settings.rate.toDouble(), 0, 'g', 5));
    for (const FrameRate r : rateChoices) m_rate->addItem(rateName(r));
    m_rate->setCurrentIndex(rate);
    m_range->button(AroundCut)->setEnabled(m_document->cut() >= 0);
    m_range->button(MarkedSpan)->setEnabled(m_document->marked().has_value() && !parts);
    m_range->button(OneFrame)->setEnabled(!parts);
    m_range->button(EachCut)->setEnabled(!parts && !numbers && info.sequence && cutCount(*project) > 0);
    if (!m_range->button(std::max(0, m_range->current()))->isEnabled()) m_range->setCurrent(WholeReel);
    for (QWidget* w : {static_cast<QWidget*>(m_format), static_cast<QWidget*>(m_presets), static_cast<QWidget*>(m_size),
                       static_cast<QWidget*>(m_enlarging)})
        w->setEnabled(!numbers);
    m_rate->setEnabled(!numbers && !parts);
    m_quality->setEnabled(!numbers && info.qualities.size() > 1);
    m_bits->setEnabled(!numbers && info.depths.size() > 1);
    m_alpha->setEnabled(!numbers && !info.alphaDepths.empty());
    m_sound->setEnabled(!numbers && !parts && !info.sounds.empty() && hasSound(*project));
    const bool own = m_presets->currentIndex() >= int(builtInPresets().size());
    m_remove->setEnabled(own && !numbers);
    fitEnding();

    const PartsSettings s = settings();
    const auto frames = (s.to < 0 ? reelLength(*project) : s.to) - s.from;
    const auto decided = settled(preset().delivery);
    const auto fitting = fits(s.size, s.format);
    bool good = frames > 0;
    QString text = tr("%1 …").arg(counted(std::max<qint64>(0, frames), "frame", "frames"));
    if (!numbers && !decided)
        good = false, text = QString::fromStdString(describe(decided.error()));
    else if (!numbers && info.hasPictures() && !fitting)
        good = false, text = QString::fromStdString(describe(fitting.error()));
    else if (parts && (info.sequence || !info.hasPictures()))
        good = false, text = tr("Parts are films: choose another format.");
    m_summary->setText(text);
    m_start->setEnabled(good);
    m_filling = false;
    tellSteps({});
    if (good) estimate();
}

namespace {

// The names of those files of an export that are there already.
QStringList filesThere(const Project& project, const QueuedExport& q) {
    std::vector<std::filesystem::path> files;
    if (q.kind == ExportKind::Parts) {
        const std::string stem = (q.settings.path.parent_path() / q.settings.path.stem()).string();
        files = {stem + "-parts.otio", stem + "-parts.edl"};
        if (const auto parts = partsOf(project, q.settings))
            for (const Part& part : *parts) files.push_back(part.path);
    } else if (q.kind == ExportKind::Stills) {
        for (int c = 0; c < cutCount(project); ++c)
            files.push_back(picturePath(q.settings.path, long(cutFrame(project, c))));
    } else if (const auto plan = planExport(project, q.settings); plan && q.kind == ExportKind::Whole) {
        files = resultFiles(*plan);
    } else {
        files = {q.settings.path};
    }
    QStringList there;
    std::error_code ec;
    for (const auto& file : files)
        if (std::filesystem::exists(std::filesystem::symlink_status(file, ec)))
            there << shown(file.filename().string());
    return there;
}

} // namespace

void ExportDialog::keepPreset() {
    bool given = false;
    const QString name =
        QInputDialog::getText(this, tr("Keep as a preset"), tr("Its name"), QLineEdit::Normal, {}, &given);
    if (!given) return;
    ExportPreset p = preset();
    p.name = name.trimmed().toStdString();
    p.note = infoOf(p.delivery.format).name;
    if (auto kept = virga::keepPreset(p, presetFolder()); !kept)
        return tell(QString::fromStdString(describe(kept.error())));
    fillPresets(name.trimmed());
    refresh();
}

void ExportDialog::removePreset() {
    if (auto gone = virga::removePreset(m_presets->currentText().toStdString(), presetFolder()); !gone)
        return tell(QString::fromStdString(describe(gone.error())));
    fillPresets({});
    takePreset(builtInPresets().front());
}

void ExportDialog::browse() {
    const QString ending = kind() == ExportKind::Movement ? QStringLiteral("*.json *.csv")
                                                          : "*" + QString(infoOf(settings().format).ending);
    const QString path = QFileDialog::getSaveFileName(this, tr("Export as"), m_path->text(),
                                                      tr("%1 (%2)").arg(m_format->currentText(), ending), nullptr,
                                                      QFileDialog::DontConfirmOverwrite);
    if (!path.isEmpty()) m_path->setText(path);
}

void ExportDialog::tell(const QString& text) {
    m_told->setText(text);
}

void ExportDialog::start() {
    tell({});
    if (m_path->text().trimmed().isEmpty()) return tell(tr("Type a file name first."));
    m_path->setText(m_path->text().trimmed());
    fitEnding();
    const auto project = m_document->project();
    QueuedExport q;
    q.settings = settings();
    q.settings.path = m_path->text().toStdString();
    q.kind = kind();
    q.settings.force = true; // what is there is asked about below
    const Expected<void> may = q.kind == ExportKind::Whole || q.kind == ExportKind::Stills
                                   ? mayExport(*project, q.settings, m_document->path().toStdString())
                               : q.kind == ExportKind::Movement
                                   ? mayWrite(q.settings.path, movementOutput(*project, true))
                                   : Expected<void>();
    if (!may) return tell(QString::fromStdString(describe(may.error())));
    for (const QueuedExport& other : m_queue->all())
        if (!other.isOver() && other.settings.path == q.settings.path)
            return tell(tr("An export to %1 is on the list already.").arg(QFileInfo(m_path->text()).fileName()));
    if (const QStringList there = filesThere(*project, q); !there.isEmpty()) {
        MessageBox ask(QMessageBox::Question, tr("Export"),
                       there.size() == 1
                           ? tr("%1 is there already.").arg(there.first())
                           : tr("%1 and %2 are there already.")
                                 .arg(there.first(), counted(there.size() - 1, "other file", "other files")),
                       QMessageBox::NoButton, this);
        auto* replace = ask.addButton(tr("Replace it"), QMessageBox::DestructiveRole);
        ask.setDefaultButton(ask.addButton(tr("Keep it"), QMessageBox::RejectRole));
        ask.exec();
        if (ask.clickedButton() != replace) return;
    }
    m_queue->add(project, q.settings, q.kind);
}

} // namespace virga
