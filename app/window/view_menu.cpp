// The menu View.
#include <QActionGroup>
#include <QMenu>

#include "app/ladder/contact_sheet.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/style/theme.h"
#include "app/window/command_table.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/menus.h"
#include "app/window/movement_actions.h"
#include "app/window/tab_panel.h"

namespace virga {
namespace {

void addPictureCommands(CommandTable& t, MainWindow& window) {
    Layout* layout = window.windowLayout();
    PictureView* picture = window.views().picture;
    MovementActions* movement = window.movement();
    auto* modes = new QActionGroup(&t);
    const std::tuple<const char*, QString, QKeySequence> ways[] = {
        {"picture.frame", t.tr("Frame"), QKeySequence("Alt+1")},
        {"picture.surround", t.tr("Surround"), QKeySequence("Alt+2")},
        {"picture.faces", t.tr("Faces"), QKeySequence("Alt+3")}};
    for (int i = 0; i < 3; ++i) {
        const auto& [id, text, keys] = ways[i];
        modes->addAction(t.addToggle(
            id, text, keys, [picture, i] { picture->setMode(PictureView::Mode(i)); },
            [picture, i] { return int(picture->mode()) == i; }));
    }
    t.add("picture.sheet", t.tr("Contact sheet"), QKeySequence("Alt+4"), [layout] { layout->showSheet(); });
    t.add("picture.full-screen", t.tr("Full screen"), QKeySequence("F11"), [layout] { layout->showFullScreen(); });
    const auto toggle = [&](const char* id, const QString& text, const QKeySequence& keys,
                            bool (PictureView::*is)() const, void (PictureView::*set)(bool)) {
        t.addToggle(
            id, text, keys, [picture, is, set] { (picture->*set)(!(picture->*is)()); },
            [picture, is] { return (picture->*is)(); });
    };
    t.separator();
    toggle("picture.actual-size", t.tr("Actual size, with a magnifier"), QKeySequence("Alt+0"),
           &PictureView::isActualSize, &PictureView::setActualSize);
    toggle("picture.thirds", t.tr("Thirds"), {}, &PictureView::showsGrid, &PictureView::setGrid);
    toggle("picture.safe-areas", t.tr("Safe areas"), {}, &PictureView::showsSafeAreas, &PictureView::setSafeAreas);
    toggle("picture.trust", t.tr("Where made-up pictures are guessed"), {}, &PictureView::showsTrust,
           &PictureView::setTrust);
    t.add("picture.mixed", t.tr("Made-up pictures as mixed ones"), QKeySequence("Alt+M"),
          [movement] { movement->toggleMixed(); });
    t.add("picture.without", t.tr("Without the selected move"), QKeySequence("Alt+B"),
          [movement] { movement->toggleWithout(); });
    toggle("picture.handles", t.tr("Handles"), QKeySequence("Alt+H"), &PictureView::showsHandles,
           &PictureView::setShowHandles);
}

} // namespace

void addViewCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Layout* layout = w->windowLayout();
    ReelView* reel = w->views().reel;
    LanesView* lanes = w->views().lanes;
    const QString view = t.tr("View");
    t.in({view});
    auto* themes = new QActionGroup(&t);
    for (const auto& [name, text] : {std::pair(QStringLiteral("night"), t.tr("Night")), {"day", t.tr("Day")}})
        themes->addAction(t.addToggle(
            "view." + name, text, {}, [w, n = name] { w->setTheme(n); }, [n = name] { return theme().name == n; }));
    t.separator();
    t.addToggle(
        "view.assemble", t.tr("Assemble"), QKeySequence("F6"),
        [layout] { layout->setAssembling(!layout->isAssembling()); }, [layout] { return layout->isAssembling(); });
    t.add("reel.closer", t.tr("Reel: closer"), QKeySequence("Ctrl+Alt+Up"), [reel] { reel->zoomBy(1.5); });
    t.add("reel.farther", t.tr("Reel: farther"), QKeySequence("Ctrl+Alt+Down"), [reel] { reel->zoomBy(1 / 1.5); });
    t.add("reel.fit", t.tr("Reel: all of it"), QKeySequence("Ctrl+Alt+0"), [reel] { reel->fit(); });
    t.addToggle(
        "reel.snap", t.tr("Edges cling to beats, cuts and markers"), QKeySequence("Ctrl+J"),
        [reel] { reel->setSnap(!reel->snaps()); }, [reel] { return reel->snaps(); });
    t.in({view, t.tr("Picture")});
    addPictureCommands(t, window);
    t.in({view});
    t.addToggle(
        "reel.flow-line", t.tr("Flow line"), QKeySequence("F9"), [reel] { reel->setFlowLine(!reel->showsFlowLine()); },
        [reel] { return reel->showsFlowLine(); });
    t.addToggle(
        "reel.flow-channels", t.tr("Flow line of each channel"), {},
        [reel] { reel->setFlowChannels(!reel->showsFlowChannels()); }, [reel] { return reel->showsFlowChannels(); },
        [reel] { return reel->showsFlowLine(); });
    t.separator();
    t.add("lanes.fit", t.tr("Fit the lanes"), QKeySequence("Ctrl+0"), [lanes] { lanes->fit(); });
    t.add("lanes.closer", t.tr("Lanes: closer"), QKeySequence::ZoomIn, [lanes] { lanes->zoomBy(1.25); });
    t.add("lanes.farther", t.tr("Lanes: farther"), QKeySequence::ZoomOut, [lanes] { lanes->zoomBy(1 / 1.25); });
    t.add("lanes.earlier", t.tr("Lanes: earlier"), QKeySequence("Ctrl+PgUp"), [lanes] { lanes->panBy(-0.25); });
    t.add("lanes.later", t.tr("Lanes: later"), QKeySequence("Ctrl+PgDown"), [lanes] { lanes->panBy(0.25); });
    t.add("lanes.fit-selected", t.tr("Fit the selected keys"), QKeySequence("Ctrl+9"),
          [lanes] { lanes->fitSelection(); });
    const std::pair<const char*, QString> tabs[] = {
        {"tabs.tray", t.tr("Tray")},   {"tabs.clip", t.tr("Clip")},       {"tabs.sound", t.tr("Sound")},
        {"tabs.beats", t.tr("Beats")}, {"tabs.recipes", t.tr("Recipes")}, {"tabs.shutter", t.tr("Shutter and edges")}};
    for (int i = 0; i < 6; ++i)
        t.add(tabs[i].first, tabs[i].second, QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)),
              [w, i] { w->views().tabs->showTab(i); });
}

} // namespace virga
