#include "core/render/source_pool.h"

#include <algorithm>
#include <cmath>

#include "core/base/fingerprint.h"
#include "core/base/hash.h"
#include "core/optical_flow/made_up.h"
#include "core/plan/plan.h"

namespace virga {
namespace {

// At a moment that was filmed there is nothing to be made up.
bool needsFlowAt(const SourceLook& look, double part) {
    return needsOpticalFlow(part > 0 ? look.inBetween : InBetween::Nearest, look.smear);
}

// Whole pixels that are cut off at the left and the top.
Point cropOffset(Size whole, const Crop& crop) {
    const Size part = croppedSize(whole, crop);
    return Point(std::clamp(int(std::lround(whole.width * crop.left)), 0, whole.width - part.width),
                 std::clamp(int(std::lround(whole.height * crop.top)), 0, whole.height - part.height));
}

Image<Linear16> cropped(const Image<Linear16>& whole, const Crop& crop) {
    Image<Linear16> part(croppedSize(whole.size(), crop));
    const Point off = cropOffset(whole.size(), crop);
    const int x = int(off.x), y = int(off.y);
    for (int j = 0; j < part.height(); ++j) std::copy_n(whole.row(y + j) + x, part.width(), part.row(j));
    return part;
}

// Of a picture of a file as it is looked at, whatever its size.
Hash pictureHash(std::string_view file, std::int64_t index, const SourceLook& look) {
    Hash hash;
    hash.add(file).add(index).add(look.deinterlace);
    for (const double side : {look.crop.left, look.crop.top, look.crop.right, look.crop.bottom}) hash.add(side);
    return hash;
}

} // namespace

std::shared_ptr<SourcePool::OpenFile> SourcePool::fileFor(const FileKey& key) {
    const std::lock_guard lock(m_mutex);
    auto& file = m_files[key];
    if (!file) {
        file = std::make_shared<OpenFile>();
        if (const auto at = m_generations.find(key.first); at != m_generations.end()) file->generation = at->second;
        if (const auto proxy = m_proxies.find(key); proxy != m_proxies.end()) file->proxyPath = proxy->second;
        file->hasProxy = !file->proxyPath.empty();
    }
    file->lastUsed = ++m_uses;
    file->lastAsked = std::chrono::steady_clock::now();
    const auto wanted = file;
    closeOldest();
    return wanted;
}

// Closes what was used longest ago, unless somebody is at it: where too many files are open, and where their decoders
// hold too much. Of those a frame's many layers ask for over and over none is closed: it would be opened for each
// frame.
void SourcePool::closeOldest() {
    constexpr auto aWhile = std::chrono::seconds(2);
    std::size_t held = 0;
    for (const auto& [key, file] : m_files) held += file->held;
    while (m_files.size() > mostOpen || held > m_mostHeld) {
        auto oldest = m_files.end();
        for (auto at = m_files.begin(); at != m_files.end(); ++at)
            if (at->second.use_count() == 1 &&
                (oldest == m_files.end() || at->second->lastUsed < oldest->second->lastUsed))
                oldest = at;
        if (oldest == m_files.end()) return;
        if (m_files.size() <= mostOpen && std::chrono::steady_clock::now() - oldest->second->lastAsked < aWhile) return;
        held -= oldest->second->held;
        m_files.erase(oldest);
    }
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
        // What a decoder keeps: about twelve pictures of 4:2:0 and the planes of one being converted (measured with
        // H.264 of 1280 x 720: 26 MB).
        const Size size = file.reader->info().video->size;
        file.held = std::size_t(size.width) * std::size_t(size.height) * 28;
    }
    return file.reader.get();
}

void SourcePool::dropProxy(OpenFile& file) {
    file.proxy.reset();
    file.proxyPath.clear();
    file.hasProxy = false;
}

// The file's light copy, opened if need be; null where there is none. REQUIRES: the file's mutex, its reader.
ProxyReader* SourcePool::proxyOf(OpenFile& file) {
    if (!file.proxy && !file.proxyPath.empty()) {
        auto opened = ProxyReader::open(file.proxyPath, *file.reader->info().video);
        if (opened)
            file.proxy = std::move(*opened);
        else
            dropProxy(file);
    }
    return file.proxy.get();
}

std::uint64_t SourcePool::pictureKey(const std::filesystem::path& path, const OpenFile& file, std::int64_t index,
                                     const SourceLook& look, int level, Enlarging enlarging) const {
    return pictureHash(path.native(), index, look).add(file.generation).add(enlarging).add(level).value();
}

Expected<SourcePool::Shown> SourcePool::pictureNumber(const std::filesystem::path& path, OpenFile& file,
                                                      std::int64_t index, const SourceLook& look) {
    const Crop& crop = look.crop;
    const auto keyOf = [&](int level, Enlarging enlarging) {
        return pictureKey(path, file, index, look, level, enlarging);
    };
    const auto key = keyOf(0, look.enlarging);
    const bool light = look.proxy && file.hasProxy;
    // What is there already does not wait for what is being decoded.
    if (auto kept = light ? nullptr : m_pictures.find(key)) return Shown{std::move(kept), 0, 1, {}, {}};
    const std::lock_guard lock(file.mutex);
    if (ProxyReader* proxy = light ? proxyOf(file) : nullptr) {
        const ProxyShape shape = proxy->shape();
        const Size whole = file.reader->info().video->size;
        const double scale = double(1 << shape.level);
        const Point off = cropOffset(whole, crop), offThere = cropOffset(shape.size, crop) * scale;
        const Matrix toSource = then(scaling(scale, scale), translation(offThere.x - off.x, offThere.y - off.y));
        const auto lightKey = keyOf(1 + shape.level, Enlarging::Bilinear);
        auto copy = m_pictures.find(lightKey);
        if (!copy) {
            if (auto picture = proxy->read(index)) {
                copy = std::make_shared<const Pyramid>(crop.isEmpty() ? std::move(*picture) : cropped(*picture, crop));
                m_pictures.put(lightKey, copy, copy->bytes());
            } else {
                dropProxy(file); // damaged: the source itself serves
            }
        }
        if (copy) return Shown{std::move(copy), 0, 1, croppedSize(whole, crop), toSource};
    }
    if (auto kept = m_pictures.find(key)) return Shown{std::move(kept), 0, 1, {}, {}};
    auto picture = file.reader->read(index);
    if (!picture) return tl::unexpected(picture.error());
    auto pyramid =
        std::make_shared<const Pyramid>(crop.isEmpty() ? std::move(*picture) : cropped(*picture, crop), look.enlarging);
    m_pictures.put(key, pyramid, pyramid->bytes());
    return Shown{std::move(pyramid), 0, 1, {}, {}};
}

Expected<SourcePool::Shown> SourcePool::shownAt(const std::filesystem::path& path, Rational seconds,
                                                const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return tl::unexpected(reader.error());
    return pictureNumber(path, *file, (*reader)->indexAt(seconds), look);
}

CodedPicture SourcePool::codedAt(const std::filesystem::path& path, Rational seconds, bool deinterlace) {
    const FileKey key{path, deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return {};
    const std::lock_guard lock(file->mutex);
    return file->reader->coded((*reader)->indexAt(seconds));
}

Expected<std::shared_ptr<const Pyramid>> SourcePool::picture(const std::filesystem::path& path, Rational seconds,
                                                             const SourceLook& look) {
    SourceLook whole = look;
    whole.proxy = false;
    auto shown = shownAt(path, seconds, whole);
    if (!shown) return tl::unexpected(shown.error());
    return std::move(shown->picture);
}

std::vector<SourcePool::Stretch> SourcePool::stretchesOf(const VideoReader& reader, Rational from, Rational to,
                                                         int most) {
    const std::int64_t first = reader.indexAt(from);
    std::int64_t last = to > from ? reader.indexAt(to) : first;
    if (last > first && reader.timeOf(last) >= to) --last; // it only begins when the span ends
    const std::int64_t all = last - first + 1, count = std::clamp<std::int64_t>(most, 1, all);
    std::vector<Stretch> stretches;
    for (std::int64_t i = 0; i < count; ++i)
        stretches.push_back({first + all * i / count, first + all * (i + 1) / count});
    return stretches;
}

std::vector<Rational> SourcePool::exposedTimes(const std::filesystem::path& path, Rational from, Rational to, int most,
                                               const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    std::vector<Rational> times;
    if (!reader) return times;
    for (const Stretch& stretch : stretchesOf(**reader, from, to, most))
        times.push_back((*reader)->timeOf(stretch.middle()));
    return times;
}

Expected<std::vector<SourcePool::Shown>> SourcePool::exposed(const std::filesystem::path& path, Rational from,
                                                             Rational to, int most, const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return tl::unexpected(reader.error());
    const double length = (to - from).toDouble();
    const std::vector<Stretch> stretches = stretchesOf(**reader, from, to, most);
    std::vector<Shown> out;
    for (std::size_t i = 0; i < stretches.size(); ++i) {
        const auto [begin, end] = stretches[i];
        const std::int64_t middle = stretches[i].middle();
        const auto part = [&](std::int64_t index) {
            return std::clamp(((*reader)->timeOf(index) - from).toDouble() / length, 0.0, 1.0);
        };
        auto picture = pictureNumber(path, *file, middle, look);
        if (!picture) return tl::unexpected(picture.error());
        if (look.smear > 0) {
            // Between what was filmed the flow fills in: each picture over all of its own stretch.
            SourceLook own = look;
            own.smear = look.smear * double(end - begin);
            picture =
                smearedPicture(path, *file, {middle, 0, middle < (*reader)->indexAt(Rational(std::int64_t(1) << 40))},
                               std::move(*picture), own);
        }
        picture->from = i == 0 ? 0 : part(begin);
        picture->to = i + 1 == stretches.size() ? 1 : part(end);
        out.push_back(std::move(*picture));
    }
    // A light copy may turn out damaged in between: pictures of one kind only, so that one map serves them all.
    if (std::any_of(out.begin(), out.end(), [&](const Shown& s) { return s.source != out.front().source; })) {
        SourceLook whole = look;
        whole.proxy = false;
        return exposed(path, from, to, most, whole);
    }
    return out;
}

SourcePool::Between SourcePool::betweenAt(const VideoReader& reader, Rational seconds) {
    Between at;
    at.index = reader.indexAt(seconds);
    const std::int64_t last = reader.indexAt(Rational(std::int64_t(1) << 40));
    at.hasNext = at.index < last;
    if (!at.hasNext) return at;
    const Rational from = reader.timeOf(at.index), to = reader.timeOf(at.index + 1);
    if (!(to > from)) return at;
    // In steps of 1/256: two frames that lie as near show the same.
    const double part = ((seconds - from) / (to - from)).toDouble();
    at.part = std::round(std::clamp(part, 0.0, 1.0) * 256) / 256;
    if (at.part >= 1) {
        at = {at.index + 1, 0, at.index + 1 < last};
    }
    return at;
}

// By the file's content, so that it is known again wherever the file lies; without light copies, which show the same.
std::uint64_t SourcePool::flowKey(const std::filesystem::path& path, OpenFile& file, std::int64_t index,
                                  const SourceLook& look) {
    {
        const std::lock_guard lock(file.mutex);
        if (file.fingerprint.empty()) file.fingerprint = fingerprintOf(path);
        if (file.fingerprint.empty()) file.fingerprint = path.native();
    }
    return pictureHash(file.fingerprint, index, look).value();
}

// From a picture to the next; null where it is not known and not to be found now, or cannot be.
FlowStore::Pointer SourcePool::flowAfter(const std::filesystem::path& path, OpenFile& file, std::int64_t index,
                                         const SourceLook& look) {
    const std::uint64_t key = flowKey(path, file, index, look);
    if (!look.findsFlow) return m_flow.find(key);
    SourceLook whole = look;
    whole.proxy = false;
    whole.enlarging = Enlarging::Bilinear;
    bool there = true;
    auto found = m_flow.findOrMake(key, [&]() -> FlowPair {
        const auto a = pictureNumber(path, file, index, whole), b = pictureNumber(path, file, index + 1, whole);
        there = a && b && a->picture->size() == b->picture->size() &&
                std::min(a->picture->size().width, a->picture->size().height) >= 2 * leastFlowSide;
        if (!there) return {};
        return flowBetween(greyOf(a->picture->level(0), flowSide), greyOf(b->picture->level(0), flowSide));
    });
    return found && !found->isEmpty() ? found : nullptr;
}

Expected<SourcePool::Shown> SourcePool::smearedPicture(const std::filesystem::path& path, OpenFile& file, Between at,
                                                       Shown shown, const SourceLook& look) {
    const double frames = std::round(look.smear * 64) / 64;
    // At the end the movement is that of the picture before.
    const bool ahead = at.hasNext || at.index == 0;
    if (frames <= 0 || (!at.hasNext && at.index == 0)) return shown;
    const auto flow = flowAfter(path, file, ahead ? at.index : at.index - 1, look);
    if (!flow) return shown;
    Image<Linear16> picture = smeared(shown.picture->level(0), *flow, ahead ? at.part : 1.0, frames);
    shown.picture =
        std::make_shared<const Pyramid>(std::move(picture), look.proxy ? Enlarging::Bilinear : look.enlarging);
    return shown;
}

Expected<SourcePool::Shown> SourcePool::seenAt(const std::filesystem::path& path, Rational seconds,
                                               const SourceLook& look) {
    if (look.inBetween == InBetween::Nearest && look.smear <= 0) return shownAt(path, seconds, look);
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return tl::unexpected(reader.error());
    Between at = betweenAt(**reader, seconds);
    if (look.inBetween == InBetween::Nearest) at = {(*reader)->indexAt(seconds), 0, at.hasNext};
    auto first = pictureNumber(path, *file, at.index, look);
    if (!first || (at.part <= 0 && look.smear <= 0)) return first;
    FlowStore::Pointer flow;
    const bool needs = needsFlowAt(look, at.part);
    if (needs && at.hasNext) flow = flowAfter(path, *file, at.index, look);
    const std::uint64_t made = Hash()
                                   .add(pictureKey(path, *file, at.index, look, 0, look.enlarging))
                                   .add(at.part)
                                   .add(look.inBetween)
                                   .add(std::round(look.smear * 64))
                                   .add(bool(flow))
                                   .add(first->picture->size().width)
                                   .value();
    if (auto kept = m_pictures.find(made)) {
        first->picture = std::move(kept);
        return first;
    }
    if (at.part > 0) {
        const auto second = pictureNumber(path, *file, at.index + 1, look);
        if (!second) return second;
        if (second->picture->size() != first->picture->size()) return first; // a light copy was dropped in between
        const Image<Linear16>&a = first->picture->level(0), &b = second->picture->level(0);
        Image<Linear16> picture =
            flow && look.inBetween == InBetween::MadeUp ? madeUp(a, b, *flow, at.part) : mixed(a, b, at.part);
        first->picture =
            std::make_shared<const Pyramid>(std::move(picture), look.proxy ? Enlarging::Bilinear : look.enlarging);
    }
    if (look.smear > 0) first = smearedPicture(path, *file, at, std::move(*first), look);
    if (first) m_pictures.put(made, first->picture, first->picture->bytes());
    return first;
}

std::optional<std::uint64_t> SourcePool::missingFlow(const std::filesystem::path& path, Rational seconds,
                                                     const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return std::nullopt;
    const Between at = betweenAt(**reader, seconds);
    const bool needs = needsFlowAt(look, at.part);
    if (!needs || !at.hasNext) return std::nullopt;
    const std::uint64_t flow = flowKey(path, *file, at.index, look);
    return m_flow.has(flow) ? std::nullopt : std::optional(flow);
}

void SourcePool::findFlow(const std::filesystem::path& path, Rational seconds, const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    if (!reader) return;
    if (const Between at = betweenAt(**reader, seconds); at.hasNext) {
        SourceLook finding = look;
        finding.findsFlow = true;
        (void)flowAfter(path, *file, at.index, finding);
    }
}

SourcePool::Trust SourcePool::trustAt(const std::filesystem::path& path, Rational seconds, const SourceLook& look) {
    const FileKey key{path, look.deinterlace};
    const auto file = fileFor(key);
    const auto reader = opened(key, *file);
    Trust trust;
    if (!reader || look.inBetween != InBetween::MadeUp) return trust;
    const Between at = betweenAt(**reader, seconds);
    if (at.part <= 0 || !at.hasNext) return trust;
    const auto flow = flowAfter(path, *file, at.index, look);
    if (!flow) return trust;
    trust.grid = flow->grid;
    trust.cells = virga::trustAt(*flow, at.part);
    double sum = 0;
    for (const float cell : trust.cells) sum += cell > 0.5F;
    trust.share = sum / double(std::max<std::size_t>(1, trust.cells.size()));
    return trust;
}

void SourcePool::useProxy(const std::filesystem::path& path, bool deinterlace, const std::filesystem::path& proxy) {
    const std::lock_guard lock(m_mutex);
    const FileKey key{path, deinterlace};
    if (proxy.empty())
        m_proxies.erase(key);
    else
        m_proxies[key] = proxy;
    m_files.erase(key); // opened anew, with it or without; who is at it goes on with what it has
}

void SourcePool::closeUnused() {
    const std::lock_guard lock(m_mutex);
    std::erase_if(m_files, [this](const auto& entry) {
        return entry.second.use_count() == 1 && entry.second->lastUsed <= m_usesBefore && !entry.second->error;
    });
    m_usesBefore = m_uses;
}

std::size_t SourcePool::openFiles() {
    const std::lock_guard lock(m_mutex);
    return m_files.size();
}

void SourcePool::forget(const std::filesystem::path& path) {
    const std::lock_guard lock(m_mutex);
    ++m_generations[path];
    for (const bool deinterlace : {false, true}) {
        m_files.erase({path, deinterlace});
        m_proxies.erase({path, deinterlace});
    }
}

} // namespace virga
