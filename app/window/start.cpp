#include "app/window/start.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QScreen>
#include <QSettings>
#include <cstdio>

#include "app/export/export_job.h"
#include "app/style/theme.h"
#include "app/window/main_window.h"
#include "app/window/manual.h"
#include "app/window/notice_bar.h"
#include "app/window/project_files.h"
#include "app/window/showing.h"
#include "core/base/version.h"

namespace virga {
namespace {

int complain(const QString& text) {
    std::fprintf(stderr, "virga: %s\n", qPrintable(text));
    return 2;
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
        code = complain(QString::fromStdString(describe(error)));
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

// Nobody is there to be asked: opens, shows, takes the picture, exports, and ends.
int runUnattended(MainWindow& window, const QCommandLineParser& parser, const ShowingOptions& showing,
                  const QString& shot, const QString& exported) {
    window.show();
    if (const QString problem = openNamed(window, parser.positionalArguments()); !problem.isEmpty())
        return complain(problem);
    if (const QString problem = selectIn(window, parser, showing); !problem.isEmpty()) return complain(problem);
    if (!shot.isEmpty()) {
        if (!settle(window)) complain(QStringLiteral("the window did not come to rest; the picture may not be final"));
        if (const QString problem = savePicture(window, shot); !problem.isEmpty()) return complain(problem);
    }
    return exported.isEmpty() ? 0 : exportTo(window, exported);
}

int runForUser(MainWindow& window, const QCommandLineParser& parser, const ShowingOptions& showing) {
    const QSettings settings;
    if (const QScreen* screen = window.screen()) // never larger than what is free
        window.resize(window.size().boundedTo(screen->availableGeometry().size()));
    if (!parser.isSet(showing.size) && settings.contains("geometry"))
        window.restoreGeometry(settings.value("geometry").toByteArray());
    window.windowLayout()->restore(settings.value("bands"));
    window.show();
    const QStringList names = parser.positionalArguments();
    if (names.size() == 1 && names[0].endsWith(".virga")) {
        window.files()->openSoon(QFileInfo(names[0]).absoluteFilePath());
        while (window.files()->isReading()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        if (!window.isVisible()) return 0; // closed meanwhile
    } else if (!names.isEmpty()) {
        QStringList absolute;
        for (const QString& name : names) absolute << QFileInfo(name).absoluteFilePath();
        window.addFiles(absolute);
    } else {
        window.files()->offerUntitledRecovery();
    }
    if (const QString problem = selectIn(window, parser, showing); !problem.isEmpty()) return complain(problem);
    return QApplication::exec();
}

} // namespace

int runApplication(int argc, char** argv) {
    QApplication::setStyle("Fusion");
    QApplication app(argc, argv);
    QApplication::setApplicationName("virga");
    QApplication::setApplicationDisplayName("Virga");
    QApplication::setApplicationVersion(version());
    QApplication::setOrganizationName("virga");
    QCommandLineParser parser;
    parser.setApplicationDescription("Makes a cut between two shots feel like one continuous camera move.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument("PROJECT", "The project to open", "[PROJECT]");
    parser.addPositionalArgument("FILE", "Or video, picture and sound files to begin with", "[FILE…]");
    const ShowingOptions showing;
    const QCommandLineOption shot("shot", "Show the window, save its picture to FILE, and end.", "FILE"),
        exportFile("export", "Export the piece to FILE and end.", "FILE");
    QCommandLineOption manual("manual", "Print the manual page.");
    manual.setFlags(QCommandLineOption::HiddenFromHelp);
    const QList<QCommandLineOption> options = QList{shot} + showing.all() + QList{exportFile, manual};
    parser.addOptions(options);
    parser.process(app);
    if (parser.isSet(manual)) {
        std::fputs(manualPage(parser.applicationDescription(), options).c_str(), stdout);
        return 0;
    }
    if (const QString problem = wrongIn(parser, showing); !problem.isEmpty()) return complain(problem);
    const bool unattended = parser.isSet(shot) || parser.isSet(exportFile);
    useTheme(parser.isSet(showing.theme) ? parser.value(showing.theme)
             : unattended                ? QStringLiteral("night")
                                         : QSettings().value("theme", "night").toString());
    MainWindow window;
    window.resize(sizeIn(parser, showing));
    return unattended ? runUnattended(window, parser, showing, parser.value(shot), parser.value(exportFile))
                      : runForUser(window, parser, showing);
}

} // namespace virga
