// Takes pictures of the window, and of its dialogs, for the documents: each kind of view is brought up, waited for and
// saved. Usage: window_shots --shot FILE [options] [PROJECT | FILE...]; tools/shots says how each picture is made.
#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QTemporaryDir>
#include <QToolButton>
#include <cstdio>
#include <functional>

#include "app/commands/reel_commands.h"
#include "app/export/export_dialog.h"
#include "app/find_cuts/find_cuts_dialog.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/style/theme.h"
#include "app/trace/trace_compare.h"
#include "app/trace/trace_dialog.h"
#include "app/window/main_window.h"
#include "app/window/notice_bar.h"
#include "app/window/showing.h"
#include "app/window/tab_panel.h"
#include "core/base/file.h"

using namespace virga;

namespace {

int complain(const QString& text) {
    std::fprintf(stderr, "window_shots: %s\n", qPrintable(text));
    return 2;
}

// Handles events until something is reached, at most so long.
bool until(const std::function<bool()>& reached, int milliseconds) {
    QElapsedTimer clock;
    clock.start();
    while (!reached()) {
        if (clock.elapsed() > milliseconds) return false;
        QApplication::processEvents(QEventLoop::AllEvents, 50);
    }
    return true;
}
// The same until nothing has been busy for a while.
bool untilRest(const std::function<bool()>& busy, int rest, int milliseconds) {
    QElapsedTimer calm;
    calm.start();
    return until(
        [&] {
            if (busy()) calm.restart();
            return calm.elapsed() >= rest;
        },
        milliseconds);
}

int save(QWidget& dialog, const QString& file) {
    return dialog.grab().save(file) ? 0 : complain(QStringLiteral("%1 cannot be written").arg(file));
}

// The dialog when it has found what there is to find.
int shotOfCuts(MainWindow& window, const std::string& id, const QString& file) {
    Thumbnails pictures;
    FindCutsDialog dialog(window.document(), &pictures, id, &window);
    dialog.show();
    untilRest([&] { return dialog.isSearching(); }, 1000, 600000);
    until([&] { return pictures.isIdle(); }, 60000);
    return save(dialog, file);
}

// The dialog when the first transition of a video has been read and is seen on the reel's own cut.
int shotOfTrace(MainWindow& window, const QString& video, const QString& file) {
    if (const auto may = mayRead(video.toStdString()); !may)
        return complain(QString::fromStdString(describe(may.error())));
    const auto& media = [&]() -> const auto& {
        return window.document()->project()->media;
    };
    const std::size_t before = media().size();
    window.addFiles({video}, toTray);
    until([&] { return media().size() > before || !window.notice()->text().isEmpty(); }, 60000);
    if (media().size() == before)
        return complain(QStringLiteral("%1 cannot be read. %2").arg(video, window.notice()->text()));
    RecipeShelf shelf;
    TraceDialog dialog(window.document(), &shelf, media().back().id, -1, &window);
    dialog.show();
    untilRest([&] { return dialog.isBusy(); }, 400, 600000);
    dialog.compare()->setPlaying(false);
    dialog.compare()->setFrame(-2);
    QApplication::processEvents();
    return save(dialog, file);
}

// One export that is done, one that runs, one that waits.
int shotOfExport(MainWindow& window, const QString& file) {
    const QTemporaryDir folder;
    ExportQueue queue;
    ExportDialog dialog(window.document(), &queue, &window);
    dialog.show();
    const auto add = [&](const ExportPreset& preset, const char* name, std::int64_t to) {
        PartsSettings settings;
        static_cast<ExportSettings&>(settings) = settingsOf(preset, *window.document()->project());
        settings.path = folder.filePath(name).toStdString();
        settings.to = to;
        return queue.add(window.document()->project(), settings);
    };
    const int done = add(builtInPresets()[3], "lantern-regatta-draft.mp4", 40);
    until([&] { return queue.find(done)->isOver(); }, 60000);
    const int runs = add(builtInPresets()[2], "lantern-regatta-master.mkv", -1);
    add(builtInPresets()[1], "lantern-regatta-hand-over.mov", -1);
    until([&] { return queue.find(runs)->done > 20; }, 60000);
    const int code = save(dialog, file);
    queue.cancelAll();
    return code;
}

struct Options {
    ShowingOptions showing;
    QCommandLineOption shot{"shot", "Save the picture to FILE.", "FILE"},
        adjustment{"adjustment", "Select this adjustment, counted from 1.", "N"},
        tab{"tab", "Show this tab, counted from 1.", "N"}, assemble{"assemble", "Show the tall Reel and the Tray."},
        zoom{"zoom", "Show the Reel so many times larger, around the playhead.", "FACTOR"},
        findCuts{"find-cuts", "The cuts found in the N-th media, counted from 1.", "N"},
        trace{"trace", "The first transition of the video FILE, read.", "FILE"},
        exporting{"export-dialog", "The dialog for exporting."},
        shapes{"shapes", "Open the field of shapes for this lane's outgoing side, counted from 1.", "N"},
        moves{"moves", "Open the field of moves to add."},
        unfold{"unfold", "Unfold what does not change over time of this lane, counted from 1.", "N"},
        findings{"findings", "Show the findings of the whole reel."},
        picture{"picture", "Show the picture as: frame, surround or faces.", "MODE"},
        sheet{"sheet", "Show the contact sheet."}, mend{"mend", "Mend all that is safe in the reel."},
        recipes{"recipes", "Show the recipes in large, with this one chosen.", "ID"},
        lanesHeight{"lanes-height", "Give the Lanes that many pixels.", "PIXELS"};
    QList<QCommandLineOption> all() const {
        return showing.all() + QList{shot,    adjustment, tab,    assemble, zoom,       findCuts,
                                     trace,   exporting,  shapes, moves,    unfold,     findings,
                                     picture, sheet,      mend,   recipes,  lanesHeight};
    }
};

// Brings up what the options say.
QString show(MainWindow& window, const QCommandLineParser& parser, const Options& o) {
    Document* document = window.document();
    const Views& views = window.views();
    if (const QString problem = selectIn(window, parser, o.showing); !problem.isEmpty()) return problem;
    if (const QString problem =
            notThere(parser, o.adjustment, qint64(document->project()->adjustments.size()), "adjustment");
        !problem.isEmpty())
        return problem;
    if (parser.isSet(o.adjustment))
        document->select({Selection::AdjustmentSelected, parser.value(o.adjustment).toInt() - 1, {}});
    if (parser.isSet(o.assemble)) window.windowLayout()->setAssembling(true);
    QApplication::processEvents();
    if (parser.isSet(o.zoom)) views.reel->zoomBy(parser.value(o.zoom).toDouble());
    if (parser.isSet(o.tab)) views.tabs->showTab(parser.value(o.tab).toInt() - 1);
    if (parser.isSet(o.lanesHeight)) window.windowLayout()->setLanesHeight(parser.value(o.lanesHeight).toInt());
    QApplication::processEvents();
    LaneContext* lanes = views.lanes->context();
    if (parser.isSet(o.shapes)) {
        lanes->select(keysOfLane(*document->project(), lanes->place(), parser.value(o.shapes).toInt() - 1, 0));
        QApplication::processEvents();
        views.lanes->openShapes();
    }
    if (parser.isSet(o.unfold)) {
        const int move = parser.value(o.unfold).toInt() - 1;
        LaneLook look = lanes->look(move, 0);
        look.parameters = true;
        lanes->setLook(move, 0, look);
        QApplication::processEvents();
    }
    if (parser.isSet(o.picture))
        views.picture->setMode(parser.value(o.picture) == "surround" ? PictureView::SurroundMode
                               : parser.value(o.picture) == "faces"  ? PictureView::FacesMode
                                                                     : PictureView::FrameMode);
    if (parser.isSet(o.sheet)) window.windowLayout()->showSheet();
    if (parser.isSet(o.recipes)) window.windowLayout()->showRecipes(parser.value(o.recipes));
    if (parser.isSet(o.findings)) views.flow->showReel(true);
    if (parser.isSet(o.mend)) views.flow->mendReel();
    if (parser.isSet(o.moves)) views.lanes->offerMoves(views.lanes->addButton());
    return {};
}

} // namespace

int main(int argc, char** argv) {
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    QApplication::setApplicationName("virga"); // with its settings
    QApplication::setOrganizationName("virga");
    QCommandLineParser parser;
    parser.addHelpOption();
    const Options o;
    parser.addOptions(o.all());
    parser.process(app);
    if (const QString problem = wrongIn(parser, o.showing); !problem.isEmpty()) return complain(problem);
    const QString file = parser.value(o.shot);
    if (file.isEmpty()) return complain("say with --shot where the picture goes");
    useTheme(parser.isSet(o.showing.theme) ? parser.value(o.showing.theme) : QStringLiteral("night"));
    MainWindow window;
    window.resize(sizeIn(parser, o.showing));
    window.show();
    if (const QString problem = openNamed(window, parser.positionalArguments()); !problem.isEmpty())
        return complain(problem);
    if (const QString problem = show(window, parser, o); !problem.isEmpty()) return complain(problem);
    const auto& media = window.document()->project()->media;
    if (const QString problem = notThere(parser, o.findCuts, qint64(media.size()), "media"); !problem.isEmpty())
        return complain(problem);
    if (parser.isSet(o.findCuts))
        return shotOfCuts(window, media[std::size_t(parser.value(o.findCuts).toInt()) - 1].id, file);
    if (parser.isSet(o.trace)) return shotOfTrace(window, parser.value(o.trace), file);
    if (parser.isSet(o.exporting)) return shotOfExport(window, file);
    if (!settle(window)) complain("the window did not come to rest; the picture may not be final");
    const QString problem = savePicture(window, file);
    return problem.isEmpty() ? 0 : complain(problem);
}
