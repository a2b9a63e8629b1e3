#include "core/encode/proxy.h"

#include <algorithm>

#include "core/decode/video_reader.h"
#include "core/encode/encoder.h"
#include "core/raster/pyramid.h"
#include "core/raster/transfer.h"

namespace virga {
namespace {

// What decodes at about 100 million pixels a second is reached within a second.
constexpr double mostPixels = 1920.0 * 1200, mostToReach = 100e6;

// The encoder takes even sizes of 16 pixels at least: the last column and row stand once more.
Size storedSize(Size size) {
    return {std::max(16, (size.width + 1) / 2 * 2), std::max(16, (size.height + 1) / 2 * 2)};
}

class Reader : public ProxyReader {
public:
    Reader(std::unique_ptr<VideoReader> reader, ProxyShape shape) : m_reader(std::move(reader)), m_shape(shape) {}
    ProxyShape shape() const override { return m_shape; }
    Expected<Image<Linear16>> read(std::int64_t index) override {
        auto picture = m_reader->read(index);
        if (!picture || picture->size() == m_shape.size) return picture;
        Image<Linear16> part(m_shape.size);
        for (int y = 0; y < part.height(); ++y) std::copy_n(picture->row(y), part.width(), part.row(y));
        return part;
    }

private:
    std::unique_ptr<VideoReader> m_reader;
    ProxyShape m_shape;
};

} // namespace

ProxyShape proxyShapeOf(Size source) {
    ProxyShape shape{0, source};
    while ((std::max(shape.size.width, shape.size.height) + 1) / 2 >= leastProxySide)
        shape = {shape.level + 1, {(shape.size.width + 1) / 2, (shape.size.height + 1) / 2}};
    return shape;
}

std::string whyProxy(const VideoInfo& video) {
    if (video.still || video.alpha || video.frames < 2) return {};
    const double pixels = double(video.coded.width) * video.coded.height;
    if (pixels > mostPixels) return "large pictures";
    const double work = pixels * double(video.keyInterval) * (video.interlaced ? 2 : 1);
    return work > mostToReach ? "few places to begin decoding at" : "";
}

Expected<void> makeProxy(const std::filesystem::path& source, const std::filesystem::path& proxy, bool deinterlace,
                         const std::function<void(double)>& report, const Cancel& cancel) {
    auto reader = VideoReader::open(source, cancel, deinterlace);
    if (!reader) return tl::unexpected(reader.error());
    const VideoInfo& video = *(*reader)->info().video;
    if (video.still) return fail(ErrorCode::Unsupported, "a still needs no light copy", source.string());
    const ProxyShape shape = proxyShapeOf(video.size);
    EncoderSettings settings;
    settings.size = storedSize(shape.size);
    settings.rate = 25; // its times are the source's
    settings.quality = 16;
    settings.preset = "ultrafast";
    settings.keyInterval = 1;
    auto encoder = Encoder::open(proxy, settings);
    if (!encoder) return tl::unexpected(encoder.error());
    Image<Deep16> row(settings.size);
    for (std::int64_t i = 0; i < video.frames; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", source.string());
        if (auto picture = (*reader)->read(i)) {
            const Pyramid pyramid(std::move(*picture));
            const Image<Linear16>& small = pyramid.level(std::min(shape.level, pyramid.levels() - 1));
            for (int y = 0; y < row.height(); ++y) {
                encodeRow(small.row(std::min(y, small.height() - 1)), row.row(y), small.width());
                for (int x = small.width(); x < row.width(); ++x) row.at(x, y) = row.at(small.width() - 1, y);
            }
        }
        if (auto done = (*encoder)->addFrame(row.view()); !done) return done;
        report(double(i + 1) / double(video.frames));
    }
    return (*encoder)->finish();
}

Expected<std::unique_ptr<ProxyReader>> ProxyReader::open(const std::filesystem::path& proxy, const VideoInfo& source) {
    auto reader = VideoReader::open(proxy);
    if (!reader) return tl::unexpected(reader.error());
    const ProxyShape shape = proxyShapeOf(source.size);
    const VideoInfo& video = *(*reader)->info().video;
    if (video.frames != source.frames || video.size != storedSize(shape.size))
        return fail(ErrorCode::BadInput, "this is no light copy of that file", proxy.string(), "it is made anew");
    return std::unique_ptr<ProxyReader>(new Reader(std::move(*reader), shape));
}

} // namespace virga
