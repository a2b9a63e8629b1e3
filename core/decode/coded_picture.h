#pragma once
// A decoder's own picture, as it stands in the file: for what goes from a decoder to an encoder untouched.
#include <memory>

#include "core/geom/screen_map.h"

namespace virga {

class CodedPicture {
public:
    CodedPicture() = default;
    /// `frame` is FFmpeg's, for core/decode and core/encode only.
    CodedPicture(std::shared_ptr<const void> frame, Size size) : m_frame(std::move(frame)), m_size(size) {}
    explicit operator bool() const { return m_frame != nullptr; }
    Size size() const { return m_size; }
    const void* frame() const { return m_frame.get(); }

private:
    std::shared_ptr<const void> m_frame;
    Size m_size;
};

} // namespace virga
