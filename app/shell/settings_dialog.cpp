#include "app/shell/settings_dialog.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

#include "app/background/frame_service.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/theme.h"

namespace virga {

SettingsDialog::SettingsDialog(FrameService* frames, QWidget* parent) : QDialog(parent), m_frames(frames) {
    setWindowTitle(tr("Settings of the program"));
    setObjectName("settingsDialog");
    resize(420, 200);
    auto* column = new QVBoxLayout(this);
    auto* form = new QWidget(this);
    FormRows rows(form);
    auto* memory = new NumberField(form);
    memory->setRange(64, 65536);
    memory->setUnit(tr("MB"), 0, 64);
    memory->setFixedWidth(96);
    memory->setValue(double(frames->budget() >> 20));
    memory->setAccessibleName(tr("Memory for pictures, in megabytes"));
    memory->setToolTip(
        tr("Finished frames and the shots' pictures, for Picture, Ladder, recipes and playing together"));
    connect(memory, &NumberField::edited, this, [this](double megabytes) {
        m_frames->setBudget(std::size_t(megabytes) << 20);
        QSettings().setValue("cacheMegabytes", qulonglong(megabytes));
        refresh();
    });
    rows.add(tr("memory for pictures"), memory);
    auto* look = new Choices({{tr("night"), {}, tr("Dark, for judging pictures")}, {tr("day"), {}, tr("Light")}}, form);
    look->setCurrent(theme().name == "day");
    connect(look, &Choices::chosen, this, [this](int i) { emit themeWanted(i == 1 ? "day" : "night"); });
    rows.add(tr("look"), look);
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
        m_frames->setBudget(FrameService::usualBudget());
        memory->setValue(double(m_frames->budget() >> 20));
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
}

void SettingsDialog::refresh() {
    m_used->setText(
        tr("Now %1 MB are kept. What is beyond the limit is forgotten, the longest unused first, and made again "
           "when it is asked for.")
            .arg(m_frames->bytes() >> 20));
}

} // namespace virga
