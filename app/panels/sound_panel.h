#pragma once
// Sound: every music under the reel with its gain, place and fades.
#include <QWidget>

#include "app/document/document.h"

class QVBoxLayout;

namespace virga {

class SoundPanel : public QWidget {
    Q_OBJECT
public:
    SoundPanel(Document* document, QWidget* parent = nullptr);

signals:
    void addWanted();

private:
    void rebuild();
    void refresh();
    QWidget* row(int music);

    Document* m_document;
    QVBoxLayout* m_rows;
    std::vector<QWidget*> m_widgets;
};

} // namespace virga
