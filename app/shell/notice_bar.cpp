#include "app/shell/notice_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QToolButton>

#include "app/style/controls.h"
#include "app/style/theme.h"

namespace virga {

NoticeBar::NoticeBar(QWidget* parent) : QWidget(parent) {
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
}

QString NoticeBar::text() const {
    return isHidden() ? QString() : m_title->text() + "\n" + m_details->text();
}

void NoticeBar::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().raised);
    p.fillRect(QRect(0, 0, 4, height()), theme().breaks);
    p.fillRect(QRect(0, height() - 1, width(), 1), theme().line);
}

} // namespace virga
