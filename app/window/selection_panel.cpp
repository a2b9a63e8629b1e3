#include "app/window/selection_panel.h"

#include <QLineEdit>

#include "app/clip/adjustment_panel.h"
#include "app/clip/clip_panel.h"
#include "app/cut/cut_panel.h"

namespace virga {

SelectionPanel::SelectionPanel(Document* document, InBetweens* inBetweens, QWidget* parent)
    : QStackedWidget(parent), m_document(document) {
    auto* clip = new ClipPanel(document, inBetweens, this);
    addWidget(clip);
    auto* cut = new CutPanel(document, this);
    addWidget(cut);
    addWidget(new AdjustmentPanel(document, this));
    addWidget(new MarkerPanel(document, this));
    connect(clip, &ClipPanel::problem, this, &SelectionPanel::problem);
    connect(cut, &CutPanel::problem, this, &SelectionPanel::problem);
    connect(cut, &CutPanel::recipeWanted, this, &SelectionPanel::recipeWanted);
    connect(document, &Document::selectionChanged, this, &SelectionPanel::refresh);
    refresh();
}

void SelectionPanel::refresh() {
    switch (m_document->selection().kind) {
    case Selection::CutSelected:
        return setCurrentIndex(1);
    case Selection::AdjustmentSelected:
        return setCurrentIndex(2);
    case Selection::MarkerSelected:
        return setCurrentIndex(3);
    default:
        return setCurrentIndex(0);
    }
}

void SelectionPanel::editName() {
    if (auto* name = currentWidget()->findChild<QLineEdit*>(QString(), Qt::FindDirectChildrenOnly)) {
        name->setFocus();
        name->selectAll();
    }
}

} // namespace virga
