#include "app/window/tab_panel.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QScrollArea>
#include <QToolButton>

#include "app/style/plain_text.h"
#include "app/style/theme.h"

namespace virga {

TabPanel::TabPanel(QWidget* parent)
    : QWidget(parent), m_group(new QButtonGroup(this)), m_stack(new QStackedWidget(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    m_row = new QHBoxLayout;
    m_row->setContentsMargins(10, 1, 6, 0);
    m_row->setSpacing(8);
    m_row->addStretch(1);
    column->addLayout(m_row);
    column->addWidget(m_stack, 1);
    connect(m_group, &QButtonGroup::idClicked, m_stack, &QStackedWidget::setCurrentIndex);
}

void TabPanel::addTab(const QString& name, QWidget* panel, const QString& tip) {
    auto* button = new QToolButton(this);
    button->setObjectName("tab");
    button->setText(name);
    if (!tip.isEmpty()) setTip(button, tip);
    button->setCheckable(true);
    button->setFocusPolicy(Qt::TabFocus);
    const int index = m_stack->count();
    m_group->addButton(button, index);
    m_row->insertWidget(index, button);
    auto* scroll = new QScrollArea(this); // a short window scrolls and never clips
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setWidget(panel);
    m_stack->addWidget(scroll);
    if (index == 0) button->setChecked(true);
}

void TabPanel::showTab(int index) {
    if (auto* button = m_group->button(index)) button->setChecked(true);
    m_stack->setCurrentIndex(index);
}

void TabPanel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
}

} // namespace virga
