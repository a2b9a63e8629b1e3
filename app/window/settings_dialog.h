#pragma once
// The program's own settings, which no project holds: how much memory pictures may take, and the look.
#include <QDialog>

class QLabel;
class QPushButton;

namespace virga {

class MainWindow;

class SettingsDialog : public QDialog {
    Q_OBJECT
public:
    explicit SettingsDialog(MainWindow* window);

private:
    void refresh();
    void countCopies();
    MainWindow* m_window;
    QLabel *m_used, *m_copies;
    QPushButton* m_remove;
};

} // namespace virga
