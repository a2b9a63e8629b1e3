#include "core/analysis/follow_subject.h"

#include <algorithm>
#include <map>

#include "core/analysis/follower.h"
#include "core/analysis/spot.h"
#include "core/decode/video_reader.h"

namespace virga {
namespace {

constexpr std::int64_t chunk = 48; // pictures read at once, so that going back decodes nothing twice
constexpr std::int64_t mostPictures = 3000;

// Grey pictures of a file, a chunk of them kept.
class Pictures {
public:
    Pictures(VideoReader& reader, std::int64_t first, std::int64_t last)
        : m_reader(reader), m_first(first), m_last(last) {}
    Expected<Grey> at(std::int64_t index) {
        if (const auto kept = m_kept.find(index); kept != m_kept.end()) return kept->second;
        m_kept.clear();
        const std::int64_t from = m_first + (index - m_first) / chunk * chunk, to = std::min(m_last, from + chunk - 1);
        for (std::int64_t i = from; i <= to; ++i) {
            auto picture = m_reader.readGrey(i);
            if (!picture) return tl::unexpected(picture.error());
            m_kept[i] = std::move(*picture);
        }
        return m_kept.at(index);
    }

private:
    VideoReader& m_reader;
    std::int64_t m_first, m_last;
    std::map<std::int64_t, Grey> m_kept;
};

} // namespace

Expected<FollowedSubject> followSubject(const Project& project, int clipIndex, Side side,
                                        const std::function<void(double)>& report, const Cancel& cancel) {
    const Clip& clip = project.reel[std::size_t(clipIndex)];
    const auto& set = side == Side::Outgoing ? clip.subjectOut : clip.subjectIn;
    const Media* media = findMedia(project, clip.mediaId);
    if (!set || !media)
        return fail(ErrorCode::BadInput, "no subject is set", clip.name, "put its mark on what is to be followed");
    FollowedSubject done{*set, 1, -1};
    if (media->still) return done;
    auto reader = VideoReader::open(media->path, cancel, clip.deinterlace);
    if (!reader) return tl::unexpected(reader.error());
    const auto indexOfFrame = [&](std::int64_t frame) {
        return (*reader)->indexAt(sourceTime(project, clip, std::clamp<std::int64_t>(frame, 0, clip.length - 1)));
    };
    const std::int64_t face = indexOfFrame(side == Side::Outgoing ? clip.length - 1 : 0);
    std::int64_t first = indexOfFrame(0), last = indexOfFrame(clip.length - 1);
    first = std::max(first, face - mostPictures + 1), last = std::min(last, face + mostPictures - 1);
    done.pictures = last - first + 1;
    // By picture: where it was set by hand.
    std::map<std::int64_t, SubjectSpot> byHand;
    for (const SubjectSpot& spot : set->path)
        if (spot.byHand)
            if (const std::int64_t i = (*reader)->indexAt(spot.time); i >= first && i <= last) byHand[i] = spot;
    if (byHand.empty()) byHand[face] = spotAt(*set, (*reader)->timeOf(face));
    for (auto& [index, spot] : byHand) spot = uncropped(spot, clip.crop), spot.byHand = true;

    Pictures pictures(**reader, first, last);
    std::map<std::int64_t, SubjectSpot> forward, backward;
    std::int64_t steps = 0;
    const auto run = [&](std::map<std::int64_t, SubjectSpot>& to, std::int64_t from, const SubjectSpot& start,
                         std::int64_t end) -> Expected<void> {
        const std::int64_t by = end > from ? 1 : -1;
        auto picture = pictures.at(from);
        if (!picture) return tl::unexpected(picture.error());
        Follower follower(std::move(*picture), start);
        for (std::int64_t i = from + by; (end - i) * by >= 0; i += by) {
            if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
            picture = pictures.at(i);
            if (!picture) return tl::unexpected(picture.error());
            const auto spot = follower.next(std::move(*picture));
            if (!spot) break;
            to[i] = *spot;
            report(std::min(1.0, double(++steps) / double(std::max<std::int64_t>(1, 2 * (last - first)))));
        }
        return {};
    };
    for (auto at = byHand.begin(); at != byHand.end(); ++at) {
        const auto after = std::next(at);
        const std::int64_t to = after == byHand.end() ? last : after->first - 1;
        if (to > at->first)
            if (auto ran = run(forward, at->first, at->second, to); !ran) return tl::unexpected(ran.error());
        const std::int64_t from = at == byHand.begin() ? first : std::prev(at)->first + 1;
        if (from < at->first)
            if (auto ran = run(backward, at->first, at->second, from); !ran) return tl::unexpected(ran.error());
    }
    done.subject.path.clear();
    std::int64_t lost = -1;
    for (std::int64_t i = first; i <= last; ++i) {
        std::optional<SubjectSpot> spot;
        const auto f = forward.find(i), b = backward.find(i);
        if (const auto hand = byHand.find(i); hand != byHand.end()) {
            spot = hand->second;
        } else if (f != forward.end() && b != backward.end()) {
            const auto next = byHand.upper_bound(i);
            const std::int64_t from = std::prev(next)->first;
            const double part = double(i - from) / double(next->first - from);
            spot = f->second;
            spot->at += (b->second.at - spot->at) * part;
            spot->size += (b->second.size - spot->size) * part;
            spot->angle += std::remainder(b->second.angle - spot->angle, 360.0) * part;
        } else if (f != forward.end()) {
            spot = f->second;
        } else if (b != backward.end()) {
            spot = b->second;
        }
        if (!spot) {
            if (lost < 0 || i < byHand.begin()->first) lost = i; // the last one before it, or the first behind it
            continue;
        }
        spot->time = (*reader)->timeOf(i);
        done.subject.path.push_back(cropped(*spot, clip.crop));
    }
    if (lost >= 0)
        for (std::int64_t n = 0; n < clip.length; ++n)
            if (indexOfFrame(n) >= lost) {
                done.lostAt = n;
                break;
            }
    return done;
}

} // namespace virga
