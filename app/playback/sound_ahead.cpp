#include "app/playback/sound_ahead.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include "app/services/in_background.h"
#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"

namespace virga {
namespace {

constexpr double blockSeconds = 0.5, aheadSeconds = 3;
constexpr std::size_t aheadFloats = std::size_t(aheadSeconds * audioRate) * audioChannels;

} // namespace

SoundAhead::SoundAhead(Snapshot project, std::int64_t from, std::int64_t to, std::int64_t start,
                       std::shared_ptr<SoundPool> pool)
    : m_project(std::move(project)), m_from(from), m_to(std::max(from + 1, to)),
      m_next(std::clamp(start, m_from, m_to - 1)), m_pool(std::move(pool)) {
    open(QIODevice::ReadOnly | QIODevice::Unbuffered);
    mixOn();
}

SoundAhead::~SoundAhead() {
    m_cancel.request();
}

qint64 SoundAhead::bytesAvailable() const {
    // As much as anybody may ask for: what is missing is silence.
    return qint64(aheadFloats * sizeof(float)) + QIODevice::bytesAvailable();
}

void SoundAhead::mixOn() {
    if (m_mixing) return;
    {
        const std::lock_guard lock(m_mutex);
        if (m_held >= aheadFloats) return;
    }
    m_mixing = true;
    leaveOutWhatIsLate();
    const double rate = m_project->settings.rate.toDouble();
    const std::int64_t first = m_next,
                       last = std::min(m_to,
                                       first + std::max<std::int64_t>(1, std::int64_t(std::ceil(blockSeconds * rate))));
    m_next = last >= m_to ? m_from : last;
    inBackground(
        this,
        [project = m_project, first, last, pool = m_pool, cancel = m_cancel] {
            return mixSound(*project, first, last, *pool, nullptr, cancel).stereo;
        },
        [this](std::vector<float> block) {
            m_mixing = false;
            keep(std::move(block));
            if (!m_told) m_told = true, emit ready();
            mixOn();
        });
}

// Whole frames whose time has passed are not mixed at all.
void SoundAhead::leaveOutWhatIsLate() {
    const std::lock_guard lock(m_mutex);
    const FrameRate rate = m_project->settings.rate;
    for (;;) {
        const auto samples = sampleOfFrame(m_next + 1, rate) - sampleOfFrame(m_next, rate);
        const auto floats = std::size_t(samples) * audioChannels;
        if (m_owed < floats) return;
        m_owed -= floats;
        m_next = m_next + 1 >= m_to ? m_from : m_next + 1;
    }
}

void SoundAhead::keep(std::vector<float> block) {
    const std::lock_guard lock(m_mutex);
    const std::size_t late = std::min(m_owed, block.size()); // nothing else is held where anything is owed
    m_owed -= late;
    if (late == block.size()) return;
    if (late > 0) m_at = late;
    m_held += block.size() - late;
    m_mostHeld = std::max(m_mostHeld, m_held * sizeof(float));
    m_blocks.push_back(std::move(block));
}

void SoundAhead::skip(double seconds) {
    std::vector<char> gone(std::size_t(std::max(0.0, seconds) * audioRate) * audioChannels * sizeof(float));
    if (!gone.empty()) readData(gone.data(), qint64(gone.size()));
}

std::int64_t SoundAhead::taken() const {
    const std::lock_guard lock(m_mutex);
    return m_taken;
}

std::size_t SoundAhead::held() const {
    const std::lock_guard lock(m_mutex);
    return m_held;
}

qint64 SoundAhead::readData(char* data, qint64 most) {
    qint64 done = 0;
    {
        const std::lock_guard lock(m_mutex);
        while (done < most && !m_blocks.empty()) {
            const auto& block = m_blocks.front();
            const std::size_t n = std::min<std::size_t>(std::size_t(most - done) / sizeof(float), block.size() - m_at);
            std::memcpy(data + done, block.data() + m_at, n * sizeof(float));
            done += qint64(n * sizeof(float));
            m_at += n, m_held -= n;
            if (m_at >= block.size()) m_blocks.pop_front(), m_at = 0;
            if (n == 0) break;
        }
        m_taken += most / qint64(audioChannels * sizeof(float));
        if (done < most) {
            m_missed += (most - done) / qint64(audioChannels * sizeof(float));
            m_owed += std::size_t(most - done) / sizeof(float);
        }
    }
    std::memset(data + done, 0, std::size_t(most - done));
    // The device may read from a thread of its own.
    QMetaObject::invokeMethod(
        this, [this] { mixOn(); }, Qt::QueuedConnection);
    return most;
}

} // namespace virga
