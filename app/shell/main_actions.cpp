// The menus: every command with its shortcut.
#include <QActionGroup>
#include <QFile>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>

#include "app/commands/cut_commands.h"
#include "app/commands/reel_commands.h"
#include "app/lanes/lanes_view.h"
#include "app/reel/reel_view.h"
#include "app/shell/main_window.h"
#include "app/shell/project_files.h"
#include "app/shell/tab_panel.h"
#include "app/style/icons.h"
#include "app/style/theme.h"

namespace virga {

void MainWindow::buildMenus() {
    const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& keys, auto action) {
        QAction* a = menu->addAction(text);
        a->setShortcut(keys);
        connect(a, &QAction::triggered, this, action);
        addAction(a); // works while the menu bar is not the focus
        return a;
    };
    Document* d = &m_document;

    QMenu* file = m_menus->addMenu(tr("File"));
    add(file, tr("New"), QKeySequence::New, [this] { m_files->startNew(); });
    add(file, tr("Open…"), QKeySequence::Open, [this] { m_files->chooseAndOpen(); });
    QMenu* recent = file->addMenu(tr("Recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] { m_files->fillRecent(recent); });
    add(file, tr("Open the demo"), {}, [this] { m_files->openDemo(); });
    file->addSeparator();
    add(file, tr("Save"), QKeySequence::Save, [this] { m_files->save(); });
    add(file, tr("Save as…"), QKeySequence("Ctrl+Shift+S"), [this] { m_files->saveAs(); });
    file->addSeparator();
    add(file, tr("Add shots…"), QKeySequence("Ctrl+I"), [this] { chooseFiles(); });
    QAction* exportAction = add(file, tr("Export…"), QKeySequence("Ctrl+E"), [this] { showExport(); });
    file->addSeparator();
    add(file, tr("Quit"), QKeySequence::Quit, [this] { close(); });

    QMenu* edit = m_menus->addMenu(tr("Edit"));
    QAction* undo = m_document.undoStack()->createUndoAction(this, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_document.undoStack()->createRedoAction(this, tr("Redo"));
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    edit->addAction(undo);
    edit->addAction(redo);
    edit->addSeparator();
    QAction* remove = add(edit, tr("Delete"), QKeySequence::Delete, [d] { deleteSelection(*d); });

    QMenu* view = m_menus->addMenu(tr("View"));
    auto* themes = new QActionGroup(this);
    for (const auto& [name, text] : {std::pair("night", tr("Night")), std::pair("day", tr("Day"))}) {
        QAction* a = add(view, text, {}, [this, n = QString(name)] { setTheme(n); });
        a->setCheckable(true);
        a->setChecked(theme().name == name);
        themes->addAction(a);
    }
    view->addSeparator();
    add(view, tr("Fit the lanes"), QKeySequence("Ctrl+0"), [this] { m_lanes->fit(); });
    const QString tabNames[] = {tr("Recipes"), tr("Clip"), tr("Shutter and edges")};
    for (int i = 0; i < 3; ++i)
        add(view, tabNames[i], QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)), [this, i] { m_tabs->showTab(i); });

    QMenu* reel = m_menus->addMenu(tr("Reel"));
    QAction* earlier = add(reel, tr("Move clip earlier"), QKeySequence("Ctrl+Shift+Left"), [d] {
        if (d->selection().kind == Selection::ClipSelected && d->selection().index > 0)
            moveClip(*d, d->selection().index, d->selection().index - 1);
    });
    QAction* later = add(reel, tr("Move clip later"), QKeySequence("Ctrl+Shift+Right"), [d] {
        if (d->selection().kind == Selection::ClipSelected && d->selection().index + 1 < int(d->project()->reel.size()))
            moveClip(*d, d->selection().index, d->selection().index + 2);
    });
    const auto trim = [d](Edge edge, int frames) {
        if (d->selection().kind == Selection::ClipSelected)
            d->apply(QObject::tr("trim clip"), withClipTrimmed(*d->project(), d->selection().index, edge, frames),
                     "trim-keys");
    };
    QAction* trims[] = {
        add(reel, tr("Start one frame earlier"), QKeySequence("Ctrl+["), [trim] { trim(Edge::Head, -1); }),
        add(reel, tr("Start one frame later"), QKeySequence("Ctrl+]"), [trim] { trim(Edge::Head, 1); }),
        add(reel, tr("End one frame earlier"), QKeySequence("Ctrl+Alt+["), [trim] { trim(Edge::Tail, -1); }),
        add(reel, tr("End one frame later"), QKeySequence("Ctrl+Alt+]"), [trim] { trim(Edge::Tail, 1); })};

    QMenu* cut = m_menus->addMenu(tr("Cut"));
    std::vector<QAction*> cutActions;
    for (const MoveInfo& info : allMoves()) {
        QAction* a = add(cut, tr("Add %1").arg(QString::fromUtf8(info.label.data(), int(info.label.size())).toLower()),
                         {}, [d, kind = info.kind] { addMove(*d, d->cut(), kind); });
        cutActions.push_back(a);
    }
    cut->addSeparator();
    QMenu* recipes = cut->addMenu(tr("Recipe"));
    for (const Recipe& r : builtInRecipes()) {
        cutActions.push_back(
            add(recipes, QString::fromStdString(r.label), {}, [d, r] { applyRecipe(*d, d->cut(), r, false); }));
        cutActions.push_back(add(recipes, tr("%1, the other way round").arg(QString::fromStdString(r.label)), {},
                                 [d, r] { applyRecipe(*d, d->cut(), r, true); }));
    }
    cutActions.push_back(add(cut, tr("Match all speeds"), QKeySequence("Ctrl+M"), [this, d] {
        const QString why = matchAll(*d, d->cut());
        if (!why.isEmpty()) emit m_lanes->problem(why);
    }));
    cutActions.push_back(add(cut, tr("Remove the cut's moves"), {}, [d] { clearTransition(*d, d->cut()); }));
    cut->addSeparator();
    add(cut, tr("Previous cut"), Qt::Key_Up, [this] { stepCut(-1); });
    add(cut, tr("Next cut"), Qt::Key_Down, [this] { stepCut(1); });

    QMenu* play = m_menus->addMenu(tr("Play"));
    const auto playAs = [this](bool loopCut) {
        const bool same = m_player->loopsCut() == loopCut;
        if (m_player->isPlaying() && same) return m_player->stop();
        m_player->setLoopCut(loopCut);
        if (!m_player->isPlaying()) m_player->play();
    };
    add(play, tr("Play the cut"), Qt::Key_Space, [playAs] { playAs(true); });
    add(play, tr("Play the reel"), QKeySequence("Shift+Space"), [playAs] { playAs(false); });
    play->addSeparator();
    const auto step = [d](std::int64_t by) { d->setPlayhead(d->playhead() + by); };
    add(play, tr("One frame back"), Qt::Key_Left, [step] { step(-1); });
    add(play, tr("One frame forward"), Qt::Key_Right, [step] { step(1); });
    add(play, tr("Ten frames back"), QKeySequence("Shift+Left"), [step] { step(-10); });
    add(play, tr("Ten frames forward"), QKeySequence("Shift+Right"), [step] { step(10); });
    // Home and End of the selected clip, or of what is played around the cut.
    const auto span = [this, d]() -> std::pair<std::int64_t, std::int64_t> {
        if (d->selection().kind != Selection::ClipSelected) return m_player->range();
        return {clipStart(*d->project(), d->selection().index), clipStart(*d->project(), d->selection().index + 1)};
    };
    add(play, tr("To the selection's start"), Qt::Key_Home, [d, span] { d->setPlayhead(span().first); });
    add(play, tr("To the selection's end"), Qt::Key_End, [d, span] { d->setPlayhead(span().second - 1); });

    QMenu* help = m_menus->addMenu(tr("Help"));
    add(help, tr("How it works"), QKeySequence::HelpContents, [this] {
        QMessageBox box(this);
        box.setWindowTitle(tr("How it works"));
        box.setText(tr(
            "<p><b>Pick a cut</b> in the Reel: a round joint between two clips.</p><p><b>Give it a move</b>: a recipe, "
            "or <i>+ move</i> in the Lanes. The amber curve moves the outgoing shot, the aqua one the incoming shot, "
            "counted in frames from the cut.</p><p><b>Shape it</b>: drag the drops; their tips are the values. Click "
            "one to see its handles; right-click a curve for other shapes.</p><p><b>Check it</b>: step with ← and →, "
            "play with Space, "
            "read what Flow found.</p><p><b>Export</b> it at the top right.</p>"));
        box.exec();
    });
    add(help, tr("About Virga"), {}, [this] {
        QMessageBox::about(this, tr("About Virga"),
                           tr("<b>Virga 0.1</b><p>Makes a cut between two shots feel like one continuous camera "
                              "move.</p><p>Free software under the GNU General Public License, version 3 or later. "
                              "The fonts Inter and JetBrains Mono come under the SIL Open Font License.</p>"));
    });

    const auto enable = [=, this] {
        const bool any = !m_document.project()->reel.empty(), hasCut = m_document.cut() >= 0;
        const Selection s = m_document.selection();
        exportAction->setEnabled(any);
        remove->setEnabled(s.kind != Selection::Nothing);
        for (QAction* a : cutActions) a->setEnabled(hasCut);
        for (QAction* a : {earlier, later}) a->setEnabled(s.kind == Selection::ClipSelected);
        for (QAction* a : trims) a->setEnabled(s.kind == Selection::ClipSelected);
    };
    connect(d, &Document::projectChanged, this, enable);
    connect(d, &Document::selectionChanged, this, enable);
    enable();
    connect(m_reel, &ReelView::contextMenuWanted, this, [=, this](const QPoint& at) {
        QMenu menu(this);
        if (m_document.selection().kind == Selection::ClipSelected) {
            menu.addActions({earlier, later});
            menu.addSeparator();
        } else if (m_document.selection().kind == Selection::CutSelected) {
            for (QAction* a : cutActions)
                if (!recipes->actions().contains(a)) menu.addAction(a);
            menu.addMenu(recipes);
            menu.addSeparator();
        }
        menu.addAction(tr("Add shots…"), this, &MainWindow::chooseFiles);
        menu.addAction(remove);
        menu.exec(at);
    });
}

} // namespace virga
