#include "core/edit/evening.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/curve/backwards.h"
#include "core/curve/curve_edit.h"
#include "core/curve/easing_library.h"
#include "core/curve/matching.h"
#include "core/edit/move_edits.h"
#include "core/plan/seen_speed.h"

namespace virga {
namespace {

struct Address {
    int move, channel;
};

const Move& moveAt(const Project& project, int cut, int move) {
    return transitionAt(project, cut).moves[std::size_t(move)];
}

// Channels that move the picture on a side at the cut, the one that does most first.
std::vector<Address> movingAt(const Project& project, int cut, Side side) {
    if (!hasCut(project, cut)) return {};
    std::vector<std::pair<double, Address>> found;
    const Stack& moves = transitionAt(project, cut).moves;
    for (int m = 0; m < int(moves.size()); ++m) {
        const Move& move = moves[std::size_t(m)];
        const MoveInfo& info = moveInfo(move.kind);
        if (!isOn(moves, move) || info.role != MoveRole::Movement || info.pattern) continue;
        for (int c = 0; c < int(move.channels.size()); ++c) {
            if (move.channels[std::size_t(c)].side(side).keys.size() < 2) continue;
            const double speed = screenSpeed(move, c, side, side == Side::Outgoing ? -1 : 0, project.settings.size);
            if (speed >= project.settings.flow.still) found.push_back({speed, {m, c}});
        }
    }
    std::stable_sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::vector<Address> addresses;
    addresses.reserve(found.size());
    for (const auto& [speed, address] : found) addresses.push_back(address);
    return addresses;
}

tl::unexpected<Error> notHere() {
    return fail(ErrorCode::BadInput, "nothing moves on that side of the cut", {}, "add a move first");
}

// The shapes that a movement arrives by, from the one that it has to gentler ones.
std::vector<Shape> arrivals(const Curve& curve) {
    std::vector<Shape> shapes;
    if (const auto own = shapeOf(curve, 0)) shapes.push_back(*own);
    shapes.push_back(arrivingShape());
    for (const NamedShape& named : namedShapes())
        if (named.name.starts_with("arrive") || named.name == "ease-out") shapes.push_back(named.shape);
    return shapes;
}

// The start value nearest to rest with which the curve has the rate and falls evenly.
Expected<Curve> evenedByValue(const Curve& curve, double rate, const ChannelInfo& info, Ends ends) {
    Expected<Curve> best = fail(ErrorCode::BadInput, "no start value lets the movement die away evenly", {},
                                "let the outgoing side leave more softly");
    const auto way = [](const Curve& c) {
        return std::abs(toSpace(c.keys.front().value, c.space) - toSpace(c.keys.back().value, c.space));
    };
    for (const Shape& shape : arrivals(curve)) {
        const Curve shaped = withShape(curve, 0, shape);
        const auto matched = matchedByFirstValue(shaped, rate, info.lowest, info.highest, ends);
        if (!matched || unevenness(*matched, ends) > mostUneven) continue;
        if (!best || way(*matched) < way(*best)) best = *matched;
    }
    return best;
}

} // namespace

std::optional<Way> wayOf(const Project& project, int cut, Side side) {
    const auto moving = movingAt(project, cut, side);
    if (moving.empty()) return std::nullopt;
    const auto [m, c] = moving.front();
    const Move& move = moveAt(project, cut, m);
    const ChannelInfo& info = moveInfo(move.kind).channels[std::size_t(c)];
    const Curve& curve = move.channels[std::size_t(c)].side(side);
    const double beside = side == Side::Outgoing ? -1 : 0,
                 far = side == Side::Outgoing ? curve.keys.front().time : curve.keys.back().time;
    Way way;
    way.name = info.label;
    std::transform(way.name.begin(), way.name.end(), way.name.begin(),
                   [](unsigned char ch) { return char(std::tolower(ch)); });
    way.length = std::abs(toSpace(evaluate(curve, beside), curve.space) - toSpace(evaluate(curve, far), curve.space));
    way.unit = curve.space != Space::Linear ? " doublings" : std::string(info.spoken.empty() ? info.unit : info.spoken);
    way.frames = way.length / std::max(1e-9, std::abs(changeOver(curve, beside, move.ends())));
    return way;
}

Expected<Project> withEvened(const Project& project, int cut, Side side, EvenBy what, double amount) {
    if (!hasCut(project, cut)) return notHere();
    const auto moving = movingAt(project, cut, side);
    if (moving.empty()) return notHere();
    std::vector<std::pair<CurveAddress, Curve>> changed;
    for (const auto [m, c] : moving) {
        const Move& move = moveAt(project, cut, m);
        const ChannelInfo& info = moveInfo(move.kind).channels[std::size_t(c)];
        const Channel& channel = move.channels[std::size_t(c)];
        const Ends ends = move.ends();
        double rate = changeOver(channel.outgoing, -1, ends); // what both sides shall have
        const CurveAddress in{cut, m, c, Side::Incoming}, out{cut, m, c, Side::Outgoing};
        if (side == Side::Outgoing) {
            Curve curve = channel.outgoing;
            if (what == EvenBy::Length && curve.keys.front().time < 0)
                curve = stretched(curve, -amount / curve.keys.front().time);
            else if (what != EvenBy::Handle)
                return fail(ErrorCode::BadInput, "only the incoming side can be evened so");
            auto matched = matchedByLastHandle(curve, rate, ends);
            if (!matched && what == EvenBy::Length) { // or by going farther
                const auto farther = evenedByValue(backwards(curve, -0.5), -rate, info, ends);
                if (farther) matched = backwards(*farther, -0.5);
            }
            if (!matched) return tl::unexpected(matched.error());
            changed.push_back({out, *matched});
            continue;
        }
        if (std::abs(rate) < 1e-12) rate = changeOver(channel.incoming, 0, ends); // it comes in alone
        Curve curve = channel.incoming;
        if (what == EvenBy::Value) {
            const auto evened = evenedByValue(curve, rate, info, ends);
            if (!evened) return tl::unexpected(evened.error());
            changed.push_back({in, *evened});
            continue;
        }
        if (what == EvenBy::Length && curve.keys.back().time > 0)
            curve = stretched(curve, amount / curve.keys.back().time);
        if (what == EvenBy::Softer) {
            rate *= amount;
            // By its handle, or where that cannot be by going less far.
            const auto softer = matchedByLastHandle(channel.outgoing, rate, ends);
            changed.push_back({out, softer ? *softer : scaledAbout(channel.outgoing, 0, amount)});
        }
        auto matched = matchedByFirstHandle(curve, rate, ends);
        if (!matched && what == EvenBy::Length) matched = evenedByValue(curve, rate, info, ends);
        if (!matched) return tl::unexpected(matched.error());
        changed.push_back({in, *matched});
    }
    return withCurves(project, changed);
}

namespace {

double ratioOf(double out, double in) {
    return std::max(out, in) / std::max(1e-6, std::min(out, in));
}

// Whether a side no longer trips, and the cut is as steady as it was, or as it should be.
bool isEven(const Project& project, int cut, Side side, double ratioBefore) {
    const FlowLimits& limits = project.settings.flow;
    const SeenSpeeds speeds(project, cut);
    const double out = speeds.at(Side::Outgoing, -1), in = speeds.at(Side::Incoming, 0);
    const double beside = side == Side::Outgoing ? out : in, next = speeds.at(side, side == Side::Outgoing ? -2 : 1);
    if (beside > limits.fast && next < limits.fall * beside) return false;
    return ratioOf(out, in) <= std::max(limits.step, 1.01 * ratioBefore);
}

} // namespace

std::vector<Evener> waysToEven(const Project& project, int cut, Side side) {
    std::vector<Evener> ways;
    const SeenSpeeds speeds(project, cut);
    const double before = ratioOf(speeds.at(Side::Outgoing, -1), speeds.at(Side::Incoming, 0));
    const auto does = [&](EvenBy what, double amount) -> std::optional<Project> {
        auto done = withEvened(project, cut, side, what, amount);
        if (!done || !isEven(*done, cut, side, before)) return std::nullopt;
        return std::move(*done);
    };
    const auto moving = movingAt(project, cut, side);
    if (moving.empty()) return ways;
    const auto [m, c] = moving.front();
    const Curve& curve = moveAt(project, cut, m).channels[std::size_t(c)].side(side);
    if (does(EvenBy::Handle, 0)) ways.push_back({"Bend it at the cut", EvenBy::Handle, 0});
    if (side == Side::Incoming)
        if (const auto done = does(EvenBy::Value, 0)) {
            const Curve& in = moveAt(*done, cut, m).channels[std::size_t(c)].incoming;
            const ChannelInfo& info = moveInfo(moveAt(*done, cut, m).kind).channels[std::size_t(c)];
            ways.push_back({"Start at " + spokenValue(in.keys.front().value, info), EvenBy::Value, 0});
        }
    const double length = side == Side::Outgoing ? -curve.keys.front().time : curve.keys.back().time;
    const Clip& clip = project.reel[std::size_t(cut + (side == Side::Incoming))];
    std::vector<double> lengths{4, 5, 6, 8, 10, 12, 15, 20, 25, 30};
    std::sort(lengths.begin(), lengths.end(),
              [&](double a, double b) { return std::abs(a - length) < std::abs(b - length); });
    for (const double frames : lengths) {
        if (frames == length || frames > double(clip.length) || !does(EvenBy::Length, frames)) continue;
        ways.push_back({fmt::format("Take {:.0f} frames", frames), EvenBy::Length, frames});
        break;
    }
    if (side == Side::Incoming)
        for (const double part : {0.85, 0.7, 0.55, 0.4, 0.3, 0.2})
            if (does(EvenBy::Softer, part)) {
                ways.push_back({"Soften the departure", EvenBy::Softer, part});
                break;
            }
    return ways;
}

} // namespace virga
