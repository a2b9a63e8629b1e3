#pragma once
// The shutter and the edge fill, for the whole piece or for the selected cut only.
#include <QWidget>

#include "app/document/document.h"

class QLabel;
class QSlider;

namespace virga {

class Choices;
class NumberField;

class ShutterPanel : public QWidget {
    Q_OBJECT
public:
    explicit ShutterPanel(Document* document, QWidget* parent = nullptr);

private:
    bool forCut() const;
    Shutter shutter() const;
    void setShutter(const Shutter& shutter, const QString& name);
    void setEdges(EdgeFill edges);
    void refresh();

    Document* m_document;
    Choices *m_scope, *m_edges;
    QSlider* m_slider;
    NumberField *m_angle, *m_phase, *m_samples, *m_copies;
    QLabel* m_exposure;
};

} // namespace virga
