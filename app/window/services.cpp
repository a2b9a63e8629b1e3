#include "app/window/services.h"

#include <QSettings>

namespace virga {

Services::Services() {
    const qulonglong set = QSettings().value("cacheMegabytes").toULongLong();
    setMemory(set > 0 ? std::size_t(set) << 20 : FrameService::usualBudget());
}

// An eighth is for the small pictures of Reel and Tray.
void Services::setMemory(std::size_t bytes) {
    m_memory = bytes;
    thumbnails.setBudget(bytes / 8);
    frames.setBudget(bytes - bytes / 8);
}

void Services::forget(const QString& file) {
    frames.forget(file.toStdString());
    player.forget(file.toStdString());
    proxies.forget(file);
    shots.forget(file);
}

bool Services::isIdle() {
    return shots.isIdle() && frames.isIdle() && thumbnails.isIdle() && waveforms.isIdle() && flow.isIdle();
}

void Services::silence() {
    frames.disconnect();
    document.disconnect(); // it tells of its undo stack's end, too
}

} // namespace virga
