#include "core/export/export_needs.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <fstream>
#include <numeric>
#include <set>
#include <string>

#include "core/render/exposure.h"
#include "core/render/finish_frame.h"

namespace virga {
namespace {

std::size_t pixelsOf(Size size) {
    return std::size_t(std::max(size.width, 0)) * std::size_t(std::max(size.height, 0));
}

// Pictures that an encoder holds: x264's and x265's look-ahead with references and threads, measured; all of them where
// it writes nothing before the end.
std::size_t framesInside(const ExportPlan& plan) {
    switch (plan.encoder.format) {
    case DeliveryFormat::H264:
        return 60;
    case DeliveryFormat::H265:
    case DeliveryFormat::Vp9:
    case DeliveryFormat::Av1:
        return 90;
    case DeliveryFormat::Webp:
        return std::size_t(plan.frames());
    default:
        return 8;
    }
}

std::size_t pixelBytes(const DeliverySettings& settings) {
    switch (pixelsFor(settings)) {
    case PixelKind::Coded8:
        return sizeof(Rgba8);
    case PixelKind::Coded16:
        return sizeof(Deep16);
    case PixelKind::Light:
        break;
    }
    return sizeof(LinearF) + sizeof(Deep16); // it is made straight on the way
}

} // namespace

ExportNeeds exportNeeds(const Project& project, const ExportSettings& settings) {
    const auto plan = planExport(project, settings);
    return plan ? exportNeeds(*plan) : ExportNeeds();
}

ExportNeeds exportNeeds(const ExportPlan& all) {
    const Project& project = all.project;
    const Size output = all.encoder.size;
    const Quality& quality = all.render;
    ExportNeeds needs;
    if (!infoOf(all.encoder.format).hasPictures()) {
        needs.program = std::size_t(96) << 20;
        return needs;
    }
    std::deque<std::size_t> row; // what the last frames show
    std::size_t layers = 1;
    std::set<std::string> open;
    std::size_t canvases = 0; // bytes
    const ReelIndex index = reelIndex(project);
    for (auto n = all.from; n < all.to; ++n) {
        const FramePlan plan = planFrame(project, index, n);
        std::size_t sources = 0;
        for (const LayerPlan& layer : plan.layers) {
            open.insert(layer.mediaId);
            const std::size_t pixels = pixelsOf(layer.source);
            std::size_t one = pixels + pixels / 3 + 64; // with its mip levels
            if (quality.enlarging != Enlarging::Bilinear && isEnlarged(layer, output)) one += 4 * pixels;
            const Media* media = findMedia(project, layer.mediaId);
            const double most =
                std::ceil((layer.shutter.close - layer.shutter.open) * std::abs(layer.sourcePerFrame.toDouble()) *
                          (media ? media->rate.toDouble() : 25)) +
                1;
            // A picture in between is made of two, and of their flow.
            const double between = layer.inBetween != InBetween::Nearest || layer.shotBlur > 0 ? 3 : 1;
            sources += one * std::size_t(std::max(std::clamp(most, 1.0, double(mostSources(layer, quality))), between));
        }
        row.push_back(sources);
        if (row.size() > std::size_t(framesAhead) + 2) row.pop_front();
        needs.sources =
            std::max(needs.sources, std::accumulate(row.begin(), row.end(), std::size_t(0)) * sizeof(Linear16));
        layers = std::max(layers, plan.layers.size());
        if (const std::size_t count = canvasesFor(plan, output)) {
            const Margin margin = marginOf(plan, output);
            const Size size{output.width + 2 * margin.across, output.height + 2 * margin.down};
            canvases = std::max(canvases, count * pixelsOf(size) * sizeof(LinearF));
        }
    }
    const std::size_t frame = pixelsOf(output);
    // One being rendered, some handed over, one being converted; and between two passes three times a layer's at most,
    // each side half as long again; and the canvases of finishing.
    needs.frames =
        frame * (std::size_t(framesAhead + 3) * pixelBytes(all.encoder) + 7 * layers * sizeof(Linear16)) + canvases;
    const std::size_t lookAhead = framesInside(all);
    needs.encoder = lookAhead * frame * 3 / 2 * (all.encoder.depth > 8 ? 2 : 1);
    constexpr std::size_t decoderFrames = 24; // references, and some for each of its threads
    for (const std::string& id : open)
        if (const Media* media = findMedia(project, id))
            needs.decoders += decoderFrames * pixelsOf(media->size) * 3 / 2;
    needs.program = (std::size_t(96) << 20) + exportPoolBytes;
    return needs;
}

std::size_t freeMemory() {
    std::ifstream file("/proc/meminfo");
    for (std::string name; file >> name;) {
        std::size_t kibibytes = 0;
        if (name == "MemAvailable:" && file >> kibibytes) return kibibytes * 1024;
        std::getline(file, name);
    }
    return 0;
}

} // namespace virga
