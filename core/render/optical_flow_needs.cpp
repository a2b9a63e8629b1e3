#include "core/render/optical_flow_needs.h"

#include <cmath>
#include <set>

#include "core/plan/plan.h"
#include "core/render/exposure.h"

namespace virga {

std::vector<FlowNeed> flowNeeds(const Project& project, std::int64_t from, std::int64_t to, SourcePool& pool,
                                const Cancel& cancel) {
    std::vector<FlowNeed> needs;
    const bool any = [&] {
        const auto is = [](const Clip& clip) { return needsOpticalFlow(clip.inBetween, clip.shotBlur); };
        for (const Clip& clip : project.reel)
            if (is(clip)) return true;
        for (const Overlay& overlay : project.overlays)
            if (is(overlay.clip)) return true;
        return false;
    }();
    if (!any) return needs;
    std::set<std::uint64_t> seen;
    const ReelIndex index = reelIndex(project);
    for (std::int64_t n = std::max<std::int64_t>(0, from); n < std::min(to, index.starts.back()); ++n) {
        if (cancel.requested()) break;
        for (const LayerPlan& layer : planFrame(project, index, n).layers) {
            const auto span = exposedSpan(layer, exactQuality);
            const SourceLook look = span ? span->look : lookOf(layer, exactQuality);
            if (!needsOpticalFlow(look.inBetween, look.smear)) continue;
            const Media* media = findMedia(project, layer.mediaId);
            if (!media) continue;
            // Of a shot that races every picture that passes; of another the moment that is seen.
            std::vector<Rational> moments{layer.sourceTime};
            if (span) moments = pool.exposedTimes(media->path, span->from, span->to, span->most, look);
            for (const Rational& moment : moments) {
                const auto missing = pool.missingFlow(media->path, moment, look);
                if (missing && seen.insert(*missing).second) needs.push_back({media->path, moment, look});
            }
        }
    }
    return needs;
}

std::map<std::string, Guess> guessesOf(const Project& project, SourcePool& pool, const Cancel& cancel) {
    std::map<std::string, Guess> guesses;
    const ReelIndex index = reelIndex(project);
    for (std::size_t c = 0; c < project.reel.size(); ++c) {
        const Clip& clip = project.reel[c];
        if (clip.inBetween != InBetween::MadeUp) continue;
        constexpr std::int64_t mostFrames = 20000;
        for (std::int64_t n = 0; n < std::min(clip.length, mostFrames) && !cancel.requested(); ++n) {
            const FramePlan plan = planFrame(project, index, index.starts[c] + n);
            const LayerPlan* layer = layerOfClip(plan, int(c));
            const Media* media = layer ? findMedia(project, layer->mediaId) : nullptr;
            if (!media) continue;
            // By the picture that is made, not by the flow it is made from: near one that was filmed less is guessed.
            SourceLook look = lookOf(*layer, exactQuality);
            look.findsFlow = false;
            const SourcePool::Trust trust = pool.trustAt(media->path, layer->sourceTime, look);
            if (trust.cells.empty()) continue;
            const double share = std::round((1 - trust.share) * 100) / 100; // the smallest differences are no news
            const auto known = guesses.find(clip.id);
            if (known == guesses.end() || share > known->second.share) guesses[clip.id] = {share, n};
        }
    }
    return guesses;
}

} // namespace virga
