#include "core/check/flow.h"

#include <algorithm>
#include <unordered_map>

#include "core/base/parallel.h"
#include "core/check/checks.h"

namespace virga {

std::optional<int> indexOf(const Project& project, const FlowPlace& place) {
    if (place.kind == FlowPlace::Overlay) {
        for (std::size_t i = 0; i < project.overlays.size(); ++i)
            if (project.overlays[i].clip.id == place.id) return int(i);
        return std::nullopt;
    }
    for (int i = 0; i < int(project.reel.size()); ++i)
        if (project.reel[std::size_t(i)].id == place.id) {
            if (place.kind == FlowPlace::Clip) return i;
            if (i > 0) return i - 1;
            return std::nullopt;
        }
    return std::nullopt;
}

std::int64_t originOf(const Project& project, const FlowPlace& place) {
    const auto index = indexOf(project, place);
    if (!index) return 0;
    if (place.kind == FlowPlace::Overlay) return project.overlays[std::size_t(*index)].start;
    return clipStart(project, place.kind == FlowPlace::Cut ? *index + 1 : *index);
}

std::string kindOf(const Finding& finding) {
    return finding.name.substr(0, finding.name.find(':'));
}

bool isIgnored(const Finding& finding, const Project& project, const std::vector<std::string>& here) {
    const auto& all = project.settings.ignored;
    return std::find(here.begin(), here.end(), finding.name) != here.end() ||
           std::find(all.begin(), all.end(), kindOf(finding)) != all.end();
}

Fix fixOf(std::string label, const FlowPlace& place, std::function<Expected<Project>(const Project&, int)> edit,
          bool safe) {
    return {std::move(label),
            [place, edit = std::move(edit)](const Project& project) -> Expected<Project> {
                const auto index = indexOf(project, place);
                if (!index)
                    return fail(ErrorCode::BadInput,
                                place.kind == FlowPlace::Cut    ? "this cut is gone from the reel"
                                : place.kind == FlowPlace::Clip ? "this clip is gone from the reel"
                                                                : "this overlay is gone",
                                {}, "nothing was changed");
                return edit(project, *index);
            },
            safe};
}

namespace {

bool isGraver(const Finding& a, const Finding& b) {
    return a.severity != b.severity ? a.severity < b.severity : a.weight > b.weight;
}

void tidy(std::vector<Finding>& findings, const Project& project, const std::vector<std::string>& ignored) {
    std::erase_if(findings, [&](const Finding& f) { return isIgnored(f, project, ignored); });
    std::stable_sort(findings.begin(), findings.end(), isGraver);
}

CutFlow checkCut(const Project& project, const ReelIndex& index, int cut, const ClipFacts& out, const ClipFacts& in,
                 const std::shared_ptr<const ShotMovements>& shots) {
    CutContext context(project, index, cut, out, in, project.settings.withShots ? shots : nullptr);
    CutFlow flow;
    flow.speedOut = context.velocities.speedOut;
    flow.speedIn = context.velocities.speedIn;
    if (context.moves()) {
        checkDirections(context, flow);
        checkSpeed(context, flow);
        checkTrips(context, flow);
        checkEndKeys(context, flow);
        checkReached(context, flow);
        checkOvershoot(context, flow);
        checkOutside(context, flow);
        checkHitch(context, flow);
        checkEdges(context, flow);
        checkStrobing(context, flow);
        checkBars(context, flow);
    }
    if (context.velocities.ownKnown) {
        checkShotsAgree(context, flow);
        checkPan(context, flow);
    }
    checkSubjects(context, flow);
    checkRamp(context, flow);
    checkRampBlur(context, flow);
    checkLeftOver(context, flow);
    checkSpare(context, flow);
    checkStack(context, flow);
    tidy(flow.findings, project, context.transition.ignored);
    return flow;
}

ClipFlow checkClip(const Project& project, const ReelIndex& index, int clip) {
    ClipFlow flow;
    flow.facts = ClipFacts(project, index, clip);
    checkShotEdges(project, clip, flow);
    checkMagnified(project, clip, flow);
    checkDrift(project, clip, flow);
    checkSource(project, clip, flow);
    checkGuessed(project, clip, flow);
    checkForeign(project, clip, flow);
    tidy(flow.findings, project, project.reel[std::size_t(clip)].ignored);
    return flow;
}

ClipFlow checkOverlay(const Project& project, const ReelIndex& index, int overlay) {
    ClipFlow flow;
    flow.facts = ClipFacts::ofOverlay(project, index, overlay);
    checkOverlayEdges(project, overlay, flow);
    tidy(flow.findings, project, project.overlays[std::size_t(overlay)].clip.ignored);
    return flow;
}

// What was found before, and where.
class Before {
public:
    /// All three must outlive it.
    Before(const ReelFlow& flow, const Project& now, const ReelIndex& index)
        : m_flow(flow), m_now(now), m_index(index) {
        if (!flow.project) return;
        const Project& then = *flow.project;
        if (!(then.settings == now.settings) || !(then.media == now.media)) return;
        const auto moves = [](const Adjustment& a) {
            return std::any_of(a.moves.begin(), a.moves.end(),
                               [](const Move& m) { return moveInfo(m.kind).role == MoveRole::Movement; });
        };
        m_movesAbove = std::any_of(now.adjustments.begin(), now.adjustments.end(), moves) ||
                       std::any_of(then.adjustments.begin(), then.adjustments.end(), moves);
        if (m_movesAbove && !(then.adjustments == now.adjustments)) return;
        m_then = &then;
        m_starts = clipStarts(then);
    }

    // Whether overlays show what they did: nothing of the reel changes them.
    bool hasSameOverlays() const {
        return m_then && m_then->overlays == m_now.overlays && m_flow.overlays.size() == m_now.overlays.size();
    }

    // The number that a clip had, where it and `around` clips on each side are as they were; else -1.
    int placeOf(int clip, int around) const {
        if (!m_then) return -1;
        const int was = wasAt(clip);
        if (was < 0) return -1;
        if (m_movesAbove && m_starts[std::size_t(was)] != m_index.starts[std::size_t(clip)]) return -1;
        for (int k = -around; k <= around; ++k) {
            const int a = was + k, b = clip + k;
            const bool in = a >= 0 && a < int(m_then->reel.size()), inNow = b >= 0 && b < int(m_now.reel.size());
            if (in != inNow) return -1;
            if (in && !isSame(a, b)) return -1;
        }
        return was;
    }

private:
    int wasAt(int clip) const {
        const std::string& id = m_now.reel[std::size_t(clip)].id;
        if (clip < int(m_then->reel.size()) && m_then->reel[std::size_t(clip)].id == id) return clip;
        if (m_places.empty()) // only where clips have moved
            for (int i = 0; i < int(m_then->reel.size()); ++i) m_places.emplace(m_then->reel[std::size_t(i)].id, i);
        const auto found = m_places.find(id);
        return found == m_places.end() ? -1 : found->second;
    }
    bool isSame(int was, int is) const {
        // Asked for every neighbour: the answers are kept.
        if (m_same.empty()) m_same.assign(m_now.reel.size(), {-1, false});
        auto& [asked, answer] = m_same[std::size_t(is)];
        if (asked != was)
            asked = was, answer = virga::isSame(m_then->reel[std::size_t(was)], m_now.reel[std::size_t(is)]);
        return answer;
    }
    const ReelFlow& m_flow;
    const Project& m_now;
    const ReelIndex& m_index;
    const Project* m_then = nullptr;
    std::vector<std::int64_t> m_starts;
    mutable std::unordered_map<std::string_view, int> m_places;
    mutable std::vector<std::pair<int, bool>> m_same;
    bool m_movesAbove = false;
};

// Own findings, and those that depend on the reel with them; the own ones shared where there are no others.
template <typename Flow>
std::shared_ptr<const Flow> joined(const std::shared_ptr<const Flow>& own, std::vector<Finding> others,
                                   const Project& project, const std::vector<std::string>& ignored) {
    tidy(others, project, ignored);
    if (others.empty()) return own;
    auto both = std::make_shared<Flow>(*own);
    for (Finding& f : others) both->findings.push_back(std::move(f));
    std::stable_sort(both->findings.begin(), both->findings.end(), isGraver);
    return both;
}

} // namespace

std::vector<const Finding*> ReelFlow::all() const {
    std::vector<const Finding*> found;
    for (std::size_t i = 0; i < clips.size(); ++i) {
        if (i > 0 && i - 1 < cuts.size())
            for (const Finding& f : cuts[i - 1]->findings) found.push_back(&f);
        for (const Finding& f : clips[i]->findings) found.push_back(&f);
    }
    for (const auto& overlay : overlays)
        for (const Finding& f : overlay->findings) found.push_back(&f);
    std::stable_sort(found.begin(), found.end(), [](const Finding* a, const Finding* b) { return isGraver(*a, *b); });
    return found;
}

ReelFlow flowOfReel(std::shared_ptr<const Project> project, const ReelFlow& before, const Cancel& cancel,
                    std::shared_ptr<const ShotMovements> shots) {
    ReelFlow flow;
    flow.shots = shots;
    const ReelIndex index = reelIndex(*project);
    const bool sameShots = before.shots == shots || !project->settings.withShots;
    const ReelFlow nothing;
    const Before known(sameShots ? before : nothing, *project, index);
    const std::size_t count = project->reel.size(), cuts = std::size_t(cutCount(*project));
    flow.ownOfClips.resize(count);
    flow.ownOfCuts.resize(cuts);
    std::vector<std::size_t> clipsToDo, cutsToDo;
    for (std::size_t i = 0; i < count; ++i) {
        const int was = known.placeOf(int(i), 2);
        if (was >= 0)
            flow.ownOfClips[i] = before.ownOfClips[std::size_t(was)];
        else
            clipsToDo.push_back(i);
    }
    // A cut's findings come from two clips and all that reaches into them.
    const auto isDone = [&](std::size_t clip) { return flow.ownOfClips[clip] != nullptr; };
    for (std::size_t c = 0; c < cuts; ++c) {
        const int was = isDone(c) && isDone(c + 1) ? known.placeOf(int(c) + 1, 2) : -1;
        if (was > 0)
            flow.ownOfCuts[c] = before.ownOfCuts[std::size_t(was) - 1];
        else
            cutsToDo.push_back(c);
    }
    inParallel(clipsToDo.size(), [&](std::size_t k) {
        if (cancel.requested()) return;
        flow.ownOfClips[clipsToDo[k]] = std::make_shared<const ClipFlow>(checkClip(*project, index, int(clipsToDo[k])));
    });
    if (cancel.requested()) return {};
    inParallel(cutsToDo.size(), [&](std::size_t k) {
        if (cancel.requested()) return;
        const std::size_t c = cutsToDo[k];
        flow.ownOfCuts[c] = std::make_shared<const CutFlow>(
            checkCut(*project, index, int(c), flow.ownOfClips[c]->facts, flow.ownOfClips[c + 1]->facts, shots));
    });
    if (cancel.requested()) return {};
    if (known.hasSameOverlays())
        flow.overlays = before.overlays;
    else
        for (int i = 0; i < int(project->overlays.size()) && !cancel.requested(); ++i)
            flow.overlays.push_back(std::make_shared<const ClipFlow>(checkOverlay(*project, index, i)));
    if (cancel.requested()) return {};
    flow.measured = int(clipsToDo.size());
    const ReelContext reel(*project, index, flow.ownOfClips);
    flow.clips.resize(count);
    flow.cuts.resize(cuts);
    for (std::size_t i = 0; i < count; ++i) {
        std::vector<Finding> others;
        checkStill(reel, int(i), others);
        checkLittle(reel, int(i), others);
        flow.clips[i] = joined(flow.ownOfClips[i], std::move(others), *project, project->reel[i].ignored);
    }
    for (std::size_t c = 0; c < cuts; ++c) {
        std::vector<Finding> others;
        checkBeat(reel, int(c), others);
        flow.cuts[c] = joined(flow.ownOfCuts[c], std::move(others), *project, transitionAt(*project, int(c)).ignored);
    }
    flow.project = std::move(project);
    return flow;
}

ReelFlow flowOfReel(const Project& project) {
    return flowOfReel(std::make_shared<const Project>(project));
}

CutFlow flowAtCut(const Project& project, int cut, const std::shared_ptr<const ShotMovements>& shots) {
    if (!hasCut(project, cut)) return {};
    const ReelIndex index = reelIndex(project);
    return checkCut(project, index, cut, ClipFacts(project, index, cut), ClipFacts(project, index, cut + 1), shots);
}

} // namespace virga
