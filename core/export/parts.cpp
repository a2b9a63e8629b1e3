#include "core/export/parts.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <set>

#include "core/base/file.h"
#include "core/interchange/edit_file.h"
#include "core/plan/clip_facts.h"
#include "core/plan/plan.h"

namespace virga {

namespace {

bool moves(const Project& project, int cut) {
    const Transition& t = transitionAt(project, cut);
    return !t.moves.empty() || !t.overlap.isEmpty();
}

std::filesystem::path partPath(const std::filesystem::path& target, int cut, Part::Shots shots) {
    const char* which = shots == Part::Both ? "" : shots == Part::Lower ? "-lower" : "-upper";
    return target.parent_path() /
           fmt::format("{}-cut-{:02}{}{}", target.stem().string(), cut + 1, which, target.extension().string());
}

// True where two plans of a frame are seen alike: all that they say is equal but for stacks, and what those do lies
// within a thousandth of a pixel while the shutter is open.
bool looksAlike(const FramePlan& a, const FramePlan& b, Size size) {
    if (a.layers.size() != b.layers.size() || a.treats != b.treats || !(a.steps == b.steps)) return false;
    for (std::size_t i = 0; i < a.layers.size(); ++i) {
        LayerPlan one = a.layers[i], other = b.layers[i];
        std::swap(one.stacks, other.stacks);
        one.stacks = other.stacks;
        if (!(one == other)) return false;
        constexpr int moments = 8;
        for (int k = 0; k <= moments; ++k) {
            const double time = a.layers[i].shutter.at(double(k) / moments);
            const ScreenMap from = mapAt(a.layers[i], time, size), to = mapAt(b.layers[i], time, size);
            for (const double x : {0.0, 0.5, 1.0})
                for (const double y : {0.0, 0.5, 1.0}) {
                    const Point seen(x * size.width, y * size.height);
                    const Point p = from.toSource(seen), q = to.toSource(seen);
                    const bool nothing = !std::isfinite(p.x + p.y), either = !std::isfinite(q.x + q.y);
                    if (nothing != either || (!nothing && (p - q).length() > 1e-3)) return false;
                }
        }
    }
    return true;
}

// The reel frames that look otherwise with a cut's moves, overlap and shutter than without; empty where none does.
FrameSpan changedSpan(const Project& project, const ReelIndex& index, int cut) {
    Project plain = project;
    Transition& t = plain.reel[std::size_t(cut) + 1].transition;
    t.moves.clear(), t.overlap = {}, t.shutter = {};
    const ReelIndex plainIndex = reelIndex(plain);
    const auto from = index.starts[std::size_t(cut)], to = index.starts[std::size_t(cut) + 2];
    const auto differs = [&](std::int64_t n) {
        return !looksAlike(planFrame(project, index, n), planFrame(plain, plainIndex, n), project.settings.size);
    };
    FrameSpan span{to, from};
    for (auto n = from; n < to; ++n)
        if (differs(n)) span.first = std::min(span.first, n), span.last = n + 1;
    return span;
}

// The piece with one of a cut's two shots alone, where both are seen.
Project withOneShot(const Project& project, const Part& part) {
    Project out = project;
    const Transition& t = transitionAt(project, part.cut);
    const bool incomingOnTop = t.top == Side::Incoming;
    const bool keepsIncoming = incomingOnTop == (part.shots == Part::Upper);
    Clip& hidden = out.reel[std::size_t(part.cut + (keepsIncoming ? 0 : 1))];
    hidden.placement.scale = 0; // it stays in time, and is not on the screen
    hidden.edges = EdgeFill::Empty;
    return out;
}

Clip partClip(const Project& project, const Part& part, const std::string& mediaId) {
    Clip clip;
    clip.id = "part-clip-" + mediaId;
    clip.name = part.path.stem().string();
    clip.mediaId = mediaId;
    clip.sourceIn = Rational(part.from - part.fileFrom) / project.settings.rate;
    clip.length = part.to - part.from;
    clip.muted = true;
    return clip;
}

Media partMedia(const Project& project, const Part& part) {
    Media media;
    media.id = "part-" + part.path.stem().string();
    media.path = part.path;
    media.size = project.settings.size;
    media.rate = project.settings.rate;
    media.duration = Rational(part.fileTo - part.fileFrom) / project.settings.rate;
    return media;
}

} // namespace

Expected<std::vector<Part>> partsOf(const Project& project, const PartsSettings& settings) {
    std::vector<int> cuts = settings.cuts;
    if (cuts.empty())
        for (int c = 0; c < cutCount(project); ++c)
            if (moves(project, c)) cuts.push_back(c);
    std::sort(cuts.begin(), cuts.end());
    cuts.erase(std::unique(cuts.begin(), cuts.end()), cuts.end());
    if (cuts.empty())
        return fail(ErrorCode::BadInput, "no cut has moves", settings.path.string(), "put a move on one first");
    const auto length = reelLength(project);
    const ReelIndex index = reelIndex(project);
    std::vector<Part> parts;
    for (const int c : cuts) {
        if (c < 0 || c >= cutCount(project))
            return fail(ErrorCode::BadInput, fmt::format("there is no cut {}", c + 1), {},
                        fmt::format("cuts are 1 to {}", cutCount(project)));
        const auto at = cutFrame(project, c);
        const FrameSpan span = changedSpan(project, index, c);
        Part part;
        part.cut = c;
        part.from = std::max<std::int64_t>(0, std::min(span.first, at - 1));
        part.to = std::min(length, std::max(span.last, at + 1));
        if (!parts.empty() && parts.back().to > part.from) { // what both reach is shared half and half
            const auto middle = std::clamp((parts.back().to + part.from) / 2, cutFrame(project, parts.back().cut), at);
            parts.back().to = part.from = middle;
        }
        parts.push_back(part);
    }
    std::vector<Part> all;
    for (Part& part : parts) {
        part.fileFrom = std::max<std::int64_t>(0, part.from - settings.handles);
        part.fileTo = std::min(length, part.to + settings.handles);
        const bool apart = settings.alpha && !transitionAt(project, part.cut).overlap.isEmpty();
        for (const Part::Shots shots : apart ? std::vector{Part::Lower, Part::Upper} : std::vector{Part::Both}) {
            part.shots = shots;
            part.path = partPath(settings.path, part.cut, shots);
            all.push_back(part);
        }
    }
    return all;
}

Project withPartsAbove(const Project& project, const std::vector<Part>& parts) {
    Project out = project;
    for (const Part& part : parts) { // what parts show is not done twice; all else stays
        Transition& t = out.reel[std::size_t(part.cut) + 1].transition;
        t.moves.clear(), t.overlap = {}, t.shutter = {}, t.link = {};
    }
    int top = 0;
    for (const Overlay& o : out.overlays) top = std::max(top, o.row + 1);
    for (const Part& part : parts) {
        out.media.push_back(partMedia(project, part));
        Overlay over;
        over.clip = partClip(project, part, out.media.back().id);
        over.start = part.from;
        over.row = top + (part.shots == Part::Upper ? 1 : 0);
        out.overlays.push_back(std::move(over));
    }
    return out;
}

Project withPartsBetween(const Project& project, const std::vector<Part>& parts, std::vector<std::string>* problems) {
    Project out = project;
    out.reel.clear();
    out.overlays.clear();
    out.adjustments.clear();
    std::vector<const Part*> row;
    std::set<int> apart;
    for (const Part& part : parts) {
        if (part.shots == Part::Upper)
            apart.insert(part.cut + 1);
        else
            row.push_back(&part);
    }
    if (problems && !apart.empty())
        problems->push_back(
            fmt::format("cut {}: the list's one row has the lower shot alone; the upper one belongs over it",
                        fmt::join(apart, ", ")));
    const auto addClip = [&](const Clip& clip, std::int64_t start, std::int64_t from, std::int64_t to) {
        if (from >= to) return;
        Clip piece = clip;
        piece.id += fmt::format("-{}", from);
        piece.transition = {};
        piece.drift.clear();
        piece.pins.clear();
        piece.speedCurve = {};
        if (!clip.isGap()) piece.sourceIn = sourceTime(project, clip, from - start);
        piece.length = to - from;
        if (problems && !(clip.speedCurve == Channel()))
            problems->push_back(
                fmt::format("{}: its speed over time is left out", clip.name.empty() ? clip.id : clip.name));
        out.reel.push_back(std::move(piece));
    };
    auto next = row.begin();
    std::int64_t done = 0; // all before it is laid
    const auto starts = clipStarts(project);
    for (std::size_t i = 0; i < project.reel.size(); ++i) {
        const auto begin = starts[i], end = starts[i + 1];
        done = std::max(done, begin);
        while (done < end) {
            const auto until = next == row.end() ? end : std::min(end, (*next)->from);
            addClip(project.reel[i], begin, done, until);
            done = std::max(done, until);
            if (next == row.end() || (*next)->from >= end) break;
            out.media.push_back(partMedia(project, **next));
            out.reel.push_back(partClip(project, **next, out.media.back().id));
            done = (*next)->to;
            ++next;
        }
    }
    return out;
}

Expected<PartsReport> exportParts(const Project& project, const PartsSettings& settings, SourcePool& pool,
                                  const ExportProgress& progress, const Cancel& cancel) {
    const auto began = std::chrono::steady_clock::now();
    const FormatInfo& info = infoOf(settings.format);
    if (info.sequence || !info.hasPictures())
        return fail(ErrorCode::BadInput, fmt::format("parts cannot be {}", info.name), settings.path.string(),
                    "choose a format with one file for all pictures");
    auto parts = partsOf(project, settings);
    if (!parts) return tl::unexpected(parts.error());
    PartsReport report;
    std::int64_t all = 0, done = 0;
    for (const Part& p : *parts) all += p.fileTo - p.fileFrom;
    const auto listAt = [&](const char* ending) {
        return settings.path.parent_path() / (settings.path.stem().string() + "-parts" + ending);
    };
    report.timeline = listAt(".otio");
    report.list = listAt(".edl");
    // Every name is asked for before the first file is written. Lists of these parts by an earlier export may be
    // replaced.
    Output lists = editOutput(project, settings.force);
    lists.what = "a list of these parts";
    lists.isOwn = [mark = settings.path.stem().string() + "-cut-"](const std::filesystem::path& file) {
        const auto text = readFile(file);
        return text && text->find(mark) != std::string::npos;
    };
    for (const auto& list : {report.timeline, report.list})
        if (auto may = mayWrite(list, lists); !may) return tl::unexpected(may.error());
    for (const Part& part : *parts)
        if (auto may = mayWrite(part.path, exportOutput(project, settings.format)); !may)
            return tl::unexpected(may.error());
    for (const Part& part : *parts) {
        ExportSettings one = settings;
        one.path = part.path;
        one.from = part.fileFrom;
        one.to = part.fileTo;
        one.rate = 0; // parts fit the clips that they lie over
        one.sound = false;
        const auto made = exportReel(
            part.shots == Part::Both ? project : withOneShot(project, part), one, pool,
            [&](std::int64_t n, std::int64_t) {
                if (progress) progress(done + n, all);
            },
            cancel);
        if (!made) return tl::unexpected(made.error());
        report.notes.insert(report.notes.end(), made->notes.begin(), made->notes.end());
        done += part.fileTo - part.fileFrom;
    }
    std::vector<std::string> problems;
    if (auto written = writeEditFile(withPartsAbove(project, *parts), report.timeline); !written)
        return tl::unexpected(written.error());
    if (auto written = writeEditFile(withPartsBetween(project, *parts, &problems), report.list); !written)
        return tl::unexpected(written.error());
    for (const std::string& problem : problems) report.notes.push_back("in the edit list: " + problem);
    report.parts = std::move(*parts);
    report.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    return report;
}

} // namespace virga
