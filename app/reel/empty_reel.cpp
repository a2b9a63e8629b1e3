#include "app/reel/empty_reel.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/style/controls.h"
#include "app/style/plain_text.h"

namespace virga {

EmptyReel::EmptyReel(QWidget* parent) : QWidget(parent) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(24, 12, 24, 12);
    row->setSpacing(12);
    auto* words = new QVBoxLayout;
    words->setSpacing(4);
    words->addStretch(1);
    words->addWidget(label(tr("Drop two or more shots here"), "title"));
    words->addWidget(label(tr("Videos and pictures become clips in their order, a sound file becomes the music. Then "
                              "pick a cut and give it a move."),
                           "caption"));
    words->addStretch(1);
    row->addLayout(words, 1);
    auto* add = new QPushButton(tr("Add shots…"), this);
    auto* demo = new QPushButton(tr("Open the demo"), this);
    setTip(demo, tr("The Lantern Regatta: eight drawn shots with their moves"));
    row->addWidget(add);
    row->addWidget(demo);
    connect(add, &QPushButton::clicked, this, &EmptyReel::addWanted);
    connect(demo, &QPushButton::clicked, this, &EmptyReel::demoWanted);
}

} // namespace virga
