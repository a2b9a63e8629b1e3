#include "core/render/source_pool.h"

#include "core/base/hash.h"

namespace virga {

std::shared_ptr<SourcePool::OpenFile> SourcePool::fileFor(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    auto& file = m_files[path];
    if (!file) {
        file = std::make_shared<OpenFile>();
        file->generation = m_generation;
    }
    return file;
}

Expected<std::shared_ptr<const Pyramid>> SourcePool::picture(const std::filesystem::path& path, Rational seconds) {
    const auto file = fileFor(path);
    const std::lock_guard lock(file->mutex);
    if (file->error) return tl::unexpected(*file->error);
    if (!file->reader) {
        auto reader = VideoReader::open(path);
        if (!reader) {
            file->error = reader.error();
            return tl::unexpected(reader.error());
        }
        file->reader = std::move(*reader);
    }
    const auto index = file->reader->indexAt(seconds);
    const auto key = Hash().add(std::string_view(path.native())).add(file->generation).add(index).value();
    if (auto kept = m_pictures.find(key)) return kept;
    auto picture = file->reader->read(index);
    if (!picture) return tl::unexpected(picture.error());
    auto pyramid = std::make_shared<const Pyramid>(std::move(*picture));
    m_pictures.put(key, pyramid, pyramid->bytes());
    return std::shared_ptr<const Pyramid>(pyramid);
}

void SourcePool::forget(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    ++m_generation;
    m_files.erase(path);
}

} // namespace virga
