#pragma once
// For core/decode, core/encode and core/audio: which of FFmpeg's readers may be used.
namespace virga::av {

/// Names of FFmpeg's demuxers, for AVFormatContext::format_whitelist: all that hold pictures or sound themselves. Not
/// in it are those that open other files or addresses (playlists, manifests, scripts, session descriptions), that make
/// pictures of any text (terminal art), that read subtitles only, and devices.
extern const char* const readableContainers;

} // namespace virga::av
