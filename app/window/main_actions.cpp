// The menus: every command with its shortcut.
#include <QActionGroup>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>

#include "app/commands/cut_commands.h"
#include "app/commands/reel_commands.h"
#include "app/document/preferences.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/picture/transport.h"
#include "app/reel/reel_view.h"
#include "app/sound/beats_panel.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/media_files.h"
#include "app/window/notice_bar.h"
#include "app/window/piece_dialog.h"
#include "app/window/popups.h"
#include "app/window/project_files.h"
#include "app/window/selection_panel.h"
#include "app/window/tab_panel.h"

namespace virga {

QAction* MainWindow::addCommand(QMenu* menu, const QString& text, const QKeySequence& keys,
                                std::function<void()> action) {
    QAction* a = menu->addAction(text);
    a->setShortcut(keys);
    connect(a, &QAction::triggered, this, std::move(action));
    addAction(a); // works while the menu bar is not the focus
    QString path = text;
    for (const QMenu* m = menu; m && !m->title().isEmpty(); m = qobject_cast<const QMenu*>(m->parent()))
        path.prepend(m->title() + tr(" / "));
    m_shortcuts.add(a, path);
    return a;
}

// Greys a command out while what it acts on is not there.
void MainWindow::enableWith(QAction* action, std::function<bool()> condition) {
    m_conditions.push_back({action, std::move(condition)});
}

void MainWindow::refreshCommands() {
    for (const auto& [action, condition] : m_conditions) action->setEnabled(condition());
}

void MainWindow::buildMenus() {
    buildFileMenu();
    buildEditMenu();
    buildViewMenu();
    buildReelMenu();
    buildCutMenu();
    buildKeysMenu();
    buildPlayMenu();
    const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& keys, auto action) {
        return addCommand(menu, text, keys, action);
    };
    QMenu* help = m_menus->addMenu(tr("Help"));
    add(help, tr("How it works"), QKeySequence::HelpContents, [this] {
        MessageBox box(QMessageBox::NoIcon, tr("How it works"), {}, QMessageBox::Ok, this);
        showOwnMarkup(
            &box,
            tr("<p><b>Pick a cut</b> in the Reel: a round joint between two clips.</p><p><b>Give it a move</b>: a "
               "recipe, "
               "or <i>+ move</i> in the Lanes. The amber curve moves the outgoing shot, the aqua one the incoming "
               "shot, "
               "counted in frames from the cut.</p><p><b>Shape it</b>: drag the drops; their tips are the values. "
               "Click "
               "one to see its handles; right-click a curve for other shapes; pull the edge of its fill to shape it by "
               "speed."
               "</p><p><b>Check it</b>: step with ← and →, "
               "play with Space, "
               "read what Flow found.</p><p><b>Export</b> it at the top right.</p>"));
        box.exec();
    });
    add(help, tr("About Virga"), {}, [this] {
        MessageBox box(QMessageBox::NoIcon, tr("About Virga"), {}, QMessageBox::Ok, this);
        showOwnMarkup(&box, tr("<b>Virga 0.1</b><p>Makes a cut between two shots feel like one continuous camera "
                               "move.</p><p>Free software under the GNU General Public License, version 3 or later. "
                               "The fonts Inter and JetBrains Mono come under the SIL Open Font License.</p>"));
        box.exec();
    });

    connect(&m_document, &Document::projectChanged, this, &MainWindow::refreshCommands);
    connect(&m_document, &Document::selectionChanged, this, &MainWindow::refreshCommands);
    connect(m_lanes->context(), &LaneContext::keysSelected, this, &MainWindow::refreshCommands);
    refreshCommands();
}

void MainWindow::buildFileMenu() {
    QMenu* file = m_menus->addMenu(tr("File"));
    addCommand(file, tr("New"), QKeySequence::New, [this] { m_files->startNew(); });
    addCommand(file, tr("Open…"), QKeySequence::Open, [this] { m_files->chooseAndOpen(); });
    QMenu* recent = file->addMenu(tr("Recent"));
    connect(recent, &QMenu::aboutToShow, this, [this, recent] { m_files->fillRecent(recent); });
    addCommand(file, tr("Open the demo"), {}, [this] { m_files->openDemo(); });
    file->addSeparator();
    addCommand(file, tr("Save"), QKeySequence::Save, [this] { m_files->saveSoon(); });
    addCommand(file, tr("Save as…"), QKeySequence("Ctrl+Shift+S"), [this] { m_files->saveAs(); });
    const auto anything = [this] { return !m_document.project()->reel.empty(); };
    const auto anyMedia = [this] { return !m_document.project()->media.empty(); };
    enableWith(addCommand(file, tr("Collect media beside the project…"), {}, [this] { m_media->chooseCollect(); }),
               anyMedia);
    file->addSeparator();
    addCommand(file, tr("The piece's size, rate, background…"), {}, [this] { PieceDialog(&m_document, this).exec(); });
    addCommand(file, tr("Add shots…"), QKeySequence("Ctrl+I"), [this] { chooseFiles(); });
    addCommand(file, tr("Read an edit…"), {}, [this] { m_media->chooseEditToRead(); });
    file->addSeparator();
    enableWith(addCommand(file, tr("Export…"), QKeySequence("Ctrl+E"), [this] { showExport(); }), anything);
    enableWith(addCommand(file, tr("Write OpenTimelineIO…"), {}, [this] { m_media->chooseEditToWrite(true); }),
               anything);
    enableWith(addCommand(file, tr("Write an edit list…"), {}, [this] { m_media->chooseEditToWrite(false); }),
               anything);
    file->addSeparator();
    addCommand(file, tr("Quit"), QKeySequence::Quit, [this] { close(); });
}

void MainWindow::buildEditMenu() {
    QMenu* edit = m_menus->addMenu(tr("Edit"));
    QAction* undo = m_document.undoStack()->createUndoAction(this, tr("Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = m_document.undoStack()->createRedoAction(this, tr("Redo"));
    redo->setShortcut(QKeySequence("Ctrl+Shift+Z"));
    edit->addAction(undo);
    edit->addAction(redo);
    m_shortcuts.add(undo, tr("Edit / Undo"));
    m_shortcuts.add(redo, tr("Edit / Redo"));
    edit->addSeparator();
    const auto copyable = [this] {
        if (m_lanes->hasKeys()) return true;
        const auto kind = m_document.selection().kind;
        return kind != Selection::Nothing && kind != Selection::MusicSelected && kind != Selection::MarkerSelected;
    };
    const auto clips = [this] { return m_document.selection().kind == Selection::ClipSelected; };
    QAction* cut = addCommand(edit, tr("Cut out"), QKeySequence::Cut, [this] {
        copy();
        deleteSelected();
    });
    QAction* copyAction = addCommand(edit, tr("Copy"), QKeySequence::Copy, [this] { copy(); });
    QAction* pasteAction = addCommand(edit, tr("Paste"), QKeySequence::Paste, [this] { pasteClipboard(); });
    QAction* twice =
        addCommand(edit, tr("Duplicate"), QKeySequence("Ctrl+D"), [this] { duplicateSelection(m_document); });
    edit->addSeparator();
    QAction* remove = addCommand(edit, tr("Delete"), QKeySequence::Delete, [this] { deleteSelected(); });
    QAction* lift = addCommand(edit, tr("Delete and leave a gap"), QKeySequence("Ctrl+Del"),
                               [this] { deleteSelection(m_document, false); });
    edit->addSeparator();
    addCommand(edit, tr("Select all clips"), QKeySequence::SelectAll, [this] {
        if (m_lanes->hasFocusInside())
            selectAllKeys();
        else
            selectAllClips(m_document);
    });
    edit->addSeparator();
    addCommand(edit, tr("Settings of the program…"), QKeySequence::Preferences, [this] { editSettings(); });
    addCommand(edit, tr("Keys of the commands…"), {}, [this] { editShortcuts(); });
    enableWith(cut, copyable);
    enableWith(copyAction, copyable);
    enableWith(twice, [this, clips] { return clips() || m_document.selection().kind == Selection::OverlaySelected; });
    enableWith(remove, [this] { return m_lanes->hasKeys() || m_document.selection().kind != Selection::Nothing; });
    enableWith(lift, clips);
    m_editActions = {cut, copyAction, pasteAction, twice, remove, lift};
}

void MainWindow::buildViewMenu() {
    QMenu* view = m_menus->addMenu(tr("View"));
    auto* themes = new QActionGroup(this);
    for (const auto& [name, text] : {std::pair("night", tr("Night")), std::pair("day", tr("Day"))}) {
        QAction* a = addCommand(view, text, {}, [this, n = QString(name)] { setTheme(n); });
        a->setCheckable(true);
        a->setChecked(theme().name == name);
        themes->addAction(a);
    }
    view->addSeparator();
    QAction* assemble = addCommand(view, tr("Assemble"), QKeySequence("F6"), [this] { setAssembling(!m_assembling); });
    assemble->setCheckable(true);
    connect(view, &QMenu::aboutToShow, this, [this, assemble] { assemble->setChecked(m_assembling); });
    addCommand(view, tr("Reel: closer"), QKeySequence("Ctrl+Alt+Up"), [this] { m_reel->zoomBy(1.5); });
    addCommand(view, tr("Reel: farther"), QKeySequence("Ctrl+Alt+Down"), [this] { m_reel->zoomBy(1 / 1.5); });
    addCommand(view, tr("Reel: all of it"), QKeySequence("Ctrl+Alt+0"), [this] { m_reel->fit(); });
    QAction* snap = addCommand(view, tr("Edges cling to beats, cuts and markers"), QKeySequence("Ctrl+J"),
                               [this] { m_reel->setSnap(!m_reel->snaps()); });
    snap->setCheckable(true);
    connect(view, &QMenu::aboutToShow, this, [this, snap] { snap->setChecked(m_reel->snaps()); });
    QMenu* picture = view->addMenu(tr("Picture"));
    auto* modes = new QActionGroup(this);
    const std::pair<QString, QKeySequence> ways[] = {{tr("Frame"), QKeySequence("Alt+1")},
                                                     {tr("Surround"), QKeySequence("Alt+2")},
                                                     {tr("Faces"), QKeySequence("Alt+3")}};
    for (int i = 0; i < 3; ++i) {
        QAction* a =
            addCommand(picture, ways[i].first, ways[i].second, [this, i] { m_picture->setMode(PictureView::Mode(i)); });
        a->setCheckable(true);
        modes->addAction(a);
        connect(picture, &QMenu::aboutToShow, this, [this, a, i] { a->setChecked(int(m_picture->mode()) == i); });
    }
    addCommand(picture, tr("Contact sheet"), QKeySequence("Alt+4"), [this] { showSheet(); });
    addCommand(picture, tr("Full screen"), QKeySequence("F11"), [this] { showFullScreenPicture(); });
    const auto toggle = [this, picture](const QString& text, const QKeySequence& keys, bool (PictureView::*is)() const,
                                        void (PictureView::*set)(bool)) {
        QAction* a = addCommand(picture, text, keys, [this, is, set] { (m_picture->*set)(!(m_picture->*is)()); });
        a->setCheckable(true);
        connect(picture, &QMenu::aboutToShow, this, [this, a, is] { a->setChecked((m_picture->*is)()); });
    };
    picture->addSeparator();
    toggle(tr("Actual size, with a magnifier"), QKeySequence("Alt+0"), &PictureView::isActualSize,
           &PictureView::setActualSize);
    toggle(tr("Thirds"), {}, &PictureView::showsGrid, &PictureView::setGrid);
    toggle(tr("Safe areas"), {}, &PictureView::showsSafeAreas, &PictureView::setSafeAreas);
    toggle(tr("Where made-up pictures are guessed"), {}, &PictureView::showsTrust, &PictureView::setTrust);
    addCommand(picture, tr("Made-up pictures as mixed ones"), QKeySequence("Alt+M"), [this] { toggleMixed(); });
    addCommand(picture, tr("Without the selected move"), QKeySequence("Alt+B"), [this] { toggleWithout(); });
    QAction* handles = addCommand(picture, tr("Handles"), QKeySequence("Alt+H"),
                                  [this] { m_picture->setShowHandles(!m_picture->showsHandles()); });
    handles->setCheckable(true);
    connect(picture, &QMenu::aboutToShow, this, [this, handles] { handles->setChecked(m_picture->showsHandles()); });
    QAction* line = addCommand(view, tr("Flow line"), QKeySequence("F9"),
                               [this] { m_reel->setFlowLine(!m_reel->showsFlowLine()); });
    QAction* channels = addCommand(view, tr("Flow line of each channel"), {},
                                   [this] { m_reel->setFlowChannels(!m_reel->showsFlowChannels()); });
    line->setCheckable(true), channels->setCheckable(true);
    connect(view, &QMenu::aboutToShow, this, [this, line, channels] {
        line->setChecked(m_reel->showsFlowLine());
        channels->setChecked(m_reel->showsFlowChannels());
        channels->setEnabled(m_reel->showsFlowLine());
    });
    view->addSeparator();
    addCommand(view, tr("Fit the lanes"), QKeySequence("Ctrl+0"), [this] { m_lanes->fit(); });
    addCommand(view, tr("Lanes: closer"), QKeySequence::ZoomIn, [this] { m_lanes->zoomBy(1.25); });
    addCommand(view, tr("Lanes: farther"), QKeySequence::ZoomOut, [this] { m_lanes->zoomBy(1 / 1.25); });
    addCommand(view, tr("Lanes: earlier"), QKeySequence("Ctrl+PgUp"), [this] { m_lanes->panBy(-0.25); });
    addCommand(view, tr("Lanes: later"), QKeySequence("Ctrl+PgDown"), [this] { m_lanes->panBy(0.25); });
    addCommand(view, tr("Fit the selected keys"), QKeySequence("Ctrl+9"), [this] { m_lanes->fitSelection(); });
    const QString tabNames[] = {tr("Tray"),  tr("Clip"),    tr("Sound"),
                                tr("Beats"), tr("Recipes"), tr("Shutter and edges")};
    for (int i = 0; i < 6; ++i)
        addCommand(view, tabNames[i], QKeySequence(QStringLiteral("Ctrl+%1").arg(i + 1)),
                   [this, i] { m_tabs->showTab(i); });
}

void MainWindow::buildPlayMenu() {
    Document* d = &m_document;
    QMenu* play = m_menus->addMenu(tr("Play"));
    const auto playAs = [this](Player::Span span) {
        const bool same = m_player->span() == span;
        if (m_player->isPlaying() && same) return m_player->stop();
        m_player->setSpan(span);
        if (!m_player->isPlaying()) m_player->play();
    };
    addCommand(play, tr("Play the cut"), Qt::Key_Space, [playAs] { playAs(Player::CutSpan); });
    addCommand(play, tr("Play the reel"), QKeySequence("Shift+Space"), [playAs] { playAs(Player::ReelSpan); });
    addCommand(play, tr("Play the clip"), QKeySequence("Ctrl+Space"), [playAs] { playAs(Player::ClipSpan); });
    addCommand(play, tr("Play the marked span"), QKeySequence("Alt+Space"), [this, d, playAs] {
        if (d->marked()) return playAs(Player::MarkedSpan);
        m_notice->tell(tr("No span is marked."),
                       tr("Put the playhead where it begins and press B, where it ends and press E."));
    });
    const auto mark = [d](bool begin) {
        const auto at = d->playhead();
        const auto now = d->marked().value_or(std::pair(begin ? at : std::int64_t(0), reelLength(*d->project())));
        d->mark(begin ? std::pair(at, now.second > at ? now.second : reelLength(*d->project()))
                      : std::pair(now.first <= at ? now.first : std::int64_t(0), at + 1));
    };
    QMenu* marks = play->addMenu(tr("Marked span"));
    addCommand(marks, tr("Begins here"), Qt::Key_B, [mark] { mark(true); });
    addCommand(marks, tr("Ends here"), Qt::Key_E, [mark] { mark(false); });
    addCommand(marks, tr("Forget it"), {}, [d] { d->mark(std::nullopt); });
    QMenu* speeds = play->addMenu(tr("Speed of playing"));
    const std::pair<double, QString> slow[] = {
        {1.0, tr("Full")}, {0.5, tr("Half, silent")}, {0.25, tr("Quarter, silent")}};
    for (const auto& [speed, name] : slow) addCommand(speeds, name, {}, [this, v = speed] { m_player->setSpeed(v); });
    QMenu* parts = play->addMenu(tr("Shown while playing"));
    parts->setToolTipsVisible(true);
    const auto part = [&](const QString& text, const QString& tip, std::function<void()> set,
                          std::function<bool()> is) {
        QAction* a = addCommand(parts, text, {}, std::move(set));
        a->setCheckable(true);
        setTip(a, tip);
        connect(parts, &QMenu::aboutToShow, a, [a, is = std::move(is)] { a->setChecked(is()); });
    };
    const std::tuple<Player::Blur, QString, QString> blurs[] = {
        {Player::NoBlur, tr("No blur"), tr("Each frame as at one instant: the quickest")},
        {Player::DraftBlur, tr("Draft blur"), tr("Few samples: it may look grainy in fast places")},
        {Player::FullBlur, tr("Full blur"), tr("As exported; frames may be left out until they are ready")}};
    for (const auto& [blur, name, tip] : blurs)
        part(
            name, tip, [this, b = blur] { m_player->setBlur(b); }, [this, b = blur] { return m_player->blur() == b; });
    parts->addSeparator();
    part(
        tr("Finishing"), tr("Off, blurs and looks are left out while playing: the picture at rest keeps them"),
        [this] { m_player->setFinishes(!m_player->finishes()); }, [this] { return m_player->finishes(); });
    part(
        tr("Clips above the reel"), tr("Off, they are left out while playing: the picture at rest keeps them"),
        [this] { m_player->setShowsOverlays(!m_player->showsOverlays()); },
        [this] { return m_player->showsOverlays(); });
    m_transport->addToMenu(parts);
    addCommand(play, tr("Tap a beat"), Qt::Key_T, [this] { m_beats->tap(); });
    play->addSeparator();
    const auto step = [d](std::int64_t by) { d->setPlayhead(d->playhead() + by); };
    addCommand(play, tr("One frame back"), Qt::Key_Left, [step] { step(-1); });
    addCommand(play, tr("One frame forward"), Qt::Key_Right, [step] { step(1); });
    addCommand(play, tr("A large step back"), QKeySequence("Shift+Left"),
               [step] { step(-Preferences::kept().largeStep); });
    addCommand(play, tr("A large step forward"), QKeySequence("Shift+Right"),
               [step] { step(Preferences::kept().largeStep); });
    // Home and End of the selected clips or overlay, or of what is played around the cut.
    const auto span = [this, d]() -> std::pair<std::int64_t, std::int64_t> {
        const Selection s = d->selection();
        const auto project = d->project();
        if (s.kind == Selection::ClipSelected)
            return {clipStart(*project, s.all().front()), clipStart(*project, s.all().back() + 1)};
        if (s.kind == Selection::OverlaySelected) {
            const Overlay& o = project->overlays[std::size_t(s.index)];
            return {o.start, o.end()};
        }
        return m_player->range();
    };
    addCommand(play, tr("To the selection's start"), Qt::Key_Home, [d, span] { d->setPlayhead(span().first); });
    addCommand(play, tr("To the selection's end"), Qt::Key_End, [d, span] { d->setPlayhead(span().second - 1); });
}

void MainWindow::askLength() {
    if (chosenClips(m_document).empty()) return;
    LengthPopup popup(&m_document, this);
    connect(&popup, &LengthPopup::problem, this, [this](const QString& text) { m_notice->tell(tr("Beats"), text); });
    popup.exec();
}

void MainWindow::askCascade() {
    CascadeDialog dialog(&m_document, this);
    connect(&dialog, &CascadeDialog::problem, this,
            [this](const QString& text) { m_notice->tell(tr("Cascade"), text); });
    dialog.exec();
}

void MainWindow::rename() {
    m_tabs->showTab(ClipTab);
    m_selectionPanel->editName();
}

} // namespace virga
