#pragma once
// Shows the panel of whatever is selected: a clip or overlay, a cut, an adjustment, a marker.
#include <QStackedWidget>

#include "app/document/document.h"

namespace virga {

class ClipPanel;
class InBetweens;

class SelectionPanel : public QStackedWidget {
    Q_OBJECT
public:
    SelectionPanel(Document* document, InBetweens* inBetweens, QWidget* parent = nullptr);
    /// Puts the cursor into the field for the name.
    void editName();

signals:
    void problem(const QString& text);
    void recipeWanted(const QString& id);

private:
    void refresh();
    Document* m_document;
};

} // namespace virga
