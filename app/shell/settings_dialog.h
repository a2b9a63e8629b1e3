#pragma once
// The program's own settings, which no project holds: how much memory pictures may take, and the look.
#include <QDialog>

class QLabel;

namespace virga {

class FrameService;

class SettingsDialog : public QDialog {
    Q_OBJECT
public:
    SettingsDialog(FrameService* frames, QWidget* parent);

signals:
    void themeWanted(const QString& name);

private:
    void refresh();
    FrameService* m_frames;
    QLabel* m_used;
};

} // namespace virga
