#include "app/tray/tray_model.h"
#include "app/document/words.h"

#include <QMimeData>

#include "app/style/plain_text.h"
#include "core/base/sequence_path.h"
#include "core/edit/edits.h"

namespace virga {

TrayModel::TrayModel(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, Proxies* proxies, QObject* parent)
    : QAbstractListModel(parent), m_document(document), m_shelf(shelf), m_thumbnails(thumbnails), m_proxies(proxies),
      m_project(document->project()) {
    connect(document, &Document::projectChanged, this, &TrayModel::refresh);
    connect(shelf, &MediaShelf::changed, this, [this] {
        beginResetModel();
        endResetModel();
    });
    connect(proxies, &Proxies::changed, this, [this] {
        if (rowCount() > 0) emit dataChanged(index(0), index(rowCount() - 1), {LightPart, Qt::ToolTipRole});
    });
    connect(thumbnails, &Thumbnails::ready, this, [this] {
        if (rowCount() > 0) emit dataChanged(index(0), index(rowCount() - 1), {Picture});
    });
}

void TrayModel::refresh() {
    const Snapshot before = std::exchange(m_project, m_document->project());
    if (before->media == m_project->media) { // only what is placed may have changed
        if (rowCount() > 0) emit dataChanged(index(0), index(rowCount() - 1), {Placed});
        return;
    }
    beginResetModel();
    endResetModel();
}

int TrayModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : int(m_project->media.size() + m_shelf->unreadable().size());
}

const Media* TrayModel::media(int row) const {
    return row >= 0 && row < int(m_project->media.size()) ? &m_project->media[std::size_t(row)] : nullptr;
}

QVariant TrayModel::data(const QModelIndex& index, int role) const {
    const Media* m = media(index.row());
    if (!m) {
        const auto broken = std::size_t(index.row()) - m_project->media.size();
        if (broken >= m_shelf->unreadable().size()) return {};
        const auto& file = m_shelf->unreadable()[broken];
        switch (role) {
        case Qt::DisplayRole:
            return shown(file.path.section('/', -1).toStdString());
        case Qt::ToolTipRole:
        case Qt::AccessibleDescriptionRole:
            return file.path + "\n" + file.reason;
        case Facts:
            return file.reason;
        case Broken:
            return true;
        default:
            return {};
        }
    }
    const QString problem = m_thumbnails->problem(*m);
    switch (role) {
    case Qt::DisplayRole:
        return shown(mediaName(m->path));
    case Qt::ToolTipRole:
        return shown(m->path.string()) +
               (m_shelf->isMissing(*m) ? tr("\nis not there: relink it with a right click") : QString()) +
               (m->interlaced ? tr("\ninterlaced: its lines are made whole (a switch of the clip)") : QString()) +
               (m->colour.empty() ? QString()
                                  : tr("\n%1: converted to BT.709").arg(QString::fromStdString(m->colour))) +
               lightText(*m) + (problem.isEmpty() ? QString() : "\n" + problem);
    case Qt::AccessibleDescriptionRole:
        return data(index, Facts).toString() + " " + data(index, Length).toString();
    case Picture: {
        const Rational at = m->still ? Rational(0) : m->duration / Rational(3);
        return m->hasPicture() ? QVariant(m_thumbnails->get(*m, at, QSize(296, 166))) : QVariant();
    }
    case Length:
        return m->still ? QString() : tr("%1 s").arg(m->duration.toDouble(), 0, 'f', 1);
    case Facts:
        if (m_shelf->isMissing(*m)) return tr("not found");
        if (!m->hasPicture()) return tr("sound");
        if (m->bars && !m->bars->isEmpty()) return tr("%1×%2 · black bars").arg(m->size.width).arg(m->size.height);
        if (m->still) return tr("%1×%2 still").arg(m->size.width).arg(m->size.height);
        if (sequenceOf(m->path))
            return tr("%1×%2 · %3 pictures").arg(m->size.width).arg(m->size.height).arg(sequenceOf(m->path)->count());
        if (m->interlaced) return tr("%1×%2 · interlaced").arg(m->size.width).arg(m->size.height);
        if (!m->colour.empty())
            return tr("%1×%2 · %3").arg(m->size.width).arg(m->size.height).arg(QString::fromStdString(m->colour));
        return tr("%1×%2 · %3").arg(m->size.width).arg(m->size.height).arg(m->rate.toDouble(), 0, 'g', 4);
    case Placed:
        return isUsed(*m_project, m->id);
    case Missing:
        return m_shelf->isMissing(*m);
    case Broken:
        return !problem.isEmpty() && !m_shelf->isMissing(*m);
    case LightPart: {
        const Proxies::State state = m_proxies->stateOf(*m);
        return state.kind == Proxies::State::Making ? std::max(0.01, state.part) : 0;
    }
    case Id:
        return QString::fromStdString(m->id);
    default:
        return {};
    }
}

// What is said of a light copy.
QString TrayModel::lightText(const Media& media) const {
    const Proxies::State state = m_proxies->stateOf(media);
    switch (state.kind) {
    case Proxies::State::Making:
        return tr("\na light copy for editing is being made, %1 % (%2)").arg(int(state.part * 100)).arg(state.why);
    case Proxies::State::Ready:
        return tr("\na light copy is shown while editing (%1); exported is the shot itself").arg(state.why);
    case Proxies::State::Failed:
        return tr("\nno light copy could be made: %1").arg(state.why);
    default:
        return {};
    }
}

Qt::ItemFlags TrayModel::flags(const QModelIndex& index) const {
    Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
    if (media(index.row())) f |= Qt::ItemIsDragEnabled;
    return f;
}

QStringList TrayModel::mimeTypes() const {
    return {"application/x-virga-media"};
}

QMimeData* TrayModel::mimeData(const QModelIndexList& indexes) const {
    QModelIndexList sorted = indexes;
    std::sort(sorted.begin(), sorted.end(), [](const auto& a, const auto& b) { return a.row() < b.row(); });
    QByteArray ids;
    for (const QModelIndex& i : sorted)
        if (const Media* m = media(i.row())) ids += QByteArray::fromStdString(m->id) + '\n';
    auto* mime = new QMimeData;
    mime->setData(mimeTypes().first(), ids);
    return mime;
}

QString TrayModel::summary() const {
    int shots = 0, tracks = 0;
    for (const Media& m : m_project->media) ++(m.hasPicture() ? shots : tracks);
    QStringList parts;
    if (shots) parts << counted(shots, "shot", "shots");
    if (tracks) parts << counted(tracks, "track", "tracks");
    if (const int missing = m_shelf->missing()) parts << tr("%1 missing").arg(missing);
    if (const int bad = int(m_shelf->unreadable().size())) parts << tr("%1 unreadable").arg(bad);
    if (const QString light = m_proxies->progressText(); !light.isEmpty()) parts << light;
    return parts.join(", ");
}

} // namespace virga
