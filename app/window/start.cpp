#include "app/window/start.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QPainter>
#include <QScreen>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>
#include <QToolButton>
#include <cstdio>

#include "app/commands/reel_commands.h"
#include "app/export/export_dialog.h"
#include "app/export/export_job.h"
#include "app/find_cuts/find_cuts_dialog.h"
#include "app/flow/flow_panel.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/style/theme.h"
#include "app/trace/trace_compare.h"
#include "app/trace/trace_dialog.h"
#include "app/window/main_window.h"
#include "app/window/manual.h"
#include "app/window/movement_actions.h"
#include "app/window/notice_bar.h"
#include "app/window/project_files.h"
#include "app/window/tab_panel.h"
#include "core/base/file.h"

namespace virga {
namespace {

void complain(const QString& text) {
    std::fprintf(stderr, "virga: %s\n", qPrintable(text));
}

// Waits until everything shown is final, at most two minutes.
bool settle(MainWindow& window) {
    QElapsedTimer clock;
    clock.start();
    int calm = 0;
    while (calm < 4 && clock.elapsed() < 120000) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 60);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QThread::msleep(60);
        calm = window.isSettled() ? calm + 1 : 0;
    }
    return calm >= 4;
}

int takeShot(MainWindow& window, const QString& file) {
    if (!settle(window)) complain(QStringLiteral("the window did not come to rest; the picture may not be final"));
    QPixmap picture = window.grab();
    for (QWidget* popup : QApplication::topLevelWidgets()) { // what is open over it
        if (popup->windowType() != Qt::Popup || !popup->isVisible()) continue;
        QPainter p(&picture);
        p.drawPixmap(window.mapFromGlobal(popup->pos()), popup->grab());
    }
    if (!picture.save(file)) {
        complain(QStringLiteral("%1: the picture could not be written").arg(file));
        return 2;
    }
    return 0;
}

int exportTo(MainWindow& window, const QString& file) {
    PartsSettings settings;
    settings.path = file.toStdString();
    if (const FormatInfo* info = formatByEnding(endingOf(settings.path))) settings.format = info->format;
    ExportJob job(window.document()->project(), settings, ExportKind::Whole);
    QEventLoop loop;
    int code = 0;
    QObject::connect(&job, &ExportJob::finished, &loop, &QEventLoop::quit);
    QObject::connect(&job, &ExportJob::failed, &loop, [&](const Error& error) {
        complain(QString::fromStdString(describe(error)));
        code = 2;
        loop.quit();
    });
    QObject::connect(&job, &ExportJob::progress, &loop, [told = QElapsedTimer()](qint64 done, qint64 all) mutable {
        if (told.isValid() && told.elapsed() < 200 && done < all) return;
        told.start();
        std::printf("%lld/%lld frames\n", static_cast<long long>(done), static_cast<long long>(all));
        std::fflush(stdout);
    });
    job.start();
    loop.exec();
    return code;
}

// The dialog when it has found what there is to find.
int shotOfCuts(MainWindow& window, const std::string& id, const QString& file) {
    Thumbnails pictures;
    FindCutsDialog dialog(window.document(), &pictures, id, &window);
    dialog.show();
    QElapsedTimer rest;
    rest.start();
    while (dialog.isSearching() || !pictures.isIdle() || rest.elapsed() < 1000) {
        QApplication::processEvents(QEventLoop::AllEvents, 50);
        if (dialog.isSearching()) rest.restart();
    }
    if (dialog.grab().save(file)) return 0;
    complain(QStringLiteral("%1 cannot be written").arg(file));
    return 1;
}

// The dialog when the first transition of a video has been read and is seen on the reel's own cut.
int shotOfTrace(MainWindow& window, const QString& video, const QString& file) {
    if (const auto may = mayRead(video.toStdString()); !may) {
        complain(QString::fromStdString(describe(may.error())));
        return 2;
    }
    window.addFiles({video}, toTray);
    QElapsedTimer rest;
    rest.start();
    const auto& media = [&]() -> const auto& {
        return window.document()->project()->media;
    };
    const std::size_t before = media().size();
    bool failed = false;
    while (media().size() == before && !failed && rest.elapsed() < 60000) {
        QApplication::processEvents(QEventLoop::AllEvents, 50);
        failed = !window.notice()->text().isEmpty(); // it says why
    }
    if (media().size() == before) {
        complain(failed ? window.notice()->text() : QStringLiteral("%1 cannot be read").arg(video));
        return 2;
    }
    RecipeShelf shelf;
    TraceDialog dialog(window.document(), &shelf, media().back().id, -1, &window);
    dialog.show();
    rest.restart();
    QElapsedTimer whole;
    whole.start();
    constexpr int longest = 600000; // ms
    while ((dialog.isBusy() || rest.elapsed() < 400) && whole.elapsed() < longest) {
        QApplication::processEvents(QEventLoop::AllEvents, 50);
        if (dialog.isBusy()) rest.restart();
    }
    dialog.compare()->setPlaying(false);
    dialog.compare()->setFrame(-2);
    QApplication::processEvents();
    if (dialog.grab().save(file)) return 0;
    complain(QStringLiteral("%1 cannot be written").arg(file));
    return 1;
}

QElapsedTimer started() {
    QElapsedTimer clock;
    clock.start();
    return clock;
}

int shotOfExport(MainWindow& window, const QString& file) {
    const QTemporaryDir folder;
    ExportQueue queue;
    ExportDialog dialog(window.document(), &queue, &window);
    dialog.show();
    // One that is done, one that runs, one that waits.
    const auto add = [&](const ExportPreset& preset, const char* name, std::int64_t to) {
        PartsSettings settings;
        static_cast<ExportSettings&>(settings) = settingsOf(preset, *window.document()->project());
        settings.path = folder.filePath(name).toStdString();
        settings.to = to;
        return queue.add(window.document()->project(), settings);
    };
    const auto until = [](const std::function<bool()>& reached) {
        for (QElapsedTimer clock = started(); !reached() && clock.elapsed() < 60000;)
            QApplication::processEvents(QEventLoop::AllEvents, 20);
    };
    const int done = add(builtInPresets()[3], "lantern-regatta-draft.mp4", 40);
    until([&] { return queue.find(done)->isOver(); });
    const int runs = add(builtInPresets()[2], "lantern-regatta-master.mkv", -1);
    add(builtInPresets()[1], "lantern-regatta-hand-over.mov", -1);
    until([&] { return queue.find(runs)->done > 20; });
    const QPixmap picture = dialog.grab();
    queue.cancelAll();
    if (picture.save(file)) return 0;
    complain(QStringLiteral("%1 cannot be written").arg(file));
    return 1;
}

} // namespace

int runApplication(int argc, char** argv) {
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    QApplication::setApplicationName("virga");
    QApplication::setApplicationDisplayName("Virga");
    QApplication::setApplicationVersion("0.1.0");
    QApplication::setOrganizationName("virga");
    QCommandLineParser parser;
    parser.setApplicationDescription("Makes a cut between two shots feel like one continuous camera move.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("PROJECT", "The project to open", "[PROJECT]");
    parser.addPositionalArgument("FILE", "Or video, picture and sound files to begin with", "[FILE…]");
    const QCommandLineOption shot("shot", "Show the window, save its picture to FILE, and end.", "FILE"),
        size("size", "Size of the window, as WIDTHxHEIGHT.", "SIZE", "1280x800"),
        cut("cut", "Select this cut, counted from 1.", "N"),
        frame("frame", "Put the playhead on this frame: of the reel, or with --cut from the cut.", "F"),
        themeName("theme", "night or day.", "NAME"), tab("tab", "Show this tab, counted from 1.", "N"),
        clip("clip", "Select this clip, counted from 1.", "N"),
        adjustment("adjustment", "Select this adjustment, counted from 1.", "N"),
        assemble("assemble", "Show the tall Reel and the Tray."),
        zoom("zoom", "Show the Reel so many times larger, around the playhead.", "FACTOR"),
        findCutsIn("find-cuts", "Show the cuts found in the N-th media, counted from 1; with --shot its picture.", "N"),
        traceIn("trace", "Read the first transition of the video FILE; only with --shot, its picture.", "FILE"),
        exportDialog("export-dialog", "With --shot: the picture of the dialog for exporting."),
        shapes("shapes", "Open the field of shapes for this lane's outgoing side, counted from 1.", "N"),
        moves("moves", "Open the field of moves to add."),
        unfold("unfold", "Unfold what does not change over time of this lane, counted from 1.", "N"),
        findings("findings", "Show the findings of the whole reel."),
        pictureMode("picture", "Show the picture as: frame, surround or faces.", "MODE"),
        sheet("sheet", "Show the contact sheet."), mend("mend", "Mend all that is safe in the reel."),
        recipes("recipes", "Show the recipes in large, with this one chosen.", "ID"),
        lanesHeight("lanes-height", "Give the Lanes that many pixels.", "PIXELS"),
        exportFile("export", "Export the piece to FILE and end.", "FILE");
    QCommandLineOption manual("manual", "Print the manual page.");
    manual.setFlags(QCommandLineOption::HiddenFromHelp);
    const QList<QCommandLineOption> options{shot,      size,        cut,        clip,     adjustment,  frame,
                                            themeName, tab,         assemble,   zoom,     findCutsIn,  exportDialog,
                                            shapes,    moves,       unfold,     findings, pictureMode, sheet,
                                            mend,      lanesHeight, exportFile, recipes,  traceIn,     manual};
    parser.addOptions(options);
    parser.process(app);
    if (parser.isSet(manual)) {
        std::fputs(manualPage(parser.applicationDescription(), options).c_str(), stdout);
        return 0;
    }
    const bool batch = parser.isSet(shot) || parser.isSet(exportFile);
    QSettings settings;
    useTheme(parser.isSet(themeName) ? parser.value(themeName)
             : batch                 ? QStringLiteral("night")
                                     : settings.value("theme", "night").toString());

    MainWindow window;
    const QStringList wh = parser.value(size).split('x');
    window.resize(wh.value(0).toInt() > 0 ? wh.value(0).toInt() : 1280,
                  wh.value(1).toInt() > 0 ? wh.value(1).toInt() : 800);
    if (const QScreen* screen = window.screen(); screen && !batch) // never larger than what is free
        window.resize(window.size().boundedTo(screen->availableGeometry().size()));
    if (!batch && !parser.isSet(size) && settings.contains("geometry"))
        window.restoreGeometry(settings.value("geometry").toByteArray());
    if (!batch) window.windowLayout()->restore(settings.value("bands"));
    window.show();
    const QStringList names = parser.positionalArguments();
    if (names.size() == 1 && names[0].endsWith(".virga")) {
        const QString path = QFileInfo(names[0]).absoluteFilePath();
        window.files()->openSoon(path, !batch);
        while (window.files()->isReading()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        if (!window.isVisible()) return 0; // closed meanwhile
        if (batch && window.document()->path() != path) {
            complain(window.notice()->text());
            return 2;
        }
    } else if (!names.isEmpty()) {
        QStringList absolute;
        for (const QString& name : names) absolute << QFileInfo(name).absoluteFilePath();
        window.addFiles(absolute);
        if (batch) settle(window);
    } else if (!batch) {
        window.files()->offerUntitledRecovery();
    }
    Document* document = window.document();
    // A number that is not there: said, with those that are.
    const auto isThere = [&](const QCommandLineOption& option, qint64 count, const char* what) {
        bool good = false;
        const qint64 n = parser.isSet(option) ? parser.value(option).toLongLong(&good) : 1;
        if (!parser.isSet(option) || (good && n >= 1 && n <= count)) return true;
        complain(count > 0 ? QStringLiteral("there is no %1 %2; they are 1 to %3")
                                 .arg(QLatin1String(what), parser.value(option))
                                 .arg(count)
                           : QStringLiteral("there is no %1 here").arg(QLatin1String(what)));
        return false;
    };
    const auto project = document->project();
    if (!isThere(cut, cutCount(*project), "cut") || !isThere(clip, qint64(project->reel.size()), "clip") ||
        !isThere(adjustment, qint64(project->adjustments.size()), "adjustment"))
        return 2;
    if (parser.isSet(cut)) {
        document->select({Selection::CutSelected, parser.value(cut).toInt() - 1, {}});
        if (document->cut() >= 0)
            document->setPlayhead(cutFrame(*document->project(), document->cut()) + parser.value(frame).toInt());
    } else if (parser.isSet(frame)) {
        document->setPlayhead(parser.value(frame).toLongLong());
    }
    if (parser.isSet(clip)) document->select({Selection::ClipSelected, parser.value(clip).toInt() - 1, {}});
    if (parser.isSet(adjustment))
        document->select({Selection::AdjustmentSelected, parser.value(adjustment).toInt() - 1, {}});
    if (parser.isSet(assemble)) window.windowLayout()->setAssembling(true);
    QApplication::processEvents();
    if (parser.isSet(zoom)) window.views().reel->zoomBy(parser.value(zoom).toDouble());
    if (parser.isSet(tab)) window.views().tabs->showTab(parser.value(tab).toInt() - 1);
    if (parser.isSet(lanesHeight)) {
        window.windowLayout()->setLanesHeight(parser.value(lanesHeight).toInt());
        QApplication::processEvents();
    }
    if (parser.isSet(shapes)) {
        LaneContext* lanes = window.views().lanes->context();
        lanes->select(keysOfLane(*document->project(), lanes->place(), parser.value(shapes).toInt() - 1, 0));
        QApplication::processEvents();
        window.views().lanes->openShapes();
    }
    if (parser.isSet(unfold)) {
        LaneContext* lanes = window.views().lanes->context();
        const int move = parser.value(unfold).toInt() - 1;
        LaneLook look = lanes->look(move, 0);
        look.parameters = true;
        lanes->setLook(move, 0, look);
        QApplication::processEvents();
    }
    if (parser.isSet(pictureMode))
        window.views().picture->setMode(parser.value(pictureMode) == "surround" ? PictureView::SurroundMode
                                        : parser.value(pictureMode) == "faces"  ? PictureView::FacesMode
                                                                                : PictureView::FrameMode);
    if (parser.isSet(sheet)) window.windowLayout()->showSheet();
    if (parser.isSet(recipes)) window.windowLayout()->showRecipes(parser.value(recipes));
    if (parser.isSet(findings)) window.views().flow->showReel(true);
    if (parser.isSet(mend)) window.views().flow->mendReel();
    if (parser.isSet(moves)) window.views().lanes->offerMoves(window.views().lanes->addButton());
    if (parser.isSet(findCutsIn)) {
        const int n = parser.value(findCutsIn).toInt();
        const auto& media = document->project()->media;
        if (n < 1 || n > int(media.size())) {
            complain(QStringLiteral("there is no media %1").arg(n));
            return 2;
        }
        if (batch) return shotOfCuts(window, media[std::size_t(n) - 1].id, parser.value(shot));
        window.movement()->findCuts(QString::fromStdString(media[std::size_t(n) - 1].id));
    }
    if (parser.isSet(traceIn) && !parser.isSet(shot)) {
        complain(QStringLiteral("--trace makes a picture: say its file with --shot"));
        return 2;
    }
    if (parser.isSet(traceIn)) return shotOfTrace(window, parser.value(traceIn), parser.value(shot));
    if (!batch) return QApplication::exec();
    if (parser.isSet(shot) && parser.isSet(exportDialog)) return shotOfExport(window, parser.value(shot));
    int code = 0;
    if (parser.isSet(shot)) code = takeShot(window, parser.value(shot));
    if (code == 0 && parser.isSet(exportFile)) code = exportTo(window, parser.value(exportFile));
    return code;
}

} // namespace virga
