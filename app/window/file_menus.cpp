// The menus File, Edit and Help.
#include <QMenu>
#include <QMessageBox>
#include <QUndoStack>

#include "app/commands/reel_commands.h"
#include "app/lanes/lanes_view.h"
#include "app/style/plain_text.h"
#include "app/window/clipboard_actions.h"
#include "app/window/command_table.h"
#include "app/window/export_actions.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/media_files.h"
#include "app/window/menus.h"
#include "app/window/piece_dialog.h"
#include "app/window/project_files.h"
#include "app/window/services.h"
#include "app/window/settings_dialog.h"
#include "app/window/shortcuts_dialog.h"
#include "core/base/version.h"

namespace virga {

void addFileCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    ProjectFiles* files = w->files();
    MediaFiles* media = w->media();
    const auto anything = [d] { return !d->project()->reel.empty(); };
    const auto anyMedia = [d] { return !d->project()->media.empty(); };
    const QString file = t.tr("File");
    t.in({file});
    t.add("file.new", t.tr("New"), QKeySequence::New, [files] { files->startNew(); });
    t.add("file.open", t.tr("Open…"), QKeySequence::Open, [files] { files->chooseAndOpen(); });
    QMenu* recent = t.menu({file, t.tr("Recent")});
    QObject::connect(recent, &QMenu::aboutToShow, files, [files, recent] { files->fillRecent(recent); });
    t.add("file.demo", t.tr("Open the demo"), {}, [files] { files->openDemo(); });
    t.separator();
    t.add("file.save", t.tr("Save"), QKeySequence::Save, [files] { files->saveSoon(); });
    t.add("file.save-as", t.tr("Save as…"), QKeySequence("Ctrl+Shift+S"), [files] { files->saveAs(); });
    t.add(
        "file.collect", t.tr("Collect media beside the project…"), {}, [media] { media->chooseCollect(); }, anyMedia);
    t.separator();
    t.add("file.piece", t.tr("The piece's size, rate, background…"), {}, [d, w] { PieceDialog(d, w).exec(); });
    t.add("file.add-shots", t.tr("Add shots…"), QKeySequence("Ctrl+I"), [w] { w->chooseFiles(); });
    t.add("file.read-edit", t.tr("Read an edit…"), {}, [media] { media->chooseEditToRead(); });
    t.separator();
    t.add(
        "file.export", t.tr("Export…"), QKeySequence("Ctrl+E"), [w] { w->exporting()->show(); }, anything);
    t.add(
        "file.write-otio", t.tr("Write OpenTimelineIO…"), {}, [media] { media->chooseEditToWrite(true); }, anything);
    t.add(
        "file.write-edl", t.tr("Write an edit list…"), {}, [media] { media->chooseEditToWrite(false); }, anything);
    t.separator();
    t.add("file.quit", t.tr("Quit"), QKeySequence("Ctrl+Q"), [w] { w->close(); });
}

void addEditCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    LanesView* lanes = w->views().lanes;
    const auto copyable = [d, lanes] {
        if (lanes->hasKeys()) return true;
        const auto kind = d->selection().kind;
        return kind != Selection::Nothing && kind != Selection::MusicSelected && kind != Selection::MarkerSelected;
    };
    const auto clips = [d] { return d->selection().kind == Selection::ClipSelected; };
    t.in({t.tr("Edit")});
    t.take("edit.undo", d->undoStack()->createUndoAction(w, t.tr("Undo")), QKeySequence::Undo);
    t.take("edit.redo", d->undoStack()->createRedoAction(w, t.tr("Redo")), QKeySequence("Ctrl+Shift+Z"));
    t.separator();
    t.add(
        "edit.cut", t.tr("Cut out"), QKeySequence::Cut,
        [d, lanes] {
            copySelected(*d, *lanes);
            deleteSelected(*d, *lanes);
        },
        copyable);
    t.add(
        "edit.copy", t.tr("Copy"), QKeySequence::Copy, [d, lanes] { copySelected(*d, *lanes); }, copyable);
    t.add("edit.paste", t.tr("Paste"), QKeySequence::Paste,
          [d, lanes, w] { pasteClipboard(*d, *lanes, *w->notice()); });
    t.add(
        "edit.duplicate", t.tr("Duplicate"), QKeySequence("Ctrl+D"), [d] { duplicateSelection(*d); },
        [d, clips] { return clips() || d->selection().kind == Selection::OverlaySelected; });
    t.separator();
    t.add(
        "edit.delete", t.tr("Delete"), QKeySequence::Delete, [d, lanes] { deleteSelected(*d, *lanes); },
        [d, lanes] { return lanes->hasKeys() || d->selection().kind != Selection::Nothing; });
    t.add(
        "edit.lift", t.tr("Delete and leave a gap"), QKeySequence("Ctrl+Del"), [d] { deleteSelection(*d, false); },
        clips);
    t.separator();
    t.add("edit.select-all", t.tr("Select all clips"), QKeySequence::SelectAll, [d, lanes] {
        if (lanes->hasFocusInside())
            selectAllKeys(*lanes);
        else
            selectAllClips(*d);
    });
    t.separator();
    t.add("edit.settings", t.tr("Settings of the program…"), QKeySequence::Preferences,
          [w] { SettingsDialog(w).exec(); });
    t.add("edit.keys", t.tr("Keys of the commands…"), {}, [w] { ShortcutsDialog(w->commands(), w).exec(); });
}

void addHelpCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    t.in({t.tr("Help")});
    t.add("help.how", t.tr("How it works"), QKeySequence::HelpContents, [&t, w] {
        MessageBox box(QMessageBox::NoIcon, t.tr("How it works"), {}, QMessageBox::Ok, w);
        showOwnMarkup(
            &box,
            t.tr("<p><b>Pick a cut</b> in the Reel: a round joint between two clips.</p><p><b>Give it a move</b>: a "
                 "recipe, or <i>+ move</i> in the Lanes. The amber curve moves the outgoing shot, the aqua one the "
                 "incoming shot, counted in frames from the cut.</p><p><b>Shape it</b>: drag the drops; their tips are "
                 "the values. Click one to see its handles; right-click a curve for other shapes; pull the edge of its "
                 "fill to shape it by speed.</p><p><b>Check it</b>: step with ← and →, play with Space, read what Flow "
                 "found.</p><p><b>Export</b> it at the top right.</p>"));
        box.exec();
    });
    t.add("help.about", t.tr("About Virga"), {}, [&t, w] {
        MessageBox box(QMessageBox::NoIcon, t.tr("About Virga"), {}, QMessageBox::Ok, w);
        showOwnMarkup(&box, t.tr("<b>Virga %1</b><p>Makes a cut between two shots feel like one continuous camera "
                                 "move.</p><p>Free software under the GNU General Public License, version 3 or later. "
                                 "The fonts Inter and JetBrains Mono come under the SIL Open Font License.</p>")
                                .arg(version()));
        box.exec();
    });
}

} // namespace virga
