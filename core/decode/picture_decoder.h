#pragma once
// For core/decode, core/encode and core/audio: the decoded pictures of a stream by their number in its index, in any
// order. What FFmpeg's decoder gives from the file's beginning on is what comes out, wherever decoding had to begin: an
// entry point that does not lead to the wanted picture is given up for an earlier one, down to the file's first packet.
// One thread at a time.
#include <map>

#include "core/decode/reader_state.h"

namespace virga::av {

class PictureDecoder {
public:
    PictureDecoder(Opened opened, Owned<AVCodecContext> decoder);

    const MediaInfo& info() const { return m_opened.info; }
    const PacketIndex& index() const { return m_opened.index; }

    /// The order of fields that the container tells of, where the codec's own pictures do not say what they are.
    std::optional<AVFieldOrder> unmarkedFields() const;

    /// The picture of that number, held inside 0 to the last one, until the next call. Where the decoder leaves one
    /// out (damage), the one before it stays; one of another size than the first is brought to its size. Errors:
    /// Unreadable (place names the time).
    Expected<const AVFrame*> picture(std::int64_t number);

private:
    enum class Outcome { Found, LeftOut, Ended, Failed };
    const VideoInfo& video() const { return *m_opened.info.video; }
    AVStream* stream() const { return m_opened.format->streams[m_opened.video]; }
    Expected<const AVFrame*> decoded(std::int64_t number);
    bool hasItsSize(const AVFrame& frame) const;
    void bringToSize(Owned<AVFrame>& frame) const;
    Outcome decodeTo(std::int64_t stamp);
    bool isNear(std::int64_t number) const;
    int entryFor(std::int64_t stamp) const;
    std::int64_t bytes() const; // of the file as it is now
    bool enterAt(int entry);
    bool enterAtBeginning();
    void prime();
    bool findEntryPacket(const PacketIndex::Entry& entry);
    void forgetPosition();
    bool nextPacket();
    bool takeFrame();

    static constexpr int beginning = -1; // in place of an entry
    static constexpr std::int64_t nowhere = INT64_MIN;
    Opened m_opened;
    Owned<AVCodecContext> m_decoder;
    Unpacker m_unpacker;
    Owned<AVPacket> m_packet = makePacket();
    Owned<AVFrame> m_frame = makeFrame(), m_before = makeFrame(), m_spare = makeFrame();
    std::int64_t m_at = nowhere, m_beforeAt = nowhere; // the stamps of m_frame and of the one that came out before it
    std::int64_t m_bytes = 0;                          // of the file when it was opened
    std::int64_t m_place = 0;                          // of the next packet in the file, where stamps go by that
    std::vector<std::int64_t> m_firstOut;              // for each entry: the first picture that it leads to
    std::vector<bool> m_doubted;                       // for each entry: what followed it came out torn
    std::map<std::int64_t, std::int64_t> m_standIns;   // pictures that the decoder leaves out, and what stays instead
    int m_sinceEntry = 0;
    bool m_held = false; // m_packet waits to be sent
    bool m_torn = false, m_draining = false, m_ended = false;
    bool m_fromBeginning = false; // decoding began at the file's first packet
    bool m_primed = false;        // has the decoder seen the file's beginning?
};

} // namespace virga::av
