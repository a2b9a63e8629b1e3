#pragma once
// The selected cut: how long its two shots overlap, which lies on top, the crossfade, and the ramps of their speed.
#include <QWidget>

#include "app/document/document.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace virga {

class Choices;
class FormRows;
class NumberField;

class CutPanel : public QWidget {
    Q_OBJECT
public:
    CutPanel(Document* document, QWidget* parent = nullptr);

signals:
    void recipeWanted(const QString& id);
    void problem(const QString& text);

private:
    struct RampRow {
        NumberField *from, *to, *frames;
    };
    void buildRamps(FormRows& rows);
    void enterRamp(Side side);
    void refresh();
    void set(const Overlap& overlap);

    Document* m_document;
    QLabel *m_title, *m_shortage;
    NumberField *m_before, *m_after, *m_fade;
    QLabel *m_spareBefore, *m_spareAfter;
    Choices *m_top, *m_keeps;
    QCheckBox* m_alone;
    RampRow m_ramps[2];
    QComboBox* m_preset;
    QPushButton* m_crossfade;
};

} // namespace virga
