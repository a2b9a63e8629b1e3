#pragma once
// Small shared controls: icon buttons, a row of choices, tabs, labels that shorten themselves.
#include <QButtonGroup>
#include <QGridLayout>
#include <QLabel>
#include <QToolButton>
#include <QWidget>
#include <vector>

#include "app/style/plain_text.h"

namespace virga {

/// A button with an icon from the set, a tooltip, and the tooltip as its accessible name.
QToolButton* iconButton(const QString& iconName, const QString& tip, QWidget* parent, int size = 28);

/// A label in one of the style sheet's roles: "caption", "heading", "title", "mono".
QLabel* label(const QString& text, const char* role, QWidget* parent = nullptr);

/// Rows of a caption and a control, as the panels have them; `end` pushes them to the top.
class FormRows {
public:
    explicit FormRows(QWidget* panel);
    /// The caption, so that a row can be hidden with its control.
    QLabel* add(const QString& caption, QWidget* control, bool tall = false); // tall: the caption stands at its top
    void end();

private:
    QWidget* m_panel;
    QGridLayout* m_grid;
    int m_row = 0;
};

/// A few exclusive choices side by side.
class Choices : public QWidget {
    Q_OBJECT
public:
    struct Choice {
        QString label, icon, tip;
    };
    Choices(const std::vector<Choice>& choices, QWidget* parent = nullptr);
    void setCurrent(int index);
    int current() const;
    QToolButton* button(int index) const;

signals:
    void chosen(int index);

private:
    QButtonGroup* m_group;
};

/// A label whose text is cut in the middle with an ellipsis when room is short; the tooltip has all of it.
class ElidedLabel : public PlainLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(QWidget* parent = nullptr);
    void setFullText(const QString& text);

protected:
    void resizeEvent(QResizeEvent* event) override;
    QSize minimumSizeHint() const override { return {20, QLabel::minimumSizeHint().height()}; }

private:
    QString m_full;
};

} // namespace virga
