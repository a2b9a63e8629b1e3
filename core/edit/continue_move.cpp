#include "core/edit/continue_move.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/curve/backwards.h"
#include "core/edit/move_edits.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

bool movesPicture(const Stack& moves) {
    return std::any_of(moves.begin(), moves.end(), [&](const Move& move) {
        return isOn(moves, move) && moveInfo(move.kind).role == MoveRole::Movement &&
               (movesOn(move, Side::Outgoing) || movesOn(move, Side::Incoming));
    });
}

} // namespace

int movingCutBefore(const Project& project, int cut) {
    for (int c = std::min(cut, cutCount(project)) - 1; c >= 0; --c)
        if (movesPicture(transitionAt(project, c).moves)) return c;
    return -1;
}

std::string movementText(const Project& project, int cut) {
    if (!hasCut(project, cut)) return {};
    const Stack& moves = transitionAt(project, cut).moves;
    double most = 0;
    std::string text;
    for (const Move& move : moves) {
        const MoveInfo& info = moveInfo(move.kind);
        if (!isOn(moves, move) || info.role != MoveRole::Movement) continue;
        for (int c = 0; c < int(move.channels.size()); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming}) {
                const double beside = side == Side::Outgoing ? -1 : 0,
                             speed = screenSpeed(move, c, side, beside, project.settings.size);
                if (speed <= most) continue;
                most = speed;
                const ChannelInfo& channel = info.channels[std::size_t(c)];
                std::string label(channel.label);
                std::transform(label.begin(), label.end(), label.begin(),
                               [](unsigned char ch) { return char(std::tolower(ch)); });
                const double change = changeOver(move.channels[std::size_t(c)].side(side), beside, move.ends());
                text = fmt::format("{} {}", label, change > 0 ? channel.rising : channel.falling);
            }
    }
    return text;
}

Project withMovesFrom(const Project& project, int from, int to) {
    if (from < 0 || to < 0 || from >= cutCount(project) || to >= cutCount(project) || from == to) return project;
    Transition transition = transitionAt(project, to);
    transition.moves = transitionAt(project, from).moves;
    transition.link.reset(); // what it followed is gone
    for (Move& move : transition.moves) move.recipeMove.clear();
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const double room = double(project.reel[std::size_t(to + (side == Side::Incoming))].length);
        double longest = 0; // all moves of a side keep step
        for (const Move& move : transition.moves)
            for (const Channel& channel : move.channels)
                if (const auto& keys = channel.side(side).keys; !keys.empty())
                    longest = std::max(longest, side == Side::Outgoing ? -keys.front().time : keys.back().time);
        if (longest <= room) continue;
        for (Move& move : transition.moves)
            for (Channel& channel : move.channels) channel.side(side) = stretched(channel.side(side), room / longest);
    }
    Project done = withTransition(project, to, transition);
    for (const int k : {0, 1}) {
        const EdgeFill edges = edgesOf(project, project.reel[std::size_t(from + k)]);
        auto& own = done.reel[std::size_t(to + k)].edges;
        if (edgesOf(done, done.reel[std::size_t(to + k)]) != edges) own = edges;
    }
    return done;
}

Project withMoveContinued(const Project& project, int cut) {
    return withMovesFrom(project, movingCutBefore(project, cut), cut);
}

} // namespace virga
