#pragma once
// The rows of the Tray: every media of the project, then the files that could not be read.
#include <QAbstractListModel>

#include "app/services/media_shelf.h"
#include "app/services/proxies.h"
#include "app/services/thumbnails.h"

namespace virga {

class TrayModel : public QAbstractListModel {
    Q_OBJECT
public:
    TrayModel(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, Proxies* proxies,
              QObject* parent = nullptr);

    enum Role { Picture = Qt::UserRole, Length, Facts, Placed, Missing, Broken, Id, LightPart };

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    QMimeData* mimeData(const QModelIndexList& indexes) const override;
    QStringList mimeTypes() const override;
    Qt::DropActions supportedDragActions() const override { return Qt::CopyAction; }
    /// The media of a row, or null for an unreadable file.
    const Media* media(int row) const;
    /// "14 shots, 1 track, 1 unreadable".
    QString summary() const;

private:
    void refresh();
    QString lightText(const Media& media) const;

    Document* m_document;
    MediaShelf* m_shelf;
    Thumbnails* m_thumbnails;
    Proxies* m_proxies;
    Snapshot m_project;
};

} // namespace virga
