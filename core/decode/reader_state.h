#pragma once
// For core/decode, core/encode and core/audio: what opening a picture stream finds; shared by probe and the reader.
#include "core/decode/media_info.h"
#include "core/decode/packet_index.h"

namespace virga::av {

struct Opened {
    Owned<AVFormatContext> format;
    int video = -1, audio = -1;
    PacketIndex index; // empty where there is no picture stream
    Size decoded;      // of the first picture as it comes out of the decoder
    MediaInfo info;
};

/// Opens, indexes and describes a file. Errors as probe().
Expected<Opened> openAndDescribe(const std::filesystem::path& path, const Cancel& cancel);

/// The same for a file whose pictures are wanted. Errors as probe(), and Unsupported for sound alone.
Expected<Opened> openPictures(const std::filesystem::path& path, const Cancel& cancel);

/// Makes a file give the packets of one stream only, each with its presentation time where that can be told.
void readOnly(AVFormatContext* format, int stream);

/// What a stream's index and first picture say of it.
VideoInfo describeVideo(const AVFormatContext* format, const AVStream* stream, const PacketIndex& index,
                        const AVFrame& first, const std::filesystem::path& path);

/// What a person should know of it before using it, each in a few words.
std::vector<std::string> notesOn(const VideoInfo& video);

} // namespace virga::av
