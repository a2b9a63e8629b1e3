#include "core/decode/packet_index.h"

#include <algorithm>
#include <numeric>

namespace virga::av {
namespace {

// What a packet says of itself when it is read.
struct Seen {
    std::int64_t pts, dts;
    bool key, corrupt;
    bool secondField = false; // of the picture before it in the file
    bool startsAnew = false;  // no later picture refers to, or is shown before, anything in front of it
    int order = 0;            // H.264 and H.265: picture order count, from the last packet that starts anew
    bool between = false;     // a B picture of the older codecs: shown at once, others when the next of theirs comes
};

// FFmpeg's parser, asked for what the packets of a stream do not say.
class Parser {
public:
    explicit Parser(const AVStream* stream)
        : m_parser(av_parser_init(stream->codecpar->codec_id)), m_context(avcodec_alloc_context3(nullptr)) {
        if (!m_parser) return;
        avcodec_parameters_to_context(m_context.get(), stream->codecpar);
        m_parser->flags |= PARSER_FLAG_COMPLETE_FRAMES;
    }
    ~Parser() {
        if (m_parser) av_parser_close(m_parser);
    }
    Parser(const Parser&) = delete;
    Parser& operator=(const Parser&) = delete;

    void ask(const AVPacket& packet, Seen& seen) {
        if (!m_parser || packet.size <= 0) return;
        std::uint8_t* data = nullptr;
        int size = 0;
        m_parser->output_picture_number = 0;
        m_parser->picture_structure = AV_PICTURE_STRUCTURE_UNKNOWN;
        av_parser_parse2(m_parser, m_context.get(), &data, &size, packet.data, packet.size, packet.pts, packet.dts,
                         packet.pos);
        seen.order = m_parser->output_picture_number;
        seen.between = m_parser->pict_type == AV_PICTURE_TYPE_B;
        seen.startsAnew = seen.key && seen.order == 0;
        const auto structure = m_parser->picture_structure;
        const bool field =
            structure == AV_PICTURE_STRUCTURE_TOP_FIELD || structure == AV_PICTURE_STRUCTURE_BOTTOM_FIELD;
        seen.secondField = field && m_openField != AV_PICTURE_STRUCTURE_UNKNOWN && m_openField != structure;
        m_openField = field && !seen.secondField ? structure : AV_PICTURE_STRUCTURE_UNKNOWN;
        if (seen.secondField) seen.startsAnew = false;
    }

private:
    AVCodecParserContext* m_parser;
    Owned<AVCodecContext> m_context;
    AVPictureStructure m_openField = AV_PICTURE_STRUCTURE_UNKNOWN;
};

bool hasPictureOrder(AVCodecID codec) {
    return codec == AV_CODEC_ID_H264 || codec == AV_CODEC_ID_HEVC;
}

// The place of each packet's picture among all: by picture order count, each stretch from a packet that starts anew, or
// by kind.
std::vector<std::size_t> shownPlaces(const std::vector<Seen>& seen, AVCodecID codec) {
    std::vector<std::size_t> byOrder(seen.size()), places(seen.size());
    if (!hasPictureOrder(codec)) {
        std::size_t next = 0, waiting = seen.size();
        for (std::size_t i = 0; i < seen.size(); ++i) {
            if (seen[i].between) {
                places[i] = next++;
                continue;
            }
            if (waiting < seen.size()) places[waiting] = next++;
            waiting = i;
        }
        if (waiting < seen.size()) places[waiting] = next;
        return places;
    }
    std::iota(byOrder.begin(), byOrder.end(), 0);
    for (std::size_t from = 0; from < seen.size();) {
        std::size_t to = from + 1;
        while (to < seen.size() && !seen[to].startsAnew) ++to;
        std::stable_sort(byOrder.begin() + std::ptrdiff_t(from), byOrder.begin() + std::ptrdiff_t(to),
                         [&](std::size_t a, std::size_t b) { return seen[a].order < seen[b].order; });
        from = to;
    }
    for (std::size_t i = 0; i < seen.size(); ++i) places[byOrder[i]] = i;
    return places;
}

// Presentation times for a stream that leaves them out. Returned in the packets' order.
std::vector<std::int64_t> madeStamps(const std::vector<Seen>& seen, const AVStream* stream, PacketIndex& index) {
    const bool dated = std::all_of(seen.begin(), seen.end(), [](const Seen& s) { return s.dts != AV_NOPTS_VALUE; });
    std::int64_t step = 1;
    if (!dated) {
        const AVRational rate = stream->avg_frame_rate.num > 0 ? stream->avg_frame_rate : AVRational{25, 1};
        step = std::max<std::int64_t>(1, av_rescale_q(1, av_inv_q(rate), stream->time_base));
    }
    std::vector<std::int64_t> decoding(seen.size()), stamps(seen.size());
    for (std::size_t i = 0; i < seen.size(); ++i) decoding[i] = dated ? seen[i].dts : std::int64_t(i) * step;
    auto shown = decoding;
    std::sort(shown.begin(), shown.end());
    const auto places = shownPlaces(seen, stream->codecpar->codec_id);
    for (std::size_t i = 0; i < seen.size(); ++i) stamps[i] = shown[places[i]];
    const bool unique = std::adjacent_find(shown.begin(), shown.end()) == shown.end();
    if (dated && unique) {
        for (std::size_t i = 0; i < seen.size(); ++i) index.stampByDts.emplace_back(decoding[i], stamps[i]);
        std::sort(index.stampByDts.begin(), index.stampByDts.end());
    } else {
        index.stampByPlace = stamps;
    }
    return stamps;
}

// Feeds the decoder until it gives a picture.
void tryFirst(AVCodecContext* decoder, const AVPacket* packet, AVFrame* first, bool& found) {
    if (found) return;
    avcodec_send_packet(decoder, packet);
    found = receivePicture(decoder, first) == 0;
}

} // namespace

Unpacker::Unpacker(const AVFormatContext* format, const AVStream* stream) {
    if (std::string_view(format->iformat->name) != "avi" || stream->codecpar->codec_id != AV_CODEC_ID_MPEG4) return;
    AVBSFContext* raw = nullptr;
    if (av_bsf_alloc(av_bsf_get_by_name("mpeg4_unpack_bframes"), &raw) < 0) return;
    m_filter.reset(raw);
    if (avcodec_parameters_copy(raw->par_in, stream->codecpar) < 0 || av_bsf_init(raw) < 0) m_filter.reset();
}

bool Unpacker::unpack(AVPacket* packet) {
    if (!m_filter) return true;
    return av_bsf_send_packet(m_filter.get(), packet) >= 0 && av_bsf_receive_packet(m_filter.get(), packet) >= 0;
}

void Unpacker::flush() {
    if (m_filter) av_bsf_flush(m_filter.get());
}

bool isShown(const AVPacket& packet, AVCodecID codec) {
    if (packet.flags & AV_PKT_FLAG_DISCARD) return false; // outside the file's edit list
    // RFC 6386, section 9.1: bit 4 of a frame tag is show_frame; hidden ones are only referred to.
    if (codec == AV_CODEC_ID_VP8 && packet.size > 0 && !(packet.data[0] & 0x10)) return false;
    return true;
}

namespace {

// Why not one picture came out, as far as the file itself tells.
tl::unexpected<Error> notDecoded(const AVFormatContext* format, bool encrypted, const std::string& path) {
    const std::string_view kind = format->iformat->name;
    if (encrypted)
        return fail(ErrorCode::Unsupported, "its pictures are encrypted", path,
                    "use the file that it was made from, without copy protection");
    if (kind == "webp_pipe")
        return fail(ErrorCode::Unsupported, "this is an animated WebP, or a damaged one; animated ones are not read",
                    path, "convert it to a video, a GIF or single pictures");
    if (kind == "psd_pipe")
        return fail(ErrorCode::Unsupported, "this kind of PSD is not read (its colours or compression)", path,
                    "save it flat as PNG or TIFF");
    return fail(ErrorCode::Unreadable, "not one picture in it can be decoded", path,
                "copy it again, or export it again");
}

} // namespace

Expected<PacketIndex> indexPackets(AVFormatContext* format, int stream, AVCodecContext* decoder, AVFrame* first,
                                   const std::string& path, std::size_t most, const Cancel& cancel) {
    PacketIndex index;
    const AVStream* s = format->streams[stream];
    const AVCodecID codec = s->codecpar->codec_id;
    const bool transport = std::string_view(format->iformat->name) == "mpegts";
    std::vector<Seen> seen;
    Parser parser(s);
    Unpacker unpacker(format, s);
    auto packet = makePacket();
    std::int64_t latest = INT64_MIN;
    bool found = false, encrypted = false;
    int code = 0;
    while (seen.size() < most && (code = av_read_frame(format, packet.get())) >= 0) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path);
        if (packet->stream_index == stream &&
            av_packet_get_side_data(packet.get(), AV_PKT_DATA_ENCRYPTION_INFO, nullptr))
            encrypted = true;
        if (packet->stream_index == stream && unpacker.unpack(packet.get())) {
            tryFirst(decoder, packet.get(), first, found);
            if (isShown(*packet, codec)) {
                Seen now{packet->pts, packet->dts, (packet->flags & AV_PKT_FLAG_KEY) != 0,
                         (packet->flags & AV_PKT_FLAG_CORRUPT) != 0};
                parser.ask(*packet, now);
                // Only a part of it is there: no picture. (A transport stream marks a packet that follows a gap.)
                if (now.corrupt && !transport)
                    index.brokenOff = true;
                else if (!now.secondField) {
                    seen.push_back(now);
                    if (now.pts != AV_NOPTS_VALUE && now.pts >= latest)
                        latest = now.pts, index.lastDuration = packet->duration;
                }
            }
        }
        av_packet_unref(packet.get());
    }
    if (code < 0 && code != AVERROR_EOF) index.brokenOff = true;
    while (!found) { // a short file: the decoder holds its pictures until it is told the end
        avcodec_send_packet(decoder, nullptr);
        const int got = receivePicture(decoder, first);
        if (got == AVERROR_EOF || (got < 0 && got != AVERROR(EAGAIN))) break;
        found = got == 0;
    }
    if (seen.empty())
        return fail(ErrorCode::Unreadable, "there is no picture in it", path, "copy it again, or export it again");
    if (!found) return notDecoded(format, encrypted, path);

    const bool stamped = std::all_of(seen.begin(), seen.end(), [](const Seen& p) { return p.pts != AV_NOPTS_VALUE; });
    std::vector<std::int64_t> made;
    if (!stamped) made = madeStamps(seen, s, index);
    const bool byPlace = !index.stampByPlace.empty();
    for (std::size_t i = 0; i < seen.size(); ++i) {
        const auto at = stamped ? seen[i].pts : made[i];
        index.stamps.push_back(at);
        if (seen[i].key && !byPlace) index.entries.push_back({at, seen[i].pts, seen[i].dts});
    }
    std::sort(index.stamps.begin(), index.stamps.end());
    index.stamps.erase(std::unique(index.stamps.begin(), index.stamps.end()), index.stamps.end());
    std::sort(index.entries.begin(), index.entries.end(),
              [](const auto& a, const auto& b) { return a.stamp < b.stamp; });
    // Pictures before the first one that can be decoded were cut off with what they refer to.
    const auto begin = stamped ? stampOf(*first) : made.front();
    if (stamped && begin != AV_NOPTS_VALUE) {
        const auto from = std::lower_bound(index.stamps.begin(), index.stamps.end(), begin);
        if (from != index.stamps.end()) index.stamps.erase(index.stamps.begin(), from);
    }
    if (index.entries.empty() || index.entries.front().stamp > index.stamps.front())
        index.entries.insert(index.entries.begin(), {index.stamps.front(), seen.front().pts, seen.front().dts});

    const Rational tick = toRational(s->time_base);
    const Rational announced[] = {toRational(s->avg_frame_rate), toRational(s->r_frame_rate)};
    index.times = frameTimesOf(index.stamps, tick, index.lastDuration, announced);
    if (s->nb_frames > 0 && std::int64_t(index.stamps.size()) + 2 < s->nb_frames &&
        !(s->disposition & AV_DISPOSITION_ATTACHED_PIC) && s->duration != AV_NOPTS_VALUE &&
        index.stamps.back() - index.stamps.front() < s->duration * 95 / 100)
        index.brokenOff = true;
    return index;
}

} // namespace virga::av
