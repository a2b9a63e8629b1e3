#pragma once
// Inside core/media only: what opening a picture stream finds; shared by probe and the reader.
#include "core/media/media_info.h"
#include "core/media/packet_index.h"

namespace virga::av {

struct Opened {
    Owned<AVFormatContext> format;
    int video = -1, audio = -1;
    PacketIndex index; // empty where there is no picture stream
    MediaInfo info;
};

/// Opens, indexes and describes a file. Errors as probe().
Expected<Opened> openAndDescribe(const std::filesystem::path& path, const Cancel& cancel);

/// Decodes forward to the first picture. Errors: Unreadable.
Expected<Owned<AVFrame>> firstPicture(AVFormatContext* format, AVCodecContext* decoder, int stream,
                                      const std::string& path);

} // namespace virga::av
