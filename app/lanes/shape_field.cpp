#include "app/lanes/shape_field.h"

#include <QAbstractButton>
#include <QClipboard>
#include <QGridLayout>
#include <QGuiApplication>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScreen>
#include <cmath>

#include "app/document/kept_shapes.h"
#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "core/curve/css_easing.h"
#include "core/curve/easing_library.h"

namespace virga {

namespace {
constexpr int previewFrames = 14, columns = 15, tileSize = 30;
constexpr QSize previewSize(176, 99);
} // namespace

MovePreview::MovePreview(Document* document, FrameService* frames, StackPlace place, QWidget* parent)
    : QWidget(parent), m_document(document), m_frames(frames), m_place(place), m_images(previewFrames) {
    setFixedSize(previewSize);
    setAccessibleName(tr("The move with this shape"));
    m_ask.setSingleShot(true);
    m_ask.setInterval(60);
    connect(&m_ask, &QTimer::timeout, this, &MovePreview::ask);
    m_turn.setInterval(70);
    connect(&m_turn, &QTimer::timeout, this, [this] {
        m_shown = (m_shown + 1) % previewFrames;
        update();
    });
    m_turn.start();
    connect(document, &Document::projectChanged, this, [this] { m_ask.start(); });
    if (m_frames)
        connect(m_frames, &FrameService::ready, this, [this](const QString& slot, const FrameResult& result) {
            if (!slot.startsWith("shape-")) return;
            const int i = slot.mid(6).toInt();
            if (i >= 0 && i < previewFrames) m_images[std::size_t(i)] = result.image;
            update();
        });
    ask();
}

MovePreview::~MovePreview() {
    if (m_frames) m_frames->drop("shape-");
}

int MovePreview::framesThere() const {
    return int(std::count_if(m_images.begin(), m_images.end(), [](const QImage& i) { return !i.isNull(); }));
}

void MovePreview::ask() {
    const auto project = m_document->project();
    if (!m_frames || !stackAt(*project, m_place)) return;
    const std::int64_t zero = originOf(*project, m_place), last = reelLength(*project) - 1;
    const double length = sideSpan(*project, m_place, Side::Incoming).to;
    m_frames->drop("shape-");
    for (int i = 0; i < previewFrames; ++i) {
        const std::int64_t frame = m_place.kind == StackPlace::Cut
                                       ? zero - previewFrames / 2 + i
                                       : zero + std::llround((length - 1) * i / (previewFrames - 1));
        m_frames->request(QStringLiteral("shape-%1").arg(i),
                          {project, std::clamp<std::int64_t>(frame, 0, last), previewSize * devicePixelRatioF(),
                           quickQuality, Urgency::Soon});
    }
}

void MovePreview::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    QPainterPath path;
    path.addRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    p.fillPath(path, theme().chart);
    if (const QImage& image = m_images[std::size_t(m_shown)]; !image.isNull()) {
        p.setClipPath(path);
        p.drawImage(rect(), image);
        p.setClipping(false);
    }
    p.setPen(theme().line);
    p.drawPath(path);
}

/// One shape, drawn.
class ShapeTile : public QAbstractButton {
public:
    ShapeTile(const OfferedShape& shape, QWidget* parent, ShapeField* field)
        : QAbstractButton(parent), m_shape(shape), m_field(field) {
        setFixedSize(tileSize, tileSize);
        setProperty("tile", true);
        setText(shape.label);
        setAccessibleName(tr("Shape %1").arg(shape.label));
        setTip(this, shape.label);
        setFocusPolicy(Qt::StrongFocus);
        setMouseTracking(true);
        connect(this, &QAbstractButton::clicked, field, [this] { m_field->take(m_shape.easing, m_shape.label); });
    }
    const OfferedShape& shape() const { return m_shape; }
    void setPresent(bool present) {
        m_present = present;
        update();
    }

protected:
    void enterEvent(QEnterEvent*) override {
        m_field->tryOut(m_shape.easing, m_shape.label);
        update();
    }
    void leaveEvent(QEvent*) override { update(); }
    void focusInEvent(QFocusEvent* event) override {
        if (event->reason() != Qt::MouseFocusReason && event->reason() != Qt::PopupFocusReason)
            m_field->tryOut(m_shape.easing, m_shape.label);
        update();
    }
    void focusOutEvent(QFocusEvent*) override { update(); }
    void contextMenuEvent(QContextMenuEvent* event) override {
        if (!m_shape.own) return;
        QMenu menu(this);
        menu.addAction(tr("Forget “%1”").arg(m_shape.label), m_field, [this] { m_field->forget(m_shape.label); });
        menu.exec(event->globalPos());
    }
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const bool hot = underMouse() || hasFocus();
        p.setPen(QPen(hot ? theme().strong : m_present ? theme().dim : theme().line, hot || m_present ? 1.4 : 1));
        p.setBrush(hot || m_present ? theme().raised : theme().chart);
        p.drawRoundedRect(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), 3, 3);
        drawEasing(p, m_shape.easing, QRectF(rect()).adjusted(8, 8, -8, -8), hot ? theme().strong : theme().text, 1.5);
    }

private:
    OfferedShape m_shape;
    ShapeField* m_field;
    bool m_present = false;
};

ShapeField::ShapeField(Document* document, FrameService* frames, std::vector<Stretch> stretches, QWidget* parent)
    : QFrame(parent, Qt::Popup), m_document(document), m_stretches(std::move(stretches)) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("shapeField");
    setAccessibleName(tr("Shapes"));
    setStyleSheet(QStringLiteral("#shapeField { background: %1; border: 1px solid %2; border-radius: 4px; }")
                      .arg(theme().panel.name(), theme().faint.name()));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 10, 12, 10);
    row->setSpacing(12);
    m_tiles = new QWidget(this);
    row->addWidget(m_tiles, 0, Qt::AlignTop);
    auto* side = new QVBoxLayout;
    side->setSpacing(6);
    m_preview =
        new MovePreview(document, frames, m_stretches.empty() ? StackPlace() : m_stretches.front().curve.place, this);
    side->addWidget(m_preview);
    m_name = label({}, "title", this);
    m_name->setFixedWidth(previewSize.width());
    m_name->setWordWrap(true);
    side->addWidget(m_name);
    side->addStretch(1);
    side->addWidget(label(tr("As CSS text"), "caption", this));
    m_css = new QLineEdit(this);
    m_css->setAccessibleName(tr("Shape as CSS text"));
    setTip(m_css, tr("cubic-bezier(…), linear(…) or a name such as ease-in; Enter takes it"));
    side->addWidget(m_css);
    connect(m_css, &QLineEdit::returnPressed, this, &ShapeField::takeText);
    auto* copy = new QPushButton(tr("Copy text"), this);
    connect(copy, &QPushButton::clicked, this, [this] {
        QGuiApplication::clipboard()->setText(m_css->text());
        say(tr("Copied"));
    });
    side->addWidget(copy);
    auto* keepRow = new QHBoxLayout;
    keepRow->setSpacing(4);
    m_own = new QLineEdit(KeptShapes::instance().freshName(), this);
    m_own->setAccessibleName(tr("Name of my own shape"));
    keepRow->addWidget(m_own, 1);
    auto* keepButton = new QPushButton(tr("Keep"), this);
    setTip(keepButton, tr("Keep the present shape under this name"));
    connect(keepButton, &QPushButton::clicked, this, &ShapeField::keep);
    connect(m_own, &QLineEdit::returnPressed, this, &ShapeField::keep);
    keepRow->addWidget(keepButton);
    side->addLayout(keepRow);
    row->addLayout(side);
    for (QPushButton* b : {copy, keepButton}) b->setAutoDefault(false);
    // Only what is pointed at is tried: on the way to the text or to Keep it is the present shape again.
    for (QWidget* w : {static_cast<QWidget*>(m_css), static_cast<QWidget*>(m_own), static_cast<QWidget*>(copy),
                       static_cast<QWidget*>(keepButton), m_tiles})
        w->installEventFilter(this);
    build();
    showPresent();
}

ShapeField::~ShapeField() = default;

std::optional<Easing> ShapeField::present() const {
    if (m_stretches.empty()) return std::nullopt;
    const Stretch& s = m_stretches.front();
    const auto origin = m_document->dragOrigin();
    return hasCurve(*origin, s.curve) ? easingOf(curveAt(*origin, s.curve), s.first, s.last) : std::nullopt;
}

// Short families share a line, Penner's takes two of its own.
void ShapeField::build() {
    m_all.clear();
    for (QWidget* old : m_tiles->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        old->hide();
        old->deleteLater(); // perhaps the one that was just clicked
    }
    delete m_tiles->layout();
    auto* lines = new QVBoxLayout(m_tiles);
    lines->setContentsMargins(0, 0, 0, 0);
    lines->setSpacing(6);
    std::vector<std::pair<QString, std::vector<OfferedShape>>> families;
    for (const OfferedShape& shape : offeredShapes()) {
        if (families.empty() || families.back().first != shape.family) families.push_back({shape.family, {}});
        families.back().second.push_back(shape);
    }
    const auto now = present();
    QHBoxLayout* line = nullptr;
    int used = columns;
    for (const auto& [family, shapes] : families) {
        const int count = int(shapes.size());
        if (used + count > columns) {
            line = new QHBoxLayout;
            line->setSpacing(12);
            line->setAlignment(Qt::AlignLeft);
            lines->addLayout(line);
            used = 0;
        }
        used += count;
        auto* block = new QWidget(m_tiles);
        auto* grid = new QGridLayout(block);
        grid->setContentsMargins(0, 0, 0, 0);
        grid->setSpacing(2);
        grid->addWidget(label(family, "caption", block), 0, 0, 1, std::min(count, columns));
        for (int i = 0; i < count; ++i) {
            auto* tile = new ShapeTile(shapes[std::size_t(i)], block, this);
            tile->installEventFilter(this);
            tile->setPresent(now && isLike(*now, shapes[std::size_t(i)].easing, 1e-4));
            grid->addWidget(tile, 1 + i / columns, i % columns);
            m_all.push_back(tile);
        }
        line->addWidget(block, 0, Qt::AlignTop);
        block->show();
    }
}

void ShapeField::showAt(const QPoint& globalBottomRight) {
    adjustSize();
    QPoint at = globalBottomRight - QPoint(width(), height());
    if (const QScreen* screen = QGuiApplication::screenAt(globalBottomRight - QPoint(4, 4))) {
        const QRect room = screen->availableGeometry();
        at.setX(std::clamp(at.x(), room.left(), std::max(room.left(), room.right() - width())));
        at.setY(std::clamp(at.y(), room.top(), std::max(room.top(), room.bottom() - height())));
    }
    move(at);
    show();
    for (ShapeTile* tile : m_all)
        if (const auto now = present(); now && isLike(*now, tile->shape().easing, 1e-4)) {
            tile->setFocus(Qt::PopupFocusReason);
            return;
        }
    if (!m_all.empty()) m_all.front()->setFocus(Qt::PopupFocusReason);
}

QAbstractButton* ShapeField::tile(const QString& text) const {
    for (ShapeTile* t : m_all)
        if (t->text() == text) return t;
    return nullptr;
}

void ShapeField::tryOut(const Easing& easing, const QString& text) {
    m_trying = true;
    m_document->drag(withEasingOn(*m_document->dragOrigin(), m_stretches, easing));
    m_css->setText(QString::fromStdString(cssOf(easing)));
    m_css->setCursorPosition(0);
    say(text);
}

void ShapeField::stopTrying() {
    if (m_trying) m_document->cancelDrag();
    m_trying = false;
}

void ShapeField::showPresent() {
    stopTrying();
    const auto easing = present();
    m_css->setText(easing ? QString::fromStdString(cssOf(*easing)) : QString());
    m_css->setCursorPosition(0);
    say({});
}

void ShapeField::take(const Easing& easing, const QString& text) {
    stopTrying();
    setEasing(*m_document, m_stretches, easing, tr("shape %1").arg(text.toLower()));
    close();
}

void ShapeField::takeText() {
    const auto easing = easingFromCss(m_css->text().toStdString());
    if (!easing) return say(QString::fromStdString(describe(easing.error())), true);
    take(*easing, tr("from text"));
}

void ShapeField::keep() {
    const auto easing = easingFromCss(m_css->text().toStdString());
    const auto now = present();
    const QString name = m_own->text().trimmed();
    if (name.isEmpty()) return say(tr("Give it a name first"), true);
    // What is written is kept, unless nothing else was tried or typed: then the curve itself, to the last digit.
    const bool untouched = now && m_css->text() == QString::fromStdString(cssOf(*now));
    if (!untouched && !easing) return say(QString::fromStdString(describe(easing.error())), true);
    const auto done = KeptShapes::instance().keep(name, untouched ? *now : *easing);
    m_own->setText(KeptShapes::instance().freshName());
    build();
    adjustSize();
    say(done ? tr("Kept “%1”").arg(name) : QString::fromStdString(describe(done.error())), !done);
}

void ShapeField::forget(const QString& text) {
    const auto done = KeptShapes::instance().forget(text);
    stopTrying();
    build();
    adjustSize();
    say(done ? tr("Forgotten: “%1”").arg(text) : QString::fromStdString(describe(done.error())), !done);
}

void ShapeField::say(const QString& text, bool wrong) {
    QString shown = text;
    if (shown.isEmpty()) {
        const Stretch* s = m_stretches.empty() ? nullptr : &m_stretches.front();
        const auto origin = m_document->dragOrigin();
        const NamedEasing* named =
            s && hasCurve(*origin, s->curve) ? easingLike(curveAt(*origin, s->curve), s->first, s->last) : nullptr;
        shown = named ? QString::fromUtf8(named->label.data(), int(named->label.size())) : tr("A shape of its own");
    }
    m_name->setText(shown);
    m_name->setStyleSheet(wrong ? QStringLiteral("color: %1").arg(theme().breaks.name()) : QString());
}

bool ShapeField::eventFilter(QObject* watched, QEvent* event) {
    const bool leaves = watched == m_tiles ? event->type() == QEvent::Leave
                                           : event->type() == QEvent::FocusIn && !watched->property("tile").toBool();
    if (leaves && m_trying) showPresent();
    if (event->type() == QEvent::KeyPress && watched->property("tile").toBool()) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        auto* from = static_cast<QWidget*>(watched);
        if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down) {
            // To the nearest tile that way.
            const QPoint way(key == Qt::Key_Right  ? 1
                             : key == Qt::Key_Left ? -1
                                                   : 0,
                             key == Qt::Key_Down ? 1
                             : key == Qt::Key_Up ? -1
                                                 : 0);
            ShapeTile* best = nullptr;
            int nearest = 1 << 30;
            for (ShapeTile* tile : m_all) {
                const QPoint d = tile->mapTo(this, tile->rect().center()) - from->mapTo(this, from->rect().center());
                const int along = QPoint::dotProduct(d, way), across = std::abs(d.x() * way.y() - d.y() * way.x());
                if (along > 0 && along + 4 * across < nearest) nearest = along + 4 * across, best = tile;
            }
            if (best) best->setFocus(Qt::OtherFocusReason);
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            static_cast<QAbstractButton*>(watched)->click();
            return true;
        }
        if (auto* tile = static_cast<ShapeTile*>(watched); key == Qt::Key_Delete && tile->shape().own) {
            forget(tile->shape().label);
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

void ShapeField::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape)
        close();
    else if (event->key() != Qt::Key_Return && event->key() != Qt::Key_Enter)
        QFrame::keyPressEvent(event);
}

void ShapeField::hideEvent(QHideEvent* event) {
    stopTrying();
    QFrame::hideEvent(event);
}

} // namespace virga
