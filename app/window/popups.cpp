#include "app/window/popups.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/window/notice_bar.h"
#include "core/project/beats.h"

namespace virga {
namespace {

NumberField* frameField(const QString& name, const QString& unit, double least, double value, QWidget* parent) {
    auto* f = new NumberField(parent);
    f->setUnit(unit, 0, 1);
    f->setRange(least, 1e6);
    f->setValue(value);
    f->setFixedWidth(80);
    f->setAccessibleName(name);
    return f;
}

} // namespace

LengthPopup::LengthPopup(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setWindowTitle(tr("Set length"));
    const auto project = document->project();
    const auto clips = chosenClips(*document);
    auto* form = new QWidget(this);
    FormRows rows(form);
    frames = frameField(tr("Length in frames"), tr(" f"), 1,
                        clips.empty() ? 25 : double(project->reel[std::size_t(clips.back())].length), form);
    frames->setUnits({{"s", project->settings.rate.toDouble()}});
    rows.add(tr("frames"), frames);
    beats = frameField(tr("Length in beats"), {}, 1, 4, form);
    auto* toBeats = new QPushButton(tr("End on beat"), form);
    toBeats->setEnabled(hasBeats(*project));
    setTip(toBeats, hasBeats(*project) ? tr("Ends so many beats after the clip begins")
                                       : tr("There are no beats yet: see the Beats panel"));
    beats->setEnabled(hasBeats(*project));
    auto* row = new QWidget(form);
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(beats);
    layout->addWidget(toBeats);
    rows.add(tr("beats"), row);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(4, 8, 4, 8);
    column->addWidget(
        label(clips.size() > 1 ? tr("   Length of %1 clips").arg(clips.size()) : tr("   Length of the clip"), "heading",
              this));
    column->addWidget(form);
    connect(frames, &NumberField::edited, this, [this](double v) {
        setLengths(*m_document, std::int64_t(v));
        accept();
    });
    connect(toBeats, &QPushButton::clicked, this, [this] {
        const QString said = cutSelectionToBeats(*m_document, int(beats->value()));
        accept();
        if (!said.isEmpty()) emit problem(said);
    });
    frames->setFocus();
    frames->selectAll();
}

CascadeDialog::CascadeDialog(Document* document, QWidget* parent) : QDialog(parent), m_document(document) {
    setWindowTitle(tr("Cascade"));
    const auto clips = chosenClips(*document);
    auto* form = new QWidget(this);
    FormRows rows(form);
    apart = frameField(tr("Frames apart"), tr(" f"), 1, 3, form);
    slide = frameField(tr("Frames of the slide"), tr(" f"), 1, 8, form);
    direction = new Choices({{tr("right"), {}, tr("They come in from the left")},
                             {tr("left"), {}, tr("They come in from the right")},
                             {tr("down"), {}, tr("They come in from above")},
                             {tr("up"), {}, tr("They come in from below")}},
                            form);
    direction->setCurrent(3);
    rows.add(tr("apart"), apart);
    rows.add(tr("slide"), slide);
    rows.add(tr("moving"), direction);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 12, 12, 12);
    column->addWidget(label(tr("%1 shots, each sliding in over the ones before").arg(clips.size()), "caption", this));
    column->addWidget(form);
    auto* buttons = new QHBoxLayout;
    auto* cancel = new QPushButton(tr("Cancel"), this);
    auto* go = new QPushButton(tr("Stack them"), this);
    go->setObjectName("primary");
    go->setDefault(true);
    go->setEnabled(clips.size() >= 2);
    buttons->addStretch(1);
    buttons->addWidget(cancel);
    buttons->addWidget(go);
    column->addLayout(buttons);
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(go, &QPushButton::clicked, this, [this] {
        const QString said = cascade(*m_document, std::int64_t(apart->value()), std::int64_t(slide->value()),
                                     Direction(direction->current()));
        accept();
        if (!said.isEmpty()) emit problem(said);
    });
}

void askLength(Document& document, NoticeBar& notice, QWidget* window) {
    if (chosenClips(document).empty()) return;
    LengthPopup popup(&document, window);
    QObject::connect(&popup, &LengthPopup::problem, &notice,
                     [&notice](const QString& text) { notice.tell(LengthPopup::tr("Beats"), text); });
    popup.exec();
}

void askCascade(Document& document, NoticeBar& notice, QWidget* window) {
    CascadeDialog dialog(&document, window);
    QObject::connect(&dialog, &CascadeDialog::problem, &notice,
                     [&notice](const QString& text) { notice.tell(CascadeDialog::tr("Cascade"), text); });
    dialog.exec();
}

} // namespace virga
