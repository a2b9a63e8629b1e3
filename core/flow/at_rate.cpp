#include "core/flow/at_rate.h"

#include <algorithm>
#include <set>

#include "core/edit/piece_edits.h"
#include "core/flow/carry_on.h"

namespace virga {
namespace {

bool goesByRate(const Finding& f) {
    constexpr std::string_view kinds[] = {"speed-step", "direction-step", "falls-away", "jumps-in"};
    return std::find(std::begin(kinds), std::end(kinds), kindOf(f)) != std::end(kinds);
}

bool carriesOnAt(const Project& project, int cut, const std::shared_ptr<const ShotMovements>& shots) {
    const CutFlow flow = flowAtCut(project, cut, shots);
    return std::none_of(flow.findings.begin(), flow.findings.end(), goesByRate);
}

} // namespace

std::vector<Finding> foundOnlyAt(const Project& project, FrameRate rate, const Cancel& cancel,
                                 const std::shared_ptr<const ShotMovements>& shots) {
    std::vector<Finding> only;
    if (rate == project.settings.rate || !isUsableRate(rate)) return only;
    const ReelFlow own = flowOfReel(std::make_shared<const Project>(project), {}, cancel, shots),
                   there = flowOfReel(std::make_shared<const Project>(withRate(project, rate)), {}, cancel, shots);
    std::set<std::pair<std::string, std::string>> known; // kind and clip
    for (const Finding* f : own.all()) known.insert({kindOf(*f), f->place.id});
    for (const Finding* f : there.all())
        if (f->place.kind == FlowPlace::Cut && goesByRate(*f) && !known.contains({kindOf(*f), f->place.id}))
            only.push_back(*f);
    return only;
}

CurvesMatched withCurvesMatched(const Project& project, FrameRate rate,
                                const std::shared_ptr<const ShotMovements>& shots) {
    CurvesMatched out{project, {}, {}};
    std::set<int> cuts;
    for (const Finding& f : foundOnlyAt(project, rate, {}, shots))
        if (const auto cut = indexOf(project, f.place)) cuts.insert(*cut);
    for (const int cut : cuts) {
        auto matched = withAllMatched(out.project, cut, Match::Curves, shots.get());
        const bool done =
            matched && carriesOnAt(*matched, cut, shots) && carriesOnAt(withRate(*matched, rate), cut, shots);
        (done ? out.done : out.left).push_back(cut);
        if (done) out.project = std::move(*matched);
    }
    return out;
}

} // namespace virga
