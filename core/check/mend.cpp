#include "core/check/mend.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>

#include "core/check/fix_change.h"

namespace virga {
namespace {

// What an attempt is told by, so that it is made once.
std::string keyOf(const Finding& finding) {
    return finding.place.id + (finding.place.kind == FlowPlace::Cut ? "|cut|" : "|clip|") + finding.name;
}

struct Count {
    int breaks = 0, looks = 0;
};

Count countOf(const ReelFlow& flow) {
    Count count;
    for (const Finding* f : flow.all()) (f->severity == Severity::Breaks ? count.breaks : count.looks)++;
    return count;
}

bool has(const ReelFlow& flow, const std::string& key) {
    const auto all = flow.all();
    return std::any_of(all.begin(), all.end(), [&](const Finding* f) { return keyOf(*f) == key; });
}

// A safe fix applied.
struct Trial {
    std::string label;
    Project project;
    double seen = 0; // how much of what is seen it changes
};

// Those that keep the moves, what changes least first.
std::vector<Trial> safeTrials(const Project& project, const Finding& finding) {
    std::vector<Trial> trials;
    for (const Fix& fix : finding.fixes) {
        if (!fix.safe) continue;
        auto next = fix.apply(project);
        if (!next) continue;
        const EditChange change = changeBetween(project, *next);
        if (change.keepsMoves()) trials.push_back({fix.label, std::move(*next), change.seen});
    }
    std::stable_sort(trials.begin(), trials.end(), [](const Trial& a, const Trial& b) { return a.seen < b.seen; });
    return trials;
}

// `wanted` says which findings are to be mended.
template <typename Wanted> Mended mended(const Project& project, const Wanted& wanted, const Cancel& cancel) {
    Mended result;
    ReelFlow flow = flowOfReel(std::make_shared<const Project>(project), {}, cancel);
    if (!flow.project) return {project, {}, {}};
    std::set<std::string> tried;
    for (bool again = true; again && !cancel.requested();) {
        again = false;
        const Count before = countOf(flow);
        for (const Finding* finding : flow.all()) {
            const std::string key = keyOf(*finding);
            if (!wanted(*flow.project, *finding) || !tried.insert(key).second) continue;
            for (const Trial& trial : safeTrials(*flow.project, *finding)) {
                ReelFlow after = flowOfReel(std::make_shared<const Project>(trial.project), flow, cancel);
                if (!after.project) break;
                const Count now = countOf(after);
                // Fewer than before, or it could go round in circles.
                const bool better =
                    now.breaks < before.breaks || (now.breaks == before.breaks && now.looks < before.looks);
                if (has(after, key) || !better) continue;
                result.done.push_back(
                    fmt::format("{}: {}: {}", placeText(*flow.project, finding->place), finding->title, trial.label));
                flow = std::move(after);
                again = true;
                break;
            }
            if (again) break; // the list is another one now
        }
        if (again) tried.clear(); // what is mended may have made room for another fix
    }
    for (const Finding* finding : flow.all())
        if (wanted(*flow.project, *finding))
            result.left.push_back(fmt::format("{}: {}", placeText(*flow.project, finding->place), finding->title));
    result.project = *flow.project;
    return result;
}

} // namespace

std::string placeText(const Project& project, const FlowPlace& place) {
    const auto index = indexOf(project, place);
    if (!index) return "a place that is gone";
    if (place.kind == FlowPlace::Cut) return fmt::format("cut {}", *index + 1);
    if (place.kind == FlowPlace::Overlay)
        return fmt::format("overlay \"{}\"", project.overlays[std::size_t(*index)].clip.name);
    return fmt::format("\"{}\"", project.reel[std::size_t(*index)].name);
}

Mended mendedCut(const Project& project, int cut) {
    if (!hasCut(project, cut)) return {project, {}, {}};
    const std::string out = project.reel[std::size_t(cut)].id, in = project.reel[std::size_t(cut) + 1].id;
    return mended(project,
                  [&](const Project&, const Finding& f) {
                      return f.place == FlowPlace{FlowPlace::Cut, in} || f.place == FlowPlace{FlowPlace::Clip, out} ||
                             f.place == FlowPlace{FlowPlace::Clip, in};
                  },
                  {});
}

Mended mendedReel(const Project& project, const Cancel& cancel) {
    return mended(
        project, [](const Project&, const Finding&) { return true; }, cancel);
}

Expected<Mended> withFixApplied(const Project& project, const NamedFix& fix,
                                const std::shared_ptr<const ShotMovements>& shots) {
    const auto bad = [&](std::string message, std::string remedy) {
        return fail(ErrorCode::BadInput, std::move(message), {}, std::move(remedy));
    };
    if (fix.cut && !hasCut(project, *fix.cut))
        return bad(fmt::format("there is no cut {}", *fix.cut + 1), fmt::format("the reel has {}", cutCount(project)));
    const auto isHere = [&](const FlowPlace& place) {
        if (!fix.cut) return true;
        const auto index = indexOf(project, place);
        return index && place.kind != FlowPlace::Overlay &&
               (place.kind == FlowPlace::Cut ? *index == *fix.cut : *index == *fix.cut || *index == *fix.cut + 1);
    };
    const ReelFlow flow = flowOfReel(std::make_shared<const Project>(project), {}, {}, shots);
    Mended result{project, {}, {}};
    std::set<std::string> names, labels;
    for (const Finding* f : flow.all()) {
        if (!isHere(f->place)) continue;
        names.insert(f->name);
        if (f->name != fix.finding && kindOf(*f) != fix.finding) continue;
        std::string why = "it has no such fix";
        bool done = false;
        for (const Fix& one : f->fixes) {
            labels.insert(one.label);
            if (done || (!fix.label.empty() && one.label != fix.label)) continue;
            auto next = one.apply(result.project);
            if (!next) {
                why = describe(next.error());
                continue;
            }
            result.project = std::move(*next);
            result.done.push_back(fmt::format("{}: {}: {}", placeText(project, f->place), f->title, one.label));
            done = true;
        }
        if (!done) result.left.push_back(fmt::format("{}: {}: {}", placeText(project, f->place), f->title, why));
    }
    if (result.done.empty() && result.left.empty())
        return bad(fmt::format("nothing is found that is called \"{}\"", fix.finding),
                   names.empty() ? "nothing is found at all" : fmt::format("found are: {}", fmt::join(names, ", ")));
    if (result.done.empty())
        return bad(fmt::format("nothing was fixed: {}", result.left.front()),
                   labels.empty() ? "this finding has no fixes"
                                  : fmt::format("its fixes are: {}", fmt::join(labels, ", ")));
    return result;
}

} // namespace virga
