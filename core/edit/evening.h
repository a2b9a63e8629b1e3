#pragma once
// What to do where a side has too little to travel for its speed at the cut, so that it falls away after the cut or
// jumps in before it: another start value, another length, a softer departure. Each is solved, and offered only where
// it does.
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

/// What the channel that moves most at the cut has to travel on a side.
struct Way {
    std::string name;  // of its move: "zoom"
    double length = 0; // in its space's units
    std::string unit;
    double frames = 0; // for that at the speed beside the cut
};
std::optional<Way> wayOf(const Project& project, int cut, Side side);

enum class EvenBy { Handle, Value, Length, Softer };

/// The side made even, as seen from frame to frame (mostUneven), and matched to the other one. Handle bends it at the
/// cut and keeps its values; Value starts the incoming side farther away; Length lets it take `amount` frames; Softer
/// lets the outgoing side leave at `amount` of its rates. Errors: BadInput where a channel cannot.
Expected<Project> withEvened(const Project& project, int cut, Side side, EvenBy what, double amount);

struct Evener {
    std::string label; // "Start at 0.34×"
    EvenBy what = EvenBy::Value;
    double amount = 0;
};
/// The ways that do, with their numbers, the one that changes least first.
std::vector<Evener> waysToEven(const Project& project, int cut, Side side);

} // namespace virga
