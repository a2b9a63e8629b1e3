#include "core/motion/move.h"

namespace virga {

const std::vector<MoveInfo>& allMoves() {
    static const std::vector<MoveInfo> all = {
        {MoveKind::Zoom, "zoom", "Zoom", {{"factor", "Zoom", "×", 1, Space::Log2, 0.01, 100, 0.05, 2}}},
        {MoveKind::Spin, "spin", "Spin", {{"angle", "Spin", "°", 0, Space::Linear, -36000, 36000, 5, 1}}},
        {MoveKind::Slide,
         "slide",
         "Slide",
         {{"x", "Slide x", "w", 0, Space::Linear, -100, 100, 0.05, 3},
          {"y", "Slide y", "h", 0, Space::Linear, -100, 100, 0.05, 3}}},
        {MoveKind::Fade, "fade", "Fade", {{"opacity", "Opacity", "", 1, Space::Linear, 0, 1, 0.05, 2}}},
    };
    return all;
}

const MoveInfo& moveInfo(MoveKind kind) {
    static const MoveInfo unknown{MoveKind::Unknown, "", "Unknown move", {}};
    for (const auto& info : allMoves())
        if (info.kind == kind) return info;
    return unknown;
}

std::optional<MoveKind> moveKindNamed(std::string_view name) {
    for (const auto& info : allMoves())
        if (info.name == name) return info.kind;
    return std::nullopt;
}

Move makeMove(MoveKind kind, std::string id) {
    Move move;
    move.id = std::move(id);
    move.kind = kind;
    const auto& info = moveInfo(kind);
    move.kindName = info.name;
    move.channels.resize(info.channels.size());
    for (std::size_t c = 0; c < info.channels.size(); ++c)
        move.channels[c].outgoing.space = move.channels[c].incoming.space = info.channels[c].space;
    return move;
}

Space spaceOf(const Move& move, int channel) {
    const auto& channels = moveInfo(move.kind).channels;
    if (channel < 0 || channel >= int(channels.size())) return Space::Linear;
    return move.even ? channels[std::size_t(channel)].space : Space::Linear;
}

bool hasSolo(const Stack& stack) {
    for (const Move& move : stack)
        if (move.solo) return true;
    return false;
}

bool isOn(const Stack& stack, const Move& move) {
    return move.enabled && (move.solo || !hasSolo(stack));
}

bool movesOn(const Move& move, Side side) {
    for (const auto& channel : move.channels)
        if (!channel.side(side).isEmpty()) return true;
    return false;
}

} // namespace virga
