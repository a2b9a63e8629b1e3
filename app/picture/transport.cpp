#include "app/picture/transport.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>

#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "core/base/timecode.h"

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
    m_loop = new QToolButton(this);
    m_loop->setObjectName("span");
    m_loop->setPopupMode(QToolButton::InstantPopup);
    m_loop->setFixedHeight(26);
    setTip(m_loop, tr("What is played, and how fast"));
    auto* spans = new QMenu(m_loop);
    const std::pair<Player::Span, QString> all[] = {{Player::CutSpan, tr("the cut")},
                                                    {Player::ClipSpan, tr("the clip")},
                                                    {Player::MarkedSpan, tr("the marked span")},
                                                    {Player::ReelSpan, tr("the reel")}};
    for (const auto& [span, name] : all) {
        QAction* a = spans->addAction(name, this, [this, s = span] { m_player->setSpan(s); });
        a->setCheckable(true);
        connect(spans, &QMenu::aboutToShow, this, [this, a, s = span] {
            a->setChecked(m_player->span() == s);
            a->setEnabled(s != Player::MarkedSpan || m_document->marked().has_value());
        });
    }
    QMenu* around = spans->addMenu(tr("Around the cut"));
    for (const double seconds : {0.5, 1.0, 2.0, 4.0}) {
        QAction* a = around->addAction(tr("%1 s before and after").arg(seconds), this,
                                       [this, seconds] { m_player->setAround(seconds); });
        a->setCheckable(true);
        connect(around, &QMenu::aboutToShow, this,
                [this, a, seconds] { a->setChecked(m_player->around() == seconds); });
    }
    spans->addSeparator();
    const std::pair<double, QString> speeds[] = {
        {1.0, tr("full speed")}, {0.5, tr("half speed, silent")}, {0.25, tr("quarter speed, silent")}};
    for (const auto& [speed, name] : speeds) {
        QAction* a = spans->addAction(name, this, [this, v = speed] { m_player->setSpeed(v); });
        a->setCheckable(true);
        connect(spans, &QMenu::aboutToShow, this, [this, a, v = speed] { a->setChecked(m_player->speed() == v); });
    }
    spans->addSeparator();
    m_loop->setMenu(spans);
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
        setTip(b, tip);
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
    connect(player, &Player::droppedChanged, this, &Transport::refresh);
    connect(picture, &PictureView::shown, this, &Transport::refresh);
    refresh();
    fitRow();
}

void Transport::addToMenu(QMenu* menu) {
    m_loop->menu()->addMenu(menu);
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
    setTip(m_play, m_player->isPlaying() ? tr("Stop (Space)") : tr("Play (Space)"));
    const QString names[] = {tr("cut"), tr("clip"), tr("marked"), tr("reel")};
    m_loop->setText(names[int(m_player->span())] + (m_player->speed() == 0.5    ? QStringLiteral(" ½")
                                                    : m_player->speed() == 0.25 ? QStringLiteral(" ¼")
                                                                                : QString()));
    m_timecode->setText(QString::fromStdString(timecodeOfFrame(m_document->playhead(), project->settings.rate)));
    m_state->setText(!any ? QString()
                     : m_player->isPlaying()
                         ? (m_player->dropped() > 0 ? tr("%1 left out").arg(m_player->dropped()) : tr("playing"))
                     : m_picture->isExact()
                         ? tr("exact, %1 × %2").arg(project->settings.size.width).arg(project->settings.size.height)
                         : tr("sharpening …"));
}

} // namespace virga
