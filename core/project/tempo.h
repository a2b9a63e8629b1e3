#pragma once
// The beats of a piece of music: an even grid, with single beats placed by hand or by detection. Times are seconds into
// the music's file; beats are numbered from 0, the first of a bar where the number divides by beatsPerBar.
#include <map>
#include <vector>

#include "core/base/error.h"
#include "core/base/rational.h"

namespace virga {

struct Tempo {
    double beatsPerMinute = 120;
    Rational firstBeat;
    int beatsPerBar = 4;
    std::map<int, double> placed; // beats that lie elsewhere than the grid says
    bool operator==(const Tempo&) const = default;
};

/// When a beat is. Beats before 0 lie on the grid.
double beatTime(const Tempo& tempo, int beat);
/// The number of the last beat at or before a time, within a thousandth of a second.
int beatBefore(const Tempo& tempo, double seconds);

/// The same music counted half or twice as fast. Beats placed by hand stay where they are.
Tempo halved(const Tempo& tempo);
Tempo doubled(const Tempo& tempo);
/// All beats later by so many seconds.
Tempo shifted(const Tempo& tempo, double seconds);
/// Makes another beat the first of a bar: numbers move on by `beats`.
Tempo renumbered(const Tempo& tempo, int beats);
/// One beat put at a time, kept at least 30 ms from its neighbours.
Tempo withBeatAt(const Tempo& tempo, int beat, double seconds);

/// The tempo of beats tapped along: the grid by least squares, every tap one beat (a pause counts the beats in it).
/// Errors: BadInput for fewer than four taps or taps too uneven to be beats.
Expected<Tempo> tempoFromTaps(const std::vector<double>& seconds, int beatsPerBar = 4);

/// The even grid nearest to ascending times by least squares, each time one beat after another: slope and offset, in
/// seconds. REQUIRES: at least two times.
struct Grid {
    double period = 0.5, first = 0;
    double worst = 0; // the farthest of the times from its beat
};
Grid gridThrough(const std::vector<double>& seconds, const std::vector<int>& beats);

} // namespace virga
