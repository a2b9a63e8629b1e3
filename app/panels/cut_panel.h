#pragma once
// The selected cut: how long its two shots overlap, which lies on top, and the crossfade.
#include <QWidget>

#include "app/document/document.h"

class QLabel;
class QPushButton;

namespace virga {

class Choices;
class NumberField;

class CutPanel : public QWidget {
    Q_OBJECT
public:
    CutPanel(Document* document, QWidget* parent = nullptr);

private:
    void refresh();
    void set(const Overlap& overlap);

    Document* m_document;
    QLabel *m_title, *m_shortage;
    NumberField *m_before, *m_after, *m_fade;
    QLabel *m_spareBefore, *m_spareAfter;
    Choices* m_top;
    QPushButton* m_crossfade;
};

} // namespace virga
