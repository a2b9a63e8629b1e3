#pragma once
// The main window: three bands around one document. Reel above, Picture with Ladder, Flow and the tabs in the middle,
// Lanes below.
#include <QMainWindow>

#include "app/background/flow_watch.h"
#include "app/background/frame_service.h"
#include "app/background/importer.h"
#include "app/background/player.h"
#include "app/background/thumbnails.h"
#include "app/background/waveform.h"
#include "app/document/autosave.h"
#include "app/document/document.h"

class QLabel;
class QPushButton;
class QSplitter;

namespace virga {

class FlowPanel;
class LadderView;
class LanesView;
class NoticeBar;
class PictureView;
class ProjectFiles;
class RecipesPanel;
class ReelView;
class TabPanel;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Document* document() { return &m_document; }
    ProjectFiles* files() { return m_files; }
    Player* player() { return m_player; }
    ReelView* reel() { return m_reel; }
    PictureView* picture() { return m_picture; }
    LanesView* lanes() { return m_lanes; }
    TabPanel* tabs() { return m_tabs; }
    NoticeBar* notice() { return m_notice; }
    /// True while nothing is being read, rendered or checked: what is shown is final.
    bool isSettled();

public slots:
    void addFiles(const QStringList& paths, int place = -1);
    void chooseFiles();
    void showExport();
    void setTheme(const QString& name);

protected:
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void buildTopBar();
    void buildBands();
    void buildMenus();
    void refreshTitle();
    void stepCut(int by);

    Document m_document;
    FrameService m_frames;
    Thumbnails m_thumbnails;
    Waveforms m_waveforms;
    Importer m_importer;
    FlowWatch* m_flow;
    Player* m_player;
    Autosave* m_autosave;
    ProjectFiles* m_files;
    QWidget* m_topBar = nullptr;
    QMenuBar* m_menus = nullptr;
    QLabel* m_title = nullptr;
    QPushButton* m_export = nullptr;
    NoticeBar* m_notice = nullptr;
    ReelView* m_reel = nullptr;
    PictureView* m_picture = nullptr;
    LadderView* m_ladder = nullptr;
    FlowPanel* m_flowPanel = nullptr;
    RecipesPanel* m_recipes = nullptr;
    LanesView* m_lanes = nullptr;
    TabPanel* m_tabs = nullptr;
};

} // namespace virga
