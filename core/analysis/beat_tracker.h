#pragma once
// Beats through a novelty curve. The tempo's way through the piece comes from autocorrelations of some seconds each,
// joined by dynamic programming; beats are then placed by dynamic programming, too (Ellis, "Beat Tracking by Dynamic
// Programming", Journal of New Music Research 36, 2007), where the tempo may move. Halves, doubles and thirds of the
// tempo are each tried and judged by what lies on their beats; a mild liking for 118 beats a minute decides between
// equals (common practice).
#include "core/analysis/novelty.h"
#include "core/base/error.h"

namespace virga {

struct TrackedBeats {
    std::vector<double> seconds;  // of each beat, in order; about 10 ms exact
    std::vector<float> strengths; // the novelty at each
    double tempo = 0;             // beats a minute, the middle one
    double otherTempo = 0;        // half or twice of it where that is nearly as likely; else 0
    double confidence = 0;        // 0 to 1: how much more begins on beats than anywhere; noise has less than 0.2
    int perBar = 0;               // 3 or 4; 0 where bars cannot be told
    int firstOfBar = 0;           // the number of the first beat that begins a bar
};

/// Errors: BadInput where too little begins to sound.
Expected<TrackedBeats> trackBeats(const Novelty& novelty);

} // namespace virga
