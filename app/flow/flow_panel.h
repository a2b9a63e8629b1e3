#pragma once
// What the flow check says about the selected cut, in plain words, each finding with its fixes as buttons.
#include <QWidget>

#include "app/background/flow_watch.h"
#include "app/document/document.h"

class QLabel;
class QVBoxLayout;

namespace virga {

class FlowPanel : public QWidget {
    Q_OBJECT
public:
    FlowPanel(Document* document, FlowWatch* flow, QWidget* parent = nullptr);

signals:
    /// Something could not be done; to be shown as a notice.
    void problem(const QString& text);

private:
    void refresh();
    QWidget* card(const Finding& finding);
    Document* m_document;
    FlowWatch* m_flow;
    QLabel *m_heading, *m_count;
    QWidget* m_list;
    QVBoxLayout* m_cards;
    QString m_shownKey;
};

} // namespace virga
