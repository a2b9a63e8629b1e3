#include "app/picture/transport.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>

#include "app/style/controls.h"
#include "app/style/icons.h"
#include "core/time/timecode.h"

namespace virga {

Transport::Transport(Document* document, Player* player, PictureView* picture, QWidget* parent)
    : QWidget(parent), m_document(document), m_player(player), m_picture(picture) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(10, 4, 8, 10);
    row->setSpacing(4);
    const auto add = [&](const char* name, const QString& tip, auto action) {
        auto* button = iconButton(name, tip, this);
        connect(button, &QToolButton::clicked, this, action);
        row->addWidget(button);
        return button;
    };
    add("to-start", tr("To the start of what is played (Home)"),
        [this] { m_document->setPlayhead(m_player->range().first); });
    add("step-back", tr("One frame back (←)"), [this] { m_document->setPlayhead(m_document->playhead() - 1); });
    m_play = add("play", tr("Play (Space)"), [this] { m_player->toggle(); });
    m_play->setObjectName("play");
    m_play->setFixedWidth(44);
    add("step-forward", tr("One frame forward (→)"), [this] { m_document->setPlayhead(m_document->playhead() + 1); });
    row->addSpacing(4);
    m_loop = new Choices({{tr("cut"), {}, tr("Play two seconds around the cut, over and over")},
                          {tr("reel"), {}, tr("Play the whole reel")}},
                         this);
    m_loop->setCurrent(0);
    connect(m_loop, &Choices::chosen, this, [this](int i) { m_player->setLoopCut(i == 0); });
    row->addWidget(m_loop);
    row->addSpacing(10);
    m_timecode = label("00:00:00:00", "timecode", this);
    m_timecode->setAccessibleName(tr("Playhead timecode"));
    row->addWidget(m_timecode);
    row->addSpacing(6);
    m_modes = new Choices({{tr("frame"), {}, tr("The frame as exported, with handles")},
                           {tr("surround"), {}, tr("What lies beyond the frame: copies, and where they end")},
                           {tr("faces"), {}, tr("Both sides of the cut over each other, to line up their subjects")}},
                          this);
    m_modes->setCurrent(0);
    connect(m_modes, &Choices::chosen, picture, [picture](int i) { picture->setMode(PictureView::Mode(i)); });
    connect(picture, &PictureView::modeChanged, this, [this, picture] {
        m_modes->setCurrent(int(picture->mode()));
        fitRow();
    });
    row->addWidget(m_modes);
    row->addSpacing(6);
    const auto command = [&](const QString& text, const QString& tip) {
        auto* b = new QPushButton(text, this);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::TabFocus);
        b->hide();
        row->addWidget(b);
        m_commands.push_back(b);
        return b;
    };
    connect(command(tr("split here"), tr("Cuts the clip in two at the playhead (X)")), &QPushButton::clicked, this,
            &Transport::splitWanted);
    connect(command(tr("set length…"), tr("In frames or beats (Ctrl+L)")), &QPushButton::clicked, this,
            &Transport::lengthWanted);
    connect(command(tr("tap beat"), tr("Tap on every beat of the music (T)")), &QPushButton::pressed, this,
            &Transport::tapWanted);
    row->addStretch(1);
    m_state = label({}, "caption", this);
    row->addWidget(m_state);
    connect(document, &Document::playheadChanged, this, &Transport::refresh);
    connect(document, &Document::projectChanged, this, &Transport::refresh);
    connect(player, &Player::playingChanged, this, &Transport::refresh);
    connect(player, &Player::loopChanged, this, &Transport::refresh);
    connect(picture, &PictureView::shown, this, &Transport::refresh);
    refresh();
    fitRow();
}

void Transport::setAssembling(bool on) {
    m_assembling = on;
    for (QPushButton* b : m_commands) b->setVisible(on);
    fitRow();
}

// The row shows what is needed, and no more than there is room for.
void Transport::fitRow() {
    m_state->setVisible(!m_assembling && width() >= 660);
    m_timecode->setVisible(width() >= 500);
    m_loop->setVisible(width() >= 400);
    m_modes->setVisible(!m_assembling);
}

void Transport::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fitRow();
}

void Transport::refresh() {
    const auto project = m_document->project();
    const bool any = !project->reel.empty();
    for (auto* button : findChildren<QToolButton*>()) button->setEnabled(any);
    for (QPushButton* b : m_commands) b->setEnabled(any);
    m_play->setIcon(icon(m_player->isPlaying() ? "pause" : "play"));
    m_play->setToolTip(m_player->isPlaying() ? tr("Stop (Space)") : tr("Play (Space)"));
    m_loop->setCurrent(m_player->loopsCut() ? 0 : 1);
    m_timecode->setText(QString::fromStdString(timecodeOfFrame(m_document->playhead(), project->settings.rate)));
    m_state->setText(!any                    ? QString()
                     : m_player->isPlaying() ? tr("playing")
                     : m_picture->isExact()
                         ? tr("exact, %1 × %2").arg(project->settings.size.width).arg(project->settings.size.height)
                         : tr("sharpening …"));
}

} // namespace virga
