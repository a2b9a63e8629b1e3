#pragma once
// All commands and the keys that they are on, to be changed: a key that another command has is taken from it only when
// that is said.
#include <QDialog>
#include <QKeySequence>
#include <QLineEdit>

#include "app/window/command_table.h"

class QLabel;
class QPushButton;
class QTreeWidget;

namespace virga {

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
    ShortcutsDialog(CommandTable* commands, QWidget* parent);

private:
    void fill();
    void filter();
    void showCurrent();
    void assign();
    const Command* current() const;

    CommandTable* m_commands;
    QLineEdit* m_search;
    QTreeWidget* m_list;
    KeyField* m_keys;
    QLabel* m_told;
    QPushButton *m_set, *m_none, *m_usual;
};

} // namespace virga
