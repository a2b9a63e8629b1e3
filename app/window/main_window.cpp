#include "app/window/main_window.h"

#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QApplication>
#include <QCloseEvent>
#include <QComboBox>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QScreen>
#include <QSettings>
#include <QShortcut>
#include <QSplitter>
#include <QToolButton>
#include <QUrl>

#include "app/commands/reel_commands.h"
#include "app/document/edit_focus.h"
#include "app/document/words.h"
#include "app/export/export_dialog.h"
#include "app/find_cuts/find_cuts_dialog.h"
#include "app/flow/flow_panel.h"
#include "app/ladder/contact_sheet.h"
#include "app/ladder/ladder_view.h"
#include "app/lanes/lanes_view.h"
#include "app/picture/picture_panel.h"
#include "app/picture/transport.h"
#include "app/recipes/recipe_sheet.h"
#include "app/recipes/recipes_panel.h"
#include "app/reel/reel_view.h"
#include "app/services/failures.h"
#include "app/shutter/shutter_panel.h"
#include "app/sound/beats_panel.h"
#include "app/sound/sound_panel.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "app/tray/tray_view.h"
#include "app/window/media_files.h"
#include "app/window/notice_bar.h"
#include "app/window/popups.h"
#include "app/window/project_files.h"
#include "app/window/selection_panel.h"
#include "app/window/settings_dialog.h"
#include "app/window/tab_panel.h"
#include "core/edit/move_edits.h"

namespace virga {
namespace {

QSplitter* splitter(Qt::Orientation orientation, QWidget* parent) {
    auto* s = new QSplitter(orientation, parent);
    s->setHandleWidth(1);
    s->setChildrenCollapsible(false);
    return s;
}

} // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), m_proxies(&m_document, &m_frames), m_inBetweens(&m_document, &m_frames),
      m_shelf(&m_document), m_bars(&m_document), m_shotEnds(&m_document), m_shots(&m_document),
      m_flow(new FlowWatch(&m_document, this)), m_player(new Player(&m_document, &m_frames, this)),
      m_ready(new ReadyFrames(&m_document, &m_frames, m_player, this)), m_autosave(new Autosave(&m_document)),
      m_files(new ProjectFiles(&m_document, m_autosave, this)),
      m_media(new MediaFiles(&m_document, &m_shelf, &m_thumbnails, this)) {
    setWindowTitle("Virga");
    const qulonglong set = QSettings().value("cacheMegabytes").toULongLong();
    setMemory(set > 0 ? std::size_t(set) << 20 : FrameService::usualBudget());
    setMinimumSize(1100, 700);
    setAcceptDrops(true);
    buildTopBar();
    buildBands();
    buildMenus();
    connect(&m_document, &Document::fileChanged, this, &MainWindow::refreshTitle);
    connect(&m_document, &Document::projectChanged, this, &MainWindow::refreshTitle);
    connect(m_files, &ProjectFiles::problem, m_notice,
            [this](const QString& title, const QString& details) { m_notice->tell(title, details); });
    connect(m_media, &MediaFiles::problem, m_notice,
            [this](const QString& title, const QString& details) { m_notice->tell(title, details); });
    connect(&Failures::all(), &Failures::told, m_notice, [this](const Error& error) {
        m_notice->tell(tr("Something in the background failed; what is open stays as it is."),
                       QString::fromStdString(describe(error)));
    });
    connect(m_media, &MediaFiles::fileChanged, this, [this](const QString& path) {
        m_frames.forget(path.toStdString());
        m_player->forget(path.toStdString());
        m_proxies.forget(path);
        m_shots.forget(path);
    });
    connect(m_media, &MediaFiles::progress, m_tray, &TrayView::setProgress);
    connect(m_media, &MediaFiles::busyText, m_reel, &ReelView::setBusyText);
    connect(&m_document, &Document::opened, this, [this] {
        QStringList names;
        for (const auto& id : m_document.missingMedia())
            if (const Media* media = findMedia(*m_document.project(), id))
                names << QString::fromStdString(media->path.string());
        if (!names.isEmpty())
            m_notice->tell(tr("%1 not where the project says, nor near it. Relink them in the Tray; the project keeps "
                              "its place for them.")
                               .arg(counted(names.size(), "file is", "files are")),
                           names.join("\n"));
        else
            m_notice->hide();
    });
    qApp->installEventFilter(this);
    refreshTitle();
}

MainWindow::~MainWindow() {
    m_frames.disconnect();
    m_document.disconnect(); // it tells of its undo stack's end, too
    qApp->removeEventFilter(this);
    // Views and watchers go before the document and the services that they know.
    const QObjectList own = children();
    for (auto at = own.rbegin(); at != own.rend(); ++at)
        if (!qobject_cast<QLayout*>(*at)) delete *at;
}

void MainWindow::buildTopBar() {
    m_topBar = new QWidget(this);
    m_topBar->setObjectName("topBar");
    auto* column = new QVBoxLayout(m_topBar);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QWidget(m_topBar);
    bar->setFixedHeight(30);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(4, 2, 10, 2);
    m_menus = new QMenuBar(bar);
    m_menus->setNativeMenuBar(false);
    row->addWidget(m_menus, 0, Qt::AlignVCenter);
    row->addStretch(1);
    m_exports = new ExportQueue(this);
    m_export = new QPushButton(tr("Export…"), bar);
    m_export->setObjectName("primary");
    m_export->setFixedHeight(23);
    connect(m_export, &QPushButton::clicked, this, &MainWindow::showExport);
    row->addWidget(m_export);
    // In the middle of the window, whatever stands left and right of it.
    m_title = label({}, "caption", bar);
    m_title->setAlignment(Qt::AlignCenter);
    m_title->setAttribute(Qt::WA_TransparentForMouseEvents);
    column->addWidget(bar);
    m_notice = new NoticeBar(this);
    setMenuWidget(m_topBar);
    connect(&m_document, &Document::projectChanged, this, [this] { refreshExport(); });
    connect(m_exports, &ExportQueue::changed, this, &MainWindow::refreshExport);
    connect(m_exports, &ExportQueue::progressed, this, &MainWindow::refreshExport);
    connect(m_exports, &ExportQueue::ended, this, &MainWindow::exportEnded);
    m_export->setEnabled(false);
}

void MainWindow::buildBands() {
    m_bands = splitter(Qt::Vertical, this);
    m_reel = new ReelView(&m_document, &m_thumbnails, &m_waveforms, m_flow, m_bands);
    m_reel->setReadyFrames(m_ready);
    connect(m_reel, &ReelView::filesDropped, this, &MainWindow::addFiles);
    connect(m_reel, &ReelView::addWanted, this, &MainWindow::chooseFiles);
    connect(m_reel, &ReelView::demoWanted, m_files, &ProjectFiles::openDemo);
    connect(m_reel, &ReelView::growWanted, this, &MainWindow::setAssembling);
    connect(m_reel, &ReelView::renameWanted, this, &MainWindow::rename);
    connect(m_reel, &ReelView::heardWanted, this, [this] { m_tabs->showTab(SoundTab); });
    connect(m_reel, &ReelView::contextMenuWanted, this, &MainWindow::showContextMenu);
    m_bands->addWidget(m_reel);

    m_middle = splitter(Qt::Horizontal, m_bands);
    auto* picture = new PicturePanel(&m_document, &m_frames, m_player, m_middle);
    m_picture = picture->picture();
    m_transport = picture->transport();
    m_middle->addWidget(picture);
    auto* right = splitter(Qt::Vertical, m_middle);
    m_ladder = new LadderView(&m_document, &m_frames, m_flow, right);
    right->addWidget(m_ladder);
    auto* lower = splitter(Qt::Horizontal, right);
    m_flowPanel = new FlowPanel(&m_document, m_flow, lower);
    m_flowPanel->setMinimumWidth(308);
    lower->addWidget(m_flowPanel);
    buildTabs(lower);
    lower->addWidget(m_tabs);
    lower->setSizes({370, 340});
    right->addWidget(lower);
    right->setSizes({112, 240});
    right->setStretchFactor(1, 1);
    m_middle->addWidget(right);
    m_middle->setSizes({560, 720});
    m_bands->addWidget(m_middle);

    m_lanes = new LanesView(&m_document, &m_frames, m_bands);
    m_lanes->setMinimumHeight(200);
    m_bands->addWidget(m_lanes);
    m_bands->setStretchFactor(1, 1);
    shareHeight();
    connect(m_bands, &QSplitter::splitterMoved, this, [this] { m_bandsChosen = true; });
    setCentralWidget(m_bands);
    m_sheet = new ContactSheet(&m_document, &m_frames, this);
    buildRecipeViews();
    connect(m_ladder, &LadderView::sheetWanted, this, &MainWindow::showSheet);
    connect(m_sheet, &ContactSheet::problem, this,
            [this](const QString& text) { m_notice->tell(tr("The frames could not be written."), text); });
    const auto tell = [this](const QString& text) { m_notice->tell(tr("That could not be done."), text); };
    connect(m_flowPanel, &FlowPanel::problem, this, tell);
    connect(m_lanes, &LanesView::problem, this, tell);
    connect(m_selectionPanel, &SelectionPanel::problem, this, tell);
    connect(m_beats, &BeatsPanel::problem, this, [this](const QString& text) { m_notice->tell(tr("Beats"), text); });
    connect(m_picture, &PictureView::problem, this, tell);
    connect(m_transport, &Transport::splitWanted, this, [this] { splitAtPlayhead(m_document); });
    connect(m_transport, &Transport::lengthWanted, this, &MainWindow::askLength);
    connect(m_transport, &Transport::tapWanted, m_beats, &BeatsPanel::tap);
}

void MainWindow::buildTabs(QWidget* parent) {
    m_tabs = new TabPanel(parent);
    m_tabs->setMinimumWidth(306);
    m_tray = new TrayView(&m_document, &m_shelf, &m_thumbnails, &m_proxies, m_tabs);
    m_tabs->addTab(tr("Tray"), m_tray);
    m_selectionPanel = new SelectionPanel(&m_document, &m_inBetweens, m_tabs);
    m_tabs->addTab(tr("Clip"), m_selectionPanel);
    auto* sound = new SoundPanel(&m_document, m_tabs);
    m_tabs->addTab(tr("Sound"), sound);
    m_beats = new BeatsPanel(&m_document, m_player, m_tabs);
    m_tabs->addTab(tr("Beats"), m_beats);
    m_recipes = new RecipesPanel(&m_document, &m_frames, &m_recipeShelf, m_tabs);
    m_tabs->addTab(tr("Recipes"), m_recipes);
    m_tabs->addTab(tr("Shutter"), new ShutterPanel(&m_document, m_tabs), tr("Shutter and edges"));
    m_tabs->showTab(RecipesTab);
    connect(m_tray, &TrayView::filesDropped, this, [this](const QStringList& paths) { addFiles(paths, toTray); });
    connect(m_tray, &TrayView::addWanted, this, [this] { chooseFilesFor(toTray); });
    connect(m_tray, &TrayView::cancelWanted, m_media, &MediaFiles::cancel);
    connect(m_tray, &TrayView::relinkWanted, m_media, &MediaFiles::chooseRelink);
    connect(m_tray, &TrayView::relinkAllWanted, m_media, &MediaFiles::chooseRelinkAll);
    connect(m_tray, &TrayView::singlePicturesWanted, m_media, &MediaFiles::takeApart);
    connect(m_tray, &TrayView::findCutsWanted, this, &MainWindow::findCuts);
    connect(sound, &SoundPanel::addWanted, this, [this] { chooseFilesFor(-1); });
    connect(sound, &SoundPanel::stemsWanted, this, &MainWindow::chooseStems);
    buildMovementActions();
}

void MainWindow::setAssembling(bool on) {
    if (on == m_assembling) return;
    m_assembling = on;
    const QList<int> bands = m_bands->sizes(), middle = m_middle->sizes();
    m_ladder->setVisible(!on);
    m_flowPanel->setVisible(!on);
    m_lanes->setVisible(!on);
    m_transport->setAssembling(on);
    m_reel->setGrown(on);
    if (!m_bandSizes.isEmpty()) {
        m_bands->setSizes(m_bandSizes);
        m_middle->setSizes(m_middleSizes);
    } else {
        const int all = m_bands->height(), tall = std::clamp(all / 2, 300, 400);
        m_bands->setSizes({tall, all - tall, 0});
        m_middle->setSizes({width() / 2, width() - width() / 2});
    }
    m_bandSizes = bands;
    m_middleSizes = middle;
    m_tabs->showTab(on ? TrayTab : RecipesTab);
}

// Before and after: the picture without the move whose lane was pointed at, or the last one, until it is asked again.
void MainWindow::toggleWithout() {
    if (m_document.isTrying()) return m_document.tryOut(nullptr);
    const EditFocus* focus = m_document.focus();
    const Stack* stack = focus->stack();
    if (!stack || stack->empty()) return;
    const int move = focus->wasPointedAt() ? focus->current().move : int(stack->size()) - 1;
    if (move < 0 || move >= int(stack->size())) return;
    Move off = (*stack)[std::size_t(move)];
    off.enabled = false;
    m_document.tryOut(
        std::make_shared<const Project>(withMoveChanged(*m_document.project(), focus->place(), move, off)));
}

// The piece with made-up pictures mixed instead, until it is asked again: to compare.
void MainWindow::toggleMixed() {
    if (m_document.isTrying()) return m_document.tryOut(nullptr);
    Project mixed = *m_document.project();
    const auto change = [](Clip& clip) {
        if (clip.inBetween == InBetween::MadeUp) clip.inBetween = InBetween::Mix;
    };
    for (Clip& clip : mixed.reel) change(clip);
    for (Overlay& overlay : mixed.overlays) change(overlay.clip);
    if (mixed == *m_document.project())
        return m_notice->tell(tr("Nothing to compare"), tr("No shot has made-up pictures."));
    m_document.tryOut(std::make_shared<const Project>(std::move(mixed)));
}

// An eighth is for the small pictures of Reel and Tray.
void MainWindow::setMemory(std::size_t bytes) {
    m_memory = bytes;
    m_thumbnails.setBudget(bytes / 8);
    m_frames.setBudget(bytes - bytes / 8);
}

void MainWindow::editShortcuts() {
    ShortcutsDialog(&m_shortcuts, this).exec();
}

void MainWindow::editSettings() {
    SettingsDialog dialog(this);
    connect(&dialog, &SettingsDialog::themeWanted, this, &MainWindow::setTheme);
    dialog.exec();
}

// On the screen that the window is not on, where there is another one.
void MainWindow::showFullScreenPicture() {
    if (m_document.project()->reel.empty()) return;
    auto* view = new PictureView(&m_document, &m_frames, m_player, this, QStringLiteral("full-screen"));
    view->setWindowFlag(Qt::Window); // of its own, but it goes with this one and what this one holds
    view->setObjectName("fullScreen");
    view->setAttribute(Qt::WA_DeleteOnClose);
    view->setShowHandles(false);
    view->setWindowTitle(tr("Picture"));
    connect(new QShortcut(QKeySequence("F11"), view), &QShortcut::activated, view, &QWidget::close);
    connect(new QShortcut(QKeySequence(Qt::Key_Space), view), &QShortcut::activated, m_player, &Player::toggle);
    for (const auto& [key, by] : {std::pair(Qt::Key_Left, -1), {Qt::Key_Right, 1}})
        connect(new QShortcut(QKeySequence(key), view), &QShortcut::activated, this,
                [this, step = by] { m_document.setPlayhead(m_document.playhead() + step); });
    const QScreen* here = screen();
    for (QScreen* other : QGuiApplication::screens())
        if (other != here) view->setGeometry(other->geometry());
    view->showFullScreen();
}

// Over the middle band, which stays beneath it.
void MainWindow::showSheet() {
    if (m_document.cut() < 0) return;
    m_sheet->open({m_middle->mapTo(this, QPoint(0, 0)), m_middle->size()});
}

// What a low window lacks, Lanes and the middle bear alike; what a tall one has more, the middle gets.
void MainWindow::shareHeight() {
    if (m_bandsChosen || m_assembling) return;
    constexpr int reel = 148, middle = 318, lanes = 300;
    const int lacking = std::max(0, reel + middle + lanes - m_bands->height());
    m_bands->setSizes({reel, std::max(middle, m_bands->height() - reel - lanes) - lacking / 2, lanes - lacking / 2});
}

QVariant MainWindow::saveBands() const {
    QVariantList states;
    for (const QSplitter* s : findChildren<QSplitter*>()) states << s->saveState();
    return states;
}

void MainWindow::restoreBands(const QVariant& saved) {
    const QVariantList states = saved.toList();
    const auto splitters = findChildren<QSplitter*>();
    if (states.size() != splitters.size()) return; // of another version's window
    for (int i = 0; i < states.size(); ++i) splitters[i]->restoreState(states[i].toByteArray());
    m_bandsChosen = true;
}

void MainWindow::setLanesHeight(int pixels) {
    const QList<int> sizes = m_bands->sizes();
    if (sizes.size() != 3) return;
    m_bandsChosen = true;
    m_bands->setSizes({sizes[0], sizes[1] + sizes[2] - pixels, pixels});
}

void MainWindow::findCuts(const QString& mediaId) {
    if (!findMedia(*m_document.project(), mediaId.toStdString())) return;
    m_player->stop();
    qint64 toTrace = -1;
    FindCutsDialog dialog(&m_document, &m_thumbnails, mediaId.toStdString(), this);
    connect(&dialog, &FindCutsDialog::traceWanted, this, [&toTrace](qint64 picture) { toTrace = picture; });
    dialog.exec();
    if (toTrace >= 0) traceTransition(mediaId, toTrace);
}

void MainWindow::refreshTitle() {
    const auto project = m_document.project();
    const QString state = m_document.isReadOnly()       ? tr("read-only: open in another window")
                          : m_document.isModified()     ? tr("not saved")
                          : m_document.path().isEmpty() ? QString()
                                                        : tr("saved");
    QString text =
        QStringLiteral("<span style='color:%1'>%2</span>").arg(theme().text.name(), m_document.title().toHtmlEscaped());
    if (!project->reel.empty())
        text += tr(" — %1 × %2, %3 fps")
                    .arg(project->settings.size.width)
                    .arg(project->settings.size.height)
                    .arg(project->settings.rate.toDouble(), 0, 'g', 5);
    if (!state.isEmpty()) text += (project->reel.empty() ? QStringLiteral(" — ") : QStringLiteral(", ")) + state;
    showOwnMarkup(m_title, text);
    m_title->adjustSize();
    m_title->setGeometry((width() - m_title->width()) / 2, 0, m_title->width(), 30);
    const QString name =
        m_document.title().replace("[*]", "[*][*]"); // Qt's mark of changes, doubled, is only characters
    setWindowTitle(name + (m_document.isModified() ? QStringLiteral(" *") : QString()) + QStringLiteral(" – Virga"));
}

bool MainWindow::isSettled() {
    if (m_media->isBusy() || !m_shots.isIdle() || m_beats->isSearching() || !m_frames.isIdle() ||
        !m_thumbnails.isIdle() || !m_waveforms.isIdle() || !m_flow->isIdle() || !m_flowPanel->isIdle() ||
        !m_recipes->isIdle() || !m_recipeSheet->isIdle() || !m_reel->heard()->isIdle())
        return false;
    return m_document.project()->reel.empty() || m_picture->isExact() || m_player->isPlaying();
}

void MainWindow::addFiles(const QStringList& paths, int place) {
    const QString suffix = QString::fromUtf8(recipeSuffix.data(), int(recipeSuffix.size()));
    if (std::any_of(paths.begin(), paths.end(), [&](const QString& path) { return path.endsWith(suffix); })) {
        QStringList recipes, others;
        for (const QString& path : paths) (path.endsWith(suffix) ? recipes : others) << path;
        readRecipes(recipes);
        if (!others.isEmpty()) addFiles(others, place);
        return;
    }
    for (const QString& path : paths)
        if (path.endsWith(".virga")) {
            m_files->openAsking(path);
            return;
        }
    m_media->add(paths, place);
}

void MainWindow::chooseFiles() {
    chooseFilesFor(-1);
}

void MainWindow::chooseFilesFor(int place) {
    QSettings settings;
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, tr("Add shots, pictures or music"), settings.value("mediaFolder").toString(),
        tr("Video, pictures and sound (*.mp4 *.mov *.mkv *.webm *.avi *.m4v *.mts *.mpg *.jpg *.jpeg *.png *.tif "
           "*.tiff *.webp *.gif *.wav *.mp3 *.flac *.ogg *.m4a *.otio *.edl);;All files (*)"));
    if (paths.isEmpty()) return;
    settings.setValue("mediaFolder", QFileInfo(paths.first()).absolutePath());
    addFiles(paths, place);
}

void MainWindow::showExport() {
    if (m_document.project()->reel.empty()) return;
    if (!m_exportDialog) m_exportDialog = new ExportDialog(&m_document, m_exports, this);
    m_exportDialog->show();
    m_exportDialog->raise();
    m_exportDialog->activateWindow();
}

// How far the queue is stands on the button that opens it.
void MainWindow::refreshExport() {
    const bool busy = m_exports->isBusy();
    m_export->setText(!busy                   ? tr("Export…")
                      : m_exports->isPaused() ? tr("Export, paused")
                                              : tr("Export, %1 %").arg(int(100 * m_exports->part())));
    m_export->setEnabled(busy || !m_document.project()->reel.empty());
}

void MainWindow::exportEnded(int id) {
    const QueuedExport* q = m_exports->find(id);
    if (!q) return;
    const bool seen = m_exportDialog && m_exportDialog->isVisible();
    const QString name = QFileInfo(QString::fromStdString(q->settings.path.string())).fileName();
    const QString text =
        q->state == QueuedExport::Done ? tr("%1 is exported.").arg(name) : tr("%1 could not be exported.").arg(name);
    if (!QApplication::activeWindow())
        tellDesktop(text, q->told);
    else if (!seen)
        m_notice->tell(text, q->state == QueuedExport::Done ? QString() : q->told);
}

// Whether the window may close although something is being exported.
bool MainWindow::mayStopExports() {
    if (!m_exports->isBusy()) return true;
    MessageBox ask(QMessageBox::Question, tr("Virga"),
                   tr("An export is not done yet. Nothing half written stays behind."), QMessageBox::NoButton, this);
    auto* stop = ask.addButton(tr("Stop it and close"), QMessageBox::DestructiveRole);
    ask.setDefaultButton(ask.addButton(tr("Go on exporting"), QMessageBox::RejectRole));
    ask.exec();
    if (ask.clickedButton() != stop) return false;
    m_exports->cancelAll();
    return true;
}

void MainWindow::stepCut(int by) {
    const auto project = m_document.project();
    const int cuts = cutCount(*project);
    if (cuts == 0) return;
    const int cut = std::clamp(m_document.cut() + by, 0, cuts - 1);
    m_document.select({Selection::CutSelected, cut, {}});
    m_document.setPlayhead(cutFrame(*project, cut));
}

void MainWindow::setTheme(const QString& name) {
    useTheme(name);
    QSettings().setValue("theme", name);
    for (auto* button : findChildren<QToolButton*>())
        if (const QString iconName = button->property("iconName").toString(); !iconName.isEmpty())
            button->setIcon(icon(iconName));
    emit m_document.projectChanged();
    emit m_document.shownChanged(); // everything is painted anew
    emit m_flow->changed();
    refreshTitle();
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
    if (!mayStopExports() || !m_files->mayLeave()) {
        event->ignore();
        return;
    }
    m_player->stop();
    m_autosave->discard();
    QSettings settings;
    settings.setValue("geometry", saveGeometry());
    m_recipeSheet->close();
    if (!m_assembling) settings.setValue("bands", saveBands());
    event->accept();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    shareHeight();
    placeSheets();
    refreshTitle();
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
