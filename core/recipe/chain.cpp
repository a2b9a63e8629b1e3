#include "core/recipe/chain.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <map>
#include <random>
#include <set>

#include "core/check/mend.h"
#include "core/edit/continue_move.h"
#include "core/edit/key_fixes.h"
#include "core/edit/move_edits.h"
#include "core/plan/cut_match.h"
#include "core/project/beats.h"
#include "core/recipe/likeness.h"
#include "core/recipe/recipe.h"
#include "core/recipe/shot_heading.h"

namespace virga {
namespace {

// How strongly a cut falls: on a bar's first beat, on another, beside them.
double weightOf(const Project& project, std::int64_t at) {
    if (!hasBeats(project)) return 1;
    const int beat = beatAtFrame(project, at);
    for (const int b : {beat, beat + 1}) {
        const std::int64_t frame = beatFrame(project, b);
        if (std::abs(frame - at) > 1) continue;
        const auto marks = beatsBetween(project, double(frame) - 1, double(frame) + 1);
        return std::any_of(marks.begin(), marks.end(), [](const BeatMark& m) { return m.startsBar; }) ? 2 : 1;
    }
    return 0.5;
}

// Recipes that carry a movement through a cut.
std::vector<const Recipe*> chainable() {
    std::vector<const Recipe*> recipes;
    for (const Recipe& recipe : builtInRecipes())
        if (recipe.place == RecipePlace::Cut && recipe.step == 0 && recipe.framesOut > 0 && recipe.framesIn > 0 &&
            !recipe.headings.empty() && recipe.transition.overlap.isEmpty() && recipe.framesOut <= 15)
            recipes.push_back(&recipe);
    return recipes;
}

Proposal proposalOf(const Project& with, int cut, std::string label, double weight) {
    const Clip &out = with.reel[std::size_t(cut)], &in = with.reel[std::size_t(cut) + 1];
    return {{FlowPlace::Cut, in.id}, std::move(label),   weight,
            transitionAt(with, cut), edgesOf(with, out), edgesOf(with, in)};
}

} // namespace

std::optional<Proposal> continuationOf(const Project& project, int cut) {
    const int before = movingCutBefore(project, cut);
    if (before < 0 || cut >= cutCount(project)) return std::nullopt;
    const Project with = withMoveContinued(project, cut);
    if (with == project) return std::nullopt;
    return proposalOf(with, cut, fmt::format("as cut {}: {}", before + 1, movementText(with, cut)), 1);
}

namespace {

// One way to move at a cut, and how that is seen.
struct Candidate {
    const Recipe* recipe = nullptr; // null for moves that stand there already
    RecipeUse use;
    CutVelocities seen;
    double strength = 0;    // the faster of the frames beside the cut
    bool alongShot = false; // it goes where the outgoing shot goes by itself
    double rank = 0;        // by itself: more is better
};

struct PlannedCut {
    int cut = 0;
    double weight = 1;
    double loudness = 0; // of the music behind it, in LU above the whole
    bool startsPhrase = false;
    std::vector<Candidate> candidates;
    std::map<const Recipe*, double> spoilt; // what was found with it, to be avoided
};

bool movesAt(const Project& project, int cut) {
    const Stack& moves = transitionAt(project, cut).moves;
    return std::any_of(moves.begin(), moves.end(),
                       [](const Move& m) { return movesOn(m, Side::Outgoing) || movesOn(m, Side::Incoming); });
}

std::vector<Candidate> candidatesAt(const Project& project, int cut, const ChainOptions& options) {
    std::optional<Heading> shot;
    if (options.shots) shot = headingOfShot(project, cut, *options.shots);
    std::vector<Candidate> all;
    for (const Recipe* recipe : chainable())
        for (const Heading heading : recipe->headings) {
            Candidate c{recipe, {}, {}, 0, shot == heading, 0};
            if (heading != recipe->headings.front()) c.use.heading = heading;
            c.seen = velocitiesAtCut(withRecipe(project, cut, *recipe, c.use), cut);
            c.strength = std::max(c.seen.speedOut, c.seen.speedIn);
            if (c.strength > 1e-3) all.push_back(std::move(c));
        }
    return all;
}

// The cuts that are planned, with those between them that move already.
std::vector<PlannedCut> cutsToPlan(const Project& project, const ChainOptions& options) {
    const auto starts = clipStarts(project);
    std::vector<PlannedCut> cuts;
    for (int cut = 0; cut < cutCount(project); ++cut) {
        const bool has = !transitionAt(project, cut).moves.empty(),
                   gap = project.reel[std::size_t(cut)].isGap() || project.reel[std::size_t(cut) + 1].isGap();
        PlannedCut planned;
        planned.cut = cut;
        planned.weight = weightOf(project, starts[std::size_t(cut) + 1]);
        if (std::size_t(cut) < options.loudness.size()) planned.loudness = options.loudness[std::size_t(cut)];
        if (!gap && (!has || options.overExisting)) {
            planned.candidates = candidatesAt(project, cut, options);
        } else if (has && movesAt(project, cut)) {
            Candidate there;
            there.seen = velocitiesAtCut(project, cut);
            planned.candidates = {there};
        }
        if (!planned.candidates.empty()) cuts.push_back(std::move(planned));
    }
    return cuts;
}

// How strong a move should be for a beat's weight: the stronger of all on a bar, a middle one beside it; more where the
// music is louder than its whole, less where it is quieter.
double wantedStrength(const std::vector<double>& sorted, const PlannedCut& cut) {
    constexpr double perLoudness = 0.03; // of all, for a LU
    const double share = (cut.weight > 1 ? 0.85 : cut.weight < 1 ? 0.25 : 0.45) + perLoudness * cut.loudness;
    return sorted[std::size_t(std::clamp(share, 0.0, 1.0) * double(sorted.size() - 1))];
}

// A phrase is a few cuts that go on from each other; a new one begins where the music gets louder or on a bar, if one
// of those is near.
void markPhrases(std::vector<PlannedCut>& cuts, std::mt19937& random) {
    constexpr std::size_t shortest = 5, lengths = 3;
    std::size_t next = shortest + random() % lengths;
    while (next < cuts.size()) {
        const auto accent = [&](std::size_t k) {
            return cuts[k].weight + 0.25 * std::max(0.0, cuts[k].loudness - cuts[k - 1].loudness);
        };
        std::size_t at = next;
        for (const std::size_t k : {next - 1, next + 1})
            if (k < cuts.size() && accent(k) > accent(at)) at = k;
        cuts[at].startsPhrase = true;
        next = at + shortest + random() % lengths;
    }
}

Heading headingOf(const Candidate& c) {
    return c.use.heading == Heading::AsMade ? c.recipe->headings.front() : c.use.heading;
}

// What kind of movement a heading is: along, across, or about the picture's middle.
int familyOf(const Candidate& c) {
    switch (headingOf(c)) {
    case Heading::In:
    case Heading::Out:
        return 0;
    case Heading::Left:
    case Heading::Right:
        return 1;
    case Heading::Up:
    case Heading::Down:
        return 2;
    default:
        return 3;
    }
}

// What each candidate is worth by itself: the energy that its beat asks for, the shot's own way, and chance, which
// chooses among those that are as good. At most a few of each recipe are kept, the best first.
void rank(std::vector<PlannedCut>& cuts, std::uint32_t seed) {
    constexpr double chance = 1, along = 1.5, liking = 1;
    constexpr std::size_t most = 28;
    constexpr int mostOfOne = 3, leastOfHeading = 2;
    std::mt19937 random(seed); // the same on every machine; its distributions are not, so they are not used
    markPhrases(cuts, random);
    // Each phrase likes one kind of movement, another one than the phrase before.
    constexpr int families = 4;
    int liked = int(random() % families);
    std::vector<double> strengths;
    for (const PlannedCut& cut : cuts)
        for (const Candidate& c : cut.candidates)
            if (c.recipe) strengths.push_back(c.strength);
    std::sort(strengths.begin(), strengths.end());
    for (PlannedCut& cut : cuts) {
        if (cut.startsPhrase) liked = (liked + 1 + int(random() % (families - 1))) % families;
        std::map<const Recipe*, double> mood;
        for (Candidate& c : cut.candidates) {
            if (!c.recipe) continue;
            if (!mood.contains(c.recipe)) mood[c.recipe] = chance * double(random() % 1001) / 1000.0;
            const double off = std::log2(c.strength / wantedStrength(strengths, cut));
            c.rank = mood[c.recipe] + chance * double(random() % 1001) / 1000.0 - 1.5 * off * off +
                     (c.alongShot ? along : 0) + (familyOf(c) == liked ? liking : 0);
        }
        std::stable_sort(cut.candidates.begin(), cut.candidates.end(),
                         [](const Candidate& a, const Candidate& b) { return a.rank > b.rank; });
        std::map<const Recipe*, int> count;
        std::erase_if(cut.candidates, [&](const Candidate& c) { return ++count[c.recipe] > mostOfOne; });
        std::size_t kept = 0;
        std::map<Heading, int> going; // what came before may have to be answered in any of them
        std::erase_if(cut.candidates, [&](const Candidate& c) {
            if (!c.recipe) return false;
            return ++kept > most && ++going[headingOf(c)] > leastOfHeading;
        });
    }
}

// How a movement answers the one before: it goes on, or it turns back, which belongs on an accent. A phrase begins with
// something else.
double answer(const Candidate& before, const Candidate& next, const PlannedCut& cut) {
    const double like = likeness(before.seen.in, next.seen.out);
    if (like >= 0.5) return cut.startsPhrase ? 0.5 : 2.5;
    if (like <= -0.5) return cut.weight > 1 ? 2 : -2;
    return cut.startsPhrase ? 2 : -3;
}

double again(const Candidate* before, const Candidate& next) {
    constexpr double repeated = -4;
    return before && before->recipe && before->recipe == next.recipe ? repeated : 0;
}

// The best row of candidates, one for each cut: dynamic programming (Bellman 1957) over the last two choices, since no
// recipe is to come twice within three cuts.
std::vector<std::size_t> bestRow(const std::vector<PlannedCut>& cuts) {
    using Table = std::vector<double>;
    const auto worth = [](const PlannedCut& cut, const Candidate& c) {
        const auto spoilt = cut.spoilt.find(c.recipe);
        return c.rank - (spoilt == cut.spoilt.end() ? 0 : spoilt->second);
    };
    if (cuts.empty()) return {};
    // score[i * m + j]: of the best row that ends with i, then j; one "none" before the first.
    std::vector<std::vector<std::size_t>> cameFrom(cuts.size());
    Table score;
    for (const Candidate& c : cuts[0].candidates) score.push_back(worth(cuts[0], c));
    std::size_t before = 1; // how many there are before the last
    for (std::size_t k = 1; k < cuts.size(); ++k) {
        const auto& last = cuts[k - 1].candidates;
        const auto& now = cuts[k].candidates;
        Table next(last.size() * now.size(), -1e300);
        cameFrom[k].assign(next.size(), 0);
        for (std::size_t j = 0; j < last.size(); ++j)
            for (std::size_t m = 0; m < now.size(); ++m) {
                const double here = worth(cuts[k], now[m]) + answer(last[j], now[m], cuts[k]) + again(&last[j], now[m]);
                for (std::size_t i = 0; i < before; ++i) {
                    const Candidate* first = k > 1 ? &cuts[k - 2].candidates[i] : nullptr;
                    const double s = score[i * last.size() + j] + here + again(first, now[m]);
                    if (s > next[j * now.size() + m]) next[j * now.size() + m] = s, cameFrom[k][j * now.size() + m] = i;
                }
            }
        before = last.size();
        score = std::move(next);
    }
    std::size_t best = std::size_t(std::max_element(score.begin(), score.end()) - score.begin());
    std::vector<std::size_t> row(cuts.size());
    const std::size_t width = cuts.back().candidates.size();
    std::size_t i = best / width, j = best % width;
    for (std::size_t k = cuts.size(); k-- > 0;) {
        row[k] = j;
        if (k == 0) break;
        const std::size_t earlier = cameFrom[k][i * cuts[k].candidates.size() + j];
        j = i, i = earlier;
    }
    return row;
}

std::string labelOf(const Candidate& c, const Candidate* before) {
    const double like = before ? likeness(before->seen.in, c.seen.out) : 0;
    return c.recipe->name + (c.alongShot            ? ", as the shot goes"
                             : like >= 0.5          ? ", goes on"
                             : like <= -0.5         ? ", turns back"
                             : c.use == RecipeUse{} ? ""
                                                    : ", the other way");
}

std::set<std::string> foundAt(const Project& project, int cut) {
    std::set<std::string> names;
    for (const Finding& f : flowAtCut(project, cut).findings) names.insert(kindOf(f));
    return names;
}

} // namespace

std::vector<Proposal> chainOf(const Project& project, const ChainOptions& options) {
    std::vector<PlannedCut> cuts = cutsToPlan(project, options);
    rank(cuts, options.seed);
    std::vector<Proposal> best;
    int least = std::numeric_limits<int>::max();
    // What has a finding is left out of the next round; the row with the fewest is taken.
    constexpr int rounds = 10;
    for (int round = 0; round < rounds && least > 0; ++round) {
        const std::vector<std::size_t> row = bestRow(cuts);
        std::vector<Proposal> proposals;
        Project planned = project;
        const Candidate* before = nullptr;
        for (std::size_t k = 0; k < cuts.size(); ++k) {
            const Candidate& c = cuts[k].candidates[row[k]];
            if (c.recipe) {
                planned = withRecipe(planned, cuts[k].cut, *c.recipe, c.use);
                proposals.push_back(proposalOf(planned, cuts[k].cut, labelOf(c, before), cuts[k].weight));
            }
            before = &c;
        }
        int found = 0;
        for (std::size_t k = 0; k < cuts.size(); ++k) {
            const Candidate& c = cuts[k].candidates[row[k]];
            if (!c.recipe) continue;
            const auto known = foundAt(project, cuts[k].cut);
            const auto now = foundAt(planned, cuts[k].cut);
            const auto fresh =
                std::count_if(now.begin(), now.end(), [&](const std::string& n) { return !known.contains(n); });
            if (fresh == 0) continue;
            found += int(fresh);
            cuts[k].spoilt[c.recipe] += 3;
        }
        if (found < least) least = found, best = std::move(proposals);
    }
    return best;
}

Expected<Project> withProposal(const Project& project, const Proposal& proposal) {
    const auto cut = indexOf(project, proposal.cut);
    if (!cut) return fail(ErrorCode::BadInput, "this cut is gone from the reel", {}, "ask for another plan");
    Transition transition = proposal.transition;
    transition.overlap = transitionAt(project, *cut).overlap;
    transition.top = transitionAt(project, *cut).top;
    Project done = withTransition(project, *cut, transition);
    // Movement shows the frame's edges: copies fill them.
    for (const bool out : {true, false}) {
        Clip& c = done.reel[std::size_t(out ? *cut : *cut + 1)];
        EdgeFill edges = out ? proposal.edgesOut : proposal.edgesIn;
        if (edges == EdgeFill::Empty) edges = EdgeFill::Mirror;
        if (edgesOf(done, c) != edges) c.edges = edges;
    }
    return done;
}

Project withChain(const Project& project, const ChainOptions& options) {
    Project done = project;
    for (const Proposal& proposal : chainOf(project, options))
        if (auto next = withProposal(done, proposal)) done = std::move(*next);
    // Nothing quite still: mending gives shots that rest a creeping drift, and hands tilts over.
    return mendedReel(done).project;
}

} // namespace virga
