#pragma once
// The selected clip: where it comes from, how long it is, how it fills the frame, its own edges and sound.
#include <QWidget>

#include "app/document/document.h"

class QCheckBox;
class QLabel;
class QLineEdit;

namespace virga {

class Choices;
class ElidedLabel;
class NumberField;

class ClipPanel : public QWidget {
    Q_OBJECT
public:
    explicit ClipPanel(Document* document, QWidget* parent = nullptr);

private:
    /// The selected clip, or the one under the playhead; -1 for none.
    int clip() const;
    void refresh();
    template <typename Change> void change(const QString& name, Change change, const QString& mergeKey = {});

    Document* m_document;
    QLineEdit* m_name;
    ElidedLabel* m_source;
    QLabel *m_facts, *m_spare;
    NumberField *m_length, *m_gain;
    Choices *m_fit, *m_edges;
    QCheckBox* m_muted;
};

} // namespace virga
