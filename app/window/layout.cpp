#include "app/window/layout.h"

#include <QGuiApplication>
#include <QMainWindow>
#include <QScreen>
#include <QShortcut>
#include <QSplitter>
#include <algorithm>

#include "app/flow/flow_panel.h"
#include "app/ladder/contact_sheet.h"
#include "app/ladder/ladder_view.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_panel.h"
#include "app/picture/transport.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/reel/reel_view.h"
#include "app/shutter/shutter_panel.h"
#include "app/sound/beats_panel.h"
#include "app/sound/sound_panel.h"
#include "app/tray/tray_view.h"
#include "app/window/selection_panel.h"
#include "app/window/services.h"
#include "app/window/tab_panel.h"

namespace virga {
namespace {

QSplitter* splitter(Qt::Orientation orientation, QWidget* parent) {
    auto* s = new QSplitter(orientation, parent);
    s->setHandleWidth(1);
    s->setChildrenCollapsible(false);
    return s;
}

} // namespace

Layout::Layout(Services& services, QMainWindow* window) : QObject(window), m_services(services), m_window(window) {
    buildBands();
    buildSheets();
}

void Layout::buildBands() {
    Document* document = &m_services.document;
    m_bands = splitter(Qt::Vertical, m_window);
    m_views.reel = new ReelView(document, &m_services.thumbnails, &m_services.waveforms, &m_services.flow, m_bands);
    m_views.reel->setReadyFrames(&m_services.ready);
    m_bands->addWidget(m_views.reel);

    m_middle = splitter(Qt::Horizontal, m_bands);
    auto* picture = new PicturePanel(document, &m_services.frames, &m_services.player, m_middle);
    m_views.picture = picture->picture();
    m_views.transport = picture->transport();
    m_middle->addWidget(picture);
    auto* right = splitter(Qt::Vertical, m_middle);
    m_views.ladder = new LadderView(document, &m_services.frames, &m_services.flow, right);
    right->addWidget(m_views.ladder);
    auto* lower = splitter(Qt::Horizontal, right);
    m_views.flow = new FlowPanel(document, &m_services.flow, lower);
    m_views.flow->setMinimumWidth(308);
    lower->addWidget(m_views.flow);
    buildTabs(lower);
    lower->addWidget(m_views.tabs);
    lower->setSizes({370, 340});
    right->addWidget(lower);
    right->setSizes({112, 240});
    right->setStretchFactor(1, 1);
    m_middle->addWidget(right);
    m_middle->setSizes({560, 720});
    m_bands->addWidget(m_middle);

    m_views.lanes = new LanesView(document, &m_services.frames, m_bands);
    m_views.lanes->setMinimumHeight(200);
    m_bands->addWidget(m_views.lanes);
    m_bands->setStretchFactor(1, 1);
    shareHeight();
    connect(m_bands, &QSplitter::splitterMoved, this, [this] { m_bandsChosen = true; });
    m_window->setCentralWidget(m_bands);
}

void Layout::buildTabs(QWidget* parent) {
    Document* document = &m_services.document;
    TabPanel* tabs = m_views.tabs = new TabPanel(parent);
    tabs->setMinimumWidth(306);
    m_views.tray = new TrayView(document, &m_services.shelf, &m_services.thumbnails, &m_services.proxies, tabs);
    m_views.selection = new SelectionPanel(document, &m_services.inBetweens, tabs);
    m_views.sound = new SoundPanel(document, tabs);
    m_views.beats = new BeatsPanel(document, &m_services.player, tabs);
    m_views.recipes = new RecipesPanel(document, &m_services.frames, &m_services.recipes, tabs);
    tabs->addTab(tr("Tray"), m_views.tray);
    tabs->addTab(tr("Clip"), m_views.selection);
    tabs->addTab(tr("Sound"), m_views.sound);
    tabs->addTab(tr("Beats"), m_views.beats);
    tabs->addTab(tr("Recipes"), m_views.recipes);
    tabs->addTab(tr("Shutter"), new ShutterPanel(document, tabs), tr("Shutter and edges"));
    tabs->showTab(RecipesTab);
}

void Layout::buildSheets() {
    Document* document = &m_services.document;
    m_views.sheet = new ContactSheet(document, &m_services.frames, m_window);
    m_views.recipeSheet =
        new RecipeSheet(document, &m_services.frames, &m_services.flow, &m_services.recipes, m_window);
    connect(m_views.ladder, &LadderView::sheetWanted, this, &Layout::showSheet);
    connect(m_views.recipes, &RecipesPanel::largeWanted, this, &Layout::showRecipes);
    connect(m_views.selection, &SelectionPanel::recipeWanted, this, &Layout::showRecipes);
    connect(m_views.recipeSheet, &RecipeSheet::closed, this, [this] {
        m_views.recipes->grid()->setPaused(false);
        if (!m_sizesBeforeRecipes.isEmpty()) m_bands->setSizes(m_sizesBeforeRecipes);
        m_sizesBeforeRecipes.clear();
    });
}

void Layout::setAssembling(bool on) {
    if (on == m_assembling) return;
    m_assembling = on;
    const QList<int> bands = m_bands->sizes(), middle = m_middle->sizes();
    m_views.ladder->setVisible(!on);
    m_views.flow->setVisible(!on);
    m_views.lanes->setVisible(!on);
    m_views.transport->setAssembling(on);
    m_views.reel->setGrown(on);
    if (!m_bandSizes.isEmpty()) {
        m_bands->setSizes(m_bandSizes);
        m_middle->setSizes(m_middleSizes);
    } else {
        const int all = m_bands->height(), tall = std::clamp(all / 2, 300, 400), width = m_window->width();
        m_bands->setSizes({tall, all - tall, 0});
        m_middle->setSizes({width / 2, width - width / 2});
    }
    m_bandSizes = bands;
    m_middleSizes = middle;
    m_views.tabs->showTab(on ? TrayTab : RecipesTab);
}

// The sheet lies over the middle band, which stays beneath it.
void Layout::showSheet() {
    if (m_services.document.cut() < 0) return;
    m_views.sheet->open({m_middle->mapTo(m_window, QPoint(0, 0)), m_middle->size()});
}

void Layout::showRecipes(const QString& id) {
    if (m_services.document.project()->reel.empty()) return;
    if (!m_views.recipeSheet->isVisible() && !m_assembling) {
        // The cards have the room of all lanes but the first.
        m_sizesBeforeRecipes = m_bands->sizes();
        const int lanes = m_views.lanes->minimumHeight();
        if (const QList<int> now = m_bands->sizes(); now.size() == 3 && now[2] > lanes)
            m_bands->setSizes({now[0], now[1] + now[2] - lanes, lanes});
    }
    m_views.recipes->grid()->setPaused(true); // it lies beneath
    m_views.recipeSheet->open({m_middle->mapTo(m_window, QPoint(0, 0)), m_middle->size()}, id);
}

void Layout::editName() {
    m_views.tabs->showTab(ClipTab);
    m_views.selection->editName();
}

void Layout::placeSheets() {
    for (QWidget* sheet : std::initializer_list<QWidget*>{m_views.sheet, m_views.recipeSheet})
        if (sheet->isVisible()) sheet->setGeometry({m_middle->mapTo(m_window, QPoint(0, 0)), m_middle->size()});
}

// On the screen that the window is not on, where there is another one.
void Layout::showFullScreen() {
    Document* document = &m_services.document;
    if (document->project()->reel.empty()) return;
    Player* player = &m_services.player;
    auto* view = new PictureView(document, &m_services.frames, player, m_window, QStringLiteral("full-screen"));
    view->setWindowFlag(Qt::Window); // of its own, but it goes with this one and what this one holds
    view->setObjectName("fullScreen");
    view->setAttribute(Qt::WA_DeleteOnClose);
    view->setShowHandles(false);
    view->setWindowTitle(tr("Picture"));
    connect(new QShortcut(QKeySequence("F11"), view), &QShortcut::activated, view, &QWidget::close);
    connect(new QShortcut(QKeySequence(Qt::Key_Space), view), &QShortcut::activated, player, &Player::toggle);
    for (const auto& [key, by] : {std::pair(Qt::Key_Left, -1), {Qt::Key_Right, 1}})
        connect(new QShortcut(QKeySequence(key), view), &QShortcut::activated, document,
                [document, step = by] { document->setPlayhead(document->playhead() + step); });
    const QScreen* here = m_window->screen();
    for (QScreen* other : QGuiApplication::screens())
        if (other != here) view->setGeometry(other->geometry());
    view->showFullScreen();
}

// What a low window lacks, Lanes and the middle bear alike; what a tall one has more, the middle gets.
void Layout::shareHeight() {
    if (m_bandsChosen || m_assembling) return;
    constexpr int reel = 148, middle = 318, lanes = 300;
    const int lacking = std::max(0, reel + middle + lanes - m_bands->height());
    m_bands->setSizes({reel, std::max(middle, m_bands->height() - reel - lanes) - lacking / 2, lanes - lacking / 2});
}

void Layout::setLanesHeight(int pixels) {
    const QList<int> sizes = m_bands->sizes();
    if (sizes.size() != 3) return;
    m_bandsChosen = true;
    m_bands->setSizes({sizes[0], sizes[1] + sizes[2] - pixels, pixels});
}

QVariant Layout::save() const {
    QVariantList states;
    for (const QSplitter* s : m_window->findChildren<QSplitter*>()) states << s->saveState();
    return states;
}

void Layout::restore(const QVariant& saved) {
    const QVariantList states = saved.toList();
    const auto splitters = m_window->findChildren<QSplitter*>();
    if (states.size() != splitters.size()) return; // of another version's window
    for (int i = 0; i < states.size(); ++i) splitters[i]->restoreState(states[i].toByteArray());
    m_bandsChosen = true;
}

void Layout::fit() {
    shareHeight();
    placeSheets();
}

} // namespace virga
