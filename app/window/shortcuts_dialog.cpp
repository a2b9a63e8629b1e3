#include "app/window/shortcuts_dialog.h"

#include <QAction>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/style/controls.h"
#include "app/style/plain_text.h"

namespace virga {
KeyField::KeyField(QWidget* parent) : QLineEdit(parent) {
    setReadOnly(true);
    setPlaceholderText(tr("Click here and press the new key"));
    setContextMenuPolicy(Qt::NoContextMenu);
}

void KeyField::clearKeys() {
    m_pressed = {};
    clear();
}

// Even a key that is a command's, or that would leave the field, is taken.
bool KeyField::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        event->accept();
        return true;
    }
    if (event->type() == QEvent::KeyPress) {
        keyPressEvent(static_cast<QKeyEvent*>(event));
        return true;
    }
    return QLineEdit::event(event);
}

void KeyField::keyPressEvent(QKeyEvent* event) {
    const int key = event->key();
    if (key == Qt::Key_unknown || (key >= Qt::Key_Shift && key <= Qt::Key_Alt) || key == Qt::Key_AltGr) return;
    m_pressed = QKeySequence(event->keyCombination());
    setText(m_pressed.toString(QKeySequence::NativeText));
    emit pressed(m_pressed);
}

ShortcutsDialog::ShortcutsDialog(CommandTable* commands, QWidget* parent) : QDialog(parent), m_commands(commands) {
    setWindowTitle(tr("Keys of the commands"));
    setObjectName("shortcutsDialog");
    resize(560, 560);
    auto* column = new QVBoxLayout(this);
    column->setSpacing(8);
    m_search = new QLineEdit(this);
    m_search->setPlaceholderText(tr("Look for a command or a key"));
    m_search->setAccessibleName(tr("Look for a command or a key"));
    m_search->setClearButtonEnabled(true);
    connect(m_search, &QLineEdit::textChanged, this, &ShortcutsDialog::filter);
    column->addWidget(m_search);
    m_list = new QTreeWidget(this);
    m_list->setObjectName("commands");
    m_list->setAccessibleName(tr("Commands"));
    m_list->setRootIsDecorated(false);
    m_list->setUniformRowHeights(true);
    m_list->setHeaderLabels({tr("command"), tr("key")});
    m_list->header()->setStretchLastSection(false);
    m_list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_list->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_list->setFrameShape(QFrame::NoFrame);
    connect(m_list, &QTreeWidget::currentItemChanged, this, &ShortcutsDialog::showCurrent);
    column->addWidget(m_list, 1);
    auto* row = new QHBoxLayout;
    m_keys = new KeyField(this);
    m_keys->setAccessibleName(tr("New key"));
    setTip(m_keys, tr("Click here and press the new key"));
    connect(m_keys, &KeyField::pressed, this, [this](const QKeySequence& keys) {
        const auto* other = m_commands->on(keys, current() ? current()->action : nullptr);
        m_told->setText(other ? tr("%1 is on “%2”, which would be left without a key.")
                                    .arg(keys.toString(QKeySequence::NativeText), other->path())
                              : QString());
        m_set->setText(other ? tr("Take it from there") : tr("Put it on this key"));
        m_set->setEnabled(current() && !keys.isEmpty() && keys != current()->action->shortcut());
    });
    row->addWidget(m_keys, 1);
    const auto push = [&](const QString& text, auto action) {
        auto* b = new QPushButton(text, this);
        b->setAutoDefault(false);
        connect(b, &QPushButton::clicked, this, action);
        row->addWidget(b);
        return b;
    };
    m_set = push(tr("Put it on this key"), [this] { assign(); });
    m_set->setObjectName("primary");
    m_none = push(tr("No key"), [this] {
        if (current()) m_commands->setKeys(*current(), {});
        fill();
    });
    m_usual = push(tr("As at first"), [this] {
        if (!current()) return;
        if (const auto* other = m_commands->on(current()->usual, current()->action)) m_commands->setKeys(*other, {});
        m_commands->setKeys(*current(), current()->usual);
        fill();
    });
    column->addLayout(row);
    m_told = label({}, "caption", this);
    m_told->setWordWrap(true);
    m_told->setMinimumHeight(30);
    column->addWidget(m_told);
    auto* foot = new QHBoxLayout;
    auto* all = new QPushButton(tr("All as at first"), this);
    all->setAutoDefault(false);
    connect(all, &QPushButton::clicked, this, [this] {
        m_commands->resetKeys();
        fill();
    });
    auto* close = new QPushButton(tr("Close"), this);
    close->setAutoDefault(false);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    foot->addWidget(all);
    foot->addStretch(1);
    foot->addWidget(close);
    column->addLayout(foot);
    fill();
    m_list->setCurrentItem(m_list->topLevelItem(0));
}

void ShortcutsDialog::fill() {
    const int at = m_list->indexOfTopLevelItem(m_list->currentItem());
    {
        const QSignalBlocker quiet(m_list);
        m_list->clear();
        for (const auto& command : m_commands->all()) {
            auto* item = new QTreeWidgetItem(m_list);
            item->setText(0, command.path());
            item->setText(1, command.action->shortcut().toString(QKeySequence::NativeText));
            if (command.action->shortcut() != command.usual) { // told by its weight, too
                QFont font = item->font(1);
                font.setBold(true);
                item->setFont(1, font);
                item->setToolTip(
                    1, plainTip(tr("at first %1")
                                    .arg(command.usual.isEmpty() ? tr("without a key")
                                                                 : command.usual.toString(QKeySequence::NativeText))));
            }
        }
        if (at >= 0) m_list->setCurrentItem(m_list->topLevelItem(at));
    }
    filter();
    showCurrent();
}

void ShortcutsDialog::filter() {
    const QString text = m_search->text().trimmed();
    for (int i = 0; i < m_list->topLevelItemCount(); ++i) {
        QTreeWidgetItem* item = m_list->topLevelItem(i);
        item->setHidden(!text.isEmpty() && !item->text(0).contains(text, Qt::CaseInsensitive) &&
                        item->text(1).compare(text, Qt::CaseInsensitive) != 0);
    }
}

const Command* ShortcutsDialog::current() const {
    const int at = m_list->indexOfTopLevelItem(m_list->currentItem());
    return at >= 0 ? &m_commands->all()[std::size_t(at)] : nullptr;
}

void ShortcutsDialog::showCurrent() {
    const auto* command = current();
    m_keys->clearKeys();
    m_told->clear();
    m_set->setText(tr("Put it on this key"));
    m_set->setEnabled(false);
    m_keys->setEnabled(command);
    m_none->setEnabled(command && !command->action->shortcut().isEmpty());
    m_usual->setEnabled(command && command->action->shortcut() != command->usual);
}

void ShortcutsDialog::assign() {
    const auto* command = current();
    const QKeySequence keys = m_keys->keys();
    if (!command || keys.isEmpty()) return;
    if (const auto* other = m_commands->on(keys, command->action)) m_commands->setKeys(*other, {});
    m_commands->setKeys(*command, keys);
    fill();
}

} // namespace virga
