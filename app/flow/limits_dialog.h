#pragma once
// What the project's flow check takes for a mistake: a field for each of its limits, made from their own list
// (core/project/fields.h), and what is not reported.
#include <QDialog>

#include "app/document/document.h"

class QLabel;
class QPushButton;

namespace virga {

class LimitsDialog : public QDialog {
    Q_OBJECT
public:
    LimitsDialog(Document* document, QWidget* parent);

private:
    void refreshIgnored();
    Document* m_document;
    QLabel* m_ignored;
    QPushButton* m_again;
};

} // namespace virga
