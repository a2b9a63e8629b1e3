#pragma once
// The main window: what works behind it, how its views are laid out, its commands, and files that come in. Each of
// these is a part of its own; the window makes them in their order and connects them.
#include <QMainWindow>

#include "app/window/layout.h"
#include "app/window/services.h"

namespace virga {

class CommandTable;
class ExportActions;
class MediaFiles;
class MovementActions;
class NoticeBar;
class ProjectFiles;
class RecipeActions;
class TopBar;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Services& services() { return m_services; }
    Document* document() { return &m_services.document; }
    Layout* windowLayout() { return m_layout; }
    const Views& views() const { return m_layout->views(); }
    CommandTable* commands() { return m_commands; }
    NoticeBar* notice() { return m_notice; }
    ProjectFiles* files() { return m_files; }
    MediaFiles* media() { return m_media; }
    RecipeActions* recipes() { return m_recipes; }
    MovementActions* movement() { return m_movement; }
    ExportActions* exporting() { return m_exporting; }

    /// Brings files in: a project is opened, recipes are read, the rest goes to a place of the reel or to the Tray.
    void addFiles(const QStringList& paths, int place = -1);
    void chooseFiles(int place = -1);
    void setTheme(const QString& name);
    /// True while nothing is being read, rendered or checked: what is shown is final.
    bool isSettled();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void connectViews();
    void connectNotices();
    void buildMenus();

    Services m_services;
    TopBar* m_bar;
    NoticeBar* m_notice;
    Layout* m_layout;
    ProjectFiles* m_files;
    MediaFiles* m_media;
    RecipeActions* m_recipes;
    MovementActions* m_movement;
    ExportActions* m_exporting;
    CommandTable* m_commands;
};

} // namespace virga
