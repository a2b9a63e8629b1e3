#pragma once
// Inside core/encode only: packets of pictures, and sound, into a file that is renamed at the end.
#include <span>
#include <vector>

#include "core/base/output.h"
#include "core/encode/video_stage.h"

namespace virga::av {

struct FreeOutput {
    void operator()(AVFormatContext* p) const {
        if (p->pb) avio_closep(&p->pb);
        avformat_free_context(p);
    }
};

class MovieWriter {
public:
    /// `video` is null for sound alone; `muxer` is FFmpeg's name. `label` is stored with the file. Errors: as
    /// Encoder::open.
    static Expected<std::unique_ptr<MovieWriter>> open(const std::filesystem::path& path, const char* muxer,
                                                       const EncoderSettings& settings, const VideoStage* video,
                                                       const std::string& label = {});
    ~MovieWriter() { m_format.reset(); } // before its file is removed

    /// Frames from the file's first one on. The packet's pts counts from `from`; when it is decoded is worked out anew.
    Expected<void> addPicture(AVPacket& packet, std::int64_t from);
    Expected<void> addSound(std::span<const float> stereo);
    Expected<void> finish();
    std::int64_t pictures() const { return m_pictures; }

private:
    MovieWriter(std::filesystem::path path, EncoderSettings settings)
        : m_path(std::move(path)), m_part(m_path), m_settings(std::move(settings)) {}
    Expected<void> check(int code, const char* what) const;
    Expected<void> startSound();
    Expected<void> sendSound(const float* stereo, int count);
    Expected<void> drainSound(AVFrame* frame);
    Expected<void> write(AVPacket& packet, AVRational base, AVStream& stream);

    std::filesystem::path m_path;
    PartFile m_part;
    EncoderSettings m_settings;
    std::unique_ptr<AVFormatContext, FreeOutput> m_format;
    Owned<AVCodecContext> m_audio;
    AVStream *m_videoStream = nullptr, *m_audioStream = nullptr;
    AVRational m_videoBase{1, 25};
    std::vector<float> m_waiting;
    int m_block = 0, m_reorder = 0;
    std::int64_t m_pictures = 0, m_samples = 0;
};

/// FFmpeg's name of a format's container.
const char* muxerOf(DeliveryFormat format);

} // namespace virga::av
