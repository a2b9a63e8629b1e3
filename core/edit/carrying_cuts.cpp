#include "core/edit/carrying_cuts.h"

#include <algorithm>
#include <cmath>

#include "core/edit/reel_edits.h"
#include "core/plan/seen_speed.h"
#include "core/project/clip_time.h"

namespace virga {
namespace {

constexpr std::int64_t farthestShift = 50; // frames from where the cut is now
constexpr std::int64_t apart = 8;          // frames between two that are offered: nearer ones look the same
constexpr double placeCounts = 10, sizeCounts = 3, wayCounts = 0.004; // of a width, a doubling, a frame, in % a frame

// What a shot does around one of its frames.
struct Moment {
    std::int64_t by = 0; // frames from the cut
    Velocities own;
    std::optional<SubjectSpot> subject;
};

std::vector<Moment> momentsOf(const Project& project, const ReelIndex& index, int cut, Side side,
                              const ShotMovements& shots) {
    const bool out = side == Side::Outgoing;
    const Clip& clip = project.reel[std::size_t(cut) + (out ? 0 : 1)];
    const Spare spare = spareFrames(project, clip);
    const std::int64_t before = out ? clip.length - 1 : spare.before, after = out ? spare.after : clip.length - 1;
    const FramePlan plan = planFrame(project, index, index.starts[std::size_t(cut) + 1] - (out ? 1 : 0));
    const LayerPlan* layer = layerOfClip(plan, cut + (out ? 0 : 1));
    std::vector<Moment> moments;
    if (!layer) return moments;
    // The shot alone, as it is fitted: what happens at the cut now is another matter.
    LayerPlan plain = *layer;
    plain.stacks.clear();
    const auto& subject = out ? clip.subjectOut : clip.subjectIn;
    const ClipTime time(project, clip);
    for (std::int64_t by = -std::min(farthestShift, before); by <= std::min(farthestShift, after); ++by) {
        const std::int64_t frame = (out ? clip.length - 1 : 0) + by;
        const OwnSteps own = ownStepsAt(project, clip, double(frame), shots);
        if (!own.known) continue;
        Moment m{by, ownVelocitiesAt(plain, double(plan.frame), project.settings.size, own), std::nullopt};
        if (subject && time.runs()) m.subject = spotAt(*subject, time.at(frame));
        moments.push_back(std::move(m));
    }
    return moments;
}

} // namespace

std::vector<CarryingCut> carryingCuts(const Project& project, int cut, const ShotMovements& shots, int most) {
    if (!hasCut(project, cut)) return {};
    const ReelIndex index = reelIndex(project);
    const auto outs = momentsOf(project, index, cut, Side::Outgoing, shots),
               ins = momentsOf(project, index, cut, Side::Incoming, shots);
    std::vector<CarryingCut> all;
    for (const Moment& out : outs) {
        if (out.by != 0 && rollable(project, cut, out.by) != out.by) continue;
        for (const Moment& in : ins) {
            CarryingCut c;
            c.out = out.by, c.in = in.by;
            c.movement = differenceOf(out.own, in.own);
            if (out.subject && in.subject) {
                c.subjects = true;
                c.place = (out.subject->at - in.subject->at).length();
                c.size = std::abs(std::log2(std::max(1e-3, out.subject->size) / std::max(1e-3, in.subject->size)));
            }
            c.score = c.movement + placeCounts * c.place + sizeCounts * c.size +
                      wayCounts * double(std::abs(c.out) + std::abs(c.in));
            all.push_back(c);
        }
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const CarryingCut& a, const CarryingCut& b) { return a.score < b.score; });
    // What the cut is now, where its frames could be followed.
    const auto today =
        std::find_if(all.begin(), all.end(), [](const CarryingCut& c) { return c.out == 0 && c.in == 0; });
    const double least = today == all.end() ? 1e300 : today->score;
    std::vector<CarryingCut> best;
    for (const CarryingCut& c : all) {
        if (int(best.size()) >= most || c.score >= least) break;
        const bool near = std::any_of(best.begin(), best.end(), [&](const CarryingCut& b) {
            return std::abs(b.out - c.out) < apart && std::abs(b.in - c.in) < apart;
        });
        if (!near && withCarryingCut(project, cut, c)) best.push_back(c);
    }
    return best;
}

Expected<Project> withCarryingCut(const Project& project, int cut, const CarryingCut& choice) {
    const auto tooFar = [] {
        return fail(ErrorCode::BadInput, "the shots do not reach so far", {}, "choose another one, or look anew");
    };
    if (!hasCut(project, cut) || rollable(project, cut, choice.out) != choice.out) return tooFar();
    const Project rolled = choice.out == 0 ? project : withCutRolled(project, cut, choice.out);
    const std::int64_t slip = choice.in - choice.out;
    const Project done = slip == 0 ? rolled : withClipSlipped(rolled, cut + 1, slip);
    // It is the picture that was asked for, or not at all.
    const Clip &was = project.reel[std::size_t(cut) + 1], &is = done.reel[std::size_t(cut) + 1];
    const double wanted = ClipTime(project, was).secondsAt(double(choice.in)), got = ClipTime(done, is).secondsAt(0);
    if (std::abs(wanted - got) > 0.5 / project.settings.rate.toDouble()) return tooFar();
    return done;
}

} // namespace virga
