#include "app/window/manual.h"

#include "core/base/roff.h"

namespace virga {

std::string manualPage(const QString& summary, const QList<QCommandLineOption>& options) {
    std::string text =
        roffTitle("VIRGA") +
        ".SH NAME\nvirga \\- make a cut between two shots feel "
        "like one "
        "continuous camera move\n.SH SYNOPSIS\n.B virga\n[\\fIOPTIONS\\fP] [\\fIPROJECT\\fP | \\fIFILES\\fP]\n.SH "
        "DESCRIPTION\n" +
        roff(summary.toStdString()) +
        "\nOpens the window with a project, or with new media: videos, pictures, numbered picture sequences, music, "
        "OpenTimelineIO files and CMX 3600 edit lists. Without a file it opens empty, or offers what a crash left "
        "behind.\n.PP\nWhat can be done in the window is told in the user's guide. The same work without a window is "
        "done by\n.BR virga\\-cli (1).\n.SH OPTIONS\n";
    for (const QCommandLineOption& option : options) {
        if (option.flags() & QCommandLineOption::HiddenFromHelp) continue;
        text += ".TP\n.B " + roff("--" + option.names().last().toStdString());
        if (!option.valueName().isEmpty()) text += " \\fI" + roff(option.valueName().toStdString()) + "\\fP";
        text += "\n" + roff(option.description().toStdString()) + "\n";
    }
    const std::pair<const char*, const char*> files[] = {
        {"~/.config/virga/virga.conf", "The program's own settings."},
        {"~/.config/virga/exports", "Export presets, a small JSON file each."},
        {"~/.local/share/virga/recipes", "Recipes, a small JSON file each."},
        {"~/.cache/virga", "What can be made again: light copies, thumbnails, measured movement."}};
    text += ".SH FILES\n";
    for (const auto& [file, what] : files) text += std::string(".TP\n.I ") + file + "\n" + what + "\n";
    return text + ".SH SEE ALSO\n.BR virga\\-cli (1)\n";
}

} // namespace virga
