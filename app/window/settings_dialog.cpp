#include "app/window/settings_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/document/preferences.h"
#include "app/services/in_background.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"

namespace virga {

SettingsDialog::SettingsDialog(MainWindow* window) : QDialog(window), m_window(window) {
    setWindowTitle(tr("Settings of the program"));
    setObjectName("settingsDialog");
    resize(440, 390);
    auto* column = new QVBoxLayout(this);
    auto* form = new QWidget(this);
    FormRows rows(form);
    auto* memory = new NumberField(form);
    memory->setRange(64, 65536);
    memory->setUnit(tr(" MB"), 0, 64);
    memory->setFixedWidth(96);
    memory->setValue(double(window->services().memory() >> 20));
    memory->setAccessibleName(tr("Memory for pictures, in megabytes"));
    setTip(memory, tr("Finished frames and the shots' pictures, for Picture, Ladder, recipes and playing together"));
    connect(memory, &NumberField::edited, this, [this](double megabytes) {
        m_window->services().setMemory(std::size_t(megabytes) << 20);
        QSettings().setValue("cacheMegabytes", qulonglong(megabytes));
        refresh();
    });
    rows.add(tr("memory for pictures"), memory);
    auto* look = new Choices({{tr("night"), {}, tr("Dark, for judging pictures")}, {tr("day"), {}, tr("Light")}}, form);
    look->setCurrent(theme().name == "day");
    connect(look, &Choices::chosen, this, [this](int i) { m_window->setTheme(i == 1 ? "day" : "night"); });
    rows.add(tr("look"), look);
    const auto prefer = [&](const QString& caption, const QString& name, const QString& unit, int decimals,
                            double least, double most, double value, auto set) {
        auto* field = new NumberField(form);
        field->setRange(least, most);
        field->setUnit(unit, decimals, decimals ? 0.5 : 1);
        field->setFixedWidth(96);
        field->setValue(value);
        field->setAccessibleName(name);
        connect(field, &NumberField::edited, this, [set](double v) {
            Preferences p = Preferences::kept();
            set(p, v);
            p.keep();
        });
        rows.add(caption, field);
    };
    const Preferences now = Preferences::kept();
    prefer(tr("a still lasts"), tr("Seconds that a still is put into the reel for"), tr(" s"), 2, 0.04, 600,
           now.stillSeconds, [](Preferences& p, double v) { p.stillSeconds = v; });
    prefer(tr("an adjustment"), tr("Seconds that a new adjustment lasts"), tr(" s"), 2, 0.04, 600,
           now.adjustmentSeconds, [](Preferences& p, double v) { p.adjustmentSeconds = v; });
    prefer(tr("a large step"), tr("Frames that Shift with an arrow goes"), tr(" f"), 0, 2, 1000, now.largeStep,
           [](Preferences& p, double v) { p.largeStep = int(v); });
    auto* copies = new Choices({{tr("of large and slow shots"), {}, tr("Made in the background, for looking at only")},
                                {tr("none"), {}, tr("Shots are always read themselves")}},
                               form);
    copies->setCurrent(window->services().proxies.isOn() ? 0 : 1);
    connect(copies, &Choices::chosen, this, [this](int i) { m_window->services().proxies.setOn(i == 0); });
    rows.add(tr("light copies"), copies);
    auto* disk = new QWidget(form);
    auto* diskRow = new QHBoxLayout(disk);
    diskRow->setContentsMargins(0, 0, 0, 0);
    m_copies = label({}, "caption", disk);
    m_remove = new QPushButton(tr("Remove"), disk);
    m_remove->setFixedHeight(24);
    setTip(m_remove, tr("Deletes all light copies from the disk; they can be made again"));
    connect(m_remove, &QPushButton::clicked, this, [this] {
        m_remove->setEnabled(false);
        m_window->services().proxies.removeAll();
    });
    connect(&window->services().proxies, &Proxies::changed, this, &SettingsDialog::countCopies);
    diskRow->addWidget(m_copies, 1);
    diskRow->addWidget(m_remove);
    rows.add({}, disk);
    rows.end();
    column->addWidget(form);
    m_used = label({}, "caption", this);
    m_used->setWordWrap(true);
    column->addWidget(m_used);
    column->addStretch(1);
    auto* foot = new QHBoxLayout;
    auto* usual = new QPushButton(tr("As at first"), this);
    connect(usual, &QPushButton::clicked, this, [this, memory] {
        QSettings().remove("cacheMegabytes");
        m_window->services().setMemory(FrameService::usualBudget());
        memory->setValue(double(m_window->services().memory() >> 20));
        refresh();
    });
    auto* close = new QPushButton(tr("Close"), this);
    close->setDefault(true);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    foot->addWidget(usual);
    foot->addStretch(1);
    foot->addWidget(close);
    column->addLayout(foot);
    refresh();
    countCopies();
}

void SettingsDialog::countCopies() {
    inBackground(this, &Proxies::onDisk, [this](Proxies::OnDisk disk) {
        m_copies->setText(disk.files == 0 ? tr("none on disk")
                                          : tr("%1 on disk, %2 MB; at most %3 GB")
                                                .arg(disk.files)
                                                .arg((disk.bytes >> 20) + 1)
                                                .arg(Proxies::mostOnDisk >> 30));
        m_remove->setEnabled(disk.files > 0);
    });
}

void SettingsDialog::refresh() {
    m_used->setText(
        tr("Now %1 MB are kept. What is beyond the limit is forgotten, the longest unused first, and made again "
           "when it is asked for.")
            .arg(m_window->services().memoryUsed() >> 20));
}

} // namespace virga
