#pragma once
// Pictures in memory: a move-only owner and a view that owns nothing. Rows run from the top; pixels are interleaved
// RGBA.
#include <cassert>
#include <cstddef>
#include <cstdint>
#include <memory>

#include "core/geom/screen_map.h"

namespace virga {

/// 8-bit code values by the sRGB curve. Sources and results alike; where alpha matters, colour is over black.
struct Rgba8 {
    std::uint8_t r = 0, g = 0, b = 0, a = 0;
    bool operator==(const Rgba8&) const = default;
};

/// 16-bit code values by the sRGB curve, straight alpha: sources deeper than 8 bits.
struct Rgba16 {
    std::uint16_t r = 0, g = 0, b = 0, a = 0;
    bool operator==(const Rgba16&) const = default;
};

/// 16-bit code values by the sRGB curve with room beyond black and white, as limited range has it: `deepBlack` is
/// black, `deepWhite` white. Frames for export; colour is over black.
struct Deep16 {
    std::uint16_t r = 0, g = 0, b = 0, a = 0;
    bool operator==(const Deep16&) const = default;
};
inline constexpr int deepBlack = 16 * 256, deepWhite = 235 * 256; // ITU-R BT.709, 8-bit levels times 256

/// Linear light in 15 bits, premultiplied, kept as kept_light.h says; alpha 32767 is opaque: signed 16-bit products
/// then serve. What the sampling kernel reads.
struct Linear16 {
    std::uint16_t r = 0, g = 0, b = 0, a = 0;
    bool operator==(const Linear16&) const = default;
};
inline constexpr int linearOne = 32767;

/// Linear light as floats, premultiplied. What the sampling kernel writes: kept as it reads it, alpha 1 is opaque.
struct alignas(16) LinearF {
    float r = 0, g = 0, b = 0, a = 0;
};

template <typename Pixel> struct ImageView {
    Pixel* data = nullptr;
    int width = 0, height = 0;
    std::ptrdiff_t stride = 0; // in pixels

    Pixel* row(int y) const { return data + y * stride; }
    Pixel& at(int x, int y) const { return row(y)[x]; }
    Size size() const { return {width, height}; }
    operator ImageView<const Pixel>() const { return {data, width, height, stride}; }
};

template <typename Pixel> class Image {
public:
    Image() = default;
    /// REQUIRES: width and height not negative. Pixels start as zeros. One more lies behind the last, so that vectors
    /// may read over it.
    Image(int width, int height)
        : m_width(width), m_height(height),
          m_pixels(std::make_unique<Pixel[]>(std::size_t(width) * std::size_t(height) + 1)) {
        assert(width >= 0 && height >= 0);
    }
    explicit Image(Size size) : Image(size.width, size.height) {}
    Image(Image&&) noexcept = default;
    Image& operator=(Image&&) noexcept = default;

    int width() const { return m_width; }
    int height() const { return m_height; }
    Size size() const { return {m_width, m_height}; }
    bool isEmpty() const { return m_width == 0 || m_height == 0; }
    std::size_t bytes() const { return std::size_t(m_width) * std::size_t(m_height) * sizeof(Pixel); }
    Pixel* row(int y) { return m_pixels.get() + std::size_t(y) * std::size_t(m_width); }
    const Pixel* row(int y) const { return m_pixels.get() + std::size_t(y) * std::size_t(m_width); }
    Pixel& at(int x, int y) { return row(y)[x]; }
    const Pixel& at(int x, int y) const { return row(y)[x]; }
    ImageView<Pixel> view() { return {m_pixels.get(), m_width, m_height, m_width}; }
    ImageView<const Pixel> view() const { return {m_pixels.get(), m_width, m_height, m_width}; }

private:
    int m_width = 0, m_height = 0;
    std::unique_ptr<Pixel[]> m_pixels;
};

} // namespace virga
