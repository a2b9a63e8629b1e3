#include "cli/move_spec.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <optional>
#include <vector>

#include "core/curve/curve_edit.h"
#include "core/project/limits.h"

namespace virga::cli {
namespace {

template <typename Number> std::optional<Number> number(std::string_view text) {
    Number value{};
    const auto [end, ec] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (ec != std::errc() || end != text.data() + text.size() || text.empty()) return std::nullopt;
    if constexpr (std::is_floating_point_v<Number>)
        if (!std::isfinite(value)) return std::nullopt;
    return value;
}

std::pair<std::string_view, std::string_view> split(std::string_view text, char at) {
    const auto place = text.find(at);
    if (place == std::string_view::npos) return {text, {}};
    return {text.substr(0, place), text.substr(place + 1)};
}

std::optional<std::pair<double, double>> pair(std::string_view text) {
    const auto [a, b] = split(text, ',');
    const auto x = number<double>(a), y = number<double>(b);
    if (!x || !y) return std::nullopt;
    return std::pair(*x, *y);
}

// A kind keys its first channel; where it has several, each has a name of its own too: slide-x, slide-y, swivel.
std::vector<std::pair<std::string, std::pair<MoveKind, int>>> namedChannels() {
    std::vector<std::pair<std::string, std::pair<MoveKind, int>>> names;
    for (const MoveInfo& info : allMoves()) {
        const bool axes = info.channels.front().name.size() == 1; // x and y mean nothing alone
        if (!axes) names.push_back({std::string(info.name), {info.kind, 0}});
        for (int c = axes ? 0 : 1; c < int(info.channels.size()); ++c) {
            const std::string_view name = info.channels[std::size_t(c)].name;
            const bool clear = !axes && info.role == MoveRole::Movement;
            names.push_back({clear ? std::string(name) : fmt::format("{}-{}", info.name, name), {info.kind, c}});
        }
    }
    return names;
}

std::optional<std::pair<MoveKind, int>> moveNamed(std::string_view name) {
    for (const auto& [known, move] : namedChannels())
        if (known == name) return move;
    return std::nullopt;
}

} // namespace

std::string moveNames() {
    std::string text;
    for (const auto& [name, move] : namedChannels()) text += (text.empty() ? "" : ", ") + name;
    return text;
}

Expected<Size> sizeFromText(const std::string& text) {
    const auto [w, h] = split(text, 'x');
    const auto width = number<int>(w), height = number<int>(h);
    if (!width || !height || *width < 16 || *height < 16 || *width > 16384 || *height > 16384)
        return fail(ErrorCode::BadInput, fmt::format("\"{}\" is not a size", text), "--size",
                    "write it as 1280x720, from 16 to 16384 a side");
    return Size{*width, *height};
}

Expected<FrameRate> rateFromText(const std::string& text) {
    const auto rate = rationalFromText(text);
    if (!rate || !isUsableRate(*rate))
        return fail(ErrorCode::BadInput, fmt::format("\"{}\" is not a frame rate", text), "--rate",
                    "write it as 25, 29.97 or 30000/1001");
    return *rate;
}

Expected<std::pair<std::int64_t, std::int64_t>> rangeFromText(const std::string& text) {
    const auto [a, b] = split(text, '-');
    const auto first = number<std::int64_t>(a),
               last = b.empty() && text.find('-') == std::string::npos ? first : number<std::int64_t>(b);
    constexpr std::int64_t most = longestClip * 1000; // more than any reel has at any rate
    if (!first || !last || *first < 0 || *last < *first || *last > most)
        return fail(ErrorCode::BadInput, fmt::format("\"{}\" is not a range of frames", text), "--frames",
                    "write it as 0-49: the first and the last frame, counted from 0");
    return std::pair(*first, *last);
}

Expected<Move> moveFromText(const std::string& text) {
    const auto bad = [&](const std::string& why) {
        return fail(ErrorCode::BadInput, fmt::format("\"{}\": {}", text, why), "--move",
                    "write it like zoom:1,2.5|0.62,1@5,12");
    };
    auto [kindName, rest] = split(text, ':');
    const auto named = moveNamed(kindName);
    if (!named) return bad(fmt::format("there is no move \"{}\"; there are {}", kindName, moveNames()));
    const auto [kind, channel] = *named;
    const auto [values, framesText] = split(rest, '@');
    const auto [outText, inText] = split(values, '|');
    const auto frames = pair(framesText);
    if (!frames || frames->first < 0 || frames->second < 0 || frames->first > 1e6 || frames->second > 1e6)
        return bad("behind @ come the frames before and after the cut, as 5,12");
    Move move = makeMove(kind, "");
    const auto& info = moveInfo(kind).channels[std::size_t(channel)];
    const Space space = spaceOf(move, channel);
    Channel& c = move.channels[std::size_t(channel)];
    const auto side = [&](std::string_view part, bool out) -> std::optional<std::string> {
        if (part.empty()) return std::nullopt;
        const auto v = pair(part);
        const char* name = out ? "outgoing" : "incoming";
        if (!v) return fmt::format("the {} side needs a start and an end, as 1,2.5", name);
        for (const double value : {v->first, v->second})
            if (value < info.lowest || value > info.highest)
                return fmt::format("{} is not between {} and {}", value, info.lowest, info.highest);
        const double length = out ? frames->first : frames->second;
        if (length <= 0) return fmt::format("the {} side needs at least one frame", name);
        (out ? c.outgoing : c.incoming) = out ? twoKeys(space, -length, v->first, 0, v->second, departingShape())
                                              : twoKeys(space, 0, v->first, length, v->second, arrivingShape());
        return std::nullopt;
    };
    if (const auto why = side(outText, true)) return bad(*why);
    if (const auto why = side(inText, false)) return bad(*why);
    if (c.outgoing.isEmpty() && c.incoming.isEmpty()) return bad("neither side has values");
    return move;
}

Expected<RampSpec> rampFromText(const std::string& text) {
    const auto bad = [&](const std::string& why) {
        return fail(ErrorCode::BadInput, fmt::format("\"{}\": {}", text, why), "--ramp",
                    "write it like 100,800|800,100@12,12");
    };
    const auto [values, framesText] = split(text, '@');
    const auto [outText, inText] = split(values, '|');
    const auto frames = pair(framesText);
    if (!frames || frames->first < 0 || frames->second < 0 || frames->first > 1e6 || frames->second > 1e6)
        return bad("behind @ come the frames before and after the cut, as 12,12");
    RampSpec spec;
    for (const bool out : {true, false}) {
        const std::string_view part = out ? outText : inText;
        if (part.empty()) continue;
        const auto v = pair(part);
        const char* name = out ? "outgoing" : "incoming";
        if (!v) return bad(fmt::format("the {} side needs a start and an end, as 100,800", name));
        for (const double value : {v->first, v->second})
            if (std::abs(value) > fastestPercent)
                return bad(
                    fmt::format("{} is not between -{:.0f} and {:.0f} %", value, fastestPercent, fastestPercent));
        const double length = out ? frames->first : frames->second;
        if (length < 1) return bad(fmt::format("the {} side needs at least one frame", name));
        (out ? spec.out : spec.in) =
            out ? Ramp{v->first, v->second, int(length)} : Ramp{v->second, v->first, int(length)};
    }
    if (!spec.out && !spec.in) return bad("neither side has values");
    return spec;
}

Expected<std::vector<int>> cutsFromText(const std::string& text, int count) {
    std::vector<int> cuts;
    if (text == "all" || text.empty()) {
        for (int cut = 0; cut < count; ++cut) cuts.push_back(cut);
        return cuts;
    }
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find(',', at), text.size());
        const std::string word = text.substr(at, end - at);
        at = end + 1;
        const bool number = !word.empty() && word.size() < 8 && word.find_first_not_of("0123456789") == word.npos;
        const int cut = number ? std::stoi(word) - 1 : -1;
        if (cut < 0 || cut >= count)
            return fail(ErrorCode::BadInput, fmt::format("\"{}\" is no cut of this reel, which has {}", word, count),
                        "--cuts " + text, "write cuts such as 1,3,5, or all");
        cuts.push_back(cut);
    }
    std::sort(cuts.begin(), cuts.end());
    cuts.erase(std::unique(cuts.begin(), cuts.end()), cuts.end());
    return cuts;
}

} // namespace virga::cli
