#include "app/window/media_files.h"
#include "app/commands/media_commands.h"
#include "app/document/words.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLocale>
#include <QMessageBox>
#include <QPushButton>
#include <map>

#include "app/commands/reel_commands.h"
#include "app/document/words.h"
#include "app/services/in_background.h"
#include "app/style/plain_text.h"
#include "core/base/fingerprint.h"
#include "core/base/sequence_path.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/interchange/edit_file.h"
#include "core/project/project_file.h"

namespace virga {
namespace {

QString lines(const std::vector<std::string>& list, int most = 12) {
    QStringList out;
    for (const auto& line : list) {
        if (int(out.size()) == most) {
            out << QObject::tr("… and %1 more").arg(int(list.size()) - most);
            break;
        }
        out << QString::fromStdString(line);
    }
    return out.join('\n');
}

// What probing many files finds: id and media, or why not.
struct Probed {
    std::vector<std::pair<std::string, Media>> found;
    std::vector<Error> problems;
};

Probed probeAll(const std::vector<std::pair<std::string, std::filesystem::path>>& files,
                const std::function<void(double)>& report, const Cancel& cancel) {
    Probed out;
    for (const auto& [id, path] : files) {
        if (cancel.requested()) break;
        auto info = probe(path, cancel);
        if (info) {
            info->fingerprint = fingerprintOf(path);
            out.found.push_back({id, mediaFrom(*info)});
        } else {
            out.problems.push_back(info.error());
        }
        report(double(out.found.size() + out.problems.size()) / double(files.size()));
    }
    return out;
}

} // namespace

MediaFiles::MediaFiles(Document* document, MediaShelf* shelf, Thumbnails* thumbnails, QWidget* window)
    : QObject(window), m_document(document), m_shelf(shelf), m_thumbnails(thumbnails), m_window(window) {
    connect(&m_importer, &Importer::progress, this, [this](int done, int all) {
        emit progress(done, all);
        emit busyText(done < all ? tr("reading %1 of %2 …").arg(done + 1).arg(all) : QString());
    });
    connect(&m_importer, &Importer::finished, this, &MediaFiles::imported);
    connect(&m_collect, &Job::progress, this, [this](double part) {
        emit busyText(tr("collecting … %1 %   %2").arg(int(part * 100)).arg(m_collect.timeLeft()));
    });
    connect(&m_relink, &Job::progress, this,
            [this](double part) { emit busyText(tr("reading files … %1 %").arg(int(part * 100))); });
    // What is being read for one piece is nothing to another.
    connect(document, &Document::opened, this, [this] {
        m_importer.abandon();
        m_relink.stop();
        m_collect.stop();
        m_edit.stop();
        lookForChanged();
    });
    connect(document, &Document::opened, this, &MediaFiles::tellOfMissing);
    for (Job* job : {&m_collect, &m_relink, &m_edit})
        connect(job, &Job::runningChanged, this, [this](bool running) {
            if (!running) emit busyText({});
        });
}

void MediaFiles::lookForChanged() {
    inBackground(
        this, [project = m_document->project()] { return std::pair(project, changedMedia(*project)); },
        [this](const std::pair<Snapshot, std::vector<std::string>>& found) {
            QStringList names;
            for (const std::string& id : found.second) // of what is open by now
                if (const Media* media = findMedia(*m_document->project(), id);
                    media && media->path == findMedia(*found.first, id)->path)
                    names << shown(media->path.string());
            if (!names.isEmpty())
                emit problem(tr("%1 not the files that this project was made with.")
                                 .arg(counted(names.size(), "file is", "files are")),
                             tr("Their length and pictures may differ: look at their clips, or relink them.\n%1")
                                 .arg(names.join('\n')));
        });
}

bool MediaFiles::isEdit(const QString& path) {
    const QString kind = QFileInfo(path).suffix().toLower();
    return kind == "otio" || kind == "edl";
}

void MediaFiles::add(const QStringList& paths, int place, bool sequences) {
    QStringList files;
    for (const QString& path : paths) {
        if (isEdit(path))
            readEdit(path);
        else
            files << path;
    }
    if (!files.isEmpty()) m_importer.start(files, place, sequences);
}

void MediaFiles::imported(const Imported& imported, int place) {
    emit progress(0, 0);
    emit busyText({});
    // Copies of what the project has, or of each other, are recognised by their content and not listed twice.
    std::vector<std::string> known;
    std::map<std::string, std::filesystem::path> contents;
    for (const Media& m : m_document->project()->media) contents[m.fingerprint] = m.path;
    for (const MediaInfo& info : imported.files) {
        const auto [at, fresh] = contents.emplace(info.fingerprint, info.path);
        if (!fresh && !info.fingerprint.empty() && at->second != info.path)
            known.push_back(info.path.filename().string() + " = " + at->second.filename().string());
    }
    virga::addFiles(*m_document, imported.files, place);
    m_shelf->addUnreadable(imported.unreadable);
    std::vector<std::string> reasons;
    for (const Error& e : imported.unreadable) reasons.push_back(describe(e));
    for (const MediaInfo& info : imported.files)
        for (const auto& warning : info.warnings) reasons.push_back(info.path.filename().string() + ": " + warning);
    if (!known.empty())
        reasons.push_back(tr("the same content twice, kept once: ").toStdString() +
                          lines(known, 4).replace('\n', ", ").toStdString());
    const int bad = int(imported.unreadable.size());
    if (bad > 0)
        emit problem(
            tr("%1 could not be added; the rest of the reel stays as it is.").arg(counted(bad, "file", "files")),
            lines(reasons));
    else if (!reasons.empty())
        emit problem(tr("Added, but worth knowing:"), lines(reasons));
    if (imported.stopped)
        emit problem(tr("Reading was stopped."), tr("%1 files were added before that.").arg(imported.files.size()));
}

void MediaFiles::readEdit(const QString& path) {
    const auto before = m_document->project();
    emit busyText(tr("Reading %1").arg(QFileInfo(path).fileName()));
    m_edit.start(
        [path, before](auto, const Cancel&) {
            return std::make_shared<Expected<ImportedEdit>>(readEditFile(path.toStdString(), *before));
        },
        [this, path, before](const std::shared_ptr<Expected<ImportedEdit>>& read) {
            if (m_document->project() != before)
                return readEdit(path); // it was edited meanwhile: into what is there now
            takeEdit(path, std::move(*read));
        });
}

void MediaFiles::takeEdit(const QString& path, Expected<ImportedEdit> read) {
    if (!read)
        return emit problem(tr("The edit could not be read; the reel stays as it is."),
                            QString::fromStdString(describe(read.error())));
    const QString name = QFileInfo(path).fileName();
    virga::takeEdit(*m_document, name, std::move(read->project));
    if (!read->problems.empty())
        emit problem(tr("Read, but %1 could not be taken over; kept as notes.")
                         .arg(counted(qint64(read->problems.size()), "thing", "things")),
                     lines(read->problems));
    probeNew(name);
}

// Edits name files without saying what is in them: their sizes, rates and lengths are read, as part of the same step.
void MediaFiles::probeNew(const QString& name) {
    std::vector<std::pair<std::string, std::filesystem::path>> files;
    for (const Media& m : m_document->project()->media)
        if (m.fingerprint.empty() && mediaExists(m.path)) files.push_back({m.id, m.path});
    if (files.empty()) return;
    m_relink.start([files](auto report, const Cancel& cancel) { return probeAll(files, report, cancel); },
                   [this, name](const Probed& probed) {
                       takeProbed(*m_document, name, probed.found);
                       m_shelf->addUnreadable(probed.problems);
                   });
}

void MediaFiles::writeEdit(const QString& path) {
    std::vector<std::string> problems;
    const auto refused = [this](const Error& error) {
        emit problem(tr("The edit could not be written."), QString::fromStdString(describe(error)));
    };
    // The dialog asked whether a file may be replaced; what the piece is made from never is.
    if (const auto may = mayWrite(path.toStdString(), editOutput(*m_document->project(), true)); !may)
        return refused(may.error());
    if (const auto done = writeEditFile(*m_document->project(), path.toStdString(), &problems); !done)
        return refused(done.error());
    if (!problems.empty())
        emit problem(tr("Written to %1. An edit list cannot hold:").arg(QFileInfo(path).fileName()), lines(problems));
}

void MediaFiles::chooseEditToRead() {
    const QString path =
        QFileDialog::getOpenFileName(m_window, tr("Read an edit"), {}, tr("Edits (*.otio *.edl);;All files (*)"));
    if (!path.isEmpty()) readEdit(path);
}

void MediaFiles::chooseEditToWrite(bool timeline) {
    const QString kind = timeline ? "otio" : "edl";
    QString path = QFileDialog::getSaveFileName(
        m_window, timeline ? tr("Write OpenTimelineIO") : tr("Write an edit list"), m_document->title() + "." + kind,
        timeline ? tr("OpenTimelineIO (*.otio)") : tr("Edit lists (*.edl)"));
    if (path.isEmpty()) return;
    if (QFileInfo(path).suffix().toLower() != kind) path += "." + kind;
    writeEdit(path);
}

void MediaFiles::relink(const std::string& id, const QString& path) {
    const std::vector<std::pair<std::string, std::filesystem::path>> file = {{id, path.toStdString()}};
    m_relink.start([file](auto report, const Cancel& cancel) { return probeAll(file, report, cancel); },
                   [this](const Probed& probed) {
                       for (const Error& e : probed.problems)
                           emit problem(tr("This file cannot be used; the old link stays."),
                                        QString::fromStdString(describe(e)));
                       for (auto& [which, media] : probed.found) {
                           const Media* old = findMedia(*m_document->project(), which);
                           if (!old) continue;
                           const bool shorter = !media.still && media.duration < old->duration;
                           m_thumbnails->forget(*old);
                           emit fileChanged(QString::fromStdString(old->path.string()));
                           emit fileChanged(QString::fromStdString(media.path.string()));
                           virga::relink(*m_document, which, media);
                           if (shorter)
                               emit problem(tr("Relinked, but the file is shorter than the old one."),
                                            tr("Clips that use its end hold the last picture there."));
                       }
                       m_shelf->lookForMissing();
                   });
}

void MediaFiles::chooseRelink(const QString& id) {
    const Media* media = findMedia(*m_document->project(), id.toStdString());
    if (!media) return;
    const QString path =
        QFileDialog::getOpenFileName(m_window, tr("Where is %1?").arg(shown(media->path.filename().string())));
    if (!path.isEmpty()) relink(id.toStdString(), path);
}

void MediaFiles::relinkFrom(const QString& folder) {
    std::vector<std::filesystem::path> lost;
    for (const Media& m : m_document->project()->media)
        if (m_shelf->isMissing(m)) lost.push_back(m.path);
    m_relink.start(
        [lost, folder = std::filesystem::path(folder.toStdString())](auto, const Cancel&) {
            return findNear(lost, folder);
        },
        [this, count = int(lost.size())](const std::map<std::filesystem::path, std::filesystem::path>& found) {
            for (const Media& m : m_document->project()->media)
                if (found.contains(m.path)) {
                    m_thumbnails->forget(m);
                    emit fileChanged(QString::fromStdString(m.path.string()));
                }
            relinkAll(*m_document, found);
            if (int(found.size()) < count)
                emit problem(
                    tr("%1 not found there.").arg(counted(count - qint64(found.size()), "file was", "files were")),
                    tr("%1 of %2 are linked again.").arg(found.size()).arg(count));
            m_shelf->lookForMissing();
        });
}

void MediaFiles::chooseRelinkAll() {
    const QString folder = QFileDialog::getExistingDirectory(m_window, tr("A folder in which the missing files lie"));
    if (!folder.isEmpty()) relinkFrom(folder);
}

void MediaFiles::collect(const QString& folder, std::vector<ToCollect> promised) {
    m_collect.start(
        [project = m_document->project(), folder = std::filesystem::path(folder.toStdString()),
         promised = std::move(promised)](auto report, const Cancel& cancel) {
            return collectMedia(
                *project, folder, [&](auto done, auto all) { report(all > 0 ? double(done) / double(all) : 1); },
                cancel, &promised);
        },
        [this, folder](Expected<Collected> done) {
            if (!done)
                return emit problem(tr("Collecting was not finished; the project is as it was."),
                                    QString::fromStdString(describe(done.error())));
            // Only the paths are taken: the project may have been edited meanwhile.
            takeCollected(*m_document, done->project);
            std::vector<std::string> reasons;
            for (const Error& e : done->problems) reasons.push_back(describe(e));
            emit problem(tr("%1 files copied to %2, %3 were there. Save the project to keep the links.")
                             .arg(done->copied)
                             .arg(folder)
                             .arg(done->alreadyThere),
                         lines(reasons));
        });
}

void MediaFiles::chooseCollect() {
    if (m_document->path().isEmpty())
        return emit problem(tr("Save the project first."), tr("Its media are collected in a folder beside it."));
    const QFileInfo project(m_document->path());
    const QString folder = project.absolutePath() + "/" + project.completeBaseName() + " media";
    // Sequences may be long, disks slow: what lies where is looked for in the background.
    m_collect.start([project = m_document->project(),
                     folder](auto, const Cancel&) { return toCollect(*project, folder.toStdString()); },
                    [this, folder](std::vector<ToCollect> files) {
                        if (mayCollect(files)) collect(folder, std::move(files));
                    });
}

bool MediaFiles::mayCollect(const std::vector<ToCollect>& files) {
    // A project that came from elsewhere may name any file: what would be taken from outside its folder is shown first.
    std::map<std::filesystem::path, std::pair<int, std::uintmax_t>> outside; // by folder: files, bytes
    QStringList all;
    for (const ToCollect& file : files) {
        if (!file.outside) continue;
        auto& [count, bytes] = outside[file.really.parent_path()];
        ++count, bytes += file.bytes;
        all << QString::fromStdString(file.really == file.named
                                          ? file.really.string()
                                          : file.named.string() + " (a link to " + file.really.string() + ")");
    }
    if (!outside.empty()) {
        QStringList folders;
        for (const auto& [from, what] : outside)
            folders << tr("%1: %2, %3")
                           .arg(QString::fromStdString(from.string()), counted(what.first, "file", "files"),
                                QLocale().formattedDataSize(qint64(what.second)));
        constexpr int shown = 8;
        if (folders.size() > shown) {
            const auto more = folders.size() - shown;
            folders.resize(shown);
            folders << tr("and %1").arg(counted(more, "folder more", "folders more"));
        }
        MessageBox box(QMessageBox::Question, tr("Collect media"),
                       tr("%1 from outside the project's folder will be copied into it.")
                           .arg(counted(all.size(), "file", "files")),
                       QMessageBox::Yes | QMessageBox::Cancel, m_window);
        box.setInformativeText(folders.join('\n'));
        box.setDetailedText(all.join('\n'));
        box.button(QMessageBox::Yes)->setText(tr("Copy them"));
        box.button(QMessageBox::Cancel)->setText(tr("Copy nothing"));
        box.setDefaultButton(QMessageBox::Yes);
        return box.exec() == QMessageBox::Yes;
    }
    return true;
}

void MediaFiles::takeApart(const QString& id) {
    const Media* media = findMedia(*m_document->project(), id.toStdString());
    if (!media) return;
    QStringList files;
    for (const auto& file : filesOf(media->path)) files << QString::fromStdString(file.string());
    takePicturesApart(*m_document, id.toStdString());
    m_importer.start(files, toTray, false);
}

void MediaFiles::tellOfMissing() {
    QStringList names;
    for (const auto& id : m_document->missingMedia())
        if (const Media* media = findMedia(*m_document->project(), id))
            names << QString::fromStdString(media->path.string());
    if (names.isEmpty()) return emit allThere();
    emit problem(tr("%1 not where the project says, nor near it. Relink them in the Tray; the project keeps "
                    "its place for them.")
                     .arg(counted(names.size(), "file is", "files are")),
                 names.join("\n"));
}

} // namespace virga
