#include "app/window/showing.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QPainter>
#include <QThread>

#include "app/window/main_window.h"
#include "app/window/notice_bar.h"
#include "app/window/project_files.h"

namespace virga {
namespace {

constexpr int smallest = 320, largest = 16384; // pixels of a side

std::optional<QSize> sizeOf(const QString& text) {
    const QStringList parts = text.split('x');
    bool wide = false, high = false;
    const QSize size(parts.value(0).toInt(&wide), parts.value(1).toInt(&high));
    const auto fits = [](int side) { return side >= smallest && side <= largest; };
    if (parts.size() != 2 || !wide || !high || !fits(size.width()) || !fits(size.height())) return std::nullopt;
    return size;
}

} // namespace

QString wrongIn(const QCommandLineParser& parser, const ShowingOptions& options) {
    if (!sizeOf(parser.value(options.size)))
        return QStringLiteral("--size %1: say it as WIDTHxHEIGHT, each from %2 to %3 pixels")
            .arg(parser.value(options.size))
            .arg(smallest)
            .arg(largest);
    for (const auto* option : {&options.cut, &options.clip, &options.frame}) {
        bool good = true;
        if (parser.isSet(*option)) (void)parser.value(*option).toLongLong(&good);
        if (!good)
            return QStringLiteral("--%1 %2: that is no whole number").arg(option->names()[0], parser.value(*option));
    }
    const QString theme = parser.value(options.theme);
    if (parser.isSet(options.theme) && theme != "night" && theme != "day")
        return QStringLiteral("--theme %1: there are night and day").arg(theme);
    return {};
}

QSize sizeIn(const QCommandLineParser& parser, const ShowingOptions& options) {
    return *sizeOf(parser.value(options.size));
}

QString openNamed(MainWindow& window, const QStringList& names) {
    if (names.size() == 1 && names[0].endsWith(".virga")) {
        const QString path = QFileInfo(names[0]).absoluteFilePath();
        window.files()->openSoon(path, false);
        while (window.files()->isReading()) QApplication::processEvents(QEventLoop::WaitForMoreEvents);
        return window.document()->path() == path ? QString() : window.notice()->text();
    }
    QStringList absolute;
    for (const QString& name : names) absolute << QFileInfo(name).absoluteFilePath();
    if (!absolute.isEmpty()) window.addFiles(absolute);
    settle(window);
    return {};
}

QString notThere(const QCommandLineParser& parser, const QCommandLineOption& option, qint64 count,
                 const QString& what) {
    if (!parser.isSet(option)) return {};
    bool good = false;
    const qint64 n = parser.value(option).toLongLong(&good);
    if (good && n >= 1 && n <= count) return {};
    return count > 0 ? QStringLiteral("there is no %1 %2; they are 1 to %3").arg(what, parser.value(option)).arg(count)
                     : QStringLiteral("there is no %1 here").arg(what);
}

QString selectIn(MainWindow& window, const QCommandLineParser& parser, const ShowingOptions& options) {
    Document* document = window.document();
    const auto project = document->project();
    for (const QString& missing :
         {notThere(parser, options.cut, cutCount(*project), QStringLiteral("cut")),
          notThere(parser, options.clip, qint64(project->reel.size()), QStringLiteral("clip"))})
        if (!missing.isEmpty()) return missing;
    const qint64 frame = parser.value(options.frame).toLongLong();
    if (parser.isSet(options.cut)) {
        const int cut = parser.value(options.cut).toInt() - 1;
        document->select({Selection::CutSelected, cut, {}});
        document->setPlayhead(cutFrame(*project, cut) + frame);
    } else if (parser.isSet(options.frame)) {
        document->setPlayhead(frame);
    }
    if (parser.isSet(options.clip))
        document->select({Selection::ClipSelected, parser.value(options.clip).toInt() - 1, {}});
    return {};
}

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

QString savePicture(MainWindow& window, const QString& file) {
    QPixmap picture = window.grab();
    for (QWidget* popup : QApplication::topLevelWidgets()) { // what is open over it
        if (popup->windowType() != Qt::Popup || !popup->isVisible()) continue;
        QPainter p(&picture);
        p.drawPixmap(window.mapFromGlobal(popup->pos()), popup->grab());
    }
    return picture.save(file) ? QString() : QStringLiteral("%1: the picture could not be written").arg(file);
}

} // namespace virga
