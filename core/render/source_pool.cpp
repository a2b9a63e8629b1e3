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

std::shared_ptr<SourcePool::OpenFile> SourcePool::fileFor(const FileKey& key) {
    const std::lock_guard lock(m_mutex);
    auto& file = m_files[key];
    if (!file) {
        file = std::make_shared<OpenFile>();
        file->generation = m_generation;
    }
    file->lastUsed = ++m_uses;
    const auto wanted = file;
    while (m_files.size() > mostOpen) { // the one used longest ago, unless somebody is at it
        auto oldest = m_files.end();
        for (auto at = m_files.begin(); at != m_files.end(); ++at)
            if (at->second.use_count() == 1 &&
                (oldest == m_files.end() || at->second->lastUsed < oldest->second->lastUsed))
                oldest = at;
        if (oldest == m_files.end()) break;
        m_files.erase(oldest);
    }
    return wanted;
}

// The file's reader, opened if need be; it may be asked which picture is which without a lock.
Expected<const VideoReader*> SourcePool::opened(const FileKey& key, OpenFile& file) {
    if (const VideoReader* ready = file.ready.load()) return ready;
    const std::lock_guard lock(file.mutex);
    if (file.error) return tl::unexpected(*file.error);
    if (!file.reader) {
        auto reader = VideoReader::open(key.first, {}, key.second);
        if (!reader) {
            file.error = reader.error();
            return tl::unexpected(reader.error());
        }
        file.reader = std::move(*reader);
        file.ready = file.reader.get();
    }
    return file.reader.get();
}

Expected<std::shared_ptr<const Pyramid>> SourcePool::pictureNumber(const std::filesystem::path& path, OpenFile& file,
                                                                   std::int64_t index, const SourceLook& look) {
    const Crop& crop = look.crop;
    const auto key = Hash()
                         .add(std::string_view(path.native()))
                         .add(file.generation)
                         .add(index)
                         .add(crop.left)
                         .add(crop.top)
                         .add(crop.right)
                         .add(crop.bottom)
                         .add(look.enlarging)
                         .add(look.deinterlace)
                         .value();
    // What is there already does not wait for what is being decoded.
    if (auto kept = m_pictures.find(key)) return kept;
    const std::lock_guard lock(file.mutex);
    if (auto kept = m_pictures.find(key)) return kept;
    auto picture = file.reader->read(index);
    if (!picture) return tl::unexpected(picture.error());
    auto pyramid =
        std::make_shared<const Pyramid>(crop.isEmpty() ? std::move(*picture) : cropped(*picture, crop), look.enlarging);
    m_pictures.put(key, pyramid, pyramid->bytes());
    return std::shared_ptr<const Pyramid>(pyramid);
}

Expected<std::shared_ptr<const Pyramid>> SourcePool::picture(const std::filesystem::path& path, Rational seconds,
                                                             const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return tl::unexpected(reader.error());
    return pictureNumber(path, *file, (*reader)->indexAt(seconds), look);
}

Expected<std::vector<SourcePool::Shown>> SourcePool::exposed(const std::filesystem::path& path, Rational from,
                                                             Rational to, int most, const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return tl::unexpected(reader.error());
    const double length = (to - from).toDouble();
    const std::int64_t first = (*reader)->indexAt(from);
    std::int64_t last = length > 0 ? (*reader)->indexAt(to) : first;
    if (last > first && (*reader)->timeOf(last) >= to) --last; // it only begins when the span ends
    const std::int64_t all = last - first + 1, count = std::clamp<std::int64_t>(most, 1, all);
    std::vector<Shown> out;
    for (std::int64_t i = 0; i < count; ++i) {
        const std::int64_t begin = first + all * i / count, end = first + all * (i + 1) / count;
        const auto part = [&](std::int64_t index) {
            return std::clamp(((*reader)->timeOf(index) - from).toDouble() / length, 0.0, 1.0);
        };
        auto picture = pictureNumber(path, *file, begin + (end - begin) / 2, look);
        if (!picture) return tl::unexpected(picture.error());
        out.push_back({std::move(*picture), i == 0 ? 0 : part(begin), i + 1 == count ? 1 : part(end)});
    }
    return out;
}

void SourcePool::forget(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    ++m_generation;
    for (const bool deinterlace : {false, true}) m_files.erase({path, deinterlace});
}

} // namespace virga
