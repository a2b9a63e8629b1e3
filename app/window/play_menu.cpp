// The menu Play.
#include <QMenu>

#include "app/document/preferences.h"
#include "app/picture/transport.h"
#include "app/sound/beats_panel.h"
#include "app/style/plain_text.h"
#include "app/window/command_table.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/menus.h"
#include "app/window/notice_bar.h"
#include "app/window/services.h"

namespace virga {
namespace {

void addMarks(CommandTable& t, Document* d) {
    const auto mark = [d](bool begin) {
        const auto at = d->playhead();
        const auto now = d->marked().value_or(std::pair(begin ? at : std::int64_t(0), reelLength(*d->project())));
        d->mark(begin ? std::pair(at, now.second > at ? now.second : reelLength(*d->project()))
                      : std::pair(now.first <= at ? now.first : std::int64_t(0), at + 1));
    };
    t.add("marked.begin", t.tr("Begins here"), Qt::Key_B, [mark] { mark(true); });
    t.add("marked.end", t.tr("Ends here"), Qt::Key_E, [mark] { mark(false); });
    t.add("marked.forget", t.tr("Forget it"), {}, [d] { d->mark(std::nullopt); });
}

// What is shown while playing.
void addParts(CommandTable& t, Player* player) {
    const std::tuple<const char*, Player::Blur, QString, QString> blurs[] = {
        {"play.no-blur", Player::NoBlur, t.tr("No blur"), t.tr("Each frame as at one instant: the quickest")},
        {"play.draft-blur", Player::DraftBlur, t.tr("Draft blur"),
         t.tr("Few samples: it may look grainy in fast places")},
        {"play.full-blur", Player::FullBlur, t.tr("Full blur"),
         t.tr("As exported; frames may be left out until they are ready")}};
    for (const auto& [id, blur, name, tip] : blurs)
        setTip(t.addToggle(
                   id, name, {}, [player, b = blur] { player->setBlur(b); },
                   [player, b = blur] { return player->blur() == b; }),
               tip);
    t.separator();
    setTip(t.addToggle(
               "play.finishing", t.tr("Finishing"), {}, [player] { player->setFinishes(!player->finishes()); },
               [player] { return player->finishes(); }),
           t.tr("Off, blurs and looks are left out while playing: the picture at rest keeps them"));
    setTip(t.addToggle(
               "play.overlays", t.tr("Clips above the reel"), {},
               [player] { player->setShowsOverlays(!player->showsOverlays()); },
               [player] { return player->showsOverlays(); }),
           t.tr("Off, they are left out while playing: the picture at rest keeps them"));
}

void addSteps(CommandTable& t, Document* d, Player* player) {
    const auto step = [d](std::int64_t by) { d->setPlayhead(d->playhead() + by); };
    t.add("play.back", t.tr("One frame back"), Qt::Key_Left, [step] { step(-1); });
    t.add("play.forward", t.tr("One frame forward"), Qt::Key_Right, [step] { step(1); });
    t.add("play.back-far", t.tr("A large step back"), QKeySequence("Shift+Left"),
          [step] { step(-Preferences::kept().largeStep); });
    t.add("play.forward-far", t.tr("A large step forward"), QKeySequence("Shift+Right"),
          [step] { step(Preferences::kept().largeStep); });
    // Home and End of the selected clips or overlay, or of what is played around the cut.
    const auto span = [d, player]() -> std::pair<std::int64_t, std::int64_t> {
        const Selection s = d->selection();
        const auto project = d->project();
        if (s.kind == Selection::ClipSelected)
            return {clipStart(*project, s.all().front()), clipStart(*project, s.all().back() + 1)};
        if (s.kind == Selection::OverlaySelected) {
            const Overlay& o = project->overlays[std::size_t(s.index)];
            return {o.start, o.end()};
        }
        return player->range();
    };
    t.add("play.to-start", t.tr("To the selection's start"), Qt::Key_Home, [d, span] { d->setPlayhead(span().first); });
    t.add("play.to-end", t.tr("To the selection's end"), Qt::Key_End, [d, span] { d->setPlayhead(span().second - 1); });
}

} // namespace

void addPlayCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    Player* player = &w->services().player;
    const auto playAs = [player](Player::Span span) {
        const bool same = player->span() == span;
        if (player->isPlaying() && same) return player->stop();
        player->setSpan(span);
        if (!player->isPlaying()) player->play();
    };
    const QString play = t.tr("Play");
    t.in({play});
    t.add("play.cut", t.tr("Play the cut"), Qt::Key_Space, [playAs] { playAs(Player::CutSpan); });
    t.add("play.reel", t.tr("Play the reel"), QKeySequence("Shift+Space"), [playAs] { playAs(Player::ReelSpan); });
    t.add("play.clip", t.tr("Play the clip"), QKeySequence("Ctrl+Space"), [playAs] { playAs(Player::ClipSpan); });
    t.add("play.marked", t.tr("Play the marked span"), QKeySequence("Alt+Space"), [&t, w, d, playAs] {
        if (d->marked()) return playAs(Player::MarkedSpan);
        w->notice()->tell(t.tr("No span is marked."),
                          t.tr("Put the playhead where it begins and press B, where it ends and press E."));
    });
    t.in({play, t.tr("Marked span")});
    addMarks(t, d);
    t.in({play, t.tr("Speed of playing")});
    const std::tuple<const char*, double, QString> slow[] = {{"play.full", 1.0, t.tr("Full")},
                                                             {"play.half", 0.5, t.tr("Half, silent")},
                                                             {"play.quarter", 0.25, t.tr("Quarter, silent")}};
    for (const auto& [id, speed, name] : slow) t.add(id, name, {}, [player, v = speed] { player->setSpeed(v); });
    const QStringList shown{play, t.tr("Shown while playing")};
    t.in(shown);
    t.menu(shown)->setToolTipsVisible(true);
    addParts(t, player);
    w->views().transport->addToMenu(t.menu(shown));
    t.in({play});
    t.add("play.tap", t.tr("Tap a beat"), Qt::Key_T, [w] { w->views().beats->tap(); });
    t.separator();
    addSteps(t, d, player);
}

} // namespace virga
