#pragma once
// The window's commands, one function for each menu. They fill the table; nothing else says what a command is.
class QPoint;
class QWidget;

namespace virga {

class CommandTable;
class Document;
class MainWindow;

void addFileCommands(CommandTable& table, MainWindow& window);
void addEditCommands(CommandTable& table, MainWindow& window);
void addViewCommands(CommandTable& table, MainWindow& window);
void addReelCommands(CommandTable& table, MainWindow& window);
void addCutCommands(CommandTable& table, MainWindow& window);
void addKeysCommands(CommandTable& table, MainWindow& window);
void addPlayCommands(CommandTable& table, MainWindow& window);
void addHelpCommands(CommandTable& table, MainWindow& window);

/// What a right click offers for what is selected.
void showContextMenu(CommandTable& table, const Document& document, QWidget* window, const QPoint& at);

} // namespace virga
