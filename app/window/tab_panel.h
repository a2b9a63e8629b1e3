#pragma once
// A few panels behind tabs.
#include <QButtonGroup>
#include <QStackedWidget>
#include <QWidget>

class QHBoxLayout;

namespace virga {

class TabPanel : public QWidget {
    Q_OBJECT
public:
    explicit TabPanel(QWidget* parent = nullptr);
    void addTab(const QString& name, QWidget* panel, const QString& tip = {});
    void showTab(int index);
    int current() const { return m_stack->currentIndex(); }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QHBoxLayout* m_row;
    QButtonGroup* m_group;
    QStackedWidget* m_stack;
};

} // namespace virga
