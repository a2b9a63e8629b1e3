#pragma once
// The Tray: all media of the project, placed or not, with what is missing or could not be read and why. Files are
// dropped here; media are dragged from here to the Reel, or put there by a double click.
#include <QWidget>

#include "app/tray/tray_model.h"

class QLabel;
class QListView;
class QPushButton;

namespace virga {

class TrayView : public QWidget {
    Q_OBJECT
public:
    TrayView(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, Proxies* proxies,
             QWidget* parent = nullptr);

    QListView* list() { return m_list; }
    TrayModel* model() { return m_model; }
    /// Progress of reading files; all = 0 for none.
    void setProgress(int done, int all);
    std::vector<std::string> selectedIds() const;

signals:
    void filesDropped(const QStringList& paths);
    void addWanted();
    void cancelWanted();
    void relinkWanted(const QString& mediaId);
    void relinkAllWanted();
    void findCutsWanted(const QString& mediaId);
    void traceWanted(const QString& mediaId);
    void singlePicturesWanted(const QString& mediaId);

protected:
    void paintEvent(QPaintEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

private:
    void refresh();
    void showMenu(const QPoint& at);

    Document* m_document;
    MediaShelf* m_shelf;
    TrayModel* m_model;
    QListView* m_list;
    QLabel *m_summary, *m_drop;
    QPushButton *m_relink, *m_cancel;
};

} // namespace virga
