#include "app/window/main_window.h"

#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QKeyEvent>
#include <QLayout>
#include <QMenuBar>
#include <QMimeData>
#include <QSettings>
#include <QToolButton>
#include <QUrl>

#include "app/commands/reel_commands.h"
#include "app/document/words.h"
#include "app/flow/flow_panel.h"
#include "app/ladder/contact_sheet.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_view.h"
#include "app/picture/transport.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/reel/reel_view.h"
#include "app/services/failures.h"
#include "app/sound/beats_panel.h"
#include "app/sound/sound_panel.h"
#include "app/style/icons.h"
#include "app/style/theme.h"
#include "app/tray/tray_view.h"
#include "app/window/command_table.h"
#include "app/window/export_actions.h"
#include "app/window/media_files.h"
#include "app/window/menus.h"
#include "app/window/movement_actions.h"
#include "app/window/notice_bar.h"
#include "app/window/popups.h"
#include "app/window/project_files.h"
#include "app/window/recipe_actions.h"
#include "app/window/selection_panel.h"
#include "app/window/tab_panel.h"
#include "app/window/top_bar.h"

namespace virga {

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), m_bar(new TopBar(m_services, this)), m_notice(new NoticeBar(this)),
      m_layout(new Layout(m_services, this)), m_files(new ProjectFiles(document(), &m_services.autosave, this)),
      m_media(new MediaFiles(document(), &m_services.shelf, &m_services.thumbnails, this)),
      m_recipes(new RecipeActions(m_services, *m_layout, m_notice, this)),
      m_movement(new MovementActions(m_services, views().reel, m_notice, this)),
      m_exporting(new ExportActions(m_services, m_notice, this)), m_commands(new CommandTable(m_bar->menus(), this)) {
    setMinimumSize(1100, 700);
    setAcceptDrops(true);
    setMenuWidget(m_bar);
    buildMenus();
    connectViews();
    connectNotices();
    qApp->installEventFilter(this);
    m_bar->refreshTitle();
}

MainWindow::~MainWindow() {
    m_services.silence();
    qApp->removeEventFilter(this);
    // Views go before the document and the services that they know.
    const QObjectList own = children();
    for (auto at = own.rbegin(); at != own.rend(); ++at)
        if (!qobject_cast<QLayout*>(*at)) delete *at;
}

void MainWindow::buildMenus() {
    for (const auto add : {addFileCommands, addEditCommands, addViewCommands, addReelCommands, addCutCommands,
                           addKeysCommands, addPlayCommands, addHelpCommands})
        add(*m_commands, *this);
    connect(document(), &Document::projectChanged, m_commands, &CommandTable::refresh);
    connect(document(), &Document::selectionChanged, m_commands, &CommandTable::refresh);
    connect(views().lanes->context(), &LaneContext::keysSelected, m_commands, &CommandTable::refresh);
    m_commands->refresh();
}

void MainWindow::connectViews() {
    const Views& v = views();
    const auto add = [this] { chooseFiles(); };
    connect(m_bar, &TopBar::exportWanted, m_exporting, &ExportActions::show);
    connect(v.reel, &ReelView::filesDropped, this, &MainWindow::addFiles);
    connect(v.reel, &ReelView::addWanted, this, add);
    connect(v.reel, &ReelView::demoWanted, m_files, &ProjectFiles::openDemo);
    connect(v.reel, &ReelView::growWanted, m_layout, &Layout::setAssembling);
    connect(v.reel, &ReelView::renameWanted, m_layout, &Layout::editName);
    connect(v.reel, &ReelView::heardWanted, this, [this] { views().tabs->showTab(Layout::SoundTab); });
    connect(v.reel, &ReelView::contextMenuWanted, this,
            [this](const QPoint& at) { showContextMenu(*m_commands, *document(), this, at); });
    connect(v.tray, &TrayView::filesDropped, this, [this](const QStringList& paths) { addFiles(paths, toTray); });
    connect(v.tray, &TrayView::addWanted, this, [this] { chooseFiles(toTray); });
    connect(v.tray, &TrayView::cancelWanted, m_media, &MediaFiles::cancel);
    connect(v.tray, &TrayView::relinkWanted, m_media, &MediaFiles::chooseRelink);
    connect(v.tray, &TrayView::relinkAllWanted, m_media, &MediaFiles::chooseRelinkAll);
    connect(v.tray, &TrayView::singlePicturesWanted, m_media, &MediaFiles::takeApart);
    connect(v.tray, &TrayView::findCutsWanted, m_movement, &MovementActions::findCuts);
    connect(v.tray, &TrayView::traceWanted, m_movement, [this](const QString& id) { m_movement->traceTransition(id); });
    connect(v.sound, &SoundPanel::addWanted, this, add);
    connect(v.sound, &SoundPanel::stemsWanted, m_movement, &MovementActions::chooseStems);
    connect(v.transport, &Transport::splitWanted, this, [this] { splitAtPlayhead(*document()); });
    connect(v.transport, &Transport::lengthWanted, this, [this] { askLength(*document(), *m_notice, this); });
    connect(v.transport, &Transport::tapWanted, v.beats, &BeatsPanel::tap);
    connect(m_media, &MediaFiles::progress, v.tray, &TrayView::setProgress);
    connect(m_media, &MediaFiles::busyText, v.reel, &ReelView::setBusyText);
    connect(m_media, &MediaFiles::fileChanged, this, [this](const QString& path) { m_services.forget(path); });
}

// What went wrong stands below the menus, until something else does.
void MainWindow::connectNotices() {
    const Views& v = views();
    const auto plain = [this](const QString& title, const QString& details) { m_notice->tell(title, details); };
    const auto under = [this](const QString& title) {
        return [this, title](const QString& text) { m_notice->tell(title, text); };
    };
    const auto notDone = under(tr("That could not be done."));
    connect(m_files, &ProjectFiles::problem, m_notice, plain);
    connect(m_media, &MediaFiles::problem, m_notice, plain);
    connect(v.flow, &FlowPanel::problem, m_notice, notDone);
    connect(v.lanes, &LanesView::problem, m_notice, notDone);
    connect(v.selection, &SelectionPanel::problem, m_notice, notDone);
    connect(v.picture, &PictureView::problem, m_notice, notDone);
    connect(v.beats, &BeatsPanel::problem, m_notice, under(tr("Beats")));
    connect(v.sheet, &ContactSheet::problem, m_notice, under(tr("The frames could not be written.")));
    connect(&Failures::all(), &Failures::told, m_notice, [this](const Error& error) {
        m_notice->tell(tr("Something in the background failed; what is open stays as it is."),
                       QString::fromStdString(describe(error)));
    });
    connect(m_media, &MediaFiles::allThere, m_notice, &NoticeBar::hide);
}

void MainWindow::addFiles(const QStringList& paths, int place) {
    const QString suffix = QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size()));
    QStringList recipes, others;
    for (const QString& path : paths) (path.endsWith(suffix) ? recipes : others) << path;
    if (!recipes.isEmpty()) m_recipes->read(recipes);
    for (const QString& path : others)
        if (path.endsWith(".virga")) return m_files->openAsking(path);
    if (!others.isEmpty() || recipes.isEmpty()) m_media->add(others, place);
}

void MainWindow::chooseFiles(int place) {
    QSettings settings;
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, tr("Add shots, pictures or music"), settings.value("mediaFolder").toString(),
        tr("Video, pictures and sound (*.mp4 *.mov *.mkv *.webm *.avi *.m4v *.mts *.mpg *.jpg *.jpeg *.png *.tif "
           "*.tiff *.webp *.gif *.wav *.mp3 *.flac *.ogg *.m4a *.otio *.edl);;All files (*)"));
    if (paths.isEmpty()) return;
    settings.setValue("mediaFolder", QFileInfo(paths.first()).absolutePath());
    addFiles(paths, place);
}

void MainWindow::setTheme(const QString& name) {
    useTheme(name);
    QSettings().setValue("theme", name);
    for (auto* button : findChildren<QToolButton*>())
        if (const QString iconName = button->property("iconName").toString(); !iconName.isEmpty())
            button->setIcon(icon(iconName));
    emit document()->projectChanged();
    emit document()->shownChanged(); // everything is painted anew
    emit m_services.flow.changed();
    m_bar->refreshTitle();
}

bool MainWindow::isSettled() {
    const Views& v = views();
    if (m_media->isBusy() || v.beats->isSearching() || !m_services.isIdle() || !v.flow->isIdle() ||
        !v.recipes->isIdle() || !v.recipeSheet->isIdle() || !v.reel->heard()->isIdle())
        return false;
    return document()->project()->reel.empty() || v.picture->isExact() || m_services.player.isPlaying();
}

// Lists, boxes and sliders keep the keys they move by; elsewhere those keys step through the piece.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride) return QMainWindow::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool moves = key->key() == Qt::Key_Up || key->key() == Qt::Key_Down || key->key() == Qt::Key_Left ||
                       key->key() == Qt::Key_Right || key->key() == Qt::Key_Home || key->key() == Qt::Key_End;
    const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
    if (moves && plain &&
        (qobject_cast<QComboBox*>(watched) || qobject_cast<QAbstractSlider*>(watched) ||
         qobject_cast<QAbstractItemView*>(watched)))
        event->accept();
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!m_exporting->mayStop() || !m_files->mayLeave()) {
        event->ignore();
        return;
    }
    m_services.player.stop();
    m_services.autosave.discard();
    QSettings settings;
    settings.setValue("geometry", saveGeometry());
    views().recipeSheet->close();
    if (!m_layout->isAssembling()) settings.setValue("bands", m_layout->save());
    event->accept();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    m_layout->fit();
    m_bar->refreshTitle();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    addFiles(paths, -1);
}

} // namespace virga
