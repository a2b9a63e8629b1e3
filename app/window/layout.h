#pragma once
// What stands where in the window: three bands, Reel above, Picture with Ladder, Flow and the tabs in the middle, Lanes
// below; and the sheets that lie over the middle one. Two layouts: working at one cut, and assembling.
#include <QList>
#include <QObject>
#include <QVariant>

class QMainWindow;
class QSplitter;

namespace virga {

class BeatsPanel;
class ContactSheet;
class FlowPanel;
class LadderView;
class LanesView;
class PictureView;
class RecipeSheet;
class RecipesPanel;
class ReelView;
class SelectionPanel;
class Services;
class SoundPanel;
class TabPanel;
class Transport;
class TrayView;

/// The views of a window; they are there as long as it is.
struct Views {
    ReelView* reel = nullptr;
    PictureView* picture = nullptr;
    Transport* transport = nullptr;
    LadderView* ladder = nullptr;
    ContactSheet* sheet = nullptr;
    FlowPanel* flow = nullptr;
    LanesView* lanes = nullptr;
    TabPanel* tabs = nullptr;
    TrayView* tray = nullptr;
    SelectionPanel* selection = nullptr;
    SoundPanel* sound = nullptr;
    BeatsPanel* beats = nullptr;
    RecipesPanel* recipes = nullptr;
    RecipeSheet* recipeSheet = nullptr;
};

class Layout : public QObject {
    Q_OBJECT
public:
    /// Makes the views, as the window's own.
    Layout(Services& services, QMainWindow* window);

    const Views& views() const { return m_views; }
    /// The tabs, in their order.
    enum Tab { TrayTab, ClipTab, SoundTab, BeatsTab, RecipesTab, ShutterTab };

    /// The Reel tall, the Lanes folded away, the Tray beside the Picture; and back to working at one cut.
    void setAssembling(bool on);
    bool isAssembling() const { return m_assembling; }
    /// The Ladder enlarged, over the middle band.
    void showSheet();
    /// Recipes in large, over the middle band; with one of them chosen.
    void showRecipes(const QString& id = {});
    /// To the name of what is selected.
    void editName();
    /// The picture alone; Escape closes it.
    void showFullScreen();
    /// After the window has got another size.
    void fit();
    /// As dragging their upper edge does.
    void setLanesHeight(int pixels);
    /// The sizes of the bands and what stands in them, to be kept and put back.
    QVariant save() const;
    void restore(const QVariant& saved);

private:
    void buildBands();
    void buildTabs(QWidget* parent);
    void buildSheets();
    void shareHeight();
    void placeSheets();

    Services& m_services;
    QMainWindow* m_window;
    Views m_views;
    QSplitter *m_bands = nullptr, *m_middle = nullptr;
    QList<int> m_sizesBeforeRecipes;
    QList<int> m_bandSizes, m_middleSizes; // of the layout that is not shown
    bool m_assembling = false;
    bool m_bandsChosen = false; // by hand, or as they were left
};

} // namespace virga
