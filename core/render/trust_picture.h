#pragma once
// Where a frame's made-up pictures are not to be trusted, as a picture of the frame: to be laid over it.
#include "core/render/render_frame.h"

namespace virga {

struct TrustPicture {
    Image<Rgba8> picture; // red where what is seen was guessed, black elsewhere; empty where nothing is made up
    double share = 1;     // of the topmost made-up shot's picture that is to be trusted
};

/// Of the topmost shot that is made up at the frame. Finds its flow where it is not known: a part of a second.
TrustPicture trustPicture(const Project& project, std::int64_t frame, Size output, SourcePool& pool);

} // namespace virga
