#include "app/window/piece_dialog.h"

#include <QColorDialog>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <array>

#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "core/edit/piece_edits.h"
#include "core/project/limits.h"

namespace virga {
namespace {

struct FrameShape {
    const char* name;
    Size size;
};
constexpr std::array shapes{FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "wide, 1920 × 1080"), {1920, 1080}},
                            FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "wide, 1280 × 720"), {1280, 720}},
                            FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "wide, 3840 × 2160"), {3840, 2160}},
                            FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "upright, 1080 × 1920"), {1080, 1920}},
                            FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "upright, 1080 × 1350"), {1080, 1350}},
                            FrameShape{QT_TRANSLATE_NOOP("PieceDialog", "square, 1080 × 1080"), {1080, 1080}}};

// Rates by which pictures are made and shown.
const std::vector<std::pair<QString, FrameRate>>& rates() {
    static const std::vector<std::pair<QString, FrameRate>> all = {{"23.976", {24000, 1001}}, {"24", 24}, {"25", 25},
                                                                   {"29.97", {30000, 1001}},  {"30", 30}, {"50", 50},
                                                                   {"59.94", {60000, 1001}},  {"60", 60}};
    return all;
}

} // namespace

PieceDialog::PieceDialog(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setWindowTitle(tr("The piece's size, rate and background"));
    setObjectName("pieceDialog");
    resize(420, 270);
    auto* column = new QVBoxLayout(this);
    auto* form = new QWidget(this);
    FormRows rows(form);
    m_sizes = new QComboBox(this);
    for (const FrameShape& shape : shapes) m_sizes->addItem(tr(shape.name));
    m_sizes->addItem(tr("as most shots"));
    m_sizes->addItem(tr("another"));
    rows.add(tr("shape"), m_sizes);
    auto* sizeBox = new QWidget(this);
    auto* sizeRow = new QHBoxLayout(sizeBox);
    sizeRow->setContentsMargins(0, 0, 0, 0);
    for (NumberField** field : {&m_width, &m_height}) {
        *field = new NumberField(sizeBox);
        (*field)->setRange(smallestSide, largestSide);
        (*field)->setUnit({}, 0, 2);
        (*field)->setFixedWidth(72);
    }
    m_width->setAccessibleName(tr("Width in pixels"));
    m_height->setAccessibleName(tr("Height in pixels"));
    sizeRow->addWidget(m_width);
    sizeRow->addWidget(label(QStringLiteral("×"), "caption", sizeBox));
    sizeRow->addWidget(m_height);
    sizeRow->addWidget(label(tr("pixels"), "caption", sizeBox));
    sizeRow->addStretch(1);
    rows.add(tr("size"), sizeBox);
    m_rates = new QComboBox(this);
    for (const auto& [name, rate] : rates()) m_rates->addItem(tr("%1 a second").arg(name));
    rows.add(tr("frames"), m_rates);
    auto* background = new QWidget(this);
    auto* backgroundRow = new QHBoxLayout(background);
    backgroundRow->setContentsMargins(0, 0, 0, 0);
    m_swatch = new QPushButton(background);
    m_swatch->setObjectName("swatch");
    m_swatch->setFixedSize(34, 24);
    m_swatch->setAccessibleName(tr("Choose the background"));
    setTip(m_swatch, tr("Choose from a chart"));
    m_colour = new QLineEdit(background);
    m_colour->setFixedWidth(72);
    m_colour->setMaxLength(7);
    m_colour->setAccessibleName(tr("Background as #rrggbb"));
    setTip(m_colour, tr("Beneath everything: gaps, empty edges, what can be seen through"));
    connect(m_colour, &QLineEdit::textEdited, this, [this] { refresh(); });
    connect(m_swatch, &QPushButton::clicked, this, [this] {
        const QColor chosen = QColorDialog::getColor(QColor(m_colour->text()), this, tr("Background"));
        if (!chosen.isValid()) return;
        m_colour->setText(chosen.name());
        refresh();
    });
    backgroundRow->addWidget(m_swatch);
    backgroundRow->addWidget(m_colour);
    backgroundRow->addStretch(1);
    rows.add(tr("background"), background);
    rows.end();
    column->addWidget(form);
    m_told = label({}, "caption", this);
    m_told->setWordWrap(true);
    column->addWidget(m_told);
    column->addStretch(1);
    auto* foot = new QHBoxLayout;
    foot->addStretch(1);
    auto* keep = new QPushButton(tr("Leave it as it is"), this);
    connect(keep, &QPushButton::clicked, this, &QDialog::reject);
    m_change = new QPushButton(tr("Change the piece"), this);
    m_change->setObjectName("primary");
    m_change->setDefault(true);
    connect(m_change, &QPushButton::clicked, this, [this] {
        changePiece(*m_document, wanted());
        accept();
    });
    foot->addWidget(keep);
    foot->addWidget(m_change);
    column->addLayout(foot);
    const Settings& now = document->project()->settings;
    m_colour->setText(
        QColor::fromRgbF(float(now.background.r), float(now.background.g), float(now.background.b)).name());
    showSettings(now.size, now.rate);
    connect(m_sizes, &QComboBox::activated, this, [this](int i) {
        const Project& project = *m_document->project();
        Size size{int(m_width->value()), int(m_height->value())};
        if (i < int(shapes.size())) size = shapes[std::size_t(i)].size;
        if (i == int(shapes.size())) size = formatOf(project.media, {size, project.settings.rate}).size;
        m_width->setValue(size.width), m_height->setValue(size.height);
        refresh();
    });
    for (NumberField* field : {m_width, m_height})
        connect(field, &NumberField::edited, this, [this, field](double value) {
            field->setValue(2 * std::round(value / 2)); // even, as video wants it
            showSettings({int(m_width->value()), int(m_height->value())}, wanted().rate);
        });
    connect(m_rates, &QComboBox::activated, this, &PieceDialog::refresh);
}

void PieceDialog::showSettings(Size size, FrameRate rate) {
    m_width->setValue(size.width), m_height->setValue(size.height);
    int shape = int(shapes.size()) + 1;
    for (int i = 0; i < int(shapes.size()); ++i)
        if (shapes[std::size_t(i)].size == size) shape = i;
    m_sizes->setCurrentIndex(shape);
    int at = -1;
    for (int i = 0; i < int(rates().size()); ++i)
        if (rates()[std::size_t(i)].second == rate) at = i;
    if (at < 0) { // the piece's own, which is none of the usual ones
        if (m_rates->count() == int(rates().size()))
            m_rates->addItem(tr("%1 a second").arg(rate.toDouble(), 0, 'g', 6));
        at = int(rates().size());
    }
    m_rates->setCurrentIndex(at);
    refresh();
}

Settings PieceDialog::wanted() const {
    Settings settings = m_document->project()->settings;
    settings.size = {int(m_width->value()), int(m_height->value())};
    if (const int i = m_rates->currentIndex(); i >= 0 && i < int(rates().size()))
        settings.rate = rates()[std::size_t(i)].second;
    const QColor colour(m_colour->text());
    const Colour& now = settings.background;
    if (colour.isValid() && colour.name() != QColor::fromRgbF(float(now.r), float(now.g), float(now.b)).name())
        settings.background = {colour.redF(), colour.greenF(), colour.blueF()};
    return settings;
}

void PieceDialog::refresh() {
    const Settings &now = m_document->project()->settings, to = wanted();
    m_change->setEnabled(!(to == now));
    m_swatch->setStyleSheet(QStringLiteral("background: %1").arg(QColor(m_colour->text()).name()));
    QString text;
    if (!(to.size == now.size))
        text += tr("Every shot keeps its fit; moves, anchors and crops are shares of the frame and stay as they are. ");
    if (to.rate != now.rate)
        text += tr("Times in seconds stay: every cut goes to its nearest frame, keys and beats stay where they are "
                   "seen and "
                   "heard. A move that took 10 frames takes %1.")
                    .arg(10 * (to.rate / now.rate).toDouble(), 0, 'g', 3);
    m_told->setText(text.isEmpty() ? tr("The first shots that were brought in decided; here it can be changed.")
                                   : text);
}

} // namespace virga
