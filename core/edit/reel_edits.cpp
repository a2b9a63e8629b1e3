#include "core/edit/reel_edits.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/edit/move_edits.h"
#include "core/edit/speed_edits.h"
#include "core/project/beats.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

std::set<int> valid(const Project& project, const std::vector<int>& clips) {
    std::set<int> out;
    for (const int clip : clips)
        if (hasClip(project, clip)) out.insert(clip);
    return out;
}

// One side of a stack as a drift: its keys counted from another frame. Ids are made fresh later.
Stack asDrift(const Stack& stack, Side side, double laterBy) {
    Stack out;
    for (const Move& move : stack) {
        if (!movesOn(move, side) && move.kind != MoveKind::Unknown) continue;
        Move m = move;
        m.clock -= laterBy;
        for (Channel& channel : m.channels) {
            Curve curve = channel.side(side);
            for (Key& key : curve.keys) key.time += laterBy;
            channel.outgoing = {};
            channel.outgoing.space = curve.space;
            channel.incoming = std::move(curve);
        }
        out.push_back(std::move(m));
    }
    return out;
}

bool reachesPast(const Stack& stack, Side side, double time) {
    for (const Move& move : stack) {
        const auto& info = moveInfo(move.kind).channels;
        for (std::size_t c = 0; c < move.channels.size() && c < info.size(); ++c) {
            const auto& keys = move.channels[c].side(side).keys;
            if (keys.empty()) continue;
            // A curve that ends elsewhere than at rest holds that value on and on.
            if (side == Side::Incoming ? keys.back().time > time || keys.back().value != info[c].neutral
                                       : keys.front().time < time || keys.front().value != info[c].neutral)
                return true;
        }
    }
    return false;
}

void freshIds(Project& project, Stack& stack) {
    for (Move& move : stack) {
        move.id.clear();
        move.id = freshId(project, "move-");
        // Seen by the next freshId because the stack already belongs to the project.
    }
}

void joinGaps(Project& project) {
    auto& reel = project.reel;
    for (std::size_t i = 1; i < reel.size();) {
        const auto& now = std::as_const(reel);
        if (now[i].isGap() && now[i - 1].isGap()) {
            reel[i - 1].length += now[i].length;
            reel.erase(reel.begin() + std::ptrdiff_t(i));
        } else {
            ++i;
        }
    }
    while (!reel.empty() && std::as_const(reel).back().isGap()) reel.pop_back();
}

} // namespace

Project withSplit(const Project& project, std::int64_t frame) {
    const int index = clipAt(project, frame);
    if (index < 0) return project;
    const auto first = frame - clipStart(project, index);
    if (first <= 0) return project;
    Project out = project;
    Clip& left = out.reel[std::size_t(index)];
    Clip right = withHeadCut(project, left, first);
    right.id = freshId(project, "clip-");
    right.transition = {};
    right.drift = asDrift(left.drift, Side::Incoming, -double(first));
    if (index > 0 && reachesPast(left.transition.moves, Side::Incoming, double(first))) {
        const Stack rest = asDrift(left.transition.moves, Side::Incoming, -double(first));
        right.drift.insert(right.drift.end(), rest.begin(), rest.end());
    }
    if (index + 1 < int(project.reel.size())) {
        const Stack& leaving = project.reel[std::size_t(index) + 1].transition.moves;
        if (reachesPast(leaving, Side::Outgoing, -double(right.length))) {
            const Stack begun = asDrift(leaving, Side::Outgoing, double(left.length));
            left.drift.insert(left.drift.end(), begun.begin(), begun.end());
        }
    }
    left = withTailCut(std::move(left), right.length);
    out.reel.insert(out.reel.begin() + index + 1, std::move(right));
    freshIds(out, out.reel[std::size_t(index) + 1].drift);
    freshIds(out, out.reel[std::size_t(index)].drift);
    return out;
}

std::int64_t rollable(const Project& project, int cut, std::int64_t frames) {
    if (!hasCut(project, cut)) return 0;
    const Clip& out = project.reel[std::size_t(cut)];
    const Clip& in = project.reel[std::size_t(cut) + 1];
    const auto later = std::min(spareFrames(project, out).after, in.length - 1);
    const auto earlier = std::min(spareFrames(project, in).before, out.length - 1);
    return std::clamp(frames, -earlier, later);
}

Project withCutRolled(const Project& project, int cut, std::int64_t frames) {
    frames = rollable(project, cut, frames);
    if (frames == 0) return project;
    Project out = project;
    Clip &before = out.reel[std::size_t(cut)], &behind = out.reel[std::size_t(cut) + 1];
    before = withTailRolled(std::move(before), -frames);
    behind = withHeadRolled(project, std::move(behind), frames);
    return out;
}

Project withClipSlipped(const Project& project, int clip, std::int64_t frames) {
    if (!hasClip(project, clip)) return project;
    Project out = project;
    Clip& c = out.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    if (!media || media->still) return project;
    const ClipTime time(project, c);
    if (time.isConstant()) {
        const Spare spare = time.spare();
        frames = std::clamp(frames, -spare.before, spare.after);
        c.sourceIn = time.at(frames);
        return out;
    }
    // Along a curve a frame is one at the speed it was shot at.
    const auto used = time.used();
    const auto least = Rational(0) - std::max(Rational(0), used.from),
               most = std::max(Rational(0), media->duration - used.to);
    c.sourceIn = c.sourceIn + std::clamp(secondsOfFrame(frames, project.settings.rate), least, most);
    return out;
}

Project withLength(const Project& project, int clip, std::int64_t frames) {
    if (!hasClip(project, clip)) return project;
    return withClipTrimmed(project, clip, Edge::Tail, frames - project.reel[std::size_t(clip)].length);
}

Project withSpeed(const Project& project, int clip, Rational speed) {
    if (!hasClip(project, clip)) return project;
    Project out = project;
    Clip& c = out.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    speed = std::clamp(speed, Rational(0) - fastestSpeed, fastestSpeed);
    if (!media || media->still || (speed == c.speed && !hasSpeedKeys(c))) return project;
    c = atConstantSpeed(project, std::move(c), speed);
    return out;
}

Project withoutClips(const Project& project, const std::vector<int>& clips) {
    const auto gone = valid(project, clips);
    Project out = project;
    for (auto i = gone.rbegin(); i != gone.rend(); ++i) out.reel.erase(out.reel.begin() + *i);
    return out;
}

Project withClipsLifted(const Project& project, const std::vector<int>& clips) {
    Project out = project;
    for (const int i : valid(project, clips)) {
        Clip& clip = out.reel[std::size_t(i)];
        Clip gap;
        gap.id = clip.id;
        gap.length = clip.length;
        clip = std::move(gap);
    }
    joinGaps(out);
    return out;
}

Project withGap(const Project& project, int at, std::int64_t frames) {
    if (frames < 1) return project;
    Clip gap;
    gap.length = frames;
    Project out = withClip(project, at, std::move(gap));
    joinGaps(out);
    return out;
}

Project withClipsMoved(const Project& project, const std::vector<int>& clips, int to, int* place) {
    const auto moving = valid(project, clips);
    if (moving.empty() || to < 0 || to > int(project.reel.size())) return project;
    Project out = project;
    out.reel.clear();
    SharedList<Clip> taken;
    int at = to;
    for (int i = 0; i < int(project.reel.size()); ++i) {
        if (moving.contains(i)) {
            taken.push_back(project.reel[std::size_t(i)]);
            if (i < to) --at;
        } else {
            out.reel.push_back(project.reel[std::size_t(i)]);
        }
    }
    out.reel.insert(out.reel.begin() + at, taken.begin(), taken.end());
    if (place) *place = at;
    return out;
}

Project withClipsInserted(const Project& project, const SharedList<Clip>& clips, int to) {
    Project out = project;
    to = std::clamp(to, 0, int(project.reel.size()));
    for (Clip clip : clips) {
        clip.id = freshId(out, "clip-");
        out.reel.insert(out.reel.begin() + to, std::move(clip));
        Clip& now = out.reel[std::size_t(to)];
        freshIds(out, now.drift);
        freshIds(out, now.transition.moves);
        ++to;
    }
    return out;
}

Spread cutToBeats(const Project& project, const std::vector<int>& clips, int everyBeats) {
    Spread spread{project, {}};
    if (!hasBeats(project) || everyBeats < 1) return spread;
    for (const int i : valid(project, clips)) {
        const auto start = clipStart(spread.project, i);
        const int beat = beatAtFrame(project, start);
        bool reached = false;
        for (int n = everyBeats; n >= 1 && !reached; --n) {
            const auto end = beatFrame(project, beat + n);
            if (end <= start) continue;
            const Project next = withLength(spread.project, i, end - start);
            if (next.reel[std::size_t(i)].length != end - start) continue;
            spread.project = next;
            reached = true;
            if (n < everyBeats) spread.tooShort.push_back(i);
        }
        if (!reached) spread.tooShort.push_back(i);
    }
    return spread;
}

Project withCascade(const Project& project, const std::vector<int>& clips, std::int64_t apart, std::int64_t slideFrames,
                    Direction direction) {
    auto chosen = valid(project, clips);
    if (chosen.size() < 2 || apart < 1 || slideFrames < 1) return project;
    // They are put side by side first, where the first of them is.
    int place = *chosen.begin();
    Project out = withClipsMoved(project, clips, place, &place);
    const int last = place + int(chosen.size()) - 1;
    for (int i = place; i < last; ++i) {
        out = withLength(out, i, apart);
        // Those beneath stay until the last one has covered them.
        const auto covered = (last - i - 1) * apart + slideFrames;
        out = withOverlap(out, i, {0, covered}, Side::Incoming);
        Transition transition = transitionAt(out, i);
        erase_if(transition.moves, [](const Move& m) { return m.kind == MoveKind::Slide; });
        out = withTransition(out, i, transition);
        out = withMoveAdded(out, i, MoveKind::Slide);
        const int move = int(transitionAt(out, i).moves.size()) - 1;
        const bool across = direction == Direction::Right || direction == Direction::Left;
        const double from = direction == Direction::Right || direction == Direction::Down ? -1 : 1;
        out = withCurve(out, {i, move, across ? 0 : 1, Side::Incoming},
                        twoKeys(Space::Linear, 0, from, double(slideFrames), 0, arrivingShape()));
        out.reel[std::size_t(i) + 1].transition.alone = true; // its copies would cover what lies beneath
    }
    return out;
}

Project withOverlap(const Project& project, int cut, Overlap overlap, Side top) {
    if (!hasCut(project, cut)) return project;
    Project out = project;
    Transition& transition = out.reel[std::size_t(cut) + 1].transition;
    transition.overlap = {std::max<std::int64_t>(0, overlap.before), std::max<std::int64_t>(0, overlap.after)};
    transition.top = top;
    return out;
}

Project withCrossfade(const Project& project, int cut, std::int64_t frames) {
    if (!hasCut(project, cut)) return project;
    frames = std::max<std::int64_t>(0, frames);
    const auto out = spareFrames(project, project.reel[std::size_t(cut)]).after;
    const auto in = spareFrames(project, project.reel[std::size_t(cut) + 1]).before;
    Overlap overlap;
    overlap.before = std::min(in, frames / 2);
    overlap.after = std::min(out, frames - overlap.before);
    overlap.before = std::min(in, frames - overlap.after);
    Project next = withOverlap(project, cut, overlap, Side::Incoming);
    Transition transition = transitionAt(next, cut);
    erase_if(transition.moves, [](const Move& m) { return m.kind == MoveKind::Fade; });
    next = withTransition(next, cut, transition);
    if (overlap.isEmpty()) return next;
    next = withMoveAdded(next, cut, MoveKind::Fade);
    const int move = int(transitionAt(next, cut).moves.size()) - 1;
    return withCurve(next, {cut, move, 0, Side::Incoming},
                     twoKeys(Space::Linear, -double(overlap.before), 0, double(overlap.after), 1,
                             Shape{Interpolation::Linear, 0, 0, 1, 1}));
}

Project withMediaProbed(const Project& project, const std::string& id, Media probed) {
    const Media* old = findMedia(project, id);
    if (!old) return project;
    const Rational shift = old->timecode - probed.timecode;
    Project out = project;
    if (shift != Rational(0))
        for (Clip& c : out.reel)
            if (c.mediaId == id && c.sourceIn + shift >= Rational(0)) c.sourceIn = c.sourceIn + shift;
    return withMediaRelinked(out, id, std::move(probed));
}

} // namespace virga
