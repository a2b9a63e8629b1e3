#pragma once
// Finds out what dropped or chosen files are, in the background, one after the other in their order.
#include <QObject>
#include <QStringList>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/decode/media_info.h"

namespace virga {

struct Imported {
    std::vector<MediaInfo> files; // in the order given, with fingerprints
    std::vector<Error> unreadable;
    bool stopped = false;
};

class Importer : public QObject {
    Q_OBJECT
public:
    explicit Importer(QObject* parent = nullptr) : QObject(parent) {}

    /// Probes files; `finished` tells what they are. Folders are looked into, with what lies in them; runs of numbered
    /// pictures become sequences unless `sequences` is false. `place` comes back unchanged.
    void start(const QStringList& paths, int place, bool sequences = true);
    void cancel();
    /// The same; what was read already is not told either: it was for another piece.
    void abandon();
    bool isBusy() const { return m_running > 0; }

signals:
    void progress(int done, int all);
    void finished(const virga::Imported& imported, int place);

private:
    Cancel m_cancel;
    int m_running = 0;
    int m_generation = 0;
};

/// The files that paths mean: folders opened up, hidden files and those that are surely no media left out, sorted as
/// people count (2 before 10), runs of numbered pictures as sequences.
std::vector<std::filesystem::path> filesToProbe(const QStringList& paths, bool sequences);

} // namespace virga
