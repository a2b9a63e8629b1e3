#pragma once
// The recipe that the cut follows, what was changed here, and what can be done about it. Hidden where it follows none.
#include <QWidget>

#include "app/document/document.h"

class QCheckBox;
class QLabel;
class QPushButton;

namespace virga {

class RecipeLinkBox : public QWidget {
    Q_OBJECT
public:
    explicit RecipeLinkBox(Document* document, QWidget* parent = nullptr);

signals:
    void recipeWanted(const QString& id);

private:
    void refresh();
    Document* m_document;
    QPushButton *m_name, *m_fold, *m_drop, *m_loose;
    QLabel* m_words;
    QCheckBox* m_edits;
};

} // namespace virga
