// Edits, autosaves and saves a project without end, until it is killed: for the kill tests. Each save and autosave is
// told on the standard output when it has returned: "saved N" and "kept N", N being the number of the edit.
#include <QApplication>
#include <QDir>
#include <cstdio>
#include <random>

#include "app/commands/reel_commands.h"
#include "app/document/autosave.h"
#include "app/document/document.h"

using namespace virga;

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    if (argc < 3) return 2;
    const QString path = QString::fromLocal8Bit(argv[1]);
    std::mt19937 chance(unsigned(std::atoi(argv[2])));
    Document document;
    if (const auto done = document.open(path); !done) {
        std::fprintf(stderr, "%s\n", describe(done.error()).c_str());
        return 3;
    }
    Autosave autosave(&document, 1000000); // written by hand below
    long number = std::atol(argv[3]);
    std::printf("ready\n");
    std::fflush(stdout);
    while (true) {
        const int clips = int(document.project()->reel.size());
        const int i = int(chance() % unsigned(clips));
        document.select({Selection::ClipSelected, i, {}});
        document.setPlayhead(std::int64_t(chance() % 400));
        switch (chance() % 6) {
        case 0:
            splitAtPlayhead(document);
            break;
        case 1:
            if (clips > 2) deleteSelection(document, chance() % 2 == 0);
            break;
        case 2:
            if (clips < 40) duplicateSelection(document);
            break;
        case 3:
            moveClips(document, {i}, int(chance() % unsigned(clips + 1)));
            break;
        case 4:
            if (document.undoStack()->canUndo()) document.undoStack()->undo();
            break;
        default:
            addMarker(document);
            break;
        }
        Project next = *document.project();
        if (next.reel.empty()) { // the last clip among gaps went, and the gaps with it
            document.undoStack()->undo();
            continue;
        }
        next.name = std::to_string(++number);
        document.apply("count", std::move(next));
        if (chance() % 3 == 0) {
            if (document.save(path)) std::printf("saved %ld\n", number);
        } else {
            autosave.writeNow();
            autosave.wait();
            std::printf("kept %ld\n", number);
        }
        std::fflush(stdout);
    }
}
