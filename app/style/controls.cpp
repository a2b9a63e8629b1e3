#include "app/style/controls.h"

#include <QHBoxLayout>

#include "app/style/icons.h"
#include "app/style/plain_text.h"

namespace virga {

QToolButton* iconButton(const QString& iconName, const QString& tip, QWidget* parent, int size) {
    auto* button = new QToolButton(parent);
    button->setIcon(icon(iconName));
    button->setIconSize({16, 16});
    button->setFixedSize(size, size - 4);
    setTip(button, tip);
    button->setAccessibleName(tip);
    button->setStyleSheet("padding: 0;");
    button->setFocusPolicy(Qt::TabFocus);
    button->setProperty("iconName", iconName);
    return button;
}

QLabel* label(const QString& text, const char* role, QWidget* parent) {
    auto* result = new PlainLabel(text, parent);
    result->setObjectName(role);
    return result;
}

FormRows::FormRows(QWidget* panel) : m_panel(panel), m_grid(new QGridLayout(panel)) {
    m_grid->setContentsMargins(12, 6, 12, 8);
    m_grid->setHorizontalSpacing(8);
    m_grid->setVerticalSpacing(6);
    m_grid->setColumnStretch(1, 1);
}

QLabel* FormRows::add(const QString& caption, QWidget* control, bool tall) {
    QLabel* text = label(caption, "caption", m_panel);
    m_grid->addWidget(text, m_row, 0, tall ? Qt::AlignTop : Qt::AlignVCenter);
    m_grid->addWidget(control, m_row++, 1);
    return text;
}

void FormRows::end() {
    m_grid->setRowStretch(m_row, 1);
}

Choices::Choices(const std::vector<Choice>& choices, QWidget* parent)
    : QWidget(parent), m_group(new QButtonGroup(this)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    int index = 0;
    for (const Choice& choice : choices) {
        auto* button = new QToolButton(this);
        button->setObjectName("segment");
        button->setCheckable(true);
        button->setText(choice.label);
        setTip(button, choice.tip);
        button->setAccessibleName(choice.tip.isEmpty() ? choice.label : choice.label + ": " + choice.tip);
        button->setFocusPolicy(Qt::TabFocus);
        button->setFixedHeight(24);
        if (!choice.icon.isEmpty()) {
            button->setIcon(icon(choice.icon));
            button->setProperty("iconName", choice.icon);
            button->setIconSize({16, 16});
            button->setToolButtonStyle(choice.label.isEmpty() ? Qt::ToolButtonIconOnly : Qt::ToolButtonTextBesideIcon);
        }
        m_group->addButton(button, index++);
        row->addWidget(button);
    }
    row->addStretch(1);
    connect(m_group, &QButtonGroup::idClicked, this, &Choices::chosen);
}

void Choices::setCurrent(int index) {
    if (auto* button = m_group->button(index)) {
        button->setChecked(true);
    } else if (auto* checked = m_group->checkedButton()) {
        m_group->setExclusive(false);
        checked->setChecked(false);
        m_group->setExclusive(true);
    }
}

int Choices::current() const {
    return m_group->checkedId();
}
QToolButton* Choices::button(int index) const {
    return qobject_cast<QToolButton*>(m_group->button(index));
}

ElidedLabel::ElidedLabel(QWidget* parent) : PlainLabel(parent) {}

void ElidedLabel::setFullText(const QString& text) {
    m_full = text;
    setTip(this, text);
    setText(fontMetrics().elidedText(m_full, Qt::ElideMiddle, width()));
}

void ElidedLabel::resizeEvent(QResizeEvent* event) {
    QLabel::resizeEvent(event);
    setText(fontMetrics().elidedText(m_full, Qt::ElideMiddle, width()));
}

} // namespace virga
