#pragma once
// Readers of sound that stay open, so that what is asked for next goes on without a seam. Any thread may ask; a reader
// works for one at a time.
#include <list>
#include <mutex>

#include "core/audio/audio_reader.h"

namespace virga {

class SoundPool {
public:
    /// As AudioReader::read. Errors: as AudioReader.
    Expected<std::vector<float>> read(const std::filesystem::path& path, Rational from, std::int64_t count,
                                      Rational speed, const Cancel& cancel = {});

    /// Sound that was made of a file's, by a number that says how; null where it is not kept. The last few are.
    std::shared_ptr<const std::vector<float>> madeSound(std::uint64_t key);
    std::shared_ptr<const std::vector<float>> keepMade(std::uint64_t key, const std::filesystem::path& path,
                                                       std::vector<float> sound);

    /// Forgets a file's readers and what was made of it, after it was changed or relinked.
    void forget(const std::filesystem::path& path);

private:
    static constexpr std::size_t most = 16; // readers kept
    struct Kept {
        std::filesystem::path path;
        Rational speed;
        std::unique_ptr<AudioReader> reader;
    };
    std::unique_ptr<AudioReader> take(const std::filesystem::path& path, Rational from, Rational speed);

    std::mutex m_mutex;
    std::list<Kept> m_idle;                     // the one used last in front
    static constexpr std::size_t mostMade = 24; // 3 MB each
    struct Made {
        std::uint64_t key;
        std::filesystem::path path;
        std::shared_ptr<const std::vector<float>> sound;
    };
    std::list<Made> m_made; // likewise
};

} // namespace virga
