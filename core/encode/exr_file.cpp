#include <ImfChannelList.h>
#include <ImfChromaticities.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <algorithm>
#include <half.h>
#include <vector>

#include "core/base/file.h"
#include "core/base/output.h"
#include "core/encode/picture_files.h"

namespace virga::av {

Expected<void> writeExr(const std::filesystem::path& path, ImageView<const LinearF> light, bool alpha, FrameRate rate) {
    const PartFile part(path);
    try {
        Imf::Header header(light.width, light.height);
        header.compression() = Imf::ZIP_COMPRESSION;
        Imf::addChromaticities(header, Imf::Chromaticities()); // the standard's own default: BT.709, D65
        Imf::addFramesPerSecond(header, Imf::Rational(int(rate.num), unsigned(rate.den)));
        const std::vector<const char*> names =
            alpha ? std::vector<const char*>{"R", "G", "B", "A"} : std::vector<const char*>{"R", "G", "B"};
        const std::size_t channels = names.size();
        std::vector<half> values(std::size_t(light.width) * std::size_t(light.height) * channels);
        half* to = values.data();
        for (int y = 0; y < light.height; ++y) {
            const LinearF* from = light.row(y);
            for (int x = 0; x < light.width; ++x, to += channels) {
                to[0] = from[x].r, to[1] = from[x].g, to[2] = from[x].b;
                if (alpha) to[3] = std::clamp(from[x].a, 0.0f, 1.0f);
            }
        }
        Imf::FrameBuffer buffer;
        for (std::size_t c = 0; c < channels; ++c) {
            header.channels().insert(names[c], Imf::Channel(Imf::HALF));
            buffer.insert(names[c],
                          Imf::Slice(Imf::HALF, reinterpret_cast<char*>(values.data() + c), sizeof(half) * channels,
                                     sizeof(half) * channels * std::size_t(light.width)));
        }
        Imf::OutputFile file(part.path().c_str(), header, 0);
        file.setFrameBuffer(buffer);
        file.writePixels(light.height);
    } catch (const std::exception& error) {
        return fail(ErrorCode::WriteFailed, std::string("the picture could not be written: ") + error.what(),
                    path.string(), "free some space, or choose another folder");
    }
    return putInPlace(part.path(), path);
}

} // namespace virga::av
