#include "core/edit/piece_edits.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "core/curve/curve_edit.h"

namespace virga {
namespace {

class Retimer {
public:
    explicit Retimer(Rational factor) : m_exact(factor), m_factor(factor.toDouble()) {}
    /// A place on the reel.
    std::int64_t place(std::int64_t frame) const { return roundToInteger(Rational(frame) * m_exact); }
    /// A span between two places.
    std::int64_t span(std::int64_t start, std::int64_t length) const {
        return std::max<std::int64_t>(1, place(start + length) - place(start));
    }
    /// A count that may be none.
    std::int64_t count(std::int64_t frames) const { return frames == 0 ? 0 : std::max<std::int64_t>(1, place(frames)); }
    /// `ends`: how many frames after its origin what each side moves is gone, at the new rate.
    struct Ends {
        std::int64_t outgoing = 0, incoming = 0;
    };
    void stack(Stack& stack, Ends ends) const {
        for (Move& move : stack) {
            move.clock *= m_factor;
            const MoveInfo& info = moveInfo(move.kind);
            for (std::size_t c = 0; c < move.channels.size(); ++c)
                for (const Side side : {Side::Outgoing, Side::Incoming}) {
                    Curve& curve = move.channels[c].side(side);
                    for (Key& key : curve.keys) key.time *= m_factor; // reach is a share, rise no time: shapes stay
                    if (info.role != MoveRole::Movement || move.holds || c >= info.channels.size()) continue;
                    curve = withRunOnToEnd(curve, double(side == Side::Outgoing ? ends.outgoing : ends.incoming),
                                           m_factor, info.channels[c].lowest, info.channels[c].highest);
                }
        }
    }
    /// `past`: frames that the next cut's overlap keeps it on screen after its end.
    void clip(Clip& clip, std::int64_t past = 0) const {
        clip.transition.overlap = {count(clip.transition.overlap.before), count(clip.transition.overlap.after)};
        stack(clip.drift, {0, clip.length + past});
        stack(clip.transition.moves, {clip.transition.overlap.after, clip.length + past});
        if (auto& link = clip.transition.link) {
            link->use.byTime = true; // or its recipe would take as many frames as before
            for (int* frames : {&link->use.framesOut, &link->use.framesIn, &link->use.step})
                *frames = int(count(*frames));
        }
    }

private:
    Rational m_exact;
    double m_factor;
};

} // namespace

Project withRate(const Project& project, FrameRate rate) {
    if (rate == project.settings.rate || !(rate > Rational(0))) return project;
    Project out = project;
    const Retimer retimed(rate / project.settings.rate);
    out.settings.rate = rate;
    if (out.settings.startFrame) out.settings.startFrame = retimed.place(*out.settings.startFrame);
    std::int64_t at = 0;
    for (std::size_t i = 0; i < out.reel.size(); ++i) {
        Clip& clip = out.reel[i];
        const std::int64_t length = clip.length;
        clip.length = retimed.span(at, length);
        at += length;
        retimed.clip(clip, i + 1 < out.reel.size() ? retimed.count(out.reel[i + 1].transition.overlap.after) : 0);
    }
    for (Overlay& overlay : out.overlays) {
        overlay.clip.length = retimed.span(overlay.start, overlay.clip.length);
        overlay.start = retimed.place(overlay.start);
        retimed.clip(overlay.clip);
    }
    for (Adjustment& a : out.adjustments) {
        a.length = retimed.span(a.start, a.length);
        a.start = retimed.place(a.start);
        retimed.stack(a.moves, {0, a.length});
    }
    for (Marker& marker : out.markers) marker.frame = retimed.place(marker.frame);
    for (Music& music : out.music) {
        if (music.length > 0) music.length = retimed.span(music.start, music.length);
        music.start = retimed.place(music.start);
        music.fadeIn = retimed.count(music.fadeIn), music.fadeOut = retimed.count(music.fadeOut);
    }
    return out;
}

Project withPieceSettings(const Project& project, const Settings& settings) {
    Project out = withRate(project, settings.rate);
    const auto start = out.settings.startFrame;
    out.settings = settings;
    if (settings.startFrame == project.settings.startFrame) out.settings.startFrame = start;
    return out;
}

PieceFormat formatOf(const SharedList<Media>& media, const PieceFormat& now) {
    // Stills ask for no rate, and for a size only where there is nothing else.
    std::map<std::pair<int, int>, double> sizes;
    std::map<std::pair<std::int64_t, std::int64_t>, double> rates;
    for (const Media& m : media) {
        if (!m.hasPicture()) continue;
        const double seconds = m.still ? 0.01 : std::max(0.01, m.duration.toDouble());
        sizes[{m.size.width, m.size.height}] += seconds;
        if (!m.still) rates[{m.rate.num, m.rate.den}] += seconds;
    }
    // Of several that are as long the first one counts.
    PieceFormat format = now;
    double bestSize = 0, bestRate = 0;
    const auto even = [](int side) { return std::clamp(side + side % 2, 16, 8192); };
    for (const Media& m : media) {
        if (!m.hasPicture()) continue;
        if (const double sum = sizes[{m.size.width, m.size.height}]; sum > bestSize)
            bestSize = sum, format.size = {even(m.size.width), even(m.size.height)};
        if (m.still || !isUsableRate(m.rate)) continue;
        if (const double sum = rates[{m.rate.num, m.rate.den}]; sum > bestRate) bestRate = sum, format.rate = m.rate;
    }
    return format;
}

} // namespace virga
