#include "app/services/waveform.h"

#include <algorithm>
#include <cmath>

#include "app/services/in_background.h"
#include "core/audio/audio_reader.h"

namespace virga {

QVector<float> Waveforms::get(const Media& media) {
    const QString path = QString::fromStdString(media.path.string());
    if (const auto at = m_peaks.constFind(path); at != m_peaks.constEnd()) return *at;
    if (m_wanted.contains(path) || !media.sound) return {};
    m_wanted.insert(path);
    const double seconds = std::clamp(media.duration.toDouble(), 0.0, 3600.0);
    inBackground(
        this,
        [file = media.path, seconds, cancel = m_cancel] {
            QVector<float> peaks;
            constexpr int block = audioRate / perSecond, chunk = 30; // by 30 seconds, so that memory stays small
            const auto reader = AudioReader::open(file, 1, cancel);
            if (!reader) return peaks;
            for (double from = 0; from < seconds && !cancel.requested(); from += chunk) {
                const auto count = std::int64_t(std::min<double>(chunk, seconds - from) * audioRate);
                const auto sound = (*reader)->read(Rational(std::int64_t(from)), count, cancel);
                if (!sound) break;
                for (std::int64_t i = 0; i + block <= count; i += block) {
                    float peak = 0;
                    for (int k = 0; k < block * audioChannels; ++k)
                        peak = std::max(peak, std::abs((*sound)[std::size_t(i) * audioChannels + std::size_t(k)]));
                    peaks.push_back(peak);
                }
            }
            return peaks;
        },
        [this, path](QVector<float> peaks) {
            m_wanted.remove(path);
            m_peaks.insert(path, std::move(peaks));
            emit ready();
        });
    return {};
}

} // namespace virga
