// Findings about single clips, and about a clip or a cut as a part of the whole reel.
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/check/checks.h"
#include "core/edit/continue_move.h"
#include "core/edit/edge_fixes.h"
#include "core/edit/edits.h"
#include "core/edit/key_fixes.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "core/project/beats.h"
#include "core/project/clip_time.h"

namespace virga {

Finding clipFinding(const Project& project, int clip, std::string name, Severity severity, std::int64_t frame,
                    std::string title, std::string detail) {
    Finding f;
    f.name = std::move(name);
    f.severity = severity;
    f.place = {FlowPlace::Clip, project.reel[std::size_t(clip)].id};
    f.frame = frame;
    f.title = std::move(title);
    f.detail = std::move(detail);
    return f;
}

std::string calledInFindings(const Project& project, int clip) {
    const std::string& name = project.reel[std::size_t(clip)].name;
    return name.empty() ? "The shot" : name;
}

namespace {

// Calls `see` with every run of frames that have the same facts, [from, to).
template <typename See> void eachRun(const ClipFacts& facts, const See& see) {
    const auto& runs = facts.runs();
    for (std::size_t i = 0; i < runs.size(); ++i)
        see(runs[i].first, i + 1 < runs.size() ? runs[i + 1].first : facts.length(), runs[i].facts);
}

} // namespace

void checkMagnified(const Project& project, int clip, ClipFlow& flow) {
    const Clip& c = project.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    if (!media || !media->hasPicture()) return;
    const FlowLimits& limits = project.settings.flow;
    std::int64_t count = 0, worst = 0;
    double most = 0;
    eachRun(flow.facts, [&](std::int64_t from, std::int64_t to, const FrameFacts& f) {
        if (f.magnified <= limits.magnified || f.speed >= limits.magnifiedSpeed) return;
        count += to - from;
        if (f.magnified > most) most = f.magnified, worst = from;
    });
    if (count <= limits.magnifiedFrames) return;
    const FlowPlace place{FlowPlace::Clip, c.id};
    Finding f =
        clipFinding(project, clip, "magnified", Severity::WorthALook, worst,
                    fmt::format("{} is enlarged {:.1f}× beyond its pixels", calledInFindings(project, clip), most),
                    fmt::format("Its {} × {} pixels are seen so large for {}, slowly enough to look soft.",
                                media->size.width, media->size.height, framesText(count)));
    f.weight = most;
    const double factor = 0.999 * limits.magnified / most;
    if (enlargedByZooms(project, clip, worst) * factor >= 1) // its zooms are what does it
        f.fixes = {fixOf(fmt::format("Zoom no farther than {:.1f}×", limits.magnified), place,
                         [factor](const Project& p, int i) { return withZoomLimited(p, i, factor); })};
    flow.findings.push_back(std::move(f));
}

void checkDrift(const Project& project, int clip, ClipFlow& flow) {
    const Clip& c = project.reel[std::size_t(clip)];
    for (int m = 0; m < int(c.drift.size()); ++m) {
        const Move& move = c.drift[std::size_t(m)];
        const MoveInfo& info = moveInfo(move.kind);
        for (std::size_t ch = 0; ch < move.channels.size(); ++ch) {
            const auto& keys = move.channels[ch].incoming.keys;
            if (keys.size() < 2 || info.role != MoveRole::Movement || !isOn(c.drift, move)) continue;
            if (keys.back().time <= double(c.length) + 0.5) continue;
            Finding f = clipFinding(
                project, clip, fmt::format("outside:{} drift", info.channels[ch].label), Severity::WorthALook,
                c.length - 1, fmt::format("{} of its drift ends outside the shot", info.channels[ch].label),
                fmt::format("It takes {:.0f} frames, the shot has {}.", keys.back().time, c.length));
            f.weight = keys.back().time - double(c.length);
            f.fixes = {fixOf("Fit it into the shot", f.place, [m, ch](const Project& p, int i) -> Expected<Project> {
                return withDriftFitted(p, i, m, int(ch));
            })};
            flow.findings.push_back(std::move(f));
        }
    }
}

void checkSource(const Project& project, int clip, ClipFlow& flow) {
    const Clip& c = project.reel[std::size_t(clip)];
    const Media* media = findMedia(project, c.mediaId);
    if (!media || media->still || !media->hasPicture() || media->duration <= Rational(0)) return;
    const auto out = ClipTime(project, c).runsOut();
    if (!out) return;
    const std::int64_t there = *out;
    Finding f = clipFinding(
        project, clip, "source-ends", Severity::Breaks, there,
        fmt::format("{} runs out {} before its end", calledInFindings(project, clip), framesText(c.length - there)),
        fmt::format("At its speed its file lasts for {}, the clip takes {}; the rest stands still.", framesText(there),
                    c.length));
    f.weight = double(c.length - there);
    if (there > 0)
        f.fixes = {fixOf("Shorten the clip", f.place, [](const Project& p, int i) -> Expected<Project> {
            const Clip& now = p.reel[std::size_t(i)];
            const auto lasts = ClipTime(p, now).runsOut();
            if (!lasts || *lasts < 1) return p;
            return withClipChanged(p, i, withTailCut(now, now.length - *lasts));
        })};
    const Rational early = ClipTime(project, c).used().to - media->duration;
    if (c.sourceIn > Rational(0) && early > Rational(0) && early <= c.sourceIn)
        f.fixes.push_back(fixOf("Begin earlier in the shot", f.place, [](const Project& p, int i) -> Expected<Project> {
            Clip now = p.reel[std::size_t(i)];
            const Media* m = findMedia(p, now.mediaId);
            if (m) now.sourceIn = std::max(Rational(0), now.sourceIn - (ClipTime(p, now).used().to - m->duration));
            return withClipChanged(p, i, now);
        }));
    if (const auto ramp = rampOf(c, Side::Outgoing); ramp && ramp->to > ramp->from)
        f.fixes.push_back(fixOf("A slower ramp", f.place, [](const Project& p, int i) -> Expected<Project> {
            return withClipChanged(p, i, withRampThatLasts(p, p.reel[std::size_t(i)]));
        }));
    flow.findings.push_back(std::move(f));
}

void checkGuessed(const Project& project, int clip, ClipFlow& flow) {
    const Clip& c = project.reel[std::size_t(clip)];
    if (!c.guess || c.inBetween != InBetween::MadeUp || c.guess->share <= project.settings.flow.guessed) return;
    if (c.guess->frame >= c.length) return;
    Finding f =
        clipFinding(project, clip, "guessed", Severity::WorthALook, c.guess->frame,
                    fmt::format("Made-up pictures of {} are guessed in part", calledInFindings(project, clip)),
                    fmt::format("At its frame {}, {:.0f} % of the picture could not be followed from one picture "
                                "that was filmed to the next.",
                                c.guess->frame, c.guess->share * 100));
    f.weight = c.guess->share;
    const auto other = [&](const char* label, InBetween way) {
        return fixOf(label, f.place, [way](const Project& p, int i) -> Expected<Project> {
            Clip now = p.reel[std::size_t(i)];
            now.inBetween = way;
            return withClipChanged(p, i, now);
        });
    };
    f.fixes = {other("Mix them instead", InBetween::Mix), other("Repeat those that were filmed", InBetween::Nearest)};
    flow.findings.push_back(std::move(f));
}

ReelContext::ReelContext(const Project& p, const ReelIndex& i,
                         const std::vector<std::shared_ptr<const ClipFlow>>& clips)
    : project(p), index(i) {
    for (std::size_t c = 0; c < clips.size(); ++c) {
        const ClipFacts& f = clips[c]->facts;
        facts.push_back(&f);
        if (f.firstMoving() < 0) continue;
        if (firstMove < 0) firstMove = index.starts[c] + f.firstMoving();
        lastMove = index.starts[c] + f.lastMoving();
    }
    if (!hasBeats(p) || cutCount(p) < 2) return;
    int on = 0;
    for (int cut = 0; cut < cutCount(p); ++cut) {
        const std::int64_t at = index.starts[std::size_t(cut) + 1];
        on += beatFrame(p, beatAtFrame(p, at)) == at;
    }
    onBeats = 2 * on >= cutCount(p);
}

void checkBeat(const ReelContext& reel, int cut, std::vector<Finding>& findings) {
    if (!reel.onBeats) return;
    const Project& project = reel.project;
    const std::int64_t at = reel.index.starts[std::size_t(cut) + 1];
    const int last = beatAtFrame(project, at);
    const std::int64_t before = beatFrame(project, last), after = beatFrame(project, last + 1);
    const std::int64_t off = at - before <= after - at ? before - at : after - at; // how far it should go
    if (off == 0 || std::abs(off) > project.settings.flow.beat || 3 * std::abs(off) >= after - before) return;
    Finding f;
    f.name = "off-beat";
    f.severity = Severity::WorthALook;
    f.place = {FlowPlace::Cut, project.reel[std::size_t(cut) + 1].id};
    f.title = fmt::format("The cut is {} {} the beat", framesText(std::abs(off)), off > 0 ? "before" : "after");
    f.detail = "Other cuts of this reel lie on beats.";
    f.weight = double(std::abs(off));
    if (rollable(project, cut, off) == off)
        f.fixes = {fixOf("Snap to the beat", f.place,
                         [off](const Project& p, int c) -> Expected<Project> { return withCutRolled(p, c, off); })};
    findings.push_back(std::move(f));
}

void checkStill(const ReelContext& reel, int clip, std::vector<Finding>& findings) {
    const Project& project = reel.project;
    if (reel.firstMove < 0 || project.reel[std::size_t(clip)].isGap()) return;
    const FlowLimits& limits = project.settings.flow;
    if (reel.facts[std::size_t(clip)]->slowest() >= limits.still) return;
    const std::int64_t at = reel.index.starts[std::size_t(clip)];
    // Only between the reel's first movement and its last.
    std::int64_t from = 0, longest = 0, longestAt = 0, current = 0;
    eachRun(*reel.facts[std::size_t(clip)], [&](std::int64_t a, std::int64_t b, const FrameFacts& f) {
        a = std::max(a, reel.firstMove - at), b = std::min(b, reel.lastMove + 1 - at);
        if (f.speed >= limits.still || b <= a) return void(current = 0);
        if (current == 0) from = a;
        current += b - a;
        if (current > longest) longest = current, longestAt = from;
    });
    if (longest < limits.stillFrames) return;
    Finding f = clipFinding(
        project, clip, "still", Severity::WorthALook, longestAt,
        fmt::format("{} stands still for {}", calledInFindings(project, clip), framesText(longest)),
        fmt::format("From its frame {} to {} nothing moves, in a reel that does.", longestAt, longestAt + longest - 1));
    f.weight = double(longest) / 1000; // many shots rest: they come last
    f.fixes = {fixOf(
        "Add a creeping drift", f.place,
        [](const Project& p, int i) -> Expected<Project> { return withCreepingDrift(p, i); }, true)};
    if (longestAt > 0 || longestAt + longest < project.reel[std::size_t(clip)].length)
        f.fixes.push_back(fixOf("Spread the keys", f.place, [longestAt, longest](const Project& p, int i) {
            return withKeysSpread(p, i, longestAt, longestAt + longest);
        }));
    findings.push_back(std::move(f));
}

void checkLittle(const ReelContext& reel, int clip, std::vector<Finding>& findings) {
    const Project& project = reel.project;
    const FlowLimits& limits = project.settings.flow;
    const int count = int(project.reel.size());
    if (clip <= 0 || clip + 1 >= count || project.reel[std::size_t(clip)].isGap()) return;
    const double own = reel.facts[std::size_t(clip)]->fastest(), before = reel.facts[std::size_t(clip) - 1]->fastest(),
                 after = reel.facts[std::size_t(clip) + 1]->fastest();
    if (own >= limits.little || before < limits.much || after < limits.much) return;
    Finding f =
        clipFinding(project, clip, "little-movement", Severity::WorthALook, 0,
                    calledInFindings(project, clip) + " has little movement",
                    fmt::format("It never goes faster than {:.1f} % of the width per frame; the one before reaches "
                                "{:.0f} %, the one after {:.0f} %.",
                                own, before, after));
    f.weight = std::min(before, after) / 100;
    f.fixes = {fixOf("Move into it", f.place,
                     [](const Project& p, int i) -> Expected<Project> { return withMoveContinued(p, i - 1); })};
    findings.push_back(std::move(f));
}

} // namespace virga
