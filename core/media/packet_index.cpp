#include "core/media/packet_index.h"

#include <algorithm>

namespace virga::av {

Expected<PacketIndex> indexPackets(AVFormatContext* format, int stream, const std::string& path, const Cancel& cancel) {
    PacketIndex index;
    AVStream* s = format->streams[stream];
    auto packet = makePacket();
    std::int64_t lastDuration = 0, running = 0;
    int code = 0;
    while ((code = av_read_frame(format, packet.get())) >= 0) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped", path);
        if (packet->stream_index == stream && !(packet->flags & AV_PKT_FLAG_DISCARD)) {
            if (packet->flags & AV_PKT_FLAG_CORRUPT) { // only a part of it is there: no picture
                index.brokenOff = true;
                av_packet_unref(packet.get());
                continue;
            }
            if (packet->pts == AV_NOPTS_VALUE) index.stamped = false;
            std::int64_t at = packet->pts != AV_NOPTS_VALUE ? packet->pts : packet->dts;
            if (at == AV_NOPTS_VALUE) at = running;
            running = at + std::max<std::int64_t>(packet->duration, 1);
            index.times.push_back(at);
            if (packet->flags & AV_PKT_FLAG_KEY) index.keys.push_back(at);
            if (index.end <= at) index.end = at, lastDuration = packet->duration;
        }
        av_packet_unref(packet.get());
    }
    if (code != AVERROR_EOF) index.brokenOff = true;
    const auto tidy = [](std::vector<std::int64_t>& v) {
        std::sort(v.begin(), v.end());
        v.erase(std::unique(v.begin(), v.end()), v.end());
    };
    tidy(index.times);
    tidy(index.keys);
    if (index.times.empty())
        return fail(ErrorCode::Unreadable, "there is no picture in it", path, "copy it again, or export it again");
    if (s->nb_frames > 0 && std::int64_t(index.times.size()) + 2 < s->nb_frames &&
        !(s->disposition & AV_DISPOSITION_ATTACHED_PIC) && s->duration != AV_NOPTS_VALUE &&
        index.times.back() - index.times.front() < s->duration * 95 / 100)
        index.brokenOff = true;
    // With reordered pictures and no times, a key frame's packet stands before its place in the row: only counting from
    // the very start is sure.
    if (!index.stamped && s->codecpar->video_delay > 0) index.keys = {index.times.front()};
    for (std::size_t i = 1; i < index.times.size(); ++i) {
        const auto gap = index.times[i] - index.times[i - 1];
        index.longest = std::max(index.longest, gap);
        index.shortest = index.shortest == 0 ? gap : std::min(index.shortest, gap);
    }
    if (lastDuration <= 0)
        lastDuration = index.times.size() > 1
                           ? (index.times.back() - index.times.front()) / std::int64_t(index.times.size() - 1)
                           : 1;
    index.end = index.times.back() + lastDuration;
    return index;
}

} // namespace virga::av
