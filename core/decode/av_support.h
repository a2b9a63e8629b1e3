#pragma once
// For core/decode, core/encode and core/audio: owners for FFmpeg's objects, its error texts, and opening files with
// messages people understand.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavcodec/bsf.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/mastering_display_metadata.h>
#include <libavutil/opt.h>
#include <libavutil/pixdesc.h>
#include <libswresample/swresample.h>
#include <libswscale/swscale.h>
}
#include <filesystem>
#include <memory>
#include <optional>
#include <string>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/base/rational.h"
#include "core/base/sequence_path.h"

namespace virga::av {

/// What an opened file may open: itself, or the pictures of its sequence.
struct Door {
    Cancel cancel;
    std::filesystem::path file;
    std::optional<SequencePath> sequence;
    bool isNamed(const std::filesystem::path& path) const;
};

struct Free {
    void operator()(AVFormatContext* p) const {
        auto* const door = static_cast<Door*>(p->opaque); // set by openInput
        avformat_close_input(&p);
        delete door;
    }
    void operator()(AVCodecContext* p) const { avcodec_free_context(&p); }
    void operator()(AVFrame* p) const { av_frame_free(&p); }
    void operator()(AVBSFContext* p) const { av_bsf_free(&p); }
    void operator()(AVPacket* p) const { av_packet_free(&p); }
    void operator()(SwsContext* p) const { sws_freeContext(p); }
    void operator()(SwrContext* p) const { swr_free(&p); }
};
template <typename T> using Owned = std::unique_ptr<T, Free>;

inline Owned<AVFrame> makeFrame() {
    return Owned<AVFrame>(av_frame_alloc());
}
inline Owned<AVPacket> makePacket() {
    return Owned<AVPacket>(av_packet_alloc());
}

/// The longest side of a picture that is read.
inline constexpr int largestPicture = 16384;

/// Sound of fewer or more samples a second is no sound.
inline constexpr int lowestSoundRate = 1000, highestSoundRate = 768000;

std::string errorText(int code);
/// As avcodec_receive_frame, for a picture: numbers in it that nobody has given a meaning are "unspecified".
int receivePicture(AVCodecContext* decoder, AVFrame* picture);

inline Rational toRational(AVRational r) {
    return r.den ? Rational(r.num, r.den) : Rational(0);
}

/// The seconds of a time stamp, exactly. REQUIRES: stamp is not AV_NOPTS_VALUE.
inline Rational seconds(std::int64_t stamp, AVRational base) {
    return Rational(stamp) * toRational(base);
}

/// Opens a file and finds its streams. Errors as probe().
Expected<Owned<AVFormatContext>> openInput(const std::filesystem::path& path, const Cancel& cancel);

/// A decoder for a stream, with threads. Errors: Unsupported.
Expected<Owned<AVCodecContext>> openDecoder(AVStream* stream, const std::string& path);

/// Silences FFmpeg's own printing once per process; its messages reach people through Error instead.
void quiet();

} // namespace virga::av
