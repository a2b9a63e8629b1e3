#pragma once
// What the flow check says about the selected cut and its two shots, in plain words, each finding with its fixes as
// buttons; or about the whole reel, as a list. Below it: mending all that is safe, and carrying the movement on to the
// next cut.
#include <QWidget>
#include <set>

#include "app/document/document.h"
#include "app/services/flow_watch.h"
#include "app/services/job.h"

class QLabel;
class QPushButton;
class QStackedWidget;
class QToolButton;
class QVBoxLayout;

namespace virga {

class ReelFindings;

class FlowPanel : public QWidget {
    Q_OBJECT
public:
    FlowPanel(Document* document, FlowWatch* flow, QWidget* parent = nullptr);
    bool showsReel() const;
    bool isIdle() const { return !m_mending.isRunning(); }

public slots:
    void showReel(bool on);
    /// All safe fixes of what is shown: the cut with its shots, or the reel.
    void mend();
    void mendReel();
    void editLimits();
    void planMoves();

signals:
    /// Something could not be done; to be shown as a notice.
    void problem(const QString& text);

private:
    void refresh();
    void refreshFoot();
    void addCards(const std::vector<const Finding*>& findings);
    QWidget* mendedCard();
    void startMending(bool reel);
    std::vector<const Finding*> findingsHere() const;

    Document* m_document;
    FlowWatch* m_flow;
    Job m_mending;
    QLabel* m_heading;
    QToolButton* m_count;
    QStackedWidget* m_pages;
    QWidget* m_list;
    QVBoxLayout* m_cards;
    ReelFindings* m_reel;
    QPushButton *m_mend, *m_continue, *m_plan;
    QString m_shownKey;
    QStringList m_mended;     // what the last mending did, until the selection changes
    std::set<QString> m_open; // kinds whose groups are unfolded
};

} // namespace virga
