// The flow check, its fixes and chaining from the terminal.
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli/commands.h"
#include "cli/move_spec.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/analysis/find_bars.h"
#include "core/analysis/find_shot.h"
#include "core/analysis/loudness.h"
#include "core/analysis/measure_movement.h"
#include "core/check/at_rate.h"
#include "core/check/fix_change.h"
#include "core/check/mend.h"
#include "core/project/project_file.h"
#include "core/recipe/chain.h"
#include "core/recipe/link.h"

namespace virga::cli {
namespace {

using json = nlohmann::json;

const char* wordOf(Severity severity) {
    return severity == Severity::Breaks ? "breaks" : "worth a look";
}

json describeFinding(const Project& project, const Finding& f) {
    json fixes = json::array();
    for (const Fix& fix : f.fixes) {
        json told = {{"label", fix.label}, {"safe", false}};
        if (const auto next = fix.apply(project)) {
            const EditChange change = changeBetween(project, *next);
            told["safe"] = fix.safe && change.keepsMoves();
            told["changes"] = {
                {"seen", change.seen}, {"frames", change.frames}, {"travel", change.travel}, {"length", change.length}};
        } else {
            told["cannot"] = describe(next.error());
        }
        fixes.push_back(std::move(told));
    }
    return {{"name", f.name},   {"severity", wordOf(f.severity)},
            {"id", f.place.id}, {"frame", f.frame},
            {"title", f.title}, {"detail", f.detail},
            {"fixes", fixes}};
}

json listOf(const Project& project, const std::vector<Finding>& findings) {
    json list = json::array();
    for (const Finding& f : findings) list.push_back(describeFinding(project, f));
    return list;
}

json describeFlow(const ReelFlow& flow, const std::string& file) {
    const Project& project = *flow.project;
    json cuts = json::array(), clips = json::array(), overlays = json::array();
    for (std::size_t c = 0; c < flow.cuts.size(); ++c)
        cuts.push_back({{"cut", c + 1},
                        {"frame", cutFrame(project, int(c))},
                        {"speedOut", flow.cuts[c]->speedOut},
                        {"speedIn", flow.cuts[c]->speedIn},
                        {"findings", listOf(project, flow.cuts[c]->findings)},
                        {"fine", flow.cuts[c]->fine}});
    for (std::size_t i = 0; i < flow.clips.size(); ++i)
        clips.push_back({{"clip", project.reel[i].name}, {"findings", listOf(project, flow.clips[i]->findings)}});
    for (std::size_t i = 0; i < flow.overlays.size(); ++i)
        overlays.push_back(
            {{"overlay", project.overlays[i].clip.name}, {"findings", listOf(project, flow.overlays[i]->findings)}});
    return {{"project", file}, {"cuts", cuts}, {"clips", clips}, {"overlays", overlays}};
}

void tell(const ReelFlow& flow) {
    const Project& project = *flow.project;
    for (const Finding* f : flow.all()) {
        std::string where = placeText(project, f->place);
        if (const auto index = indexOf(project, f->place); index && f->place.kind == FlowPlace::Cut)
            where += fmt::format(" ({} → {})", project.reel[std::size_t(*index)].name,
                                 project.reel[std::size_t(*index) + 1].name);
        say("{}, frame {:+} ({}): {}. {}\n", where, f->frame, wordOf(f->severity), f->title, f->detail);
    }
    if (flow.all().empty()) say("{} cuts, nothing found\n", cutCount(project));
}

Expected<void> mayWriteProject(const Project& project, const std::string& in, const std::string& out, bool force) {
    Output output = projectOutput(project, force);
    output.inputs.push_back(in);
    return mayWrite(out, output);
}

// Where the project judges movement with what its shots do by themselves, that is read first; what cannot be read is
// not judged by.
std::shared_ptr<const ShotMovements> shotsOf(const Project& project) {
    if (!project.settings.withShots) return nullptr;
    auto shots = std::make_shared<ShotMovements>();
    for (const Clip& clip : project.reel) {
        const Media* media = findMedia(project, clip.mediaId);
        if (!media || media->still || !media->hasPicture() || shots->contains(clip.mediaId)) continue;
        auto movement = measureMovement(media->path);
        (*shots)[clip.mediaId] = movement ? std::make_shared<const ShotMovement>(std::move(*movement)) : nullptr;
        if (!movement) (void)complain(movement.error());
    }
    return shots;
}

// Looks for what can be seen in the files alone; what cannot be read is told and not judged.
void lookAtPictures(Project& project) {
    for (Media& media : project.media) {
        if (!media.hasPicture()) continue;
        const auto bars = findBars(media.path, Rational(0), media.duration);
        if (bars)
            media.bars = *bars;
        else
            (void)complain(bars.error());
    }
    for (int i = 0; i < int(project.reel.size()); ++i) {
        const auto look = shotLookOf(project, i);
        if (!look) continue;
        auto shot = findShot(look->path, look->used, look->most);
        if (!shot)
            (void)complain(shot.error());
        else
            project.reel[std::size_t(i)].shot = shot->isWhole() ? std::nullopt : std::optional(*shot);
    }
}

bool breaks(const ReelFlow& flow) {
    const auto all = flow.all();
    return !all.empty() && all.front()->severity == Severity::Breaks; // the gravest first
}

} // namespace

namespace {

// A project mended as --fix says.
Expected<Mended> mendedBy(const CheckOptions& options, const Project& project, FrameRate rate,
                          const std::shared_ptr<const ShotMovements>& shots) {
    if (options.fix == "safe") return mendedReel(project);
    if (options.fix == "curves") {
        CurvesMatched matched = withCurvesMatched(project, rate, shots);
        Mended mended{std::move(matched.project), {}, {}};
        for (const int cut : matched.done)
            mended.done.push_back(fmt::format("cut {}: frames and curves matched", cut + 1));
        for (const int cut : matched.left) mended.left.push_back(fmt::format("cut {}", cut + 1));
        return mended;
    }
    const auto equals = options.fix.find('=');
    NamedFix fix{options.fix.substr(0, equals),
                 equals == std::string::npos ? std::string() : options.fix.substr(equals + 1),
                 {}};
    if (options.cut > 0) fix.cut = options.cut - 1;
    return withFixApplied(project, fix, shots);
}

std::optional<Error> misuseOf(const CheckOptions& options) {
    if (!options.fix.empty() && options.out.empty())
        return Error{ErrorCode::BadInput, "it was not said where to write the mended project", "--fix " + options.fix,
                     "add --out FILE"};
    if (options.fix.empty() && !options.out.empty())
        return Error{ErrorCode::BadInput, "there is nothing to write without --fix", "--out " + options.out,
                     "add --fix safe"};
    if (options.fix == "curves" && options.rate.empty())
        return Error{ErrorCode::BadInput, "--fix curves mends what another rate shows", {}, "add --rate, such as 50"};
    if (options.cut > 0 && (options.fix.empty() || options.fix == "safe" || options.fix == "curves"))
        return Error{ErrorCode::BadInput, "--cut says where a fix that is named is applied", {}, "add --fix NAME"};
    return std::nullopt;
}

} // namespace

int runCheck(const CheckOptions& options) {
    if (const auto misuse = misuseOf(options)) return complain(*misuse);
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    FrameRate rate = project->settings.rate;
    if (!options.rate.empty()) {
        const auto asked = rateFromText(options.rate);
        if (!asked) return complain(asked.error());
        rate = *asked;
    }
    if (options.pictures) lookAtPictures(*project);
    const auto shots = shotsOf(*project);
    json mending = nullptr;
    if (!options.fix.empty()) {
        auto mended = mendedBy(options, *project, rate, shots);
        if (!mended) return complain(mended.error());
        mended->project = withOwnNoted(*project, std::move(mended->project));
        if (const auto may = mayWriteProject(*project, options.project, options.out, options.force); !may)
            return complain(may.error());
        if (const auto saved = saveProject(mended->project, options.out); !saved) return complain(saved.error());
        if (!options.json) {
            for (const std::string& line : mended->done) say("mended {}\n", line);
            say("{}: {} mended, {} left\n", options.out, mended->done.size(), mended->left.size());
        }
        mending = {{"file", options.out}, {"done", mended->done}};
        *project = std::move(mended->project);
    }
    const ReelFlow flow = flowOfReel(std::make_shared<const Project>(deliveredAt(*project, rate)), {}, {}, shots);
    if (options.json) {
        json out = describeFlow(flow, options.project);
        if (rate != project->settings.rate) out["rate"] = rate.toDouble();
        if (!mending.is_null()) out["mended"] = mending;
        sayJson(jsonText(out));
    } else {
        if (rate != project->settings.rate) say("as a result of {:g} frames a second shows it:\n", rate.toDouble());
        tell(flow);
    }
    return breaks(flow) ? Findings : Fine;
}

int runChain(const ChainCommand& options) {
    auto project = openProject(options.project);
    if (!project) return complain(project.error());
    if (const auto may = mayWriteProject(*project, options.project, options.out, options.force); !may)
        return complain(may.error());
    const ChainOptions chain{options.seed, options.all, shotsOf(*project),
                             loudnessAtCuts(*project, loudnessOfMusic(*project))};
    for (const Proposal& p : chainOf(*project, chain)) say("{}: {}\n", placeText(*project, p.cut), p.label);
    const Project chained = withChain(*project, chain);
    if (const auto saved = saveProject(chained, options.out); !saved) return complain(saved.error());
    const ReelFlow flow = flowOfReel(std::make_shared<const Project>(chained), {}, {}, chain.shots);
    tell(flow);
    return breaks(flow) ? Findings : Fine;
}

} // namespace virga::cli
