// The menus of the Reel and of a cut, and what a right click in the Reel offers.
#include <QMenuBar>
#include <QToolButton>

#include "app/commands/clip_commands.h"
#include "app/commands/cut_commands.h"
#include "app/commands/movement_commands.h"
#include "app/commands/reel_commands.h"
#include "app/commands/speed_commands.h"
#include "app/document/words.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lanes_view.h"
#include "app/style/plain_text.h"
#include "app/window/main_window.h"
#include "app/window/media_files.h"
#include "app/window/notice_bar.h"
#include "app/window/tab_panel.h"

namespace virga {

void MainWindow::buildReelMenu() {
    Document* d = &m_document;
    QMenu* reel = m_menus->addMenu(tr("Reel"));
    const auto clips = [d] { return d->selection().kind == Selection::ClipSelected; };
    const auto any = [d] { return !d->project()->reel.empty(); };
    const auto add = [&](const QString& text, const QKeySequence& keys, std::function<bool()> when,
                         std::function<void()> action, QMenu* menu = nullptr) {
        QAction* a = addCommand(menu ? menu : reel, text, keys, std::move(action));
        enableWith(a, std::move(when));
        return a;
    };
    QAction* split = add(tr("Split at the playhead"), Qt::Key_X, any, [d] { splitAtPlayhead(*d); });
    QAction* length = add(tr("Set length…"), QKeySequence("Ctrl+L"), any, [this] { askLength(); });
    QAction* beats = add(tr("Cut to every fourth beat"), {}, any, [this, d] {
        if (const QString said = cutSelectionToBeats(*d, 4); !said.isEmpty()) m_notice->tell(tr("Beats"), said);
    });
    QAction* cascadeAction = add(
        tr("Cascade…"), {},
        [d] { return d->selection().all().size() > 1 && d->selection().kind == Selection::ClipSelected; },
        [this] { askCascade(); });
    reel->addSeparator();
    QAction* earlier = add(tr("Move earlier"), QKeySequence("Ctrl+Shift+Left"), clips, [d] {
        const auto all = d->selection().all();
        if (all.front() > 0) moveClips(*d, all, all.front() - 1);
    });
    QAction* later = add(tr("Move later"), QKeySequence("Ctrl+Shift+Right"), clips, [d] {
        const auto all = d->selection().all();
        if (all.back() + 1 < int(d->project()->reel.size())) moveClips(*d, all, all.back() + 2);
    });
    const auto trim = [d](Edge edge, int frames) { trimSelection(*d, edge, frames); };
    QMenu* trims = reel->addMenu(tr("Trim and slip"));
    add(
        tr("Start one frame earlier"), QKeySequence("Ctrl+["), clips, [trim] { trim(Edge::Head, -1); }, trims);
    add(
        tr("Start one frame later"), QKeySequence("Ctrl+]"), clips, [trim] { trim(Edge::Head, 1); }, trims);
    add(
        tr("End one frame earlier"), QKeySequence("Ctrl+Alt+["), clips, [trim] { trim(Edge::Tail, -1); }, trims);
    add(
        tr("End one frame later"), QKeySequence("Ctrl+Alt+]"), clips, [trim] { trim(Edge::Tail, 1); }, trims);
    add(
        tr("Slip one frame earlier"), QKeySequence("Alt+Left"), clips, [d] { slipSelection(*d, -1); }, trims);
    add(
        tr("Slip one frame later"), QKeySequence("Alt+Right"), clips, [d] { slipSelection(*d, 1); }, trims);
    QMenu* speeds = reel->addMenu(tr("Speed"));
    for (const int percent : {10, 25, 50, 100, 150, 200, 400, 1000})
        add(
            tr("%1 %").arg(percent), {}, clips, [d, percent] { setSpeeds(*d, Rational(percent, 100)); }, speeds);
    speeds->addSeparator();
    add(
        tr("Backwards"), {}, any, [d] { runChosenBackwards(*d); }, speeds);
    for (const int frames : {12, 25})
        add(
            tr("Hold this frame for %1 frames").arg(frames), {}, any, [d, frames] { holdFrame(*d, frames); }, speeds);
    const auto land = [this, d](int step) {
        if (const QString said = landOnBeat(*d, step); !said.isEmpty()) m_notice->tell(tr("Land on the beat"), said);
    };
    add(
        tr("Land this moment on the next beat"), QKeySequence("Ctrl+Alt+Right"), any, [land] { land(1); }, speeds);
    add(
        tr("Land this moment on the beat before"), QKeySequence("Ctrl+Alt+Left"), any, [land] { land(-1); }, speeds);
    add(
        tr("Let landed moments go"), {}, any,
        [d] {
            changeChosenClips(*d, QObject::tr("let landed moments go"),
                              [](const Project&, Clip clip) { return withoutPins(std::move(clip)); });
        },
        speeds);
    add(
        tr("Shape the speed in a lane"), {}, any, [this] { m_lanes->context()->wantSpeed(); }, speeds);
    reel->addSeparator();
    QAction* lift = add(tr("Lift above the reel"), QKeySequence("Ctrl+Up"), clips, [d] { liftToOverlay(*d); });
    QAction* adjust = add(tr("Add adjustment"), {}, any, [d] { addAdjustment(*d); });
    QAction* gap = add(tr("Insert a gap before"), {}, any, [d] { insertGap(*d); });
    QAction* marker = add(tr("Marker at the playhead"), QKeySequence("Ctrl+K"), any, [this, d] {
        addMarker(*d);
        rename();
    });
    reel->addSeparator();
    add(tr("Find cuts in the clip's video…"), {}, any, [this, d] {
        const auto chosen = chosenClips(*d);
        if (!chosen.empty()) findCuts(QString::fromStdString(d->project()->reel[std::size_t(chosen.back())].mediaId));
    });
    add(tr("Trace a transition of the clip's video…"), {}, any, [this, d] {
        const auto chosen = chosenClips(*d);
        if (!chosen.empty())
            traceTransition(QString::fromStdString(d->project()->reel[std::size_t(chosen.back())].mediaId));
    });
    QAction* steady = add(tr("Take the shot's shake off"), {}, clips, [this] { steadyShot(); });
    connect(reel, &QMenu::aboutToShow, this, [d, steady] {
        const auto chosen = chosenClips(*d);
        const bool is = !chosen.empty() && isSteadied(d->project()->reel[std::size_t(chosen.back())]);
        steady->setText(is ? tr("Give the shot's shake back") : tr("Take the shot's shake off"));
    });
    reel->addSeparator();
    QMenu* flow = reel->addMenu(tr("Flow"));
    add(
        tr("All findings of the reel"), QKeySequence("F8"), any, [this] { m_flowPanel->showReel(true); }, flow);
    add(
        tr("Findings at this cut"), QKeySequence("Shift+F8"), any, [this] { m_flowPanel->showReel(false); }, flow);
    add(
        tr("Mend all that is safe, in the whole reel"), {}, any, [this] { m_flowPanel->mendReel(); }, flow);
    add(
        tr("Plan moves…"), {}, any, [this] { m_flowPanel->planMoves(); }, flow);
    add(
        tr("Limits of the check…"), {}, any, [this] { m_flowPanel->editLimits(); }, flow);
    QAction* shots = add(
        tr("Judge with the shots' own movement"), {}, any, [d] { setWithShots(*d, !d->project()->settings.withShots); },
        flow);
    shots->setCheckable(true);
    connect(flow, &QMenu::aboutToShow, this, [d, shots] { shots->setChecked(d->project()->settings.withShots); });
    m_clipActions = {split, length, beats, cascadeAction, nullptr, earlier, later, nullptr, lift, adjust, gap, marker};
    m_clipMenus = {trims, speeds};
}

void MainWindow::buildCutMenu() {
    Document* d = &m_document;
    QMenu* cut = m_menus->addMenu(tr("Cut"));
    const auto has = [d] { return d->cut() >= 0; };
    const auto add = [&](QMenu* menu, const QString& text, const QKeySequence& keys, std::function<void()> action) {
        QAction* a = addCommand(menu, text, keys, std::move(action));
        enableWith(a, has);
        return a;
    };
    m_cutActions.clear();
    for (std::size_t i = 0; i < 3; ++i) { // the plainest three, and all others in their field
        const MoveInfo& info = allMoves()[i];
        m_cutActions.push_back(add(cut, tr("Add %1").arg(textOf(info.label).toLower()), {},
                                   [d, kind = info.kind] { addMove(*d, d->cut(), kind); }));
    }
    m_cutActions.push_back(
        add(cut, tr("All moves and finishing…"), {}, [this] { m_lanes->offerMoves(m_lanes->addButton()); }));
    cut->addSeparator();
    buildRecipeMenu(cut);
    m_cutActions.push_back(nullptr);
    m_cutActions.push_back(
        add(cut, tr("Crossfade"), QKeySequence("Ctrl+Shift+K"), [d] { crossfade(*d, d->cut(), 12); }));
    m_cutActions.push_back(add(cut, tr("Match all speeds"), QKeySequence("Ctrl+M"), [this, d] {
        const QString why = matchAll(*d, d->cut());
        if (!why.isEmpty()) emit m_lanes->problem(why);
    }));
    m_cutActions.push_back(add(cut, tr("Find a cut that carries on…"), {}, [this] { findCarryingCut(); }));
    m_cutActions.push_back(add(cut, tr("Remove the cut's moves"), {}, [d] { clearTransition(*d, d->cut()); }));
    cut->addSeparator();
    QMenu* ramps = cut->addMenu(tr("Ramp speed"));
    const auto ramp = [this, d](const Ramp* out, const Ramp* in) {
        if (const QString said = rampAtCut(*d, d->cut(), out, in); !said.isEmpty()) m_notice->tell(tr("Ramp"), said);
    };
    const RampPreset& usual = rampPresets().front();
    add(ramps, tr("Through the cut"), QKeySequence("Ctrl+Alt+R"), [ramp, &usual] { ramp(&usual.out, &usual.in); });
    add(ramps, tr("Into the cut"), {}, [ramp, &usual] { ramp(&usual.out, nullptr); });
    add(ramps, tr("Out of the cut"), {}, [ramp, &usual] { ramp(nullptr, &usual.in); });
    ramps->addSeparator();
    for (std::size_t i = 1; i < rampPresets().size(); ++i) {
        const RampPreset& preset = rampPresets()[i];
        QString name = textOf(preset.name);
        name[0] = name[0].toUpper();
        setTip(add(ramps, name, {}, [ramp, &preset] { ramp(&preset.out, &preset.in); }), textOf(preset.purpose));
    }
    ramps->addSeparator();
    add(ramps, tr("Remove the ramps"), {}, [d] { removeRamps(*d, d->cut()); });
    cut->addSeparator();
    add(cut, tr("Move the cut one frame earlier"), QKeySequence("Ctrl+Left"), [d] { rollCut(*d, d->cut(), -1); });
    add(cut, tr("Move the cut one frame later"), QKeySequence("Ctrl+Right"), [d] { rollCut(*d, d->cut(), 1); });
    cut->addSeparator();
    addCommand(cut, tr("Previous cut"), Qt::Key_Up, [this] { stepCut(-1); });
    addCommand(cut, tr("Next cut"), Qt::Key_Down, [this] { stepCut(1); });
}

void MainWindow::showContextMenu(const QPoint& at) {
    QMenu menu(this);
    const auto fill = [&](const std::vector<QAction*>& actions) {
        for (QAction* a : actions) {
            if (a)
                menu.addAction(a);
            else
                menu.addSeparator();
        }
        menu.addSeparator();
    };
    switch (m_document.selection().kind) {
    case Selection::ClipSelected:
        fill(m_clipActions);
        for (QMenu* sub : m_clipMenus) menu.addMenu(sub);
        menu.addSeparator();
        break;
    case Selection::CutSelected:
        fill(m_cutActions);
        menu.addMenu(m_recipeMenu);
        menu.addSeparator();
        break;
    default:
        break;
    }
    menu.addAction(tr("Add shots…"), this, &MainWindow::chooseFiles);
    menu.addSeparator();
    fill(m_editActions);
    menu.exec(at);
}

} // namespace virga
