#pragma once
// What probing finds out about a file.
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/base/rational.h"
#include "core/decode/orientation.h"
#include "core/geom/screen_map.h"
#include "core/raster/source_light.h"

namespace virga {

struct VideoInfo {
    Size coded;               // pixels as stored
    Size size;                // pixels as seen: after rotation, before the pixel aspect
    Orientation orientation;  // how the stored picture must be laid
    Rational pixelAspect = 1; // width of a pixel as seen / its height
    FrameRate rate = 25;      // the nominal rate; frames are found by their time stamps, never by this
    bool variableRate = false;
    Rational duration;       // seconds from the first frame's start to the last one's end
    std::int64_t frames = 0; // 0 for a still
    std::string codec, pixelFormat, matrix, range, transfer, primaries;
    SourceLight light; // what its code values mean
    int bitDepth = 8;
    bool interlaced = false; // its pictures hold the lines of two moments
    bool still = false;
    bool alpha = false;           // it can be seen through
    std::int64_t keyInterval = 1; // pictures from one that decoding can begin at to the next, at most
};

/// What a source is converted from, such as "HLG, BT.2020"; empty for ordinary pictures.
std::string colourName(const VideoInfo& video);

struct AudioInfo {
    int channels = 0;
    int sampleRate = 0;
    Rational duration;
    std::string codec;
};

struct MediaInfo {
    std::filesystem::path path;
    std::string container;
    std::optional<VideoInfo> video;
    std::optional<AudioInfo> audio;
    Rational timecode;                 // seconds of the first picture by the file's own timecode; 0 where it has none
    std::string fingerprint;           // of the content, see fingerprint.h; empty until taken
    bool brokenOff = false;            // a part of it only could be read
    std::vector<std::string> warnings; // usable, but worth knowing: cut short, HDR, interlaced
};

} // namespace virga
