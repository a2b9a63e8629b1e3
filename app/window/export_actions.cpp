#include "app/window/export_actions.h"

#include <QApplication>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>

#include "app/export/export_dialog.h"
#include "app/style/plain_text.h"
#include "app/window/notice_bar.h"
#include "app/window/services.h"

namespace virga {

ExportActions::ExportActions(Services& services, NoticeBar* notice, QWidget* window)
    : QObject(window), m_services(services), m_notice(notice), m_window(window) {
    connect(&services.exports, &ExportQueue::ended, this, &ExportActions::ended);
}

void ExportActions::show() {
    if (m_services.document.project()->reel.empty()) return;
    if (!m_dialog) m_dialog = new ExportDialog(&m_services.document, &m_services.exports, m_window);
    m_dialog->show();
    m_dialog->raise();
    m_dialog->activateWindow();
}

void ExportActions::ended(int id) {
    const QueuedExport* q = m_services.exports.find(id);
    if (!q) return;
    const bool seen = m_dialog && m_dialog->isVisible(), done = q->state == QueuedExport::Done;
    const QString name = QFileInfo(QString::fromStdString(q->settings.path.string())).fileName();
    const QString text = done ? tr("%1 is exported.").arg(name) : tr("%1 could not be exported.").arg(name);
    if (!QApplication::activeWindow())
        tellDesktop(text, q->told);
    else if (!seen)
        m_notice->tell(text, done ? QString() : q->told);
}

bool ExportActions::mayStop() {
    if (!m_services.exports.isBusy()) return true;
    MessageBox ask(QMessageBox::Question, tr("Virga"),
                   tr("An export is not done yet. Nothing half written stays behind."), QMessageBox::NoButton,
                   m_window);
    auto* stop = ask.addButton(tr("Stop it and close"), QMessageBox::DestructiveRole);
    ask.setDefaultButton(ask.addButton(tr("Go on exporting"), QMessageBox::RejectRole));
    ask.exec();
    if (ask.clickedButton() != stop) return false;
    m_services.exports.cancelAll();
    return true;
}

} // namespace virga
