#include "core/check/flow_line.h"

#include "core/check/checks.h"

namespace virga {

std::int64_t turningFrame(const ClipFacts& facts) {
    const auto& runs = facts.runs();
    if (runs.empty()) return 0;
    double least = 1e300;
    std::int64_t longest = 0, middle = 0;
    for (std::size_t i = 0; i < runs.size(); ++i) {
        const std::int64_t end = i + 1 < runs.size() ? runs[i + 1].first : facts.length(), length = end - runs[i].first;
        const double speed = runs[i].facts.speed;
        if (speed > least || (speed == least && length <= longest)) continue;
        least = speed, longest = length, middle = runs[i].first + length / 2;
    }
    return middle;
}

std::vector<ChannelLine> channelLines(const Project& project, int cut) {
    std::vector<ChannelLine> lines;
    if (!hasCut(project, cut)) return lines;
    const FrameSpan span = movingSpan(project, cut);
    const Stack& moves = transitionAt(project, cut).moves;
    for (const Move& move : moves) {
        const MoveInfo& info = moveInfo(move.kind);
        if (!isOn(moves, move) || info.role != MoveRole::Movement) continue;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            ChannelLine line{std::string(info.channels[std::size_t(c)].label), span.first, {}};
            double most = 0;
            for (std::int64_t n = span.first; n <= span.last; ++n) {
                const double speed =
                    screenSpeed(move, c, n < 0 ? Side::Outgoing : Side::Incoming, double(n), project.settings.size);
                most = std::max(most, speed);
                line.speeds.push_back(speed);
            }
            if (most >= project.settings.flow.still) lines.push_back(std::move(line));
        }
    }
    return lines;
}

} // namespace virga
