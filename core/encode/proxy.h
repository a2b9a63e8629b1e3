#pragma once
// Proxies: light copies of a source's pictures for looking at while editing, small and quick to decode at any place;
// never what is exported. Picture i of a proxy is picture i of its source, whole and upright, 2^level times smaller.
// H.264, every picture a key frame. Functions may be called from any thread, a reader from one at a time.
#include <functional>
#include <memory>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/decode/media_info.h"
#include "core/raster/image.h"

namespace virga {

/// Which mip level of a source a proxy holds, and its size: the smallest one that is `leastProxySide` long at least.
struct ProxyShape {
    int level = 0;
    Size size;
    bool operator==(const ProxyShape&) const = default;
};
inline constexpr int leastProxySide = 800;
ProxyShape proxyShapeOf(Size source);

/// Why a source should have one, in a few words: it is large, or any of its pictures takes long to reach. Empty where
/// it needs none, or can have none (a still, a picture that can be seen through).
std::string whyProxy(const VideoInfo& video);

/// Writes the proxy of a source; `report` is told the part that is done. A picture that cannot be decoded is the one
/// before it. Errors: as VideoReader and Encoder; Unsupported for a still; Cancelled. Nothing is left behind then.
Expected<void> makeProxy(const std::filesystem::path& source, const std::filesystem::path& proxy, bool deinterlace,
                         const std::function<void(double)>& report, const Cancel& cancel);

class ProxyReader {
public:
    /// Errors: as VideoReader; BadInput where it is no proxy of that source.
    static Expected<std::unique_ptr<ProxyReader>> open(const std::filesystem::path& proxy, const VideoInfo& source);
    virtual ~ProxyReader() = default;
    virtual ProxyShape shape() const = 0;
    /// REQUIRES: 0 <= index < number of the source's pictures. Errors: as VideoReader.
    virtual Expected<Image<Linear16>> read(std::int64_t index) = 0;
};

} // namespace virga
