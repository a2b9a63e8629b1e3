#pragma once
// What the command line wants to be seen: options, the files that are opened, what is selected, and the picture that is
// taken of it. Shared by the program and by what draws the documents' pictures. Texts that are returned say what is the
// matter; they are empty where nothing is.
#include <QCommandLineOption>
#include <QList>
#include <QSize>
#include <QString>
#include <optional>

class QCommandLineParser;
class QWidget;

namespace virga {

class MainWindow;

struct ShowingOptions {
    QCommandLineOption size{"size", "Size of the window, as WIDTHxHEIGHT.", "SIZE", "1280x800"},
        cut{"cut", "Select this cut, counted from 1.", "N"}, clip{"clip", "Select this clip, counted from 1.", "N"},
        frame{"frame", "Put the playhead on this frame: of the reel, or with --cut from the cut.", "F"},
        theme{"theme", "night or day.", "NAME"};
    QList<QCommandLineOption> all() const { return {size, cut, clip, frame, theme}; }
};

/// Values that are no size, number or theme.
QString wrongIn(const QCommandLineParser& parser, const ShowingOptions& options);
/// REQUIRES: nothing is wrong.
QSize sizeIn(const QCommandLineParser& parser, const ShowingOptions& options);

/// Opens a project, or brings files in, and waits until they are there.
QString openNamed(MainWindow& window, const QStringList& names);
QString selectIn(MainWindow& window, const QCommandLineParser& parser, const ShowingOptions& options);
/// A number of `option`, counted from 1, where one of `count` is named; `what` is what they are.
QString notThere(const QCommandLineParser& parser, const QCommandLineOption& option, qint64 count, const QString& what);

/// Waits until everything shown is final, at most two minutes; false where it does not come to rest.
bool settle(MainWindow& window);
/// The window, with what is open over it.
QString savePicture(MainWindow& window, const QString& file);

} // namespace virga
