// The menu of keys, and what copying, pasting and deleting mean while keys are selected.
#include <QClipboard>
#include <QGuiApplication>
#include <QMenuBar>

#include "app/commands/key_commands.h"
#include "app/commands/reel_commands.h"
#include "app/lanes/lanes_view.h"
#include "app/window/main_window.h"
#include "app/window/notice_bar.h"
#include "core/curve/css_easing.h"

namespace virga {

void MainWindow::buildKeysMenu() {
    QMenu* keys = m_menus->addMenu(tr("Keys"));
    Document* d = &m_document;
    const auto selected = [this]() -> const KeySet& { return m_lanes->context()->selected(); };
    const auto add = [&](QMenu* menu, const QString& text, const QKeySequence& shortcut, std::function<void()> action) {
        return addCommand(menu, text, shortcut, std::move(action));
    };
    const auto has = [this] { return m_lanes->hasKeys(); };
    const auto with = [&](QMenu* menu, const QString& text, const QKeySequence& shortcut,
                          std::function<void(const KeySet&)> action) {
        QAction* a = add(menu, text, shortcut, [selected, action = std::move(action)] { action(selected()); });
        enableWith(a, has);
        return a;
    };
    const auto any = [this] { return m_lanes->context()->stack() && !m_lanes->context()->stack()->empty(); };
    enableWith(add(keys, tr("To the lanes"), QKeySequence("F7"), [this] { m_lanes->focusLanes(); }), any);
    enableWith(add(keys, tr("Add a key at the playhead"), QKeySequence("Ctrl+Return"),
                   [this] { m_lanes->addKeyAtPlayhead(); }),
               any);
    enableWith(add(keys, tr("Select all keys"), QKeySequence("Ctrl+Alt+A"), [this] { selectAllKeys(); }), any);
    keys->addSeparator();
    enableWith(add(keys, tr("Shapes…"), QKeySequence("Ctrl+H"), [this] { m_lanes->openShapes(); }), any);
    with(keys, tr("Smooth"), {}, [d](const KeySet& k) { smoothKeys(*d, k); });
    keys->addSeparator();
    with(keys, tr("Reverse in time"), QKeySequence("Ctrl+R"), [d](const KeySet& k) { reverseKeys(*d, k); });
    with(keys, tr("Flip in value"), QKeySequence("Ctrl+Shift+R"), [d](const KeySet& k) { flipKeys(*d, k); });
    QMenu* stretch = keys->addMenu(tr("Stretch"));
    for (const auto& [text, factor] : {std::pair(tr("To half"), 0.5), std::pair(tr("By a tenth shorter"), 0.9),
                                       std::pair(tr("By a tenth longer"), 1.1), std::pair(tr("To one and a half"), 1.5),
                                       std::pair(tr("To double"), 2.0)})
        with(stretch, text, {}, [d, f = factor](const KeySet& k) { stretchKeys(*d, k, f); });
    with(keys, tr("Spread to the whole clip"), {}, [d](const KeySet& k) { spreadKeys(*d, k); });
    with(keys, tr("Even out"), {}, [d](const KeySet& k) { evenOutKeys(*d, k); });
    with(keys, tr("Last key one frame past the cut"), {}, [d](const KeySet& k) { endKeysPastCut(*d, k); });
    with(keys, tr("Carry on at the other side"), {}, [d](const KeySet& k) { mirrorKeys(*d, k, true); });
    with(keys, tr("Mirror to the other side"), {}, [d](const KeySet& k) { mirrorKeys(*d, k, false); });
    keys->addSeparator();
    const auto paste = [this](bool atPlayhead, bool mirrored) {
        const QString said = m_lanes->paste(QGuiApplication::clipboard()->text().toStdString(), atPlayhead, mirrored);
        if (!said.isEmpty()) m_notice->tell(tr("Nothing was pasted."), said);
    };
    enableWith(
        add(keys, tr("Paste keys at the playhead"), QKeySequence("Ctrl+Shift+V"), [paste] { paste(true, false); }),
        any);
    enableWith(add(keys, tr("Paste keys mirrored"), QKeySequence("Ctrl+Alt+V"), [paste] { paste(false, true); }), any);
    with(keys, tr("Copy the shape as CSS text"), QKeySequence("Ctrl+Shift+C"), [this, d](const KeySet& k) {
        const auto stretches = stretchesOf(*d->project(), k);
        if (stretches.empty()) return;
        const Stretch& s = stretches.front();
        const auto easing = easingOf(curveAt(*d->project(), s.curve), s.first, s.last);
        if (!easing) return m_notice->tell(tr("Nothing was copied."), tr("Between equal values there is no shape."));
        QGuiApplication::clipboard()->setText(QString::fromStdString(cssOf(*easing)));
    });
}

void MainWindow::selectAllKeys() {
    LaneContext* context = m_lanes->context();
    context->select(keysOfStack(*m_document.project(), context->place()));
}

void MainWindow::deleteSelected() {
    if (m_lanes->hasKeys())
        deleteKeys(m_document, m_lanes->context()->selected());
    else
        deleteSelection(m_document);
}

void MainWindow::copy() {
    const std::string text = m_lanes->hasKeys() ? copiedKeys(*m_document.project(), m_lanes->context()->selected())
                                                : copySelection(m_document);
    if (!text.empty()) QGuiApplication::clipboard()->setText(QString::fromStdString(text));
}

void MainWindow::pasteClipboard() {
    const std::string text = QGuiApplication::clipboard()->text().toStdString();
    const bool shape = m_lanes->hasKeys() && easingFromCss(text).has_value();
    const QString said = holdsKeys(text) || shape ? m_lanes->paste(text, false, false) : paste(m_document, text);
    if (!said.isEmpty()) m_notice->tell(tr("Nothing was pasted."), said);
}

} // namespace virga
