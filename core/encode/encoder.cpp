#include "core/encode/encoder.h"

#include <fmt/format.h>

#include "core/encode/chunk_file.h"
#include "core/encode/movie_writer.h"
#include "core/encode/picture_files.h"

namespace virga {
namespace {

using namespace av;

class MovieEncoder : public Encoder {
public:
    static Expected<std::unique_ptr<Encoder>> open(const std::filesystem::path& path, const EncoderSettings& settings) {
        auto made = std::make_unique<MovieEncoder>();
        made->m_path = path, made->m_settings = settings;
        if (infoOf(settings.format).hasPictures()) {
            auto stage = VideoStage::open(settings, path.string());
            if (!stage) return tl::unexpected(stage.error());
            made->m_stage = std::move(*stage);
        }
        auto writer = MovieWriter::open(path, muxerOf(settings.format), settings, made->m_stage.get());
        if (!writer) return tl::unexpected(writer.error());
        made->m_writer = std::move(*writer);
        return std::unique_ptr<Encoder>(std::move(made));
    }
    Expected<void> addFrame(ImageView<const Rgba8> picture) override { return add(picture); }
    Expected<void> addFrame(ImageView<const Deep16> picture) override { return add(picture); }
    Expected<void> addFrame(ImageView<const LinearF> light) override { return add(light); }
    Expected<void> addFrame(const CodedPicture& picture) override { return add(picture); }
    Expected<void> addSound(std::span<const float> stereo) override { return m_writer->addSound(stereo); }

    Expected<void> addChunk(const std::filesystem::path& chunk, std::int64_t frames) override {
        assert(m_stage && m_stage->frames() == 0);
        const auto from = m_from;
        m_from += frames;
        return readChunk(chunk, m_stage->context(), frames,
                         [&](AVPacket& packet) { return m_writer->addPicture(packet, from); });
    }

    Expected<void> finish() override {
        if (m_stage && m_stage->frames() > 0)
            if (auto done = m_stage->finish(sink()); !done) return done;
        return m_writer->finish();
    }

private:
    VideoStage::Sink sink() {
        return [this](AVPacket& packet) { return m_writer->addPicture(packet, m_from); };
    }
    template <typename Picture> Expected<void> add(const Picture& picture) {
        assert(m_stage && picture.size() == m_settings.size);
        if (m_settings.chunk > 0 && m_stage->frames() == m_settings.chunk) {
            if (auto done = m_stage->finish(sink()); !done) return done;
            m_from += m_settings.chunk;
            auto next = VideoStage::open(m_settings, m_path.string());
            if (!next) return tl::unexpected(next.error());
            m_stage = std::move(*next);
        }
        return m_stage->add(picture, sink());
    }

    std::filesystem::path m_path;
    EncoderSettings m_settings;
    std::unique_ptr<VideoStage> m_stage;
    std::unique_ptr<MovieWriter> m_writer;
    std::int64_t m_from = 0; // the stage's first frame
};

Expected<void> checked(const std::filesystem::path& path, const EncoderSettings& settings) {
    if (infoOf(settings.format).hasPictures())
        if (auto done = fits(settings.size, settings.format, path.string()); !done) return done;
    if (!isUsableRate(settings.rate))
        return fail(ErrorCode::BadInput, "the frame rate is not between 1 and 1000", path.string());
    return {};
}

} // namespace

std::int64_t keyDistance(FrameRate rate) {
    return std::max<std::int64_t>(1, roundToInteger(rate * 2));
}
std::int64_t chunkLength(FrameRate rate) {
    return 2 * keyDistance(rate);
}

Expected<std::unique_ptr<Encoder>> Encoder::open(const std::filesystem::path& path, const EncoderSettings& asked) {
    EncoderSettings settings = asked;
    if (auto decided = settled(asked, path.string()))
        static_cast<DeliverySettings&>(settings) = *decided;
    else
        return tl::unexpected(decided.error());
    if (auto done = checked(path, settings); !done) return tl::unexpected(done.error());
    const FormatInfo& info = infoOf(settings.format);
    if (!info.chunked) settings.chunk = 0;
    if (info.sounds.empty()) settings.sound = false;
    if (info.sequence) return openPictureFiles(path, settings);
    return MovieEncoder::open(path, settings);
}

namespace {

class VideoChunk : public ChunkEncoder {
public:
    static Expected<std::unique_ptr<ChunkEncoder>> open(const std::filesystem::path& chunk,
                                                        const EncoderSettings& settings) {
        auto made = std::make_unique<VideoChunk>();
        auto stage = VideoStage::open(settings, chunk.string());
        if (!stage) return tl::unexpected(stage.error());
        made->m_stage = std::move(*stage);
        auto file = ChunkFile::create(chunk, settings, *made->m_stage);
        if (!file) return tl::unexpected(file.error());
        made->m_file = std::move(*file);
        return std::unique_ptr<ChunkEncoder>(std::move(made));
    }
    Expected<void> addFrame(ImageView<const Rgba8> picture) override { return m_stage->add(picture, sink()); }
    Expected<void> addFrame(ImageView<const Deep16> picture) override { return m_stage->add(picture, sink()); }
    Expected<void> addFrame(ImageView<const LinearF> light) override { return m_stage->add(light, sink()); }
    Expected<void> addFrame(const CodedPicture& picture) override { return m_stage->add(picture, sink()); }
    Expected<void> finish() override {
        if (auto done = m_stage->finish(sink()); !done) return done;
        return m_file->finish();
    }

private:
    VideoStage::Sink sink() {
        return [this](AVPacket& packet) { return m_file->add(packet); };
    }
    std::unique_ptr<VideoStage> m_stage;
    std::unique_ptr<ChunkFile> m_file;
};

// A sequence's part: its pictures stand where they belong, and the chunk's file says that they are whole.
class PictureChunk : public ChunkEncoder {
public:
    PictureChunk(std::filesystem::path chunk, std::unique_ptr<Encoder> pictures)
        : m_chunk(std::move(chunk)), m_pictures(std::move(pictures)) {}
    Expected<void> addFrame(ImageView<const Rgba8> picture) override { return counted(m_pictures->addFrame(picture)); }
    Expected<void> addFrame(ImageView<const Deep16> picture) override { return counted(m_pictures->addFrame(picture)); }
    Expected<void> addFrame(ImageView<const LinearF> light) override { return counted(m_pictures->addFrame(light)); }
    Expected<void> addFrame(const CodedPicture& picture) override { return counted(m_pictures->addFrame(picture)); }
    Expected<void> finish() override {
        if (auto done = m_pictures->finish(); !done) return done;
        return writePictureList(m_chunk, m_count);
    }

private:
    Expected<void> counted(Expected<void> done) {
        if (done) ++m_count;
        return done;
    }
    std::filesystem::path m_chunk;
    std::unique_ptr<Encoder> m_pictures;
    std::int64_t m_count = 0;
};

} // namespace

Expected<std::unique_ptr<ChunkEncoder>> ChunkEncoder::open(const std::filesystem::path& chunk,
                                                           const std::filesystem::path& target,
                                                           const EncoderSettings& asked) {
    EncoderSettings settings = asked;
    if (auto decided = settled(asked, target.string()))
        static_cast<DeliverySettings&>(settings) = *decided;
    else
        return tl::unexpected(decided.error());
    settings.sound = false; // it is added when chunks are joined
    if (auto done = checked(chunk, settings); !done) return tl::unexpected(done.error());
    const FormatInfo& info = infoOf(settings.format);
    if (!info.chunked)
        return fail(ErrorCode::Unsupported, fmt::format("{} cannot be made in chunks", info.name), target.string(),
                    "export it whole");
    if (!info.sequence) return VideoChunk::open(chunk, settings);
    auto pictures = openPictureFiles(target, settings);
    if (!pictures) return tl::unexpected(pictures.error());
    return std::unique_ptr<ChunkEncoder>(new PictureChunk(chunk, std::move(*pictures)));
}

} // namespace virga
