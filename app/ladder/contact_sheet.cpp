#include "app/ladder/contact_sheet.h"

#include <QBuffer>
#include <QFileDialog>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "app/ladder/ladder_view.h"
#include "app/style/theme.h"
#include "core/base/file.h"

namespace virga {
namespace {

constexpr double sheetGap = 8, sheetMargin = 12, head = 34, caption = 16;

} // namespace

ContactSheet::ContactSheet(Document* document, FrameService* frames, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_write(new QPushButton(tr("Write as PNG…"), this)),
      m_close(new QPushButton(tr("Close"), this)) {
    setObjectName("contactSheet");
    setAccessibleName(tr("Contact sheet: the frames around the cut"));
    setFocusPolicy(Qt::StrongFocus);
    for (QPushButton* b : {m_write, m_close}) b->setFixedHeight(24), b->adjustSize();
    connect(m_write, &QPushButton::clicked, this, &ContactSheet::chooseAndWrite);
    connect(m_close, &QPushButton::clicked, this, [this] {
        hide();
        emit closed();
    });
    const auto again = [this] {
        if (isVisible()) refresh();
    };
    connect(document, &Document::shownChanged, this, again);
    connect(document, &Document::selectionChanged, this, again);
    connect(document, &Document::playheadChanged, this, qOverload<>(&QWidget::update));
    connect(frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
        if (!slot.startsWith("sheet-")) return;
        const int i = slot.mid(6).toInt();
        if (i < 0 || i >= int(m_cells.size()) || m_cells[std::size_t(i)].frame != result.frame) return;
        m_cells[std::size_t(i)].image = result.image;
        update();
    });
    hide();
}

void ContactSheet::open(const QRect& where) {
    setGeometry(where);
    show();
    raise();
    setFocus();
    refresh();
}

// Rows of frames with the cut between two columns, as large as lets the most of twelve on each side be seen.
void ContactSheet::arrange() {
    const double aspect = m_document->project()->settings.size.aspect(), w = width() - 2 * sheetMargin,
                 h = height() - head - sheetMargin;
    constexpr int wanted = 24;
    double best = 0;
    for (int columns = 4; columns <= 12; columns += 2) {
        const int rows = (wanted + columns - 1) / columns;
        const double cw =
            std::min((w - (columns - 1) * sheetGap) / columns, ((h - (rows - 1) * sheetGap) / rows - caption) * aspect);
        if (cw > best) best = cw, m_columns = columns;
    }
    best = std::max(40.0, best);
    m_cell = {best, best / aspect};
    m_write->move(width() - int(sheetMargin) - m_close->width() - m_write->width() - 6, 6);
    m_close->move(width() - int(sheetMargin) - m_close->width(), 6);
}

void ContactSheet::resizeEvent(QResizeEvent*) {
    if (isVisible()) refresh();
}

QRectF ContactSheet::frameRect(int i) const {
    const double wide = m_columns * m_cell.width() + (m_columns - 1) * sheetGap;
    return {(width() - wide) / 2 + (i % m_columns) * (m_cell.width() + sheetGap),
            head + (i / m_columns) * (m_cell.height() + caption + sheetGap) + caption, m_cell.width(), m_cell.height()};
}

void ContactSheet::refresh() {
    arrange();
    const auto project = m_document->shown();
    const int cut = m_document->cut();
    m_frames->drop("sheet-");
    m_cells.clear();
    if (cut < 0 || cut >= cutCount(*project)) return update();
    const std::int64_t at = cutFrame(*project, cut);
    const std::int64_t first = std::max(clipStart(*project, cut), at - 12),
                       last = std::min(clipStart(*project, cut + 2), at + 12);
    const QSize size = (m_cell * devicePixelRatioF()).toSize();
    for (std::int64_t n = first; n < last; ++n) m_cells.push_back({n, {}});
    for (int i = 0; i < count(); ++i)
        m_frames->request(QStringLiteral("sheet-%1").arg(i),
                          {project, m_cells[std::size_t(i)].frame, size, exactQuality, Urgency::Soon});
    update();
}

bool ContactSheet::isReady() const {
    return !m_cells.empty() &&
           std::all_of(m_cells.begin(), m_cells.end(), [](const Cell& c) { return !c.image.isNull(); });
}

void ContactSheet::paintInto(QPainter& p, bool chosen) const {
    const int cut = m_document->cut();
    const auto project = m_document->shown();
    if (cut < 0 || cut >= cutCount(*project)) return;
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    const std::int64_t at = cutFrame(*project, cut);
    p.setFont(textFont(12, QFont::DemiBold));
    p.setPen(theme().text);
    p.drawText(QRectF(sheetMargin, 6, width() / 2.0, 24), Qt::AlignLeft | Qt::AlignVCenter,
               tr("Cut %1: %2 → %3")
                   .arg(cut + 1)
                   .arg(QString::fromStdString(project->reel[std::size_t(cut)].name),
                        QString::fromStdString(project->reel[std::size_t(cut) + 1].name)));
    for (int i = 0; i < count(); ++i) {
        const Cell& cell = m_cells[std::size_t(i)];
        const QRectF r = frameRect(i);
        const int n = int(cell.frame - at);
        p.setFont(numberFont(11));
        p.setPen(n < 0 ? theme().outgoing : theme().incoming);
        p.drawText(QRectF(r.left(), r.top() - caption, r.width(), caption - 2), Qt::AlignLeft | Qt::AlignVCenter,
                   frameName(n));
        p.fillRect(r, Qt::black);
        if (!cell.image.isNull()) p.drawImage(r, cell.image);
        if (n == 0)
            p.fillRect(QRectF(r.left() - sheetGap / 2 - 1, r.top() - caption, 2, r.height() + caption), theme().strong);
        if (chosen && cell.frame == m_document->playhead()) {
            p.setBrush(Qt::NoBrush);
            p.setPen(QPen(theme().strong, 1.5));
            p.drawRect(r.adjusted(-1, -1, 1, 1));
        }
    }
}

void ContactSheet::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    paintInto(p, true);
}

Expected<void> ContactSheet::write(const QString& path) const {
    const double dpr = devicePixelRatioF();
    QImage sheet((QSizeF(size()) * dpr).toSize(), QImage::Format_RGB32);
    sheet.setDevicePixelRatio(dpr);
    sheet.fill(theme().panel);
    QPainter p(&sheet);
    paintInto(p, false);
    p.end();
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (!sheet.save(&buffer, "PNG"))
        return fail(ErrorCode::BadInput, "the picture could not be made", path.toStdString(), "try it again");
    return writeFileAtomically(path.toStdString(), std::string_view(bytes.constData(), std::size_t(bytes.size())));
}

void ContactSheet::chooseAndWrite() {
    QString path = QFileDialog::getSaveFileName(this, tr("Write the frames as one picture"), {}, tr("PNG (*.png)"));
    if (path.isEmpty()) return;
    if (!path.endsWith(".png", Qt::CaseInsensitive)) path += ".png";
    if (const auto written = write(path); !written) emit problem(QString::fromStdString(describe(written.error())));
}

void ContactSheet::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < count(); ++i)
        if (frameRect(i).adjusted(0, -caption, 0, 0).contains(event->position()))
            m_document->setPlayhead(m_cells[std::size_t(i)].frame);
}

void ContactSheet::mouseDoubleClickEvent(QMouseEvent*) {
    m_close->click();
}

bool ContactSheet::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

void ContactSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return m_close->click();
    QWidget::keyPressEvent(event);
}

} // namespace virga
