#pragma once
// Exporting, as the window has to do with it: its dialog, and telling what became of a result.
#include <QObject>

class QWidget;

namespace virga {

class ExportDialog;
class NoticeBar;
class Services;

class ExportActions : public QObject {
    Q_OBJECT
public:
    ExportActions(Services& services, NoticeBar* notice, QWidget* window);
    void show();
    /// Whether the window may close although something is being exported; asks.
    bool mayStop();

private:
    void ended(int id);

    Services& m_services;
    NoticeBar* m_notice;
    QWidget* m_window;
    ExportDialog* m_dialog = nullptr;
};

} // namespace virga
