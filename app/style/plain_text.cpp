#include "app/style/plain_text.h"

#include <QAction>
#include <QToolTip>

#include "core/base/printable.h"

namespace virga {

PlainLabel::PlainLabel(QWidget* parent) : QLabel(parent) {
    setTextFormat(Qt::PlainText);
}

PlainLabel::PlainLabel(const QString& text, QWidget* parent) : PlainLabel(parent) {
    setText(text); // after the format is set, so that the text is never parsed
}

MessageBox::MessageBox(Icon icon, const QString& title, const QString& text, StandardButtons buttons, QWidget* parent)
    : QMessageBox(parent) {
    setTextFormat(Qt::PlainText);
    setIcon(icon);
    setWindowTitle(title);
    setText(text);
    setStandardButtons(buttons);
}

void MessageBox::setInformativeText(const QString& text) {
    QMessageBox::setInformativeText(QStringLiteral(" ")); // makes the label
    for (auto* label : findChildren<QLabel*>()) label->setTextFormat(Qt::PlainText);
    QMessageBox::setInformativeText(text);
}

void showOwnMarkup(QLabel* label, const QString& markup) {
    label->setTextFormat(Qt::RichText);
    label->setText(markup);
}

void showOwnMarkup(QMessageBox* box, const QString& markup) {
    box->setTextFormat(Qt::RichText);
    box->setText(markup);
}

QString plainTip(const QString& text) {
    if (!Qt::mightBeRichText(text)) return text;
    return QStringLiteral("<span style='white-space: pre-wrap'>%1</span>").arg(text.toHtmlEscaped());
}

void setTip(QWidget* widget, const QString& text) {
    widget->setToolTip(plainTip(text));
}

void setOwnMarkupTip(QWidget* widget, const QString& markup) {
    widget->setToolTip(markup);
}

void setTip(QAction* action, const QString& text) {
    action->setToolTip(plainTip(text));
}

void showTip(const QPoint& at, const QString& text, QWidget* widget) {
    QToolTip::showText(at, plainTip(text), widget);
}

QString menuText(const QString& name) {
    return QString(name).replace('&', QLatin1String("&&"));
}

QString shownLines(std::string_view text) {
    return QString::fromStdString(printableLines(text));
}

QString shown(std::string_view text) {
    return QString::fromStdString(printable(text));
}

} // namespace virga
