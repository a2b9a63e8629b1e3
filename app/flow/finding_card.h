#pragma once
// One finding: what, how much, its fixes as buttons, *show*, and what else may be done with it. Pointing at a fix tries
// it out in Picture, Ladder and flow line without changing the project.
#include <QPushButton>
#include <QWidget>

#include "app/document/document.h"
#include "core/check/fix_change.h"
#include "core/check/flow.h"

namespace virga {

class FixButton : public QPushButton {
    Q_OBJECT
public:
    FixButton(Document* document, const Fix& fix, QWidget* parent);
    ~FixButton() override;

protected:
    void enterEvent(QEnterEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    void begin();
    void again();
    void end();
    void tellChange(const EditChange& change);
    Document* m_document;
    Fix m_fix;
    bool m_pointed = false;
};

class FindingCard : public QWidget {
    Q_OBJECT
public:
    FindingCard(Document* document, const Finding& finding, QWidget* parent);

signals:
    /// Something could not be done; to be shown as a notice.
    void problem(const QString& text);
    void limitsWanted();

protected:
    void paintEvent(QPaintEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void showMenu(const QPoint& globalAt);
    Document* m_document;
    Finding m_finding;
};

/// Selects what a finding is about and puts the playhead where it is seen; false where it is gone.
bool goTo(Document& document, const Finding& finding);

} // namespace virga
