#include "app/tray/tray_view.h"

#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QListView>
#include <QMenu>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QUrl>

#include "app/commands/media_commands.h"
#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/icons.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace {

// One card: picture, name and length, size and rate; a tick where it is placed.
class CardDelegate : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    // As many across as fit, so that no room is left over.
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        const auto* list = qobject_cast<const QListView*>(option.widget);
        const int room = list ? list->viewport()->width() - 2 : 608;
        const int across = std::max(1, room / 138), width = room / across;
        return {width, int((width - 14) * 9 / 16) + 48};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        p->save();
        p->setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
        const QRectF cell = QRectF(option.rect).adjusted(2, 2, -6, -6);
        const QRectF picture(cell.left() + 3, cell.top() + 3, cell.width() - 6, (cell.width() - 6) * 9 / 16);
        const bool broken = index.data(TrayModel::Broken).toBool(), missing = index.data(TrayModel::Missing).toBool();
        QPainterPath round;
        round.addRoundedRect(picture, 3, 3);
        p->fillPath(round, theme().chart);
        const auto image = index.data(TrayModel::Picture).value<QImage>();
        if (!image.isNull()) {
            p->setClipPath(round);
            p->setOpacity(missing ? 0.35 : 1);
            p->drawImage(picture, image);
            p->setOpacity(1);
            p->setClipping(false);
        } else {
            const bool sound = index.data(TrayModel::Facts).toString() == TrayModel::tr("sound");
            if (broken || missing || sound) {
                p->setFont(textFont(11));
                p->setPen(broken || missing ? theme().breaks : theme().dim);
                p->drawText(picture, Qt::AlignCenter,
                            broken    ? TrayModel::tr("cannot be read")
                            : missing ? TrayModel::tr("not found")
                                      : TrayModel::tr("sound"));
            }
        }
        if (index.data(TrayModel::Placed).toBool()) {
            const QPointF c(picture.right() - 10, picture.top() + 10);
            p->setPen(QPen(theme().fine, 1.2));
            p->setBrush(QColor(10, 12, 14, 170));
            p->drawEllipse(c, 6.5, 6.5);
            drawIcon(*p, "tick", QRectF(c.x() - 4.5, c.y() - 4.5, 9, 9), theme().fine);
        }
        if (const double part = index.data(TrayModel::LightPart).toDouble(); part > 0 && part < 1) {
            p->fillRect(QRectF(picture.left(), picture.bottom() - 3, picture.width(), 3), QColor(10, 12, 14, 170));
            p->fillRect(QRectF(picture.left(), picture.bottom() - 3, picture.width() * part, 3), theme().strong);
        }
        p->setFont(numberFont(10));
        const QString length = index.data(TrayModel::Length).toString();
        const double w = length.isEmpty() ? 0 : QFontMetricsF(p->font()).horizontalAdvance(length) + 8;
        const QRectF line(picture.left(), picture.bottom() + 4, picture.width(), 15);
        p->setPen(theme().dim);
        p->drawText(line, Qt::AlignRight | Qt::AlignVCenter, length);
        p->setPen(broken || missing ? theme().breaks : theme().dim);
        const QRectF facts = line.translated(0, 15);
        p->drawText(facts, Qt::AlignLeft | Qt::AlignVCenter,
                    QFontMetricsF(p->font()).elidedText(index.data(TrayModel::Facts).toString(), Qt::ElideRight,
                                                        facts.width()));
        p->setFont(textFont(11));
        p->setPen(theme().text);
        const QRectF name = line.adjusted(0, 0, -w, 0);
        p->drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
                    QFontMetricsF(p->font()).elidedText(index.data().toString(), Qt::ElideMiddle, name.width()));
        if (option.state & QStyle::State_Selected) {
            p->setPen(QPen(theme().strong, 1.5));
            p->setBrush(Qt::NoBrush);
            p->drawRoundedRect(cell, 4, 4);
        }
        p->restore();
    }
};

} // namespace

TrayView::TrayView(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, Proxies* proxies, QWidget* parent)
    : QWidget(parent), m_document(document), m_shelf(shelf),
      m_model(new TrayModel(document, shelf, thumbnails, proxies, this)), m_list(new QListView(this)) {
    setAcceptDrops(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(12, 6, 12, 10);
    column->setSpacing(6);
    auto* row = new QHBoxLayout;
    m_summary = label({}, "caption", this);
    m_relink = new QPushButton(tr("Relink all…"), this);
    setTip(m_relink, tr("Look for all missing files in a folder"));
    connect(m_relink, &QPushButton::clicked, this, &TrayView::relinkAllWanted);
    m_cancel = new QPushButton(tr("Cancel"), this);
    m_cancel->hide();
    connect(m_cancel, &QPushButton::clicked, this, &TrayView::cancelWanted);
    row->addWidget(m_summary);
    row->addStretch(1);
    row->addWidget(m_cancel);
    row->addWidget(m_relink);
    column->addLayout(row);
    m_list->setModel(m_model);
    m_list->setItemDelegate(new CardDelegate(m_list));
    m_list->setViewMode(QListView::IconMode);
    m_list->setResizeMode(QListView::Adjust);
    m_list->setMovement(QListView::Static);
    m_list->setUniformItemSizes(true);
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_list->setDragEnabled(true);
    m_list->setFrameShape(QFrame::NoFrame);
    m_list->setObjectName("tray");
    m_list->setAccessibleName(tr("Tray"));
    m_list->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn); // or the cards would jump when it comes
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    m_list->setMinimumHeight(80);
    m_list->installEventFilter(this);
    m_list->viewport()->setAcceptDrops(false); // drops are the whole Tray's
    connect(m_list, &QListView::customContextMenuRequested, this, &TrayView::showMenu);
    connect(m_list, &QListView::doubleClicked, this, [this] { placeMedia(*m_document, selectedIds(), -1); });
    column->addWidget(m_list, 1);
    m_drop = new PlainLabel(tr("Drop shots, stills, music or an edit list here"), this);
    m_drop->setObjectName("drop");
    m_drop->setAlignment(Qt::AlignCenter);
    m_drop->setFixedHeight(40);
    m_drop->installEventFilter(this);
    column->addWidget(m_drop);
    connect(m_model, &QAbstractItemModel::modelReset, this, &TrayView::refresh);
    connect(document, &Document::projectChanged, this, &TrayView::refresh);
    connect(proxies, &Proxies::changed, this, &TrayView::refresh);
    refresh();
}

void TrayView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setPen(QPen(theme().line, 1, Qt::DashLine));
    p.drawRoundedRect(QRectF(m_drop->geometry()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
}

void TrayView::refresh() {
    m_summary->setText(m_model->rowCount() ? m_model->summary() : tr("Nothing here yet"));
    m_relink->setVisible(m_shelf->missing() > 0);
}

void TrayView::setProgress(int done, int all) {
    m_cancel->setVisible(all > 0);
    m_drop->setText(all > 0 ? tr("reading %1 of %2 …").arg(std::min(done + 1, all)).arg(all)
                            : tr("Drop shots, stills, music or an edit list here"));
}

std::vector<std::string> TrayView::selectedIds() const {
    QModelIndexList rows = m_list->selectionModel()->selectedIndexes();
    std::sort(rows.begin(), rows.end(), [](const auto& a, const auto& b) { return a.row() < b.row(); });
    std::vector<std::string> ids;
    for (const QModelIndex& i : rows)
        if (const Media* m = m_model->media(i.row())) ids.push_back(m->id);
    return ids;
}

void TrayView::showMenu(const QPoint& at) {
    QMenu menu(this);
    const auto ids = selectedIds();
    const auto project = m_document->project();
    if (!ids.empty()) {
        menu.addAction(tr("Put at the reel's end"), this, [this, ids] { placeMedia(*m_document, ids, -1); });
        menu.addAction(tr("Put at the playhead"), this, [this, ids] {
            const int clip = clipAt(*m_document->project(), m_document->playhead());
            placeMedia(*m_document, ids, clip < 0 ? -1 : clip + 1);
        });
        menu.addAction(tr("Put above the reel"), this,
                       [this, ids] { placeAsOverlay(*m_document, ids, m_document->playhead()); });
        menu.addSeparator();
    }
    if (ids.size() == 1) {
        const Media* media = findMedia(*project, ids[0]);
        const QString id = QString::fromStdString(ids[0]);
        QAction* cuts = menu.addAction(tr("Find cuts…"), this, [this, id] { emit findCutsWanted(id); });
        QAction* trace = menu.addAction(tr("Trace a transition…"), this, [this, id] { emit traceWanted(id); });
        for (QAction* a : {cuts, trace}) a->setEnabled(media && media->hasPicture() && !media->still);
        menu.addAction(tr("Relink…"), this, [this, id] { emit relinkWanted(id); });
        if (media && sequenceOf(media->path))
            menu.addAction(tr("Take as single pictures"), this, [this, id] { emit singlePicturesWanted(id); });
    }
    if (!ids.empty()) {
        QAction* remove =
            menu.addAction(tr("Take out of the project"), this, [this, ids] { takeOutMedia(*m_document, ids); });
        remove->setEnabled(
            std::any_of(ids.begin(), ids.end(), [&](const std::string& id) { return !isUsed(*project, id); }));
        setTip(remove, tr("Only what is not placed; the files stay where they are"));
    }
    if (!m_shelf->unreadable().empty())
        menu.addAction(tr("Forget the unreadable files"), m_shelf, &MediaShelf::forgetUnreadable);
    menu.addAction(tr("Add shots…"), this, &TrayView::addWanted);
    menu.exec(m_list->viewport()->mapToGlobal(at));
}

bool TrayView::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_drop && event->type() == QEvent::MouseButtonRelease) emit addWanted();
    if (watched == m_list && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            placeMedia(*m_document, selectedIds(), -1);
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void TrayView::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void TrayView::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    if (paths.isEmpty()) return;
    event->acceptProposedAction();
    emit filesDropped(paths);
}

} // namespace virga
