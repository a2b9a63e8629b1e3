#include "core/edit/project_patch.h"

#include <algorithm>
#include <cassert>

namespace virga {

namespace {

std::size_t bytesOf(const std::string& text) {
    return text.capacity() > 15 ? text.capacity() : 0;
}

std::size_t bytesOf(const Channel& channel) {
    return sizeof(Channel) + (channel.outgoing.keys.capacity() + channel.incoming.keys.capacity()) * sizeof(Key);
}

std::size_t bytesOf(const Stack& stack) {
    std::size_t bytes = 0;
    for (const Move& move : stack) {
        bytes += sizeof(Move) + bytesOf(move.id) + bytesOf(move.kindName);
        for (const Channel& channel : move.channels) bytes += bytesOf(channel);
    }
    return bytes;
}

} // namespace

std::size_t bytesOf(const Clip& clip) {
    return sizeof(Clip) + bytesOf(clip.id) + bytesOf(clip.mediaId) + bytesOf(clip.name) + bytesOf(clip.speedCurve) +
           clip.pins.capacity() * sizeof(Pin) + bytesOf(clip.drift) + bytesOf(clip.transition.moves);
}

ProjectPatch::ProjectPatch(const Project& before, const Project& after) {
    const auto& a = before.reel;
    const auto& b = after.reel;
    const std::size_t most = std::min(a.size(), b.size());
    while (m_kept < most && isSame(a[m_kept], b[m_kept])) ++m_kept;
    std::size_t end = 0; // clips at the end that are the same
    while (end < most - m_kept && isSame(a[a.size() - 1 - end], b[b.size() - 1 - end])) ++end;
    m_before.clips.assign(a.begin() + long(m_kept), a.end() - long(end));
    m_after.clips.assign(b.begin() + long(m_kept), b.end() - long(end));
    m_bytes = sizeof(*this);
    for (const Side* side : {&m_before, &m_after})
        for (const Clip& clip : side->clips) m_bytes += bytesOf(clip);
    const auto keep = [this](auto Side::*field, const auto& was, const auto& is) {
        if (was == is) return;
        m_before.*field = was;
        m_after.*field = is;
        if constexpr (requires {
                          was.capacity();
                          was.front();
                      })
            m_bytes += (was.size() + is.size()) * (sizeof(was.front()) + 64); // with the text that they hold
    };
    keep(&Side::name, before.name, after.name);
    keep(&Side::settings, before.settings, after.settings);
    keep(&Side::media, before.media, after.media);
    keep(&Side::overlays, before.overlays, after.overlays);
    keep(&Side::adjustments, before.adjustments, after.adjustments);
    keep(&Side::music, before.music, after.music);
    keep(&Side::markers, before.markers, after.markers);
    keep(&Side::recipes, before.recipes, after.recipes);
    keep(&Side::notes, before.notes, after.notes);
}

Project ProjectPatch::put(Project into, const Side& leaving, const Side& coming) const {
    auto& reel = into.reel;
    assert(reel.size() >= m_kept + leaving.clips.size());
    const auto from = reel.begin() + long(std::min(m_kept, reel.size()));
    const auto to = from + long(std::min(leaving.clips.size(), std::size_t(reel.end() - from)));
    reel.insert(reel.erase(from, to), coming.clips.begin(), coming.clips.end());
    const auto take = [](auto& field, const auto& kept) {
        if (kept) field = *kept;
    };
    take(into.name, coming.name);
    take(into.settings, coming.settings);
    take(into.media, coming.media);
    take(into.overlays, coming.overlays);
    take(into.adjustments, coming.adjustments);
    take(into.music, coming.music);
    take(into.markers, coming.markers);
    take(into.recipes, coming.recipes);
    take(into.notes, coming.notes);
    return into;
}

Project ProjectPatch::back(Project after) const {
    return put(std::move(after), m_after, m_before);
}

Project ProjectPatch::forth(Project before) const {
    return put(std::move(before), m_before, m_after);
}

} // namespace virga
