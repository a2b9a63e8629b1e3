// The menu Reel.
#include <QMenu>

#include "app/commands/clip_commands.h"
#include "app/commands/movement_commands.h"
#include "app/commands/reel_commands.h"
#include "app/commands/speed_commands.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lanes_view.h"
#include "app/window/command_table.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/menus.h"
#include "app/window/movement_actions.h"
#include "app/window/notice_bar.h"
#include "app/window/popups.h"

namespace virga {
namespace {

using Condition = std::function<bool()>;

void addTrims(CommandTable& t, Document* d, const Condition& clips) {
    const auto trim = [d](Edge edge, int frames) { trimSelection(*d, edge, frames); };
    t.add(
        "trim.start-earlier", t.tr("Start one frame earlier"), QKeySequence("Ctrl+["), [trim] { trim(Edge::Head, -1); },
        clips);
    t.add(
        "trim.start-later", t.tr("Start one frame later"), QKeySequence("Ctrl+]"), [trim] { trim(Edge::Head, 1); },
        clips);
    t.add(
        "trim.end-earlier", t.tr("End one frame earlier"), QKeySequence("Ctrl+Alt+["), [trim] { trim(Edge::Tail, -1); },
        clips);
    t.add(
        "trim.end-later", t.tr("End one frame later"), QKeySequence("Ctrl+Alt+]"), [trim] { trim(Edge::Tail, 1); },
        clips);
    t.add(
        "slip.earlier", t.tr("Slip one frame earlier"), QKeySequence("Alt+Left"), [d] { slipSelection(*d, -1); },
        clips);
    t.add(
        "slip.later", t.tr("Slip one frame later"), QKeySequence("Alt+Right"), [d] { slipSelection(*d, 1); }, clips);
}

void addSpeeds(CommandTable& t, MainWindow* w, const Condition& clips, const Condition& any) {
    Document* d = w->document();
    for (const int percent : {10, 25, 50, 100, 150, 200, 400, 1000})
        t.add(
            QStringLiteral("speed.%1").arg(percent), t.tr("%1 %").arg(percent), {},
            [d, percent] { setSpeeds(*d, Rational(percent, 100)); }, clips);
    t.separator();
    t.add(
        "speed.backwards", t.tr("Backwards"), {}, [d] { runChosenBackwards(*d); }, any);
    for (const int frames : {12, 25})
        t.add(
            QStringLiteral("speed.hold-%1").arg(frames), t.tr("Hold this frame for %1 frames").arg(frames), {},
            [d, frames] { holdFrame(*d, frames); }, any);
    const auto land = [&t, w, d](int step) {
        if (const QString said = landOnBeat(*d, step); !said.isEmpty())
            w->notice()->tell(t.tr("Land on the beat"), said);
    };
    t.add(
        "speed.land-next", t.tr("Land this moment on the next beat"), QKeySequence("Ctrl+Alt+Right"),
        [land] { land(1); }, any);
    t.add(
        "speed.land-before", t.tr("Land this moment on the beat before"), QKeySequence("Ctrl+Alt+Left"),
        [land] { land(-1); }, any);
    t.add(
        "speed.let-go", t.tr("Let landed moments go"), {},
        [&t, d] {
            changeChosenClips(*d, t.tr("let landed moments go"),
                              [](const Project&, Clip clip) { return withoutPins(std::move(clip)); });
        },
        any);
    t.add(
        "speed.lane", t.tr("Shape the speed in a lane"), {}, [w] { w->views().lanes->context()->wantSpeed(); }, any);
}

void addFlow(CommandTable& t, MainWindow* w, const Condition& any) {
    Document* d = w->document();
    FlowPanel* flow = w->views().flow;
    t.add(
        "flow.reel", t.tr("All findings of the reel"), QKeySequence("F8"), [flow] { flow->showReel(true); }, any);
    t.add(
        "flow.cut", t.tr("Findings at this cut"), QKeySequence("Shift+F8"), [flow] { flow->showReel(false); }, any);
    t.add(
        "flow.mend", t.tr("Mend all that is safe, in the whole reel"), {}, [flow] { flow->mendReel(); }, any);
    t.add(
        "flow.plan", t.tr("Plan moves…"), {}, [flow] { flow->planMoves(); }, any);
    t.add(
        "flow.limits", t.tr("Limits of the check…"), {}, [flow] { flow->editLimits(); }, any);
    t.addToggle(
        "flow.shots", t.tr("Judge with the shots' own movement"), {},
        [d] { setWithShots(*d, !d->project()->settings.withShots); }, [d] { return d->project()->settings.withShots; },
        any);
}

} // namespace

void addReelCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    MovementActions* movement = w->movement();
    const Condition clips = [d] { return d->selection().kind == Selection::ClipSelected; };
    const Condition any = [d] { return !d->project()->reel.empty(); };
    const QString reel = t.tr("Reel");
    t.in({reel});
    t.add(
        "reel.split", t.tr("Split at the playhead"), Qt::Key_X, [d] { splitAtPlayhead(*d); }, any);
    t.add(
        "reel.length", t.tr("Set length…"), QKeySequence("Ctrl+L"), [w, d] { askLength(*d, *w->notice(), w); }, any);
    t.add(
        "reel.on-beats", t.tr("Cut to every fourth beat"), {},
        [&t, w, d] {
            if (const QString said = cutSelectionToBeats(*d, 4); !said.isEmpty())
                w->notice()->tell(t.tr("Beats"), said);
        },
        any);
    t.add(
        "reel.cascade", t.tr("Cascade…"), {}, [w, d] { askCascade(*d, *w->notice(), w); },
        [d, clips] { return clips() && d->selection().all().size() > 1; });
    t.separator();
    t.add(
        "reel.earlier", t.tr("Move earlier"), QKeySequence("Ctrl+Shift+Left"),
        [d] {
            const auto all = d->selection().all();
            if (all.front() > 0) moveClips(*d, all, all.front() - 1);
        },
        clips);
    t.add(
        "reel.later", t.tr("Move later"), QKeySequence("Ctrl+Shift+Right"),
        [d] {
            const auto all = d->selection().all();
            if (all.back() + 1 < int(d->project()->reel.size())) moveClips(*d, all, all.back() + 2);
        },
        clips);
    t.in({reel, t.tr("Trim and slip")});
    addTrims(t, d, clips);
    t.in({reel, t.tr("Speed")});
    addSpeeds(t, w, clips, any);
    t.in({reel});
    t.separator();
    t.add(
        "reel.lift", t.tr("Lift above the reel"), QKeySequence("Ctrl+Up"), [d] { liftToOverlay(*d); }, clips);
    t.add(
        "reel.adjustment", t.tr("Add adjustment"), {}, [d] { addAdjustment(*d); }, any);
    t.add(
        "reel.gap", t.tr("Insert a gap before"), {}, [d] { insertGap(*d); }, any);
    t.add(
        "reel.marker", t.tr("Marker at the playhead"), QKeySequence("Ctrl+K"),
        [w, d] {
            addMarker(*d);
            w->windowLayout()->editName();
        },
        any);
    t.separator();
    const auto withChosenMedia = [d](const std::function<void(const QString&)>& act) {
        const auto chosen = chosenClips(*d);
        if (!chosen.empty()) act(QString::fromStdString(d->project()->reel[std::size_t(chosen.back())].mediaId));
    };
    t.add(
        "reel.find-cuts", t.tr("Find cuts in the clip's video…"), {},
        [movement, withChosenMedia] { withChosenMedia([movement](const QString& id) { movement->findCuts(id); }); },
        any);
    t.add(
        "reel.trace", t.tr("Trace a transition of the clip's video…"), {},
        [movement, withChosenMedia] {
            withChosenMedia([movement](const QString& id) { movement->traceTransition(id); });
        },
        any);
    QAction* steady = t.add(
        "reel.steady", t.tr("Take the shot's shake off"), {}, [movement] { movement->steadyShot(); }, clips);
    QObject::connect(t.menu({reel}), &QMenu::aboutToShow, w, [&t, d, steady] {
        const auto chosen = chosenClips(*d);
        const bool is = !chosen.empty() && isSteadied(d->project()->reel[std::size_t(chosen.back())]);
        steady->setText(is ? t.tr("Give the shot's shake back") : t.tr("Take the shot's shake off"));
    });
    t.separator();
    t.in({reel, t.tr("Flow")});
    addFlow(t, w, any);
}

} // namespace virga
