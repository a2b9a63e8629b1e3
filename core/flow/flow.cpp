#include "core/flow/flow.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/curve.h"
#include "core/edit/reel_edits.h"
#include "core/flow/carry_on.h"
#include "core/flow/frame_facts.h"
#include "core/plan/cut_match.h"

namespace virga {
namespace {

std::string travelText(const Curve& curve, const ChannelInfo& info) {
    if (curve.isEmpty()) return "stands still";
    return fmt::format("{} → {}", spokenValue(curve.keys.front().value, info),
                       spokenValue(curve.keys.back().value, info));
}

// How fast one channel alone moves the screen over a frame of a side.
double screenSpeed(const Move& move, int channel, Side side, double frame, Size size) {
    Move alone = move;
    for (int c = 0; c < int(alone.channels.size()); ++c)
        if (c != channel) alone.channels[std::size_t(c)] = {};
    alone.solo = false;
    LayerPlan layer;
    layer.stacks = {{{alone}, side, 0, {}, 25}};
    return seenSpeed(layer, frame, size);
}

// What all cuts of a reel share.
struct ReelFacts {
    ReelIndex index;
    std::vector<SpareShortage> shortages;
    explicit ReelFacts(const Project& project) : index(reelIndex(project)), shortages(spareShortages(project)) {}
};

class CutCheck {
public:
    CutCheck(const Project& project, const ReelFacts& facts, int cut, const FlowLimits& limits)
        : m_project(project), m_index(facts.index), m_shortages(facts.shortages), m_cut(cut), m_limits(limits),
          m_transition(transitionAt(project, cut)), m_size(project.settings.size) {}

    CutFlow run() {
        m_velocities = velocitiesAtCut(m_project, m_index, m_cut);
        m_flow.speedOut = m_velocities.speedOut;
        m_flow.speedIn = m_velocities.speedIn;
        const bool moves = std::any_of(m_transition.moves.begin(), m_transition.moves.end(), [](const Move& m) {
            return movesOn(m, Side::Outgoing) || movesOn(m, Side::Incoming);
        });
        if (moves) {
            checkDirections();
            checkSpeed();
            checkLastKey();
            checkEdges();
            checkBars();
        }
        checkSpare();
        checkSolo();
        for (const Move& move : m_transition.moves)
            if (move.kind == MoveKind::Unknown)
                add({"unknown-move:" + move.id,
                     Severity::WorthALook,
                     m_cut,
                     0,
                     fmt::format("A move of the kind \"{}\" is not shown", move.kindName),
                     "This version does not know it. It stays in the file untouched.",
                     {}});
        std::stable_sort(m_flow.findings.begin(), m_flow.findings.end(),
                         [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
        return std::move(m_flow);
    }

private:
    void add(Finding finding) {
        const auto& ignored = m_transition.ignored;
        if (std::find(ignored.begin(), ignored.end(), finding.name) == ignored.end())
            m_flow.findings.push_back(std::move(finding));
    }

    void checkDirections() {
        const int cut = m_cut;
        for (int m = 0; m < int(m_transition.moves.size()); ++m) {
            const Move& move = m_transition.moves[std::size_t(m)];
            const auto& channels = moveInfo(move.kind).channels;
            if (!isOn(m_transition.moves, move) || moveInfo(move.kind).role != MoveRole::Movement) continue;
            for (int c = 0; c < int(channels.size()); ++c) {
                const auto& info = channels[std::size_t(c)];
                const Channel& channel = move.channels[std::size_t(c)];
                const double out = changeOver(channel.outgoing, -1, move.ends()),
                             in = changeOver(channel.incoming, 0, move.ends());
                if (screenSpeed(move, c, Side::Outgoing, -1, m_size) < m_limits.still ||
                    screenSpeed(move, c, Side::Incoming, 0, m_size) < m_limits.still)
                    continue;
                if ((out > 0) == (in > 0)) {
                    m_flow.fine.push_back(fmt::format("{} carries on in one direction", info.label));
                    continue;
                }
                m_turnsBack = true;
                add({fmt::format("turns-back:{}", info.label),
                     Severity::Breaks,
                     cut,
                     0,
                     fmt::format("{} turns back at the cut", info.label),
                     fmt::format("Outgoing {} {}, incoming {} {}.", out > 0 ? info.rising : info.falling,
                                 travelText(channel.outgoing, info), in > 0 ? info.rising : info.falling,
                                 travelText(channel.incoming, info)),
                     {{"Turn it round", [cut, m, c](const Project& p) -> Expected<Project> {
                           return withIncomingTurned(p, cut, m, c);
                       }}}});
            }
        }
    }

    void checkSpeed() {
        const double out = m_flow.speedOut, in = m_flow.speedIn;
        const double fast = std::max(out, in), slow = std::min(out, in);
        if (fast < m_limits.still) return;
        const int cut = m_cut;
        const Fix byCurve{"Match speed", [cut](const Project& p) { return withAllMatched(p, cut, true); }};
        const Fix byValue{"By start value", [cut](const Project& p) { return withAllMatched(p, cut, false); }};
        // A shot that slides over another, or away from it, is an entrance: nothing has to carry on.
        const bool overlapping = !m_transition.overlap.isEmpty();
        if (slow < m_limits.still && overlapping && (in > out) == (m_transition.top == Side::Incoming)) return;
        if (slow < m_limits.still) {
            const bool stops = out > in;
            add({"speed-step", Severity::Breaks, cut, stops ? 0 : -1,
                 stops ? "The movement stops dead at the cut" : "The movement starts from nothing at the cut",
                 fmt::format("Outgoing leaves at {:.0f} % of the width per frame, incoming starts at {:.0f} %.", out,
                             in),
                 stops ? std::vector<Fix>{{"Carry it on", byValue.apply}} : std::vector<Fix>{}});
            return;
        }
        if (fast / slow <= m_limits.step) {
            if (const double step = m_velocities.difference; !m_turnsBack && step > 0.35 * fast) {
                add({"direction-step",
                     Severity::Breaks,
                     cut,
                     0,
                     "The movement changes direction at the cut",
                     fmt::format("Both sides go at {:.0f} % of the width per frame, but {:.0f} % apart: what moves one "
                                 "way before the cut moves another way after it.",
                                 fast, step),
                     {byCurve, byValue}});
                return;
            }
            m_flow.fine.push_back(
                fmt::format("Speed is steady through the cut: {:.0f} % into {:.0f} % of the width per frame", out, in));
            return;
        }
        const std::string ratio =
            out > in ? fmt::format("{:.1f} to 1", out / in) : fmt::format("1 to {:.1f}", in / out);
        std::vector<Fix> fixes;
        if (!m_turnsBack) fixes = {byCurve, byValue};
        add({"speed-step", fast / slow > m_limits.graveStep ? Severity::Breaks : Severity::WorthALook, cut,
             out > in ? 0 : -1, fmt::format("Speed {} at the cut, {}", out > in ? "drops" : "jumps", ratio),
             fmt::format("Outgoing leaves at {:.0f} % of the width per frame, incoming starts at {:.0f} %: a hitch "
                         "between −1 and 0.",
                         out, in),
             fixes});
    }

    // A frame whose own time lies beyond the last key holds, and so does one whose move holds at its ends.
    void checkLastKey() {
        bool early = false, held = false, moved = false;
        for (const Move& move : m_transition.moves)
            for (const Channel& channel : move.channels) {
                if (!isOn(m_transition.moves, move) || channel.outgoing.keys.size() < 2) continue;
                if (moveInfo(move.kind).role != MoveRole::Movement) continue;
                moved = true;
                const double last = channel.outgoing.keys.back().time;
                early = early || (last < -1 - 1e-6 && last > -2);
                held = held || (move.holds && std::abs(last + 1) < 1e-6);
            }
        const int cut = m_cut;
        if (early || held)
            add({"last-key-early",
                 Severity::WorthALook,
                 cut,
                 -1,
                 held ? "The last frame before the cut has half its blur" : "The last frame before the cut has no blur",
                 held ? "The last key sits on it and its move holds at its ends. A key one frame later, past the cut, "
                        "keeps "
                        "it moving."
                      : "The last key lies before it, so nothing moves while its shutter is open. A key past the cut "
                        "keeps "
                        "it moving.",
                 {{"Put the key past the cut",
                   [cut](const Project& p) -> Expected<Project> { return withLastKeysPastCut(p, cut); }}}});
        else if (moved && m_flow.speedOut >= m_limits.still)
            m_flow.fine.push_back("The last frame before the cut has its blur");
    }

    void checkEdges() {
        const FrameSpan span = movingSpan(m_project, m_cut);
        const std::int64_t at = m_index.starts[std::size_t(m_cut) + 1];
        FrameFacts worstBare, worstCopies;
        int bare = 0, copies = 0, copiesWhileSlow = 0;
        for (auto n = at + span.first; n <= at + span.last; ++n) {
            const FrameFacts f = factsOf(m_project, m_index, n, at);
            if (f.uncovered <= 0) continue;
            if (f.bare > 0) {
                ++bare;
                if (f.bare > worstBare.bare) worstBare = f;
            } else if (f.edges != EdgeFill::Empty && f.uncovered >= m_limits.copies) {
                ++copies;
                if (f.speed < m_limits.copySpeed) ++copiesWhileSlow;
                if (f.uncovered > worstCopies.uncovered) worstCopies = f;
            }
        }
        const int cut = m_cut;
        const auto cover = [&]() -> std::vector<Fix> {
            const auto factor = zoomThatCovers(m_project, cut);
            if (!factor || *factor > 4) return {};
            return {
                {fmt::format("Cover with zoom {:.2f}", std::ceil(*factor * 100 - 1e-6) / 100),
                 [cut, k = *factor](const Project& p) -> Expected<Project> { return withCoveringZoom(p, cut, k); }}};
        };
        if (bare > 0) {
            std::vector<Fix> fixes;
            if (worstBare.edges == EdgeFill::Empty)
                fixes.push_back({"Mirror the edges", [cut](const Project& p) -> Expected<Project> {
                                     Project next = withEdgesAt(p, cut, EdgeFill::Mirror);
                                     next.settings.copies = 0;
                                     return next;
                                 }});
            else // there are copies, but too few
                fixes.push_back({"Lift the limit on copies", [](const Project& p) -> Expected<Project> {
                                     Project next = p;
                                     next.settings.copies = 0;
                                     return next;
                                 }});
            for (Fix& fix : cover()) fixes.push_back(std::move(fix));
            add({"bare-edge", Severity::Breaks, cut, worstBare.frame,
                 fmt::format("A bare edge shows for {} frame{}", bare, bare == 1 ? "" : "s"),
                 fmt::format("Most on frame {:+}: {:.1f} % of the picture is empty.", worstBare.frame,
                             100 * worstBare.bare),
                 fixes});
        } else {
            m_flow.fine.push_back("No bare edge");
        }
        // Copies that fly past are what the fill is for; those that stay, or are seen slowly, look like a kaleidoscope.
        if (copiesWhileSlow > m_limits.copyFrames)
            add({"copies", Severity::WorthALook, cut, worstCopies.frame,
                 fmt::format("Copies fill {:.0f} % of frame {:+}", 100 * worstCopies.uncovered, worstCopies.frame),
                 fmt::format("The edge fill shows for {} frames, {} of them slow enough to be noticed: a longer or "
                             "larger move hides it.",
                             copies, copiesWhileSlow),
                 cover()});
    }

    void checkSolo() {
        if (!hasSolo(m_transition.moves)) return;
        std::string names;
        int silent = 0;
        for (const Move& move : m_transition.moves) {
            if (move.solo) names += (names.empty() ? "" : ", ") + std::string(moveInfo(move.kind).label);
            silent += !move.solo && move.enabled;
        }
        if (silent == 0) return;
        const int cut = m_cut;
        add({"solo",
             Severity::WorthALook,
             cut,
             0,
             fmt::format("Only {} is on: soloed", names),
             fmt::format("{} other move{} of this cut {} neither seen nor exported.", silent, silent == 1 ? "" : "s",
                         silent == 1 ? "is" : "are"),
             {{"End solo", [cut](const Project& p) -> Expected<Project> { return withoutSolo(p, cut); }}}});
    }

    void checkBars() {
        for (const int i : {m_cut, m_cut + 1}) {
            const Clip& clip = m_project.reel[std::size_t(i)];
            if (!leavesBarsIn(m_project, clip)) continue;
            const Crop& bars = *findMedia(m_project, clip.mediaId)->bars;
            std::string where;
            const auto name = [&](double bar, const char* side) {
                if (bar > 0) where += fmt::format("{}{:.0f} % at the {}", where.empty() ? "" : ", ", 100 * bar, side);
            };
            name(bars.top, "top"), name(bars.bottom, "bottom"), name(bars.left, "left"), name(bars.right, "right");
            const bool outgoing = i == m_cut;
            add({outgoing ? "bars:outgoing" : "bars:incoming",
                 Severity::WorthALook,
                 m_cut,
                 outgoing ? -1 : 0,
                 fmt::format("Black bars are burnt into the {} shot", outgoing ? "outgoing" : "incoming"),
                 fmt::format("{}. They move with the picture, and copies at its edges repeat them.", where),
                 {{"Crop the bars",
                   [id = clip.mediaId](const Project& p) -> Expected<Project> { return withBarsCropped(p, id); }}}});
            if (m_project.reel[std::size_t(m_cut)].mediaId == m_project.reel[std::size_t(m_cut) + 1].mediaId) break;
        }
    }

    void checkSpare() {
        for (const SpareShortage& s : m_shortages) {
            if (s.cut != m_cut) continue;
            const bool out = s.side == Side::Outgoing;
            const int cut = m_cut;
            add({out ? "spare-after" : "spare-before",
                 Severity::Breaks,
                 m_cut,
                 out ? s.there : -s.there - 1,
                 fmt::format("The {} shot runs out in the overlap", out ? "outgoing" : "incoming"),
                 fmt::format("It needs {} spare frame{} {} the cut and has {}; the rest stands still.", s.wanted,
                             s.wanted == 1 ? "" : "s", out ? "after" : "before", s.there),
                 {{"Shorten the overlap", [cut, s, out](const Project& p) -> Expected<Project> {
                       Overlap overlap = transitionAt(p, cut).overlap;
                       (out ? overlap.after : overlap.before) = s.there;
                       return withOverlap(p, cut, overlap, transitionAt(p, cut).top);
                   }}}});
        }
    }

    const Project& m_project;
    const ReelIndex& m_index;
    const std::vector<SpareShortage>& m_shortages;
    int m_cut;
    FlowLimits m_limits;
    const Transition& m_transition;
    Size m_size;
    CutVelocities m_velocities;
    CutFlow m_flow;
    bool m_turnsBack = false;
};

} // namespace

CutFlow flowAtCut(const Project& project, int cut, const FlowLimits& limits) {
    if (cut < 0 || cut >= cutCount(project)) return {};
    const ReelFacts facts(project);
    return CutCheck(project, facts, cut, limits).run();
}

std::vector<CutFlow> flowOfReel(const Project& project, const FlowLimits& limits, const Cancel& cancel) {
    const ReelFacts facts(project);
    std::vector<CutFlow> flows;
    for (int cut = 0; cut < cutCount(project) && !cancel.requested(); ++cut)
        flows.push_back(CutCheck(project, facts, cut, limits).run());
    return flows;
}

} // namespace virga
