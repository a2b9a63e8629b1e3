#pragma once
// The main window: three bands around one document. Reel above, Picture with Ladder, Flow and the tabs in the middle,
// Lanes below.
#include <QMainWindow>

#include "app/document/autosave.h"
#include "app/document/document.h"
#include "app/document/recipe_shelf.h"
#include "app/playback/player.h"
#include "app/playback/ready_frames.h"
#include "app/services/bars_watch.h"
#include "app/services/flow_watch.h"
#include "app/services/frame_service.h"
#include "app/services/in_betweens.h"
#include "app/services/job.h"
#include "app/services/media_shelf.h"
#include "app/services/proxies.h"
#include "app/services/shot_ends_watch.h"
#include "app/services/shots_watch.h"
#include "app/services/thumbnails.h"
#include "app/services/waveform.h"
#include "app/window/shortcuts_dialog.h"

#include <QKeySequence>
#include <functional>

class QAction;
class QLabel;
class QMenu;
class QPushButton;
class QSplitter;

namespace virga {

class ContactSheet;
class ExportDialog;
class ExportQueue;
class FlowPanel;
class LadderView;
class BeatsPanel;
class LanesView;
class MediaFiles;
class NoticeBar;
class PictureView;
class ProjectFiles;
class RecipeSheet;
class RecipesPanel;
class ReelView;
class SelectionPanel;
class TabPanel;
class Transport;
class TrayView;

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
    FlowPanel* flowPanel() { return m_flowPanel; }
    ContactSheet* sheet() { return m_sheet; }
    /// The sizes of the bands and what stands in them, to be kept and put back.
    QVariant saveBands() const;
    void restoreBands(const QVariant& saved);
    /// The Ladder enlarged, over the middle band.
    void showSheet();
    /// Recipes in large, over the middle band; with one of them chosen.
    void showRecipes(const QString& id = {});
    RecipeSheet* recipeSheet() { return m_recipeSheet; }
    RecipeShelf* recipes() { return &m_recipeShelf; }
    /// Recipe files put among the user's own.
    void readRecipes(const QStringList& files);
    /// The picture alone; Escape closes it.
    void showFullScreenPicture();
    /// The commands' keys, to be changed.
    void editShortcuts();
    Shortcuts* shortcuts() { return &m_shortcuts; }
    /// The program's own settings: memory, look, pictures in playing.
    void editSettings();
    FrameService* frames() { return &m_frames; }
    ExportQueue* exports() { return m_exports; }
    InBetweens* inBetweens() { return &m_inBetweens; }
    Proxies* proxies() { return &m_proxies; }
    ReadyFrames* readyFrames() { return m_ready; }
    /// Bytes of pictures kept in memory at most, all of the window's together, and what is kept now.
    void setMemory(std::size_t bytes);
    std::size_t memory() const { return m_memory; }
    std::size_t memoryUsed() const { return m_frames.bytes() + m_thumbnails.bytes(); }
    /// The picture without the selected move, and with it again.
    void toggleWithout();
    void toggleMixed();
    TabPanel* tabs() { return m_tabs; }
    TrayView* tray() { return m_tray; }
    BeatsPanel* beats() { return m_beats; }
    MediaFiles* media() { return m_media; }
    MediaShelf* shelf() { return &m_shelf; }
    Thumbnails* thumbnails() { return &m_thumbnails; }
    /// The tabs, in their order.
    enum Tab { TrayTab, ClipTab, SoundTab, BeatsTab, RecipesTab, ShutterTab };
    bool isAssembling() const { return m_assembling; }
    NoticeBar* notice() { return m_notice; }
    /// True while nothing is being read, rendered or checked: what is shown is final.
    bool isSettled();

public slots:
    void addFiles(const QStringList& paths, int place = -1);
    void chooseFiles();
    void showExport();
    void setTheme(const QString& name);
    /// The Reel tall, the Lanes folded away, the Tray beside the Picture; and back to working at one cut.
    void setAssembling(bool on);
    void findCuts(const QString& mediaId);
    /// At the cut before a picture; without one the video's cuts are found first.
    void traceTransition(const QString& mediaId, qint64 picture = -1);
    void findCarryingCut();
    /// Takes the chosen shot's shake off, or gives it back.
    void steadyShot();
    void writeStemsBeside(const QString& file);
    /// As dragging their upper edge does.
    void setLanesHeight(int pixels);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void buildTopBar();
    void buildBands();
    void buildTabs(QWidget* parent);
    void chooseFilesFor(int place);
    void buildMenus();
    void buildFileMenu();
    void buildEditMenu();
    void buildViewMenu();
    void enableWith(QAction* action, std::function<bool()> condition);
    void refreshCommands();
    void buildReelMenu();
    void buildCutMenu();
    void buildRecipeMenu(QMenu* cut);
    void buildRecipeViews();
    void fillRecipeMenu();
    void useRecipe(const QString& id, bool otherWay);
    void keepRecipe();
    void putOnMoreCuts(const QString& id, const RecipeUse& use);
    void pasteMovesByChoice();
    void showRecipeMenu(const QString& id, const QPoint& at);
    void writeRecipe(const QString& id);
    void keepInShelf(const QString& id);
    void placeSheets();
    void shareHeight();
    void buildPlayMenu();
    void buildKeysMenu();
    QAction* addCommand(QMenu* menu, const QString& text, const QKeySequence& keys, std::function<void()> action);
    void buildMovementActions();
    void chooseStems();
    void copy();
    void pasteClipboard();
    void deleteSelected();
    void selectAllKeys();
    void askLength();
    void askCascade();
    void rename();
    void showContextMenu(const QPoint& at);
    void refreshTitle();
    void refreshExport();
    void exportEnded(int id);
    bool mayStopExports();
    void stepCut(int by);

    Document m_document;
    FrameService m_frames;
    Proxies m_proxies;
    InBetweens m_inBetweens;
    Thumbnails m_thumbnails;
    Waveforms m_waveforms;
    MediaShelf m_shelf;
    RecipeShelf m_recipeShelf;
    BarsWatch m_bars;
    ShotEndsWatch m_shotEnds;
    ShotsWatch m_shots;
    Job m_steadying, m_stems;
    FlowWatch* m_flow;
    Player* m_player;
    ReadyFrames* m_ready;
    Autosave* m_autosave;
    ProjectFiles* m_files;
    MediaFiles* m_media;
    QWidget* m_topBar = nullptr;
    QMenuBar* m_menus = nullptr;
    QLabel* m_title = nullptr;
    QPushButton* m_export = nullptr;
    ExportQueue* m_exports = nullptr;
    ExportDialog* m_exportDialog = nullptr;
    NoticeBar* m_notice = nullptr;
    ReelView* m_reel = nullptr;
    PictureView* m_picture = nullptr;
    LadderView* m_ladder = nullptr;
    ContactSheet* m_sheet = nullptr;
    FlowPanel* m_flowPanel = nullptr;
    RecipesPanel* m_recipes = nullptr;
    RecipeSheet* m_recipeSheet = nullptr;
    LanesView* m_lanes = nullptr;
    TabPanel* m_tabs = nullptr;
    TrayView* m_tray = nullptr;
    SelectionPanel* m_selectionPanel = nullptr;
    BeatsPanel* m_beats = nullptr;
    Transport* m_transport = nullptr;
    QSplitter *m_bands = nullptr, *m_middle = nullptr;
    QList<int> m_sizesBeforeRecipes;
    QList<int> m_bandSizes, m_middleSizes; // of the layout that is not shown
    bool m_assembling = false;
    bool m_bandsChosen = false; // by hand, or as they were left
    std::size_t m_memory = 0;
    Shortcuts m_shortcuts;
    std::vector<std::pair<QAction*, std::function<bool()>>> m_conditions;
    std::vector<QAction*> m_editActions, m_clipActions, m_cutActions; // null: a separator
    std::vector<QMenu*> m_clipMenus;
    QMenu *m_recipeMenu = nullptr, *m_ownRecipes = nullptr;
};

} // namespace virga
