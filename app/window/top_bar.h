#pragma once
// The row at the window's top: menus, what is open, and the button that leads to exporting.
#include <QWidget>

class QLabel;
class QMenuBar;
class QPushButton;

namespace virga {

class Services;

class TopBar : public QWidget {
    Q_OBJECT
public:
    TopBar(Services& services, QWidget* window);
    QMenuBar* menus() { return m_menus; }
    /// Tells in the bar and in the window's title what is open and whether it is saved.
    void refreshTitle();

signals:
    void exportWanted();

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refreshExport();

    Services& m_services;
    QMenuBar* m_menus;
    QPushButton* m_export;
    QLabel* m_title;
};

} // namespace virga
