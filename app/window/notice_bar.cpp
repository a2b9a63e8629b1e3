#include "app/window/notice_bar.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QToolButton>
#include <algorithm>

#include "app/style/controls.h"
#include "app/style/theme.h"

namespace virga {

NoticeBar::NoticeBar(QWidget* window) : QWidget(window) {
    window->installEventFilter(this);
    setObjectName("notice");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 8, 8, 8);
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    m_title = label({}, "title", this);
    m_details = label({}, "caption", this);
    for (QLabel* l : {m_title, m_details}) {
        l->setWordWrap(true);
        l->setTextInteractionFlags(Qt::TextSelectableByMouse);
        words->addWidget(l);
    }
    row->addLayout(words, 1);
    auto* close = iconButton("close", tr("Close this message"), this, 24);
    close->setObjectName("quiet");
    connect(close, &QToolButton::clicked, this, &QWidget::hide);
    row->addWidget(close, 0, Qt::AlignTop);
    hide();
}

void NoticeBar::tell(const QString& title, const QString& details) {
    m_title->setText(title);
    m_details->setText(details);
    m_details->setVisible(!details.isEmpty());
    show();
    place();
    raise();
}

void NoticeBar::place() {
    const int wide = std::min(parentWidget()->width() - 24, 760);
    const int tall = layout()->hasHeightForWidth() ? layout()->totalHeightForWidth(wide) : sizeHint().height();
    const int high = std::min(tall, parentWidget()->height() / 2);
    setGeometry((parentWidget()->width() - wide) / 2, parentWidget()->height() - high - 12, wide, high);
}

bool NoticeBar::eventFilter(QObject* watched, QEvent* event) {
    if (watched == parent() && event->type() == QEvent::Resize && isVisible()) place();
    return QWidget::eventFilter(watched, event);
}

QString NoticeBar::text() const {
    return isHidden() ? QString() : m_title->text() + "\n" + m_details->text();
}

void NoticeBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme().line, 1));
    p.setBrush(theme().raised);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().breaks);
    p.drawRoundedRect(QRectF(0, 0, 4, height()), 2, 2);
}

} // namespace virga
