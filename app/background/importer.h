#pragma once
// Finds out what dropped or chosen files are, in the background, one after the other in their order.
#include <QObject>
#include <QStringList>
#include <vector>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/media/media_info.h"

namespace virga {

struct Imported {
    std::vector<MediaInfo> files; // in the order given
    std::vector<Error> unreadable;
};

class Importer : public QObject {
    Q_OBJECT
public:
    explicit Importer(QObject* parent = nullptr) : QObject(parent) {}

    /// Probes files (folders are looked into, one level); `finished` tells what they are. `place` comes back unchanged.
    void start(const QStringList& paths, int place);
    void cancel() { m_cancel.request(); }
    bool isBusy() const { return m_running > 0; }

signals:
    void progress(int done, int all);
    void finished(const virga::Imported& imported, int place);

private:
    Cancel m_cancel;
    int m_running = 0;
};

} // namespace virga
