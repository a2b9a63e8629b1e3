#include "core/export/ladder_picture.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <fmt/format.h>

#include "core/base/file.h"
#include "core/base/output.h"
#include "core/encode/encoder.h"

namespace virga {

Expected<Image<Rgba8>> ladderPicture(const Project& project, const LadderSettings& settings, SourcePool& pool,
                                     const Cancel& cancel) {
    if (settings.cut < 0 || settings.cut >= cutCount(project))
        return fail(ErrorCode::BadInput, fmt::format("there is no cut {}", settings.cut + 1), {},
                    fmt::format("cuts are 1 to {}", cutCount(project)));
    const auto at = cutFrame(project, settings.cut);
    const auto from = std::max<std::int64_t>(0, at - settings.before);
    const auto to = std::min(reelLength(project), at + settings.after);
    const Size size{std::max(1, int(std::lround(settings.height * project.settings.size.aspect()))), settings.height};
    const auto count = int(to - from);
    Image<Rgba8> row(count * size.width + count * settings.gap, size.height);
    for (int y = 0; y < row.height(); ++y) std::fill_n(row.row(y), row.width(), Rgba8{0, 0, 0, 255});
    int x = 0;
    for (auto n = from; n < to; ++n) {
        auto frame = renderFrame(project, n, size, exactQuality, pool, cancel);
        if (!frame) return tl::unexpected(frame.error());
        if (n == at) x += settings.gap; // wider where the shots meet
        for (int y = 0; y < size.height; ++y) std::copy_n(frame->row(y), size.width, row.row(y) + x);
        x += size.width + settings.gap;
    }
    return row;
}

Expected<void> writeLadder(const Project& project, const LadderSettings& settings, const std::filesystem::path& path,
                           SourcePool& pool, const Cancel& cancel) {
    if (auto may = mayWrite(path, exportOutput(project, DeliveryFormat::Png)); !may) return may;
    auto picture = ladderPicture(project, settings, pool, cancel);
    if (!picture) return tl::unexpected(picture.error());
    EncoderSettings encoding;
    encoding.format = DeliveryFormat::Png;
    encoding.size = picture->size();
    const PartFolder folder(path); // the encoder of pictures numbers them: it does so where nothing else lies
    if (!folder.isMade())
        return fail(ErrorCode::WriteFailed, fmt::format("cannot write here ({})", std::strerror(folder.whyNot())),
                    path.string(), "choose another folder");
    const std::filesystem::path numbered = folder.path() / "ladder.png";
    auto encoder = Encoder::open(numbered, encoding);
    if (!encoder) return tl::unexpected(encoder.error());
    if (auto done = (*encoder)->addFrame(picture->view()); !done) return done;
    if (auto done = (*encoder)->finish(); !done) return done;
    return putInPlace(picturePath(numbered, 0), path);
}

} // namespace virga
