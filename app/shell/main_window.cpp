#include "app/shell/main_window.h"

#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QSplitter>
#include <QToolButton>
#include <QUrl>

#include "app/commands/reel_commands.h"
#include "app/export/export_dialog.h"
#include "app/flow/flow_panel.h"
#include "app/ladder/ladder_view.h"
#include "app/lanes/lanes_view.h"
#include "app/panels/clip_panel.h"
#include "app/panels/shutter_panel.h"
#include "app/picture/picture_panel.h"
#include "app/recipes/recipes_panel.h"
#include "app/reel/reel_view.h"
#include "app/shell/notice_bar.h"
#include "app/shell/project_files.h"
#include "app/shell/tab_panel.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/theme.h"

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
    : QMainWindow(parent), m_flow(new FlowWatch(&m_document, this)), m_player(new Player(&m_document, &m_frames, this)),
      m_autosave(new Autosave(&m_document)), m_files(new ProjectFiles(&m_document, m_autosave, this)) {
    setWindowTitle("Virga");
    setMinimumSize(1100, 700);
    setAcceptDrops(true);
    buildTopBar();
    buildBands();
    buildMenus();
    connect(&m_document, &Document::fileChanged, this, &MainWindow::refreshTitle);
    connect(&m_document, &Document::projectChanged, this, &MainWindow::refreshTitle);
    connect(m_files, &ProjectFiles::problem, m_notice,
            [this](const QString& title, const QString& details) { m_notice->tell(title, details); });
    connect(&m_importer, &Importer::progress, this, [this](int done, int all) {
        m_reel->setBusyText(done < all ? tr("reading %1 of %2 …").arg(done + 1).arg(all) : QString());
    });
    connect(&m_importer, &Importer::finished, this, [this](const Imported& imported, int place) {
        m_reel->setBusyText({});
        virga::addFiles(m_document, imported.files, place);
        QStringList reasons;
        for (const Error& e : imported.unreadable) reasons << QString::fromStdString(describe(e));
        for (const MediaInfo& info : imported.files)
            for (const auto& warning : info.warnings)
                reasons << QString::fromStdString(info.path.filename().string() + ": " + warning);
        const int bad = int(imported.unreadable.size());
        if (bad > 0)
            m_notice->tell(tr("%n file(s) could not be added; the rest of the reel stays as it is.", nullptr, bad),
                           reasons.join("\n"));
        else if (!reasons.isEmpty())
            m_notice->tell(tr("Added, but worth knowing:"), reasons.join("\n"));
    });
    connect(&m_document, &Document::opened, this, [this] {
        QStringList names;
        for (const auto& id : m_document.missingMedia())
            if (const Media* media = findMedia(*m_document.project(), id))
                names << QString::fromStdString(media->path.string());
        if (!names.isEmpty())
            m_notice->tell(tr("%n file(s) of this project are not where they were. Put them back, or beside the "
                              "project, and open it again; the project keeps its place for them.",
                              nullptr, int(names.size())),
                           names.join("\n"));
        else
            m_notice->hide();
    });
    refreshTitle();
}

MainWindow::~MainWindow() {
    m_frames.disconnect();
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
    m_notice = new NoticeBar(m_topBar);
    column->addWidget(m_notice);
    setMenuWidget(m_topBar);
    connect(&m_document, &Document::projectChanged, this,
            [this] { m_export->setEnabled(!m_document.project()->reel.empty()); });
    m_export->setEnabled(false);
}

void MainWindow::buildBands() {
    auto* bands = splitter(Qt::Vertical, this);
    m_reel = new ReelView(&m_document, &m_thumbnails, &m_waveforms, m_flow, bands);
    connect(m_reel, &ReelView::filesDropped, this, &MainWindow::addFiles);
    connect(m_reel, &ReelView::addWanted, this, &MainWindow::chooseFiles);
    connect(m_reel, &ReelView::demoWanted, m_files, &ProjectFiles::openDemo);
    bands->addWidget(m_reel);

    auto* middle = splitter(Qt::Horizontal, bands);
    auto* picture = new PicturePanel(&m_document, &m_frames, m_player, middle);
    m_picture = picture->picture();
    middle->addWidget(picture);
    auto* right = splitter(Qt::Vertical, middle);
    m_ladder = new LadderView(&m_document, &m_frames, right);
    right->addWidget(m_ladder);
    auto* lower = splitter(Qt::Horizontal, right);
    m_flowPanel = new FlowPanel(&m_document, m_flow, lower);
    m_flowPanel->setMinimumWidth(250);
    lower->addWidget(m_flowPanel);
    m_tabs = new TabPanel(lower);
    m_tabs->setMinimumWidth(240);
    m_recipes = new RecipesPanel(&m_document, &m_frames, m_tabs);
    m_tabs->addTab(tr("Recipes"), m_recipes);
    m_tabs->addTab(tr("Clip"), new ClipPanel(&m_document, m_tabs));
    m_tabs->addTab(tr("Shutter and edges"), new ShutterPanel(&m_document, m_tabs));
    lower->addWidget(m_tabs);
    lower->setSizes({380, 330});
    right->addWidget(lower);
    right->setSizes({112, 240});
    right->setStretchFactor(1, 1);
    middle->addWidget(right);
    middle->setSizes({560, 720});
    bands->addWidget(middle);

    m_lanes = new LanesView(&m_document, bands);
    m_lanes->setMinimumHeight(200);
    bands->addWidget(m_lanes);
    bands->setSizes({116, 350, 300});
    bands->setStretchFactor(1, 1);
    setCentralWidget(bands);
    const auto tell = [this](const QString& text) { m_notice->tell(tr("That could not be done."), text); };
    connect(m_flowPanel, &FlowPanel::problem, this, tell);
    connect(m_lanes, &LanesView::problem, this, tell);
}

void MainWindow::refreshTitle() {
    const auto project = m_document.project();
    const QString state = m_document.isModified()       ? tr("not saved")
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
    m_title->setText(text);
    m_title->adjustSize();
    m_title->setGeometry((width() - m_title->width()) / 2, 0, m_title->width(), 30);
    setWindowTitle(m_document.title() + (m_document.isModified() ? QStringLiteral(" *") : QString()) +
                   QStringLiteral(" – Virga"));
}

bool MainWindow::isSettled() {
    if (m_importer.isBusy() || !m_frames.isIdle() || !m_thumbnails.isIdle() || !m_waveforms.isIdle() ||
        !m_flow->isIdle() || !m_recipes->isIdle())
        return false;
    return m_document.project()->reel.empty() || m_picture->isExact() || m_player->isPlaying();
}

void MainWindow::addFiles(const QStringList& paths, int place) {
    for (const QString& path : paths)
        if (path.endsWith(".virga")) {
            m_files->openAsking(path);
            return;
        }
    m_importer.start(paths, place);
}

void MainWindow::chooseFiles() {
    QSettings settings;
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, tr("Add shots, pictures or music"), settings.value("mediaFolder").toString(),
        tr("Video, pictures and sound (*.mp4 *.mov *.mkv *.webm *.avi *.m4v *.mts *.mpg *.jpg *.jpeg *.png *.tif "
           "*.tiff *.webp *.gif *.wav *.mp3 *.flac *.ogg *.m4a);;All files (*)"));
    if (paths.isEmpty()) return;
    settings.setValue("mediaFolder", QFileInfo(paths.first()).absolutePath());
    addFiles(paths, -1);
}

void MainWindow::showExport() {
    if (m_document.project()->reel.empty()) return;
    m_player->stop();
    ExportDialog dialog(&m_document, this);
    dialog.exec();
}

void MainWindow::stepCut(int by) {
    const auto project = m_document.project();
    const int cuts = cutCount(*project);
    if (cuts == 0) return;
    const int cut = std::clamp(m_document.cut() + by, 0, cuts - 1);
    m_document.select({Selection::CutSelected, cut});
    m_document.setPlayhead(cutFrame(*project, cut));
}

void MainWindow::setTheme(const QString& name) {
    useTheme(name);
    QSettings().setValue("theme", name);
    for (auto* button : findChildren<QToolButton*>())
        if (const QString iconName = button->property("iconName").toString(); !iconName.isEmpty())
            button->setIcon(icon(iconName));
    emit m_document.projectChanged(); // everything is painted anew
    emit m_flow->changed();
    refreshTitle();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!m_files->mayLeave()) {
        event->ignore();
        return;
    }
    m_player->stop();
    m_autosave->discard();
    QSettings().setValue("geometry", saveGeometry());
    event->accept();
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
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
