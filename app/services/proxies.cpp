#include "app/services/proxies.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>
#include <QStandardPaths>
#include <QStorageInfo>
#include <algorithm>
#include <set>

#include "app/services/be_nice.h"
#include "app/services/in_background.h"
#include "core/base/hash.h"
#include "core/decode/probe.h"

namespace virga {
namespace {

constexpr qint64 leastFree = qint64(1) << 30; // left on the disk

// A copy is named by what it is of: the file's content where that is known, else its place and state.
QString nameOf(const QString& path, const std::string& fingerprint, bool deinterlace) {
    std::string of = fingerprint;
    if (of.empty()) {
        const QFileInfo file(path);
        of = (path + QString::number(file.size()) + QString::number(file.lastModified().toMSecsSinceEpoch()))
                 .toStdString();
    }
    const auto name = Hash().add(std::string_view(of)).add(deinterlace).add(1).value(); // 1: how they are made
    return QStringLiteral("%1.mp4").arg(name, 16, 16, QLatin1Char('0'));
}

// The longest unused go; `kept` and those of the last minutes stay.
void bound(const QString& kept) {
    const QDir folder(Proxies::folder());
    qint64 bytes = 0;
    for (const QFileInfo& file : folder.entryInfoList({"*.mp4"}, QDir::Files, QDir::Time))
        if ((bytes += file.size()) > Proxies::mostOnDisk && file.absoluteFilePath() != kept)
            QFile::remove(file.absoluteFilePath());
}

} // namespace

QString Proxies::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::CacheLocation) + "/light-copies";
}

Proxies::OnDisk Proxies::onDisk() {
    OnDisk sum;
    for (const QFileInfo& file : QDir(folder()).entryInfoList({"*.mp4"}, QDir::Files))
        sum.bytes += file.size(), ++sum.files;
    return sum;
}

Proxies::Proxies(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames) {
    m_thread.setMaxThreadCount(1);
    m_on = QSettings().value("lightCopies", true).toBool();
    connect(document, &Document::projectChanged, this, &Proxies::look);
    connect(document, &Document::opened, this, [this] { // looked at anew, also what was removed or failed
        m_wanted.clear();
        m_states.clear();
        look();
    });
}

Proxies::~Proxies() {
    m_cancel.request();
    m_thread.clear();
    m_thread.waitForDone();
}

Proxies::State Proxies::stateOf(const Media& media) const {
    State state;
    for (const bool deinterlace : {false, true}) {
        const Wanted wanted{QString::fromStdString(media.path.string()), {}, deinterlace};
        const State one = m_states.value(wanted.key());
        if (one.kind != State::None) state = one;
    }
    return state;
}

QString Proxies::progressText() const {
    int made = 0, all = 0;
    double part = 0;
    for (const Wanted& wanted : m_wanted) {
        const State state = m_states.value(wanted.key());
        if (state.kind == State::None || state.why.isEmpty()) continue;
        ++all;
        made += state.kind == State::Ready || state.kind == State::Failed;
        if (state.kind == State::Making) part = state.part;
    }
    if (made == all) return {};
    return tr("light copies: %1 of %2, %3 %").arg(made + 1).arg(all).arg(int(part * 100));
}

void Proxies::setOn(bool on) {
    if (on == m_on) return;
    m_on = on;
    QSettings().setValue("lightCopies", on);
    if (!on) {
        m_cancel.request();
        for (const Wanted& wanted : m_wanted) m_frames->useProxy(wanted.path.toStdString(), wanted.deinterlace, {});
        m_wanted.clear();
        m_states.clear();
    }
    look();
    emit changed();
}

void Proxies::removeAll() {
    m_cancel.request();
    for (const Wanted& wanted : m_wanted) {
        m_frames->useProxy(wanted.path.toStdString(), wanted.deinterlace, {});
        m_states[wanted.key()] = {};
    }
    inBackground(
        this,
        [] {
            for (const QFileInfo& file : QDir(folder()).entryInfoList({"*.mp4"}, QDir::Files))
                QFile::remove(file.absoluteFilePath());
            return true;
        },
        [this](bool) { emit changed(); }, &m_thread);
}

void Proxies::forget(const QString& path) {
    for (const bool deinterlace : {false, true}) m_states.remove(Wanted{path, {}, deinterlace}.key());
    std::erase_if(m_wanted, [&](const Wanted& w) { return w.path == path; });
    look();
}

// What the reel and the clips above it show, in the reel's order.
void Proxies::look() {
    if (!m_on) return;
    const Snapshot project = m_document->project();
    std::vector<Wanted> wanted;
    std::set<std::pair<std::string, bool>> seen;
    const auto add = [&](const Clip& clip) {
        if (clip.isGap()) return;
        const Media* media = findMedia(*project, clip.mediaId);
        if (!media || !media->hasPicture() || media->still) return;
        const bool deinterlace = clip.deinterlace || !media->interlaced;
        if (!seen.insert({media->id, deinterlace}).second) return;
        wanted.push_back({QString::fromStdString(media->path.string()), media->fingerprint, deinterlace});
    };
    for (const Clip& clip : project->reel) add(clip);
    for (const Overlay& overlay : project->overlays) add(overlay.clip);
    const auto same = [](const Wanted& a, const Wanted& b) { return a.key() == b.key(); };
    if (std::equal(wanted.begin(), wanted.end(), m_wanted.begin(), m_wanted.end(), same)) return;
    m_wanted = std::move(wanted);
    next();
}

void Proxies::next() {
    if (m_busy || !m_on) return;
    const auto found =
        std::find_if(m_wanted.begin(), m_wanted.end(), [this](const Wanted& w) { return !m_states.contains(w.key()); });
    if (found == m_wanted.end()) return;
    m_busy = true;
    m_cancel = Cancel();
    const Wanted wanted = *found;
    const QString key = wanted.key();
    const int generation = ++m_generation;
    const auto tell = [alive = QPointer<Proxies>(this), key, generation](const State& state) {
        QMetaObject::invokeMethod(qApp, [alive, key, generation, state] {
            if (!alive || generation != alive->m_generation || !alive->m_on) return;
            alive->m_states[key] = state;
            emit alive->changed();
        });
    };
    const auto done = [this, wanted, key](const Made& made) {
        m_busy = false;
        ++m_generation;
        const bool stopped = made.error && made.error->code == ErrorCode::Cancelled;
        if (stopped && m_states.value(key).kind == State::Making) m_states.remove(key);
        if (!stopped) {
            State state{State::None, 1, made.why};
            if (made.error)
                state = {State::Failed, 0, QString::fromStdString(describe(*made.error))};
            else if (!made.file.isEmpty())
                state.kind = State::Ready;
            m_states[key] = state;
            if (m_on && state.kind == State::Ready)
                m_frames->useProxy(wanted.path.toStdString(), wanted.deinterlace, made.file.toStdString());
        }
        emit changed();
        next();
    };
    inBackground(
        this,
        [wanted, tell, cancel = m_cancel] {
            QString why;
            double told = -1;
            return make(
                wanted,
                [&](const QString& text) {
                    why = text;
                    tell({State::Making, 0, why});
                },
                [&](double part) {
                    if (part - told < 0.01) return;
                    told = part;
                    tell({State::Making, part, why});
                },
                cancel);
        },
        done, &m_thread,
        [done](const Error& error) {
            done({{}, {}, error});
        });
}

Proxies::Made Proxies::make(const Wanted& wanted, const std::function<void(const QString&)>& begun,
                            const std::function<void(double)>& report, const Cancel& cancel) {
    beNice();
    const std::filesystem::path source = wanted.path.toStdString();
    const QString file = folder() + "/" + nameOf(wanted.path, wanted.fingerprint, wanted.deinterlace);
    const auto info = probe(source, cancel);
    if (!info) return {}; // the Picture says so where it is shown
    const std::string why = info->video ? whyProxy(*info->video) : std::string();
    if (why.empty()) return {};
    const QString reason = QString::fromStdString(why);
    if (QFile::exists(file)) {
        if (ProxyReader::open(file.toStdString(), *info->video)) {
            QFile used(file); // the longest unused goes first
            if (used.open(QIODevice::ReadWrite))
                used.setFileTime(QDateTime::currentDateTime(), QFileDevice::FileModificationTime);
            return {file, reason, std::nullopt};
        }
        QFile::remove(file);
    }
    begun(reason);
    QDir().mkpath(folder());
    if (const QStorageInfo disk(folder()); disk.isValid() && disk.bytesAvailable() < leastFree)
        return {{},
                reason,
                Error{ErrorCode::WriteFailed, "too little room on the disk for light copies", folder().toStdString(),
                      "free a gigabyte; the shots themselves are shown meanwhile"}};
    const auto made = makeProxy(source, file.toStdString(), wanted.deinterlace, report, cancel);
    if (!made) return {{}, reason, made.error()};
    bound(file);
    return {file, reason, std::nullopt};
}

} // namespace virga
