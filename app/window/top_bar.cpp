#include "app/window/top_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenuBar>
#include <QPushButton>

#include "app/style/controls.h"
#include "app/style/plain_text.h"
#include "app/style/theme.h"
#include "app/window/services.h"

namespace virga {
namespace {
constexpr int barHeight = 30;
}

TopBar::TopBar(Services& services, QWidget* window) : QWidget(window), m_services(services) {
    setObjectName("topBar");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QWidget(this);
    bar->setFixedHeight(barHeight);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(4, 2, 10, 2);
    m_menus = new QMenuBar(bar);
    m_menus->setNativeMenuBar(false);
    row->addWidget(m_menus, 0, Qt::AlignVCenter);
    row->addStretch(1);
    m_export = new QPushButton(tr("Export…"), bar);
    m_export->setObjectName("primary");
    m_export->setFixedHeight(23);
    m_export->setEnabled(false);
    row->addWidget(m_export);
    // In the middle of the window, whatever stands left and right of it.
    m_title = label({}, "caption", bar);
    m_title->setAlignment(Qt::AlignCenter);
    m_title->setAttribute(Qt::WA_TransparentForMouseEvents);
    column->addWidget(bar);
    connect(m_export, &QPushButton::clicked, this, &TopBar::exportWanted);
    connect(&services.document, &Document::projectChanged, this, &TopBar::refreshExport);
    connect(&services.document, &Document::projectChanged, this, &TopBar::refreshTitle);
    connect(&services.document, &Document::fileChanged, this, &TopBar::refreshTitle);
    connect(&services.exports, &ExportQueue::changed, this, &TopBar::refreshExport);
    connect(&services.exports, &ExportQueue::progressed, this, &TopBar::refreshExport);
}

void TopBar::refreshTitle() {
    const Document& document = m_services.document;
    const auto project = document.project();
    const QString state = document.isReadOnly()       ? tr("read-only: open in another window")
                          : document.isModified()     ? tr("not saved")
                          : document.path().isEmpty() ? QString()
                                                      : tr("saved");
    QString text =
        QStringLiteral("<span style='color:%1'>%2</span>").arg(theme().text.name(), document.title().toHtmlEscaped());
    if (!project->reel.empty())
        text += tr(" — %1 × %2, %3 fps")
                    .arg(project->settings.size.width)
                    .arg(project->settings.size.height)
                    .arg(project->settings.rate.toDouble(), 0, 'g', 5);
    if (!state.isEmpty()) text += (project->reel.empty() ? QStringLiteral(" — ") : QStringLiteral(", ")) + state;
    showOwnMarkup(m_title, text);
    m_title->adjustSize();
    m_title->setGeometry((window()->width() - m_title->width()) / 2, 0, m_title->width(), barHeight);
    const QString name = document.title().replace("[*]", "[*][*]"); // Qt's mark of changes, doubled, is only characters
    window()->setWindowTitle(name + (document.isModified() ? QStringLiteral(" *") : QString()) +
                             QStringLiteral(" – Virga"));
}

// How far the queue is stands on the button that opens it.
void TopBar::refreshExport() {
    const ExportQueue& exports = m_services.exports;
    const bool busy = exports.isBusy();
    m_export->setText(!busy                ? tr("Export…")
                      : exports.isPaused() ? tr("Export, paused")
                                           : tr("Export, %1 %").arg(int(100 * exports.part())));
    m_export->setEnabled(busy || !m_services.document.project()->reel.empty());
}

void TopBar::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    refreshTitle();
}

} // namespace virga
