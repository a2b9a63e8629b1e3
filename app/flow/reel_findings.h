#pragma once
// All findings of the reel, the gravest first, in groups of a kind where they are many. The arrow keys go through them:
// each is shown where it is, with its fixes beneath the list.
#include <QWidget>

#include "app/services/flow_watch.h"

class QTreeWidget;
class QTreeWidgetItem;
class QVBoxLayout;

namespace virga {

class ReelFindings : public QWidget {
    Q_OBJECT
public:
    ReelFindings(Document* document, FlowWatch* flow, QWidget* parent);
    void takeFocus();

signals:
    void problem(const QString& text);
    void limitsWanted();

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void showCurrent();
    /// The finding of an entry, of the latest check; null for a group.
    const Finding* findingOf(const QTreeWidgetItem* item) const;

    Document* m_document;
    FlowWatch* m_flow;
    QTreeWidget* m_list;
    QVBoxLayout* m_below;
    QWidget* m_card = nullptr;
    QString m_shownKey;
    bool m_filling = false;
};

} // namespace virga
