#include "core/decode/picture_decoder.h"

#include <algorithm>
#include <fmt/format.h>

namespace virga::av {

PictureDecoder::PictureDecoder(Opened opened, Owned<AVCodecContext> decoder)
    : m_opened(std::move(opened)), m_decoder(std::move(decoder)), m_unpacker(m_opened.format.get(), stream()),
      m_doubted(m_opened.index.entries.size(), false) {
    for (const auto& entry : m_opened.index.entries) m_firstOut.push_back(entry.stamp);
    m_bytes = bytes();
}

std::int64_t PictureDecoder::bytes() const {
    return m_opened.format->pb ? avio_size(m_opened.format->pb) : 0;
}

bool PictureDecoder::hasItsSize(const AVFrame& frame) const {
    return frame.width == m_opened.decoded.width && frame.height == m_opened.decoded.height;
}

// Calls and broadcasts change the size of their pictures in the middle; what is shown has one size. Where that cannot
// be done, the frame stays as it is.
void PictureDecoder::bringToSize(Owned<AVFrame>& frame) const {
    const auto kind = AVPixelFormat(frame->format);
    const Size to = m_opened.decoded;
    if (!sws_isSupportedInput(kind) || !sws_isSupportedOutput(kind)) return;
    const std::unique_ptr<SwsContext, Free> scaler(sws_getContext(frame->width, frame->height, kind, to.width,
                                                                  to.height, kind, SWS_BICUBIC | SWS_ACCURATE_RND,
                                                                  nullptr, nullptr, nullptr));
    auto sized = makeFrame();
    if (!scaler || !sized) return;
    sized->format = frame->format;
    sized->width = to.width, sized->height = to.height;
    if (av_frame_get_buffer(sized.get(), 0) < 0 || av_frame_copy_props(sized.get(), frame.get()) < 0) return;
    if (sws_scale(scaler.get(), frame->data, frame->linesize, 0, frame->height, sized->data, sized->linesize) > 0)
        std::swap(frame, sized);
}

Expected<const AVFrame*> PictureDecoder::picture(std::int64_t number) {
    auto frame = decoded(number);
    if (!frame || hasItsSize(**frame)) return frame;
    return fail(
        ErrorCode::Unreadable,
        fmt::format(
            "the picture at {:.3f} s is {} × {}, the first one {} × {}",
            index()
                .times.starts[std::size_t(std::clamp<std::int64_t>(number, 0, std::int64_t(index().stamps.size()) - 1))]
                .toDouble(),
            (*frame)->width, (*frame)->height, m_opened.decoded.width, m_opened.decoded.height),
        info().path.string(), "convert it first");
}

Expected<const AVFrame*> PictureDecoder::decoded(std::int64_t number) {
    const auto& stamps = index().stamps;
    number = std::clamp<std::int64_t>(number, 0, std::int64_t(stamps.size()) - 1);
    if (const auto other = m_standIns.find(number); other != m_standIns.end()) number = other->second;
    const auto wanted = stamps[std::size_t(number)];
    if (m_at == wanted) return m_frame.get();
    if (m_beforeAt == wanted) return m_before.get();
    const auto settle = [&](Outcome outcome) -> const AVFrame* {
        if (outcome == Outcome::Found) return m_frame.get();
        // A file that was cut short under us has no last picture that stays.
        if (outcome == Outcome::Ended && bytes() < m_bytes) return nullptr;
        // What stays on screen is the last one before it; in front of the very first, the first.
        const bool before = outcome == Outcome::LeftOut && m_beforeAt != nowhere;
        const auto at = before ? m_beforeAt : m_at;
        if (at == nowhere) return nullptr;
        const auto other = std::lower_bound(stamps.begin(), stamps.end(), at) - stamps.begin();
        if (other < std::int64_t(stamps.size()) && other != number) m_standIns[number] = other;
        return before ? m_before.get() : m_frame.get();
    };
    if (m_at != nowhere && m_at < wanted && isNear(number)) {
        const Outcome outcome = decodeTo(wanted);
        if (outcome != Outcome::Failed && !(m_torn && !m_fromBeginning))
            if (const AVFrame* frame = settle(outcome)) return frame;
    }
    for (int entry = entryFor(wanted);; entry = std::min(entry - 1, entryFor(wanted))) {
        const bool last = entry == beginning;
        if (last ? enterAtBeginning() : enterAt(entry)) {
            const Outcome outcome = decodeTo(wanted);
            const bool tooLate = outcome == Outcome::LeftOut && m_beforeAt == nowhere;
            if (last || (outcome != Outcome::Failed && !tooLate && !m_torn))
                if (const AVFrame* frame = settle(outcome)) return frame;
            if (!last && tooLate && !m_torn)
                m_firstOut[std::size_t(entry)] = m_at;
            else if (!last)
                m_doubted[std::size_t(entry)] = true;
        } else if (!last) {
            m_doubted[std::size_t(entry)] = true;
        }
        if (last) break;
    }
    forgetPosition();
    if (bytes() < m_bytes)
        return fail(ErrorCode::Unreadable,
                    fmt::format("it has become shorter since it was opened: the picture at {:.3f} s is gone",
                                index().times.starts[std::size_t(number)].toDouble()),
                    info().path.string(), "copy the file again");
    return fail(
        ErrorCode::Unreadable,
        fmt::format("the picture at {:.3f} s cannot be decoded", index().times.starts[std::size_t(number)].toDouble()),
        info().path.string(), "copy the file again, or trim the clip before this place");
}

std::optional<AVFieldOrder> PictureDecoder::unmarkedFields() const {
    const AVCodecParameters& codec = *m_opened.format->streams[m_opened.video]->codecpar;
    if (codec.field_order == AV_FIELD_UNKNOWN || codec.field_order == AV_FIELD_PROGRESSIVE) return std::nullopt;
    for (const AVCodecID marks : {AV_CODEC_ID_H264, AV_CODEC_ID_HEVC, AV_CODEC_ID_MPEG2VIDEO, AV_CODEC_ID_MPEG4,
                                  AV_CODEC_ID_VC1, AV_CODEC_ID_PRORES, AV_CODEC_ID_DVVIDEO})
        if (codec.codec_id == marks) return std::nullopt;
    return codec.field_order;
}

// True where decoding on is no more work than entering anew.
bool PictureDecoder::isNear(std::int64_t number) const {
    const auto& stamps = index().stamps;
    const auto here = std::upper_bound(stamps.begin(), stamps.end(), m_at) - stamps.begin() - 1;
    constexpr std::int64_t fewPictures = 24; // entering costs the decoder's own delay, too
    if (number - here <= fewPictures) return true;
    const int entry = entryFor(stamps[std::size_t(number)]);
    return entry == beginning || index().entries[std::size_t(entry)].stamp <= m_at;
}

// The last entry that may lead to a picture, by what is known of them.
int PictureDecoder::entryFor(std::int64_t stamp) const {
    if (video().still || !index().stampByPlace.empty()) return beginning;
    for (std::size_t i = m_firstOut.size(); i-- > 0;)
        if (!m_doubted[i] && m_firstOut[i] <= stamp) return int(i);
    return beginning;
}

void PictureDecoder::forgetPosition() {
    m_unpacker.flush();
    m_at = m_beforeAt = nowhere;
    m_place = 0;
    m_sinceEntry = 0;
    m_held = m_torn = m_draining = m_ended = m_fromBeginning = false;
}

// The file anew: what was read from it so far leaves no trace.
bool PictureDecoder::enterAtBeginning() {
    forgetPosition();
    avcodec_flush_buffers(m_decoder.get());
    auto format = openInput(info().path, {});
    if (!format) return false;
    m_opened.format = std::move(*format);
    readOnly(m_opened.format.get(), m_opened.video);
    m_fromBeginning = m_primed = true;
    return true;
}

// What made an H.264 stream stands in its first picture's notes alone, and FFmpeg's decoder reads 4:4:4 of older x264
// rightly only when it knows that: a decoder that was never at the beginning takes a look at it first.
void PictureDecoder::prime() {
    if (m_primed) return;
    m_primed = true;
    if (stream()->codecpar->codec_id != AV_CODEC_ID_H264 || !enterAtBeginning()) return;
    constexpr int enough = 8; // packets, until the first picture comes out
    for (int i = 0; i < enough && nextPacket(); ++i)
        if (receivePicture(m_decoder.get(), m_spare.get()) == 0) break;
}

bool PictureDecoder::enterAt(int entry) {
    if (entry > 0) prime();
    m_primed = true;
    forgetPosition();
    avcodec_flush_buffers(m_decoder.get());
    const PacketIndex::Entry& e = index().entries[std::size_t(entry)];
    AVFormatContext* format = m_opened.format.get();
    // Some containers look for the presentation time, others for the decoding time, which is the earlier one: from too
    // early a place packets are passed over, too late a one is no use.
    const std::string_view kind = format->iformat->name;
    const bool byPresentation = kind.find("matroska") != kind.npos || e.dts == AV_NOPTS_VALUE;
    const auto second = std::max<std::int64_t>(1, av_rescale_q(1, {1, 1}, stream()->time_base));
    const auto at = byPresentation && e.pts != AV_NOPTS_VALUE ? e.pts : e.dts != AV_NOPTS_VALUE ? e.dts : e.stamp;
    for (const auto target : {at, at - second, at - 4 * second}) {
        if (av_seek_frame(format, m_opened.video, target, AVSEEK_FLAG_BACKWARD) < 0) continue;
        if (findEntryPacket(e)) return true;
    }
    return false;
}

bool PictureDecoder::findEntryPacket(const PacketIndex::Entry& entry) {
    AVFormatContext* format = m_opened.format.get();
    while (true) {
        av_packet_unref(m_packet.get());
        if (av_read_frame(format, m_packet.get()) < 0) return false;
        if (m_packet->stream_index != m_opened.video) continue;
        const bool byPts = entry.pts != AV_NOPTS_VALUE && m_packet->pts != AV_NOPTS_VALUE;
        if (byPts ? m_packet->pts == entry.pts : m_packet->dts == entry.dts && entry.dts != AV_NOPTS_VALUE) {
            m_held = true;
            return true;
        }
        const bool pastKey = byPts && (m_packet->flags & AV_PKT_FLAG_KEY) && m_packet->pts > entry.pts;
        const bool past = m_packet->dts != AV_NOPTS_VALUE && entry.dts != AV_NOPTS_VALUE && m_packet->dts > entry.dts;
        if (pastKey || past) return false;
    }
}

// Reads on to the stream's next packet and sends it. False at the end of the file.
bool PictureDecoder::nextPacket() {
    AVFormatContext* format = m_opened.format.get();
    while (!m_held) {
        if (av_read_frame(format, m_packet.get()) < 0) return false;
        m_held = m_packet->stream_index == m_opened.video;
        if (!m_held) av_packet_unref(m_packet.get());
    }
    m_held = false;
    if (!m_unpacker.unpack(m_packet.get())) return true;
    if (isShown(*m_packet, stream()->codecpar->codec_id)) {
        const auto& byDts = index().stampByDts;
        const auto& byPlace = index().stampByPlace;
        if (!byDts.empty()) {
            const auto found = std::lower_bound(byDts.begin(), byDts.end(), std::pair(m_packet->dts, INT64_MIN));
            if (found != byDts.end() && found->first == m_packet->dts) m_packet->pts = found->second;
        } else if (!byPlace.empty()) {
            m_packet->pts = byPlace[std::size_t(std::min<std::int64_t>(m_place, std::int64_t(byPlace.size()) - 1))];
        }
        ++m_place;
    }
    avcodec_send_packet(m_decoder.get(), m_packet.get());
    av_packet_unref(m_packet.get());
    return true;
}

// Notes which picture came out. False for one that is there already: after entering, MPEG-2's decoder gives its first
// one twice.
bool PictureDecoder::takeFrame() {
    const auto& stamps = index().stamps;
    auto stamp = stampOf(*m_spare);
    if (stamp == m_at && m_at != nowhere) return false;
    if (stamp == AV_NOPTS_VALUE) { // not told: the next one in the row
        const auto next = std::upper_bound(stamps.begin(), stamps.end(), m_at);
        stamp = next == stamps.end() ? m_at : *next;
    }
    std::swap(m_before, m_frame);
    std::swap(m_frame, m_spare);
    if (!hasItsSize(*m_frame)) bringToSize(m_frame);
    m_beforeAt = m_at;
    m_at = stamp;
    // Torn pictures right after entering are the entry's fault, later ones the file's.
    constexpr int blame = 8;
    if (m_sinceEntry++ < blame && (m_frame->decode_error_flags != 0 || (m_frame->flags & AV_FRAME_FLAG_CORRUPT)))
        m_torn = true;
    else if (m_sinceEntry > blame)
        m_torn = false;
    return true;
}

PictureDecoder::Outcome PictureDecoder::decodeTo(std::int64_t wanted) {
    int failures = 0;
    while (true) {
        const int code = receivePicture(m_decoder.get(), m_spare.get());
        if (code == 0) {
            if (!takeFrame()) continue;
            if (video().still || m_at == wanted) return Outcome::Found;
            if (m_at > wanted) return Outcome::LeftOut;
            continue;
        }
        if (code == AVERROR_EOF || m_ended) return m_at == nowhere ? Outcome::Failed : Outcome::Ended;
        if (code != AVERROR(EAGAIN) && ++failures > 64) return Outcome::Failed;
        if (!nextPacket()) {
            if (m_draining) m_ended = true;
            m_draining = true;
            avcodec_send_packet(m_decoder.get(), nullptr);
        }
    }
}

} // namespace virga::av
