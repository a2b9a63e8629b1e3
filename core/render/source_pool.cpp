#include "core/render/source_pool.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/plan/plan.h"

namespace virga {
namespace {

Image<Linear16> cropped(const Image<Linear16>& whole, const Crop& crop) {
    Image<Linear16> part(croppedSize(whole.size(), crop));
    const int x = std::clamp(int(std::lround(whole.width() * crop.left)), 0, whole.width() - part.width());
    const int y = std::clamp(int(std::lround(whole.height() * crop.top)), 0, whole.height() - part.height());
    for (int j = 0; j < part.height(); ++j) std::copy_n(whole.row(y + j) + x, part.width(), part.row(j));
    return part;
}

} // namespace

std::shared_ptr<SourcePool::OpenFile> SourcePool::fileFor(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    auto& file = m_files[path];
    if (!file) {
        file = std::make_shared<OpenFile>();
        file->generation = m_generation;
    }
    return file;
}

Expected<std::shared_ptr<const Pyramid>> SourcePool::picture(const std::filesystem::path& path, Rational seconds,
                                                             const Crop& crop) {
    const auto file = fileFor(path);
    const auto keyOf = [&](std::int64_t index) {
        return Hash()
            .add(std::string_view(path.native()))
            .add(file->generation)
            .add(index)
            .add(crop.left)
            .add(crop.top)
            .add(crop.right)
            .add(crop.bottom)
            .value();
    };
    // What is there already does not wait for what is being decoded.
    if (const VideoReader* ready = file->ready.load())
        if (auto kept = m_pictures.find(keyOf(ready->indexAt(seconds)))) return kept;
    const std::lock_guard lock(file->mutex);
    if (file->error) return tl::unexpected(*file->error);
    if (!file->reader) {
        auto reader = VideoReader::open(path);
        if (!reader) {
            file->error = reader.error();
            return tl::unexpected(reader.error());
        }
        file->reader = std::move(*reader);
        file->ready = file->reader.get();
    }
    const auto index = file->reader->indexAt(seconds);
    const auto key = keyOf(index);
    if (auto kept = m_pictures.find(key)) return kept;
    auto picture = file->reader->read(index);
    if (!picture) return tl::unexpected(picture.error());
    auto pyramid = std::make_shared<const Pyramid>(crop.isEmpty() ? std::move(*picture) : cropped(*picture, crop));
    m_pictures.put(key, pyramid, pyramid->bytes());
    return std::shared_ptr<const Pyramid>(pyramid);
}

void SourcePool::forget(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    ++m_generation;
    m_files.erase(path);
}

} // namespace virga
