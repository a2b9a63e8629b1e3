#include "core/check/at_rate.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/edit/carry_on.h"
#include "core/edit/piece_edits.h"

namespace virga {
namespace {

bool goesByRate(const Finding& f) {
    constexpr std::string_view kinds[] = {"speed-step", "direction-step", "falls-away", "jumps-in"};
    return std::find(std::begin(kinds), std::end(kinds), kindOf(f)) != std::end(kinds);
}

std::set<std::string> namesAt(const Project& project, int cut, const std::shared_ptr<const ShotMovements>& shots) {
    std::set<std::string> names;
    for (const Finding& f : flowAtCut(project, cut, shots).findings) names.insert(f.name);
    return names;
}

// Whether a cut carries on now, and nothing breaks there that did not before.
bool isBetter(const Project& before, const Project& after, int cut, const std::shared_ptr<const ShotMovements>& shots) {
    const CutFlow now = flowAtCut(after, cut, shots);
    const auto known = namesAt(before, cut, shots);
    return std::none_of(now.findings.begin(), now.findings.end(), [&](const Finding& f) {
        return goesByRate(f) || (f.severity == Severity::Breaks && !known.contains(f.name));
    });
}

} // namespace

Project deliveredAt(const Project& project, FrameRate rate) {
    Project out = withRate(project, rate);
    if (out.settings.rate == project.settings.rate) return out;
    const double factor = (rate / project.settings.rate).toDouble();
    FlowLimits& l = out.settings.flow;
    for (double* speed : {&l.still, &l.fast, &l.copyBlur, &l.magnifiedSpeed, &l.little, &l.much, &l.pan})
        *speed /= factor;
    for (int* frames : {&l.stillFrames, &l.magnifiedFrames, &l.beat, &l.foreignFrames})
        *frames = int(std::lround(*frames * factor));
    l.stillFrames = std::max(1, l.stillFrames);
    l.copiesSeen *= factor;
    return out;
}

std::vector<Finding> foundOnlyAt(const Project& project, FrameRate rate, const Cancel& cancel,
                                 const std::shared_ptr<const ShotMovements>& shots) {
    std::vector<Finding> only;
    if (rate == project.settings.rate || !isUsableRate(rate)) return only;
    const ReelFlow own = flowOfReel(std::make_shared<const Project>(project), {}, cancel, shots),
                   there = flowOfReel(std::make_shared<const Project>(deliveredAt(project, rate)), {}, cancel, shots);
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
        const bool done = matched && isBetter(out.project, *matched, cut, shots) &&
                          isBetter(deliveredAt(out.project, rate), deliveredAt(*matched, rate), cut, shots);
        (done ? out.done : out.left).push_back(cut);
        if (done) out.project = std::move(*matched);
    }
    return out;
}

} // namespace virga
