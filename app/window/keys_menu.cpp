// The menu Keys.
#include <QClipboard>
#include <QGuiApplication>
#include <QMenu>

#include "app/commands/key_commands.h"
#include "app/lanes/lanes_view.h"
#include "app/window/clipboard_actions.h"
#include "app/window/command_table.h"
#include "app/window/layout.h"
#include "app/window/main_window.h"
#include "app/window/menus.h"
#include "app/window/notice_bar.h"
#include "core/curve/css_easing.h"

namespace virga {

void addKeysCommands(CommandTable& t, MainWindow& window) {
    MainWindow* w = &window;
    Document* d = w->document();
    LanesView* lanes = w->views().lanes;
    const auto has = [lanes] { return lanes->hasKeys(); };
    const auto any = [lanes] { return lanes->context()->stack() && !lanes->context()->stack()->empty(); };
    const auto with = [&](const char* id, const QString& text, const QKeySequence& keys,
                          std::function<void(const KeySet&)> act) {
        t.add(
            id, text, keys, [lanes, act = std::move(act)] { act(lanes->context()->selected()); }, has);
    };
    const QString keys = t.tr("Keys");
    t.in({keys});
    t.add(
        "keys.to-lanes", t.tr("To the lanes"), QKeySequence("F7"), [lanes] { lanes->focusLanes(); }, any);
    t.add(
        "keys.add", t.tr("Add a key at the playhead"), QKeySequence("Ctrl+Return"),
        [lanes] { lanes->addKeyAtPlayhead(); }, any);
    t.add(
        "keys.select-all", t.tr("Select all keys"), QKeySequence("Ctrl+Alt+A"), [lanes] { selectAllKeys(*lanes); },
        any);
    t.separator();
    t.add(
        "keys.shapes", t.tr("Shapes…"), QKeySequence("Ctrl+H"), [lanes] { lanes->openShapes(); }, any);
    with("keys.smooth", t.tr("Smooth"), {}, [d](const KeySet& k) { smoothKeys(*d, k); });
    t.separator();
    with("keys.reverse", t.tr("Reverse in time"), QKeySequence("Ctrl+R"), [d](const KeySet& k) { reverseKeys(*d, k); });
    with("keys.flip", t.tr("Flip in value"), QKeySequence("Ctrl+Shift+R"), [d](const KeySet& k) { flipKeys(*d, k); });
    t.in({keys, t.tr("Stretch")});
    const std::tuple<const char*, QString, double> factors[] = {{"keys.half", t.tr("To half"), 0.5},
                                                                {"keys.shorter", t.tr("By a tenth shorter"), 0.9},
                                                                {"keys.longer", t.tr("By a tenth longer"), 1.1},
                                                                {"keys.one-half", t.tr("To one and a half"), 1.5},
                                                                {"keys.double", t.tr("To double"), 2.0}};
    for (const auto& [id, text, factor] : factors)
        with(id, text, {}, [d, f = factor](const KeySet& k) { stretchKeys(*d, k, f); });
    t.in({keys});
    with("keys.spread", t.tr("Spread to the whole clip"), {}, [d](const KeySet& k) { spreadKeys(*d, k); });
    with("keys.even", t.tr("Even out"), {}, [d](const KeySet& k) { evenOutKeys(*d, k); });
    with("keys.past-cut", t.tr("Last key one frame past the cut"), {}, [d](const KeySet& k) { endKeysPastCut(*d, k); });
    with("keys.carry-on", t.tr("Carry on at the other side"), {}, [d](const KeySet& k) { mirrorKeys(*d, k, true); });
    with("keys.mirror", t.tr("Mirror to the other side"), {}, [d](const KeySet& k) { mirrorKeys(*d, k, false); });
    t.separator();
    const auto paste = [&t, w, lanes](bool atPlayhead, bool mirrored) {
        const QString said = lanes->paste(QGuiApplication::clipboard()->text().toStdString(), atPlayhead, mirrored);
        if (!said.isEmpty()) w->notice()->tell(t.tr("Nothing was pasted."), said);
    };
    t.add(
        "keys.paste-at-playhead", t.tr("Paste keys at the playhead"), QKeySequence("Ctrl+Shift+V"),
        [paste] { paste(true, false); }, any);
    t.add(
        "keys.paste-mirrored", t.tr("Paste keys mirrored"), QKeySequence("Ctrl+Alt+V"), [paste] { paste(false, true); },
        any);
    with("keys.copy-css", t.tr("Copy the shape as CSS text"), QKeySequence("Ctrl+Shift+C"),
         [&t, w, d](const KeySet& k) {
             const auto stretches = stretchesOf(*d->project(), k);
             if (stretches.empty()) return;
             const Stretch& s = stretches.front();
             const auto easing = easingOf(curveAt(*d->project(), s.curve), s.first, s.last);
             if (!easing)
                 return w->notice()->tell(t.tr("Nothing was copied."), t.tr("Between equal values there is no shape."));
             QGuiApplication::clipboard()->setText(QString::fromStdString(cssOf(*easing)));
         });
}

} // namespace virga
