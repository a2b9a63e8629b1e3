#pragma once
// Decoded source pictures with their mip levels, shared by preview, ladder and export. Bounded in bytes; safe for any
// number of threads, which wait for each other only on the same file.
#include <atomic>
#include <chrono>
#include <filesystem>
#include <limits>
#include <map>
#include <memory>
#include <mutex>
#include <vector>

#include "core/base/bounded_cache.h"
#include "core/base/error.h"
#include "core/decode/video_reader.h"
#include "core/encode/proxy.h"
#include "core/optical_flow/optical_flow_store.h"
#include "core/project/project.h"
#include "core/raster/pyramid.h"

namespace virga {

/// What is done to a file's pictures before they are sampled.
struct SourceLook {
    Crop crop; // cut off, in whole pixels
    Enlarging enlarging = Enlarging::Bilinear;
    bool deinterlace = true;                  // where the file is interlaced
    bool proxy = false;                       // its light copy serves, where it has one
    InBetween inBetween = InBetween::Nearest; // what stands for a moment between two pictures
    bool findsFlow = true;                    // false: where flow is not known yet, pictures are mixed and not smeared
    double smear = 0;                         // of what moves in the shot, in source pictures' worth of its movement
};

class SourcePool {
public:
    explicit SourcePool(std::size_t mostBytes = std::size_t(1) << 30) : m_pictures(mostBytes) {}

    /// The picture on screen at a time, in seconds from the file's first one. Errors: as VideoReader.
    Expected<std::shared_ptr<const Pyramid>> picture(const std::filesystem::path& path, Rational seconds,
                                                     const SourceLook& look = {});

    /// The picture on screen at a time as the file has it, where that is plain (see VideoReader::coded); else nothing.
    CodedPicture codedAt(const std::filesystem::path& path, Rational seconds, bool deinterlace);

    /// One of the pictures on screen during a span of the source's time, and during which part of it, 0 to 1.
    struct Shown {
        std::shared_ptr<const Pyramid> picture;
        double from = 0, to = 1;
        Size source{};   // of the whole picture after cropping, where this one is a light copy; else empty
        Matrix toSource; // from its pixels to those of the whole picture
        Size size() const { return source.isEmpty() ? picture->size() : source; }
    };
    /// The one on screen at a time, from the light copy where the look says so. Errors: as VideoReader.
    Expected<Shown> shownAt(const std::filesystem::path& path, Rational seconds, const SourceLook& look);
    /// What is seen at a moment: the picture then, or one between it and the next, as the look says; smeared along its
    /// own movement. Errors: as VideoReader.
    Expected<Shown> seenAt(const std::filesystem::path& path, Rational seconds, const SourceLook& look);
    /// A number for the flow that a moment needs and that is not known yet; empty where it needs none, or the file
    /// cannot be read.
    std::optional<std::uint64_t> missingFlow(const std::filesystem::path& path, Rational seconds,
                                             const SourceLook& look);
    /// Finds the flow that a moment needs, where it is not known.
    void findFlow(const std::filesystem::path& path, Rational seconds, const SourceLook& look);
    /// Where in its picture what is made up at a moment is to be trusted, 0 to 1, and the share that is; empty where
    /// nothing is made up, or its flow is not known.
    struct Trust {
        Size grid;
        std::vector<float> cells;
        double share = 1;
    };
    Trust trustAt(const std::filesystem::path& path, Rational seconds, const SourceLook& look);
    FlowStore& flow() { return m_flow; }

    /// All of them in order; of more than `most` (at least 1) pictures, evenly spaced ones stand for their neighbours.
    /// REQUIRES: from <= to. Errors: as VideoReader.
    Expected<std::vector<Shown>> exposed(const std::filesystem::path& path, Rational from, Rational to, int most,
                                         const SourceLook& look = {});

    /// The times of the pictures that `exposed` takes; none where the file cannot be read.
    std::vector<Rational> exposedTimes(const std::filesystem::path& path, Rational from, Rational to, int most,
                                       const SourceLook& look = {});

    /// A light copy of a file (see core/encode/proxy.h) serves from now on; an empty path: none does. One that turns
    /// out to be none is not used.
    void useProxy(const std::filesystem::path& path, bool deinterlace, const std::filesystem::path& proxy);
    /// Closes the files that nobody has asked for since it was called last; their pictures stay.
    void closeUnused();
    std::size_t openFiles();

    /// Forgets a file: its reader and its errors, after it was changed or relinked.
    void forget(const std::filesystem::path& path);
    std::size_t bytes() const { return m_pictures.bytes() + m_flow.bytes(); }
    /// An eighth of it is for flow. The decoders of open files take no more beside it, but for those of this moment.
    void setMost(std::size_t bytes) {
        m_pictures.setMost(bytes - bytes / 8), m_flow.setMost(bytes / 8);
        m_mostHeld = bytes;
    }
    /// Raises its limit, where that is lower: what one frame shows must fit.
    void holdAtLeast(std::size_t bytes) { m_pictures.holdAtLeast(bytes); }

private:
    struct OpenFile {
        std::mutex mutex;
        std::unique_ptr<VideoReader> reader;
        std::atomic<const VideoReader*> ready{nullptr}; // the same once it is open, for asking which picture is which
        std::optional<Error> error;
        std::uint64_t generation = 0, lastUsed = 0;
        std::chrono::steady_clock::time_point lastAsked{};
        std::filesystem::path proxyPath;
        std::unique_ptr<ProxyReader> proxy; // opened when first asked for
        std::atomic<bool> hasProxy{false};
        std::string fingerprint;          // taken when first needed
        std::atomic<std::size_t> held{0}; // bytes that its decoder takes, about
    };
    static constexpr std::size_t mostOpen = 32;             // files kept open: each has a decoder with its threads
    using FileKey = std::pair<std::filesystem::path, bool>; // and whether it is deinterlaced
    std::shared_ptr<OpenFile> fileFor(const FileKey& key);
    void closeOldest(); // REQUIRES: m_mutex
    Expected<const VideoReader*> opened(const FileKey& key, OpenFile& file);
    Expected<Shown> pictureNumber(const std::filesystem::path& path, OpenFile& file, std::int64_t index,
                                  const SourceLook& look);
    // A moment among the pictures: which one is on screen, how far it is to the next (0 at the picture and at the end).
    struct Between {
        std::int64_t index = 0;
        double part = 0;
        bool hasNext = false;
    };
    // Pictures that one of them stands for, [begin, end).
    struct Stretch {
        std::int64_t begin = 0, end = 0;
        std::int64_t middle() const { return begin + (end - begin) / 2; }
    };
    static std::vector<Stretch> stretchesOf(const VideoReader& reader, Rational from, Rational to, int most);
    static Between betweenAt(const VideoReader& reader, Rational seconds);
    std::uint64_t pictureKey(const std::filesystem::path& path, const OpenFile& file, std::int64_t index,
                             const SourceLook& look, int level, Enlarging enlarging) const;
    std::uint64_t flowKey(const std::filesystem::path& path, OpenFile& file, std::int64_t index,
                          const SourceLook& look);
    FlowStore::Pointer flowAfter(const std::filesystem::path& path, OpenFile& file, std::int64_t index,
                                 const SourceLook& look);
    Expected<Shown> smearedPicture(const std::filesystem::path& path, OpenFile& file, Between at, Shown shown,
                                   const SourceLook& look);
    static ProxyReader* proxyOf(OpenFile& file);
    static void dropProxy(OpenFile& file);

    std::mutex m_mutex;
    std::map<FileKey, std::shared_ptr<OpenFile>> m_files;
    std::map<FileKey, std::filesystem::path> m_proxies;
    std::map<std::filesystem::path, std::uint64_t> m_generations; // of files that were changed or relinked
    std::uint64_t m_uses = 0, m_usesBefore = 0;
    std::atomic<std::size_t> m_mostHeld = std::numeric_limits<std::size_t>::max();
    BoundedCache<Pyramid> m_pictures;
    FlowStore m_flow;
};

} // namespace virga
