#include "core/motion/move.h"

#include <fmt/format.h>

namespace virga {

const MoveInfo& moveInfo(MoveKind kind) {
    static const MoveInfo shotSpeed{.kind = MoveKind::ShotSpeed,
                                    .name = "shot-speed",
                                    .label = "Shot speed",
                                    .role = MoveRole::Time,
                                    .icon = "shot-speed",
                                    .purpose = "runs the shots themselves faster or slower",
                                    .channels = {{"speed", "Shot speed", " %", 100, Space::Linear, -1000, 1000, 5, 0,
                                                  "speeds up", "slows down", 800, 60, " %"}}};
    if (kind == MoveKind::ShotSpeed) return shotSpeed;
    static const MoveInfo unknown{MoveKind::Unknown, "", "Unknown move", MoveRole::Movement, "more", "", {}};
    for (const auto& info : allMoves())
        if (info.kind == kind) return info;
    return unknown;
}

std::optional<MoveKind> moveKindNamed(std::string_view name) {
    for (const auto& info : allMoves())
        if (info.name == name) return info.kind;
    return std::nullopt;
}

std::vector<std::pair<std::string_view, double>> typedUnits(Quantity quantity, Size frame) {
    switch (quantity) {
    case Quantity::Factor:
        return {{"x", 1}, {"%", 0.01}};
    case Quantity::Angle:
        return {{"deg", 1}, {"turns", 360}, {"turn", 360}};
    case Quantity::ShareOfWidth:
        return {{"px", 1.0 / frame.width}, {"%", 0.01}};
    case Quantity::ShareOfHeight:
        return {{"px", 1.0 / frame.height}, {"%", 0.01}};
    case Quantity::PercentOfWidth:
        return {{"%", 1}, {"px", 100.0 / frame.width}};
    case Quantity::PercentOfHeight:
        return {{"%", 1}, {"px", 100.0 / frame.height}};
    case Quantity::Plain:
        break;
    }
    return {{"%", 0.01}};
}

std::string spokenValue(double value, const ChannelInfo& info) {
    return fmt::format("{:.{}f}{}", value, std::min(info.decimals, info.quantity == Quantity::Angle ? 0 : 2),
                       info.spoken.empty() ? info.unit : info.spoken);
}

Move makeMove(MoveKind kind, std::string id) {
    Move move;
    move.id = std::move(id);
    move.kind = kind;
    const auto& info = moveInfo(kind);
    move.kindName = info.name;
    move.even = info.evenAtFirst;
    move.channels.resize(info.channels.size());
    for (std::size_t c = 0; c < info.channels.size(); ++c)
        move.channels[c].outgoing.space = move.channels[c].incoming.space = spaceOf(move, int(c));
    for (const ParameterInfo& parameter : info.parameters) move.parameters.push_back(parameter.initial);
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
