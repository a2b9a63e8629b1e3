#include "core/optical_flow/movement.h"

#include "core/decode/video_reader.h"
#include "core/optical_flow/optical_flow_grid.h"

namespace virga {

Expected<OwnShotMovement> ownMovementOf(const std::filesystem::path& path, int most, const Cancel& cancel) {
    auto reader = VideoReader::open(path, cancel);
    if (!reader) return tl::unexpected(reader.error());
    OwnShotMovement movement;
    const std::int64_t last = (*reader)->indexAt(Rational(std::int64_t(1) << 40));
    const std::int64_t pairs = std::min<std::int64_t>(most, last);
    for (std::int64_t i = 0; i < pairs; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        const std::int64_t at = last * (2 * i + 1) / (2 * pairs);
        auto a = (*reader)->read(at), b = (*reader)->read(std::min(at + 1, last));
        if (!a) return tl::unexpected(a.error());
        if (!b) return tl::unexpected(b.error());
        if (a->size() != b->size() || std::min(a->width(), a->height()) < 2 * leastFlowSide) continue;
        const FlowPair flow = flowBetween(greyOf(*a, flowSide), greyOf(*b, flowSide));
        double sum = 0;
        for (int y = 0; y < flow.grid.height; ++y)
            for (int x = 0; x < flow.grid.width; ++x) sum += flowAt(flow.forward, flow.grid, x, y).length();
        movement.perFrame += 100 * sum / (double(flow.grid.width) * flow.grid.height) / flow.grid.width;
        movement.untrusted += flow.untrusted;
        ++movement.pairs;
    }
    if (movement.pairs > 0) movement.perFrame /= movement.pairs, movement.untrusted /= movement.pairs;
    return movement;
}

} // namespace virga
