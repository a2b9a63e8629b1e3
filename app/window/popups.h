#pragma once
// Two small questions that need a number or three: how long, and how a cascade goes. They open where they are asked for
// and close by themselves.
#include <QDialog>

#include "app/document/document.h"

namespace virga {

class Choices;
class NoticeBar;
class NumberField;

/// Sets the length of the chosen clips in frames, by arithmetic ("2*25", "1.5*25"), or to so many beats.
class LengthPopup : public QDialog {
    Q_OBJECT
public:
    LengthPopup(Document* document, QWidget* parent = nullptr);
    NumberField *frames, *beats;

signals:
    void problem(const QString& text);

private:
    Document* m_document;
};

class CascadeDialog : public QDialog {
    Q_OBJECT
public:
    CascadeDialog(Document* document, QWidget* parent = nullptr);
    NumberField *apart, *slide;
    Choices* direction;

signals:
    void problem(const QString& text);

private:
    Document* m_document;
};

/// Asks for the length of the selected clips, or how they go in a cascade; `notice` tells what could not be done.
void askLength(Document& document, NoticeBar& notice, QWidget* window);
void askCascade(Document& document, NoticeBar& notice, QWidget* window);

} // namespace virga
