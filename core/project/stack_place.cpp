#include "core/project/stack_place.h"

namespace virga {
namespace {

template <class List> auto* entry(List& list, int index) {
    return index >= 0 && index < int(list.size()) ? &list[std::size_t(index)] : nullptr;
}

// To read or to change, as the project is.
template <class Any> auto stackIn(Any& project, StackPlace place) -> decltype(&project.reel[0].drift) {
    switch (place.kind) {
    case StackPlace::Cut:
        if (hasCut(project, place.index)) return &project.reel[std::size_t(place.index) + 1].transition.moves;
        break;
    case StackPlace::Drift:
        if (auto* clip = entry(project.reel, place.index)) return &clip->drift;
        break;
    case StackPlace::Overlay:
        if (auto* overlay = entry(project.overlays, place.index)) return &overlay->clip.transition.moves;
        break;
    case StackPlace::Adjustment:
        if (auto* adjustment = entry(project.adjustments, place.index)) return &adjustment->moves;
        break;
    }
    return nullptr;
}

} // namespace

const Stack* stackAt(const Project& project, StackPlace place) {
    return stackIn(project, place);
}

Stack* ownStackAt(Project& project, StackPlace place) {
    return stackIn(project, place);
}

std::int64_t originOf(const Project& project, StackPlace place) {
    if (!stackAt(project, place)) return 0;
    switch (place.kind) {
    case StackPlace::Cut:
        return cutFrame(project, place.index);
    case StackPlace::Drift:
        return clipStart(project, place.index);
    case StackPlace::Overlay:
        return project.overlays[std::size_t(place.index)].start;
    case StackPlace::Adjustment:
        return project.adjustments[std::size_t(place.index)].start;
    }
    return 0;
}

bool hasSide(StackPlace place, Side side) {
    return place.kind != StackPlace::Drift || side == Side::Incoming;
}

namespace {

// Of what a stack that is not a cut's belongs to.
double lengthAt(const Project& project, StackPlace place) {
    const auto i = std::size_t(place.index);
    return double(place.kind == StackPlace::Drift     ? project.reel[i].length
                  : place.kind == StackPlace::Overlay ? project.overlays[i].clip.length
                                                      : project.adjustments[i].length);
}

} // namespace

double sideOrigin(const Project& project, StackPlace place, Side side) {
    if (place.kind == StackPlace::Cut || side == Side::Incoming || !stackAt(project, place)) return 0;
    return lengthAt(project, place);
}

SideSpan sideSpan(const Project& project, StackPlace place, Side side) {
    if (!stackAt(project, place)) return {};
    const auto i = std::size_t(place.index);
    if (place.kind == StackPlace::Cut)
        return side == Side::Outgoing ? SideSpan{-double(project.reel[i].length), 0}
                                      : SideSpan{0, double(project.reel[i + 1].length)};
    const double length = lengthAt(project, place);
    return side == Side::Outgoing ? SideSpan{-length, 0} : SideSpan{0, length};
}

} // namespace virga
