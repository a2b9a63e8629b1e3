#include "app/window/command_table.h"

#include <QAction>
#include <QMenu>
#include <QMenuBar>
#include <QSettings>
#include <algorithm>

namespace virga {
namespace {

QString settingFor(const QString& id) {
    return "keys/" + id;
}

// As versions before the first with ids kept them.
QString oldSettingFor(const Command& command) {
    return "keys/" + command.path().replace('/', '|');
}

} // namespace

QString Command::path() const {
    return (in + QStringList(action->text())).join(QStringLiteral(" / "));
}

CommandTable::CommandTable(QMenuBar* bar, QWidget* window) : QObject(window), m_bar(bar), m_window(window) {}

QMenu* CommandTable::menu(const QStringList& path) {
    QMenu*& menu = m_menus[path.join('\n')];
    if (menu) return menu;
    menu =
        path.size() == 1 ? m_bar->addMenu(path.back()) : this->menu(path.mid(0, path.size() - 1))->addMenu(path.back());
    connect(menu, &QMenu::aboutToShow, this, &CommandTable::refresh);
    return menu;
}

void CommandTable::in(const QStringList& menu) {
    m_in = menu;
    (void)this->menu(menu);
}

void CommandTable::separator() {
    menu(m_in)->addSeparator();
}

QAction* CommandTable::add(const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> run,
                           std::function<bool()> enabled) {
    auto* action = new QAction(text, m_window);
    action->setShortcut(keys);
    connect(action, &QAction::triggered, this, std::move(run));
    m_window->addAction(action); // works while the menu bar is not the focus
    menu(m_in)->addAction(action);
    enter({id, m_in, action, keys, std::move(enabled), {}});
    return action;
}

QAction* CommandTable::addToggle(const QString& id, const QString& text, const QKeySequence& keys,
                                 std::function<void()> run, std::function<bool()> checked,
                                 std::function<bool()> enabled) {
    QAction* action = add(id, text, keys, std::move(run), std::move(enabled));
    action->setCheckable(true);
    m_all.back().checked = std::move(checked);
    return action;
}

void CommandTable::take(const QString& id, QAction* action, const QKeySequence& keys) {
    action->setShortcut(keys);
    menu(m_in)->addAction(action);
    enter({id, m_in, action, keys, {}, {}});
}

void CommandTable::enter(Command command) {
    QSettings settings;
    for (const QString& name : {settingFor(command.id), oldSettingFor(command)})
        if (const QVariant kept = settings.value(name); kept.isValid()) {
            command.action->setShortcut(QKeySequence(kept.toString(), QKeySequence::PortableText));
            break;
        }
    m_all.push_back(std::move(command));
}

QAction* CommandTable::action(const QString& id) const {
    const auto at = std::find_if(m_all.begin(), m_all.end(), [&](const Command& c) { return c.id == id; });
    Q_ASSERT(at != m_all.end());
    return at == m_all.end() ? nullptr : at->action;
}

void CommandTable::fill(QMenu* menu, std::span<const char* const> ids) const {
    for (const char* id : ids)
        if (!id)
            menu->addSeparator();
        else if (QAction* a = action(QString::fromUtf8(id)))
            menu->addAction(a);
}

void CommandTable::refresh() {
    for (const Command& c : m_all) {
        if (c.enabled) c.action->setEnabled(c.enabled());
        if (c.checked) c.action->setChecked(c.checked());
    }
}

const Command* CommandTable::on(const QKeySequence& keys, const QAction* except) const {
    if (keys.isEmpty()) return nullptr;
    const auto found = std::find_if(m_all.begin(), m_all.end(), [&](const Command& c) {
        return c.action != except && c.action->shortcut() == keys;
    });
    return found == m_all.end() ? nullptr : &*found;
}

void CommandTable::setKeys(const Command& command, const QKeySequence& keys) {
    command.action->setShortcut(keys);
    QSettings settings;
    settings.remove(oldSettingFor(command));
    if (keys == command.usual)
        settings.remove(settingFor(command.id));
    else
        settings.setValue(settingFor(command.id), keys.toString(QKeySequence::PortableText));
}

void CommandTable::resetKeys() {
    for (const Command& command : m_all) setKeys(command, command.usual);
}

QString CommandTable::keysAsMarkdown() const {
    QStringList menus;
    std::map<QString, QStringList> keys;
    for (const Command& c : m_all) {
        if (c.usual.isEmpty()) continue;
        const QString menu = c.in.join(QStringLiteral(" → "));
        if (!keys.contains(menu)) menus << menu;
        keys[menu] << QStringLiteral("`%1` %2").arg(c.usual.toString(QKeySequence::PortableText), c.action->text());
    }
    QString table = QStringLiteral("| menu | keys |\n|---|---|\n");
    for (const QString& menu : menus)
        table += QStringLiteral("| %1 | %2 |\n").arg(menu, keys[menu].join(QStringLiteral("; ")));
    return table;
}

} // namespace virga
