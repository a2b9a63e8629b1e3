#pragma once
// Sound: every music under the reel with its gain, place and fades; and the movement heard.
#include <QWidget>

#include "app/document/document.h"

class QVBoxLayout;

namespace virga {

class HeardBox;

class SoundPanel : public QWidget {
    Q_OBJECT
public:
    SoundPanel(Document* document, QWidget* parent = nullptr);

    HeardBox* heard() { return m_heard; }

signals:
    void addWanted();
    void stemsWanted();

private:
    void rebuild();
    void refresh();
    QWidget* row(int music);

    Document* m_document;
    HeardBox* m_heard;
    QVBoxLayout* m_rows;
    std::vector<QWidget*> m_widgets;
};

} // namespace virga
