#pragma once
// Text from outside (names, notes, paths, messages) is shown as it is: markup in it is only characters. Qt's labels,
// tooltips and message boxes guess whether a text is markup, and markup can open files. Nothing else in app may make
// them.
#include <QLabel>
#include <QMessageBox>
#include <string_view>

class QAction;

namespace virga {

/// A label whose text is never taken for markup.
class PlainLabel : public QLabel {
    Q_OBJECT
public:
    explicit PlainLabel(QWidget* parent = nullptr);
    explicit PlainLabel(const QString& text, QWidget* parent = nullptr);
};

/// A message box whose texts are never taken for markup.
class MessageBox : public QMessageBox {
    Q_OBJECT
public:
    MessageBox(Icon icon, const QString& title, const QString& text, StandardButtons buttons, QWidget* parent);
    void setInformativeText(const QString& text);
};

/// Shows markup that this program wrote. Text from outside in it must be escaped (QString::toHtmlEscaped).
void showOwnMarkup(QLabel* label, const QString& markup);
void showOwnMarkup(QMessageBox* box, const QString& markup);

/// A text for the tooltip role of an item: shown as it is, whatever it holds.
QString plainTip(const QString& text);
void setTip(QWidget* widget, const QString& text);
void setTip(QAction* action, const QString& text);
/// As showOwnMarkup.
void setOwnMarkupTip(QWidget* widget, const QString& markup);
/// Shows a tooltip at a point of the screen.
void showTip(const QPoint& at, const QString& text, QWidget* widget);

/// A name for a menu or a button: an ampersand in it marks no key.
QString menuText(const QString& name);

/// UTF-8 text from outside in one line that cannot disturb what stands around it; see printable().
QString shown(std::string_view text);
/// The same where the text may have several lines.
QString shownLines(std::string_view text);

} // namespace virga
