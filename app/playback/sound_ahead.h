#pragma once
// The sound of a span of the reel, again and again, mixed in the background in blocks ahead of what is heard: the whole
// is never held. Reading never waits: what is not mixed yet is silence, and counted; what comes after it is heard when
// it is due.
#include <QIODevice>
#include <deque>
#include <memory>
#include <mutex>

#include "app/document/document.h"
#include "core/audio/sound_pool.h"
#include "core/base/cancel.h"

namespace virga {

class SoundAhead : public QIODevice {
    Q_OBJECT
public:
    /// From a frame of the span [from, to) on. `ready` is told once there is something to hear.
    SoundAhead(Snapshot project, std::int64_t from, std::int64_t to, std::int64_t start,
               std::shared_ptr<SoundPool> pool);
    ~SoundAhead() override;

    bool isSequential() const override { return true; }
    qint64 bytesAvailable() const override;
    /// Stereo samples that were asked for before they were mixed.
    std::int64_t missed() const { return m_missed; }
    /// Stereo samples that the device has taken, or that were left out.
    std::int64_t taken() const;
    /// Leaves out so many seconds of what was mixed.
    void skip(double seconds);
    /// Floats that are mixed and wait; the most that was held at once, in bytes.
    std::size_t held() const;
    std::size_t mostHeld() const { return m_mostHeld; }

signals:
    void ready();

protected:
    qint64 readData(char* data, qint64 most) override;
    qint64 writeData(const char*, qint64) override { return -1; }

private:
    void mixOn();
    void leaveOutWhatIsLate();
    void keep(std::vector<float> block);
    const Snapshot m_project;
    const std::int64_t m_from, m_to;
    std::int64_t m_next; // the frame whose sound is mixed next
    std::shared_ptr<SoundPool> m_pool;
    Cancel m_cancel;
    mutable std::mutex m_mutex;
    std::deque<std::vector<float>> m_blocks;
    std::size_t m_at = 0, m_held = 0, m_mostHeld = 0; // in the first block; of all, in floats
    std::size_t m_owed = 0;                           // of what is mixed next, in floats: its time has passed
    std::int64_t m_missed = 0, m_taken = 0;
    bool m_mixing = false, m_told = false;
};

} // namespace virga
