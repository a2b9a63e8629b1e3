#include "core/motion/stack_map.h"

#include <algorithm>
#include <cmath>

namespace virga {
namespace {

double channelAt(const Move& move, std::size_t channel, Side side, const Moment& moment) {
    const ChannelInfo& info = moveInfo(move.kind).channels[channel];
    if (channel >= move.channels.size()) return info.neutral;
    const double value =
        evaluateExposed(move.channels[channel].side(side), moment.frame, moment.time, move.ends(), info.neutral);
    return std::clamp(value, info.lowest, info.highest);
}

MoveValues valuesOf(const Move& move, const Moment& moment) {
    MoveValues values;
    values.parameters = move.parameters;
    values.anchor = move.anchor;
    values.seconds = (moment.time + move.clock) / moment.framesPerSecond;
    return values;
}

} // namespace

StackValues valuesAt(const Stack& stack, Side side, const Moment& moment) {
    StackValues values(stack.size());
    for (std::size_t m = 0; m < stack.size(); ++m)
        for (std::size_t c = 0; c < moveInfo(stack[m].kind).channels.size(); ++c)
            values[m][c] = channelAt(stack[m], c, side, moment);
    return values;
}

ScreenMap stackMap(const ScreenMap& beneath, const Stack& stack, const StackValues& values, const Moment& moment,
                   Size frame) {
    ScreenMap map = beneath;
    Matrix pending; // matrices in a row are one
    bool any = false;
    const auto flush = [&] {
        if (any) map = map.movedBy(pending);
        pending = Matrix();
        any = false;
    };
    const bool solo = hasSolo(stack);
    for (std::size_t m = 0; m < stack.size(); ++m) {
        const Move& move = stack[m];
        const MoveInfo& info = moveInfo(move.kind);
        if (!info.part || !move.enabled || (solo && !move.solo)) continue;
        MoveValues v = valuesOf(move, moment);
        v.channels = values[m];
        const MovePart part = info.part(v, frame);
        if (const Matrix* matrix = std::get_if<Matrix>(&part)) {
            pending = then(pending, *matrix);
            any = true;
        } else if (const Lens* lens = std::get_if<Lens>(&part)) {
            flush();
            map = map.seenThrough(*lens);
        }
    }
    flush();
    return map;
}

ScreenMap stackMap(const ScreenMap& beneath, const Stack& stack, Side side, const Moment& moment, Size frame) {
    return stackMap(beneath, stack, valuesAt(stack, side, moment), moment, frame);
}

double stackOpacity(const Stack& stack, Side side, double time) {
    double opacity = 1;
    for (const Move& move : stack)
        if (moveInfo(move.kind).role == MoveRole::Opacity && isOn(stack, move))
            opacity *= std::clamp(channelAt(move, 0, side, time), 0.0, 1.0);
    return opacity;
}

std::vector<Treatment> treatmentsOf(const Stack& stack, Side side, const Moment& moment, const OwnMovement& own) {
    std::vector<Treatment> treatments;
    for (const Move& move : stack) {
        const MoveInfo& info = moveInfo(move.kind);
        if (!info.treatment || !isOn(stack, move)) continue;
        MoveValues values = valuesOf(move, moment);
        values.own = own;
        for (std::size_t c = 0; c < info.channels.size(); ++c) values.channels[c] = channelAt(move, c, side, moment);
        if (auto treatment = info.treatment(values)) treatments.push_back(std::move(*treatment));
    }
    return treatments;
}

} // namespace virga
