#pragma once
// For core/decode, core/encode and core/audio: pictures between planar Y'CbCr and 16-bit R'G'B' by zimg, with the
// chroma samples where they are, in one step. Not for two threads at once.
#include <cstdlib>
#include <memory>
#include <vector>

#include "core/decode/av_support.h"
#include "core/geom/screen_map.h"

struct zimg_filter_graph;

namespace virga::av {

/// What a planar picture means. Numbers are those of ITU-T H.273.
struct PlaneFormat {
    int pixelFormat = AV_PIX_FMT_NONE; // planar Y'CbCr, or GBRP16 for R'G'B'
    Size size;
    int matrix = 1;
    bool fullRange = false;
    AVChromaLocation chroma = AVCHROMA_LOC_LEFT;
    bool operator==(const PlaneFormat&) const = default;
};

class PlaneGraph {
public:
    /// Whether zimg can read or write its colour: planar, 8 to 16 bits, not grey.
    static bool canTake(int pixelFormat);
    /// Whether its chroma divides the sides, too.
    static bool canTake(int pixelFormat, Size size);

    /// 8 bits are dithered with an ordered pattern. `plain` uses no vector instructions, for tests. Errors:
    /// Unsupported.
    static Expected<PlaneGraph> make(const PlaneFormat& from, const PlaneFormat& to, const std::string& path,
                                     bool plain = false);

    /// REQUIRES: pictures of the graph's formats. Errors: Unreadable.
    Expected<void> run(const AVFrame& from, AVFrame& to, const std::string& path);

    const PlaneFormat& from() const { return m_from; }

private:
    struct FreeGraph {
        void operator()(zimg_filter_graph* graph) const;
    };
    struct FreeMemory {
        void operator()(void* memory) const { std::free(memory); }
    };
    PlaneFormat m_from, m_to;
    std::unique_ptr<zimg_filter_graph, FreeGraph> m_graph;
    std::unique_ptr<void, FreeMemory> m_scratch;
    Owned<AVFrame> m_aligned; // a copy of what is not aligned as zimg wants it
};

/// A frame with buffers of its own, aligned as zimg wants them; null where memory is out.
Owned<AVFrame> makePlanes(int pixelFormat, Size size);

} // namespace virga::av
