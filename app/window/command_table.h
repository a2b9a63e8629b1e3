#pragma once
// All commands of the window in one list: what each is called, its menu, its keys, when it can be used, what it does.
// Menus, context menus, the editor of keys and the guide's table of keys are made of it.
#include <QKeySequence>
#include <QObject>
#include <QStringList>
#include <functional>
#include <map>
#include <span>
#include <vector>

class QAction;
class QMenu;
class QMenuBar;
class QWidget;

namespace virga {

struct Command {
    QString id;     // stable: the user's own keys are kept by it
    QStringList in; // the menus that it stands in, the outermost first
    QAction* action = nullptr;
    QKeySequence usual;            // its keys as the program has them
    std::function<bool()> enabled; // none: always
    std::function<bool()> checked; // none: it is nothing that is on or off
    /// Its menus and its text.
    QString path() const;
};

class CommandTable : public QObject {
    Q_OBJECT
public:
    /// Its actions are the window's, so that keys work wherever the focus is.
    CommandTable(QMenuBar* bar, QWidget* window);

    /// The menu that the commands after it stand in; it is made where it is not there.
    void in(const QStringList& menu);
    void separator();
    QAction* add(const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> run,
                 std::function<bool()> enabled = {});
    /// A command that is on or off.
    QAction* addToggle(const QString& id, const QString& text, const QKeySequence& keys, std::function<void()> run,
                       std::function<bool()> checked, std::function<bool()> enabled = {});
    /// An action that was made elsewhere, which knows by itself when it can be used.
    void take(const QString& id, QAction* action, const QKeySequence& keys);

    QMenu* menu(const QStringList& path);
    const std::vector<Command>& all() const { return m_all; }
    /// REQUIRES: there is one of that id.
    QAction* action(const QString& id) const;
    /// Puts commands into another menu; null is a separator.
    void fill(QMenu* menu, std::span<const char* const> ids) const;
    /// Greys out what cannot be used, and ticks what is on.
    void refresh();

    /// The command that a key is on, but for one; null where it is free.
    const Command* on(const QKeySequence& keys, const QAction* except) const;
    /// The user's own keys for a command, kept in the settings; what was not changed follows the program.
    void setKeys(const Command& command, const QKeySequence& keys);
    void resetKeys();
    /// Commands with their keys as the program has them: a table in Markdown, with a row for each menu.
    QString keysAsMarkdown() const;

private:
    void enter(Command command);

    QMenuBar* m_bar;
    QWidget* m_window;
    QStringList m_in;
    std::map<QString, QMenu*> m_menus;
    std::vector<Command> m_all;
};

} // namespace virga
