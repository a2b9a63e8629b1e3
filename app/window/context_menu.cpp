// What a right click in the Reel offers: commands of the menus, and no others.
#include <QMenu>

#include "app/document/document.h"
#include "app/window/command_table.h"
#include "app/window/menus.h"

namespace virga {

void showContextMenu(CommandTable& t, const Document& document, QWidget* window, const QPoint& at) {
    static constexpr const char* clip[] = {
        "reel.split", "reel.length", "reel.on-beats",   "reel.cascade", nullptr,       "reel.earlier", "reel.later",
        nullptr,      "reel.lift",   "reel.adjustment", "reel.gap",     "reel.marker", nullptr};
    static constexpr const char* cut[] = {"cut.add-zoom",  "cut.add-spin", "cut.add-slide", "cut.moves",
                                          "recipes.large", "recipes.keep", nullptr,         "cut.crossfade",
                                          "cut.match",     "cut.carrying", "cut.clear",     nullptr};
    static constexpr const char* all[] = {"file.add-shots", nullptr,          "edit.cut",    "edit.copy",
                                          "edit.paste",     "edit.duplicate", "edit.delete", "edit.lift"};
    const QString reel = t.tr("Reel");
    QMenu menu(window);
    switch (document.selection().kind) {
    case Selection::ClipSelected:
        t.fill(&menu, clip);
        for (const QString& sub : {t.tr("Trim and slip"), t.tr("Speed")}) menu.addMenu(t.menu({reel, sub}));
        menu.addSeparator();
        break;
    case Selection::CutSelected:
        t.fill(&menu, cut);
        menu.addMenu(t.menu({t.tr("Cut"), t.tr("Recipe")}));
        menu.addSeparator();
        break;
    default:
        break;
    }
    t.fill(&menu, all);
    menu.exec(at);
}

} // namespace virga
