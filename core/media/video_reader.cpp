#include "core/media/video_reader.h"

#include "core/media/deinterlacer.h"
#include "core/media/picture_decoder.h"
#include "core/media/to_linear.h"

namespace virga {
namespace {

using namespace av;

class FileReader : public VideoReader {
public:
    FileReader(Opened opened, Owned<AVCodecContext> decoder, bool deinterlace)
        : m_decoder(std::move(opened), std::move(decoder)),
          m_converter(info().video->light, info().video->orientation) {
        if (deinterlace && info().video->interlaced) m_deinterlacer.emplace(m_decoder);
    }

    const MediaInfo& info() const override { return m_decoder.info(); }

    std::int64_t indexAt(Rational seconds) const override {
        return info().video->still ? 0 : m_decoder.index().times.indexAt(seconds);
    }

    Rational timeOf(std::int64_t index) const override { return m_decoder.index().times.starts.at(std::size_t(index)); }

    Expected<Image<Linear16>> read(std::int64_t index) override {
        auto frame = m_deinterlacer ? m_deinterlacer->picture(index) : m_decoder.picture(index);
        if (!frame) return tl::unexpected(frame.error());
        return m_converter.convert(**frame, info().path.string());
    }

private:
    PictureDecoder m_decoder;
    ToLinear m_converter;
    std::optional<Deinterlacer> m_deinterlacer;
};

} // namespace

Expected<std::unique_ptr<VideoReader>> VideoReader::open(const std::filesystem::path& path, const Cancel& cancel,
                                                         bool deinterlace) {
    auto opened = openPictures(path, cancel);
    if (!opened) return tl::unexpected(opened.error());
    auto decoder = openDecoder(opened->format->streams[opened->video], path.string());
    if (!decoder) return tl::unexpected(decoder.error());
    return std::unique_ptr<VideoReader>(new FileReader(std::move(*opened), std::move(*decoder), deinterlace));
}

} // namespace virga
