#pragma once
// All commands and the keys that they are on, to be changed: a key that another command has is taken from it only when
// that is said. Kept in the user's settings; what was not changed follows the program.
#include <QAction>
#include <QDialog>
#include <QKeySequence>
#include <QLineEdit>

class QLabel;
class QPushButton;
class QTreeWidget;

namespace virga {

/// Commands with shortcuts: their keys as the program has them, and as the user put them.
class Shortcuts {
public:
    /// Takes a command in and gives it the user's keys, where there are some. `path`: its menus and its name.
    void add(QAction* action, const QString& path);
    struct Command {
        QAction* action = nullptr;
        QString path;
        QKeySequence usual;
    };
    const std::vector<Command>& commands() const { return m_commands; }
    /// The command that a key is on, but for one; null where it is free.
    const Command* on(const QKeySequence& keys, const QAction* except) const;
    void set(const Command& command, const QKeySequence& keys);
    void reset();

private:
    std::vector<Command> m_commands;
};

/// A field that takes the next key, with its modifiers, whatever it is on.
class KeyField : public QLineEdit {
    Q_OBJECT
public:
    explicit KeyField(QWidget* parent = nullptr);
    QKeySequence keys() const { return m_pressed; }
    void clearKeys();

signals:
    void pressed(const QKeySequence& keys);

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QKeySequence m_pressed;
};

class ShortcutsDialog : public QDialog {
    Q_OBJECT
public:
    ShortcutsDialog(Shortcuts* shortcuts, QWidget* parent);

private:
    void fill();
    void filter();
    void showCurrent();
    void assign();
    const Shortcuts::Command* current() const;

    Shortcuts* m_shortcuts;
    QLineEdit* m_search;
    QTreeWidget* m_list;
    KeyField* m_keys;
    QLabel* m_told;
    QPushButton *m_set, *m_none, *m_usual;
};

} // namespace virga
