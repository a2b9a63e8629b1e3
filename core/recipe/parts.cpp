#include "core/recipe/parts.h"

#include <algorithm>
#include <fmt/format.h>

namespace virga {
namespace {

const Move* moveOf(const Transition& transition, const std::string& recipeMove) {
    for (const Move& move : transition.moves)
        if (!recipeMove.empty() && move.recipeMove == recipeMove) return &move;
    return nullptr;
}
Move* moveOf(Transition& transition, const std::string& recipeMove) {
    const Move* found = moveOf(std::as_const(transition), recipeMove);
    if (!found) return nullptr;
    const Stack& moves = transition.moves;
    const auto at = std::find_if(moves.begin(), moves.end(), [&](const Move& move) { return &move == found; });
    return &transition.moves[std::size_t(at - moves.begin())]; // its own from here on
}

constexpr const char* sideWords[] = {"outgoing", "incoming"};

// A move without its curves, for comparing.
Move bare(Move move) {
    move.id.clear();
    move.channels.clear();
    move.solo = false; // a way of looking, no change
    return move;
}

std::vector<std::string> orderOf(const Transition& transition, const Transition& other) {
    std::vector<std::string> order;
    for (const Move& move : transition.moves)
        if (moveOf(other, move.recipeMove)) order.push_back(move.recipeMove);
    return order;
}

} // namespace

std::string curvePart(const Move& move, int channel, Side side) {
    const auto& channels = moveInfo(move.kind).channels;
    if (channel < 0 || channel >= int(channels.size())) return {};
    return fmt::format("{}/{}/{}", move.recipeMove, channels[std::size_t(channel)].name,
                       sideWords[side == Side::Incoming]);
}

std::vector<std::string> differingParts(const Transition& a, const Transition& b) {
    std::vector<std::string> parts;
    for (const Move& move : a.moves) {
        if (move.recipeMove.empty()) continue;
        const Move* other = moveOf(b, move.recipeMove);
        if (!other || other->kind != move.kind) {
            parts.push_back(move.recipeMove);
            continue;
        }
        if (!(bare(move) == bare(*other))) parts.push_back(move.recipeMove + "/settings");
        for (std::size_t c = 0; c < move.channels.size() && c < other->channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming})
                if (move.channels[c].side(side).keys != other->channels[c].side(side).keys)
                    parts.push_back(curvePart(move, int(c), side));
    }
    for (const Move& move : b.moves)
        if (!move.recipeMove.empty() && !moveOf(a, move.recipeMove)) parts.push_back(move.recipeMove);
    if (orderOf(a, b) != orderOf(b, a)) parts.push_back("order");
    if (a.overlap != b.overlap || a.top != b.top || a.alone != b.alone) parts.push_back("overlap");
    if (a.shutter != b.shutter) parts.push_back("shutter");
    return parts;
}

Transition keepingParts(const Transition& next, const Transition& now, const std::vector<std::string>& own) {
    const auto isOwn = [&](const std::string& part) { return std::find(own.begin(), own.end(), part) != own.end(); };
    Transition out = next;
    out.ignored = now.ignored;
    out.link = now.link;
    // There or not there as at the cut.
    erase_if(out.moves, [&](const Move& m) { return isOwn(m.recipeMove) && !moveOf(now, m.recipeMove); });
    for (const Move& at : now.moves) {
        Move* move = moveOf(out, at.recipeMove);
        if (!move) {
            if (at.recipeMove.empty() || isOwn(at.recipeMove)) out.moves.push_back(at);
            continue;
        }
        if (isOwn(at.recipeMove)) {
            *move = at;
            continue;
        }
        move->id = at.id, move->solo = at.solo;
        if (isOwn(at.recipeMove + "/settings")) {
            auto channels = std::move(move->channels);
            *move = at;
            move->channels = std::move(channels);
        }
        for (std::size_t c = 0; c < move->channels.size() && c < at.channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming})
                if (isOwn(curvePart(at, int(c), side)))
                    move->channels[c].side(side).keys = at.channels[c].side(side).keys;
    }
    if (isOwn("order")) {
        const auto placeOf = [&](const Move& m) {
            const auto at = std::find_if(now.moves.begin(), now.moves.end(), [&](const Move& o) {
                return m.recipeMove.empty() ? o.id == m.id : o.recipeMove == m.recipeMove;
            });
            return at - now.moves.begin();
        };
        std::stable_sort(out.moves.begin(), out.moves.end(),
                         [&](const Move& a, const Move& b) { return placeOf(a) < placeOf(b); });
    }
    if (isOwn("overlap")) out.overlap = now.overlap, out.top = now.top, out.alone = now.alone;
    if (isOwn("shutter")) out.shutter = now.shutter;
    return out;
}

std::string partText(const Transition& at, const std::string& part) {
    if (part == "overlap") return "the overlap";
    if (part == "shutter") return "the shutter";
    if (part == "order") return "the order of its moves";
    const auto slash = part.find('/');
    const Move* move = moveOf(at, part.substr(0, slash));
    if (!move) return "a move that was removed";
    const MoveInfo& info = moveInfo(move->kind);
    if (slash == part.npos) return fmt::format("{}, all of it", info.label);
    if (part.ends_with("/settings")) return fmt::format("{}, its settings", info.label);
    for (const ChannelInfo& channel : info.channels)
        for (const char* side : sideWords)
            if (part.substr(slash + 1) == fmt::format("{}/{}", channel.name, side))
                return fmt::format("{}, {}", channel.label, side);
    return part;
}

} // namespace virga
