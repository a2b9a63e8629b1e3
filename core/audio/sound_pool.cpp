#include "core/audio/sound_pool.h"

namespace virga {

std::unique_ptr<AudioReader> SoundPool::take(const std::filesystem::path& path, Rational from, Rational speed) {
    const std::lock_guard lock(m_mutex);
    auto found = m_idle.end();
    for (auto at = m_idle.begin(); at != m_idle.end(); ++at) {
        if (at->path != path || at->speed != speed) continue;
        found = at; // one that has to seek is better than none
        if (at->reader->isAt(from)) break;
    }
    if (found == m_idle.end()) return nullptr;
    auto reader = std::move(found->reader);
    m_idle.erase(found);
    return reader;
}

Expected<std::vector<float>> SoundPool::read(const std::filesystem::path& path, Rational from, std::int64_t count,
                                             Rational speed, const Cancel& cancel) {
    auto reader = take(path, from, speed);
    if (!reader) {
        auto opened = AudioReader::open(path, speed, cancel);
        if (!opened) return tl::unexpected(opened.error());
        reader = std::move(*opened);
    }
    auto sound = reader->read(from, count, cancel);
    const std::lock_guard lock(m_mutex);
    m_idle.push_front({path, speed, std::move(reader)});
    if (m_idle.size() > most) m_idle.pop_back();
    return sound;
}

std::shared_ptr<const std::vector<float>> SoundPool::madeSound(std::uint64_t key) {
    const std::lock_guard lock(m_mutex);
    for (auto at = m_made.begin(); at != m_made.end(); ++at) {
        if (at->key != key) continue;
        m_made.splice(m_made.begin(), m_made, at);
        return at->sound;
    }
    return nullptr;
}

std::shared_ptr<const std::vector<float>> SoundPool::keepMade(std::uint64_t key, const std::filesystem::path& path,
                                                              std::vector<float> sound) {
    auto kept = std::make_shared<const std::vector<float>>(std::move(sound));
    const std::lock_guard lock(m_mutex);
    m_made.push_front({key, path, kept});
    if (m_made.size() > mostMade) m_made.pop_back();
    return kept;
}

void SoundPool::forget(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    m_idle.remove_if([&](const Kept& kept) { return kept.path == path; });
    m_made.remove_if([&](const Made& made) { return made.path == path; });
}

} // namespace virga
