#pragma once
// The pictures of a video or still file, each found exactly by its time stamp. One reader is for one thread at a time,
// apart from info, indexAt and timeOf, which any may ask meanwhile; going forward is cheap, going back decodes from the
// entry point before.
#include <memory>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/decode/coded_picture.h"
#include "core/decode/media_info.h"
#include "core/raster/grey.h"

namespace virga {

class VideoReader {
public:
    /// `deinterlace` makes whole pictures of interlaced ones; others stay as they are. Errors as probe(), and
    /// Unsupported for sound alone.
    static Expected<std::unique_ptr<VideoReader>> open(const std::filesystem::path& path, const Cancel& cancel = {},
                                                       bool deinterlace = true);
    virtual ~VideoReader() = default;

    virtual const MediaInfo& info() const = 0;

    /// The index of the picture on screen at a time in seconds from the first picture's start; the first or last one
    /// outside. A still has only picture 0.
    virtual std::int64_t indexAt(Rational seconds) const = 0;

    /// When picture `index` starts, in seconds from the first one's start. REQUIRES: 0 <= index < number of pictures.
    virtual Rational timeOf(std::int64_t index) const = 0;

    /// A picture in linear light, upright. Errors: Unreadable where it cannot be decoded (place names the time).
    virtual Expected<Image<Linear16>> read(std::int64_t index) = 0;

    /// The same as measuring sees it, much faster: greyOf(read(index), longest) within a few code values. Errors: as
    /// read().
    virtual Expected<Grey> readGrey(std::int64_t index, int longest = 960);

    /// The picture as the file has it, where that is what 8-bit results hold: progressive Y'CbCr 4:2:0 of 8 bits by
    /// BT.709 in limited range with chroma on the left, upright, in ordinary light. Else nothing, and where it cannot
    /// be decoded.
    virtual CodedPicture coded(std::int64_t) { return {}; }
};

} // namespace virga
