#pragma once
// Tempo and beats of a piece of music. Onsets and a first tempo come from aubio; the grid through them is fitted here,
// because an edit needs each beat to the frame, not only the tempo. May run on any thread.
#include <filesystem>
#include <functional>
#include <memory>
#include <span>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/tempo.h"

namespace virga {

struct FoundBeats {
    Tempo tempo;
    double confidence = 0; // share of the beats on which something sounds, 0 to 1
    bool steady = true;    // one even grid; otherwise every beat is placed by itself
};

/// Takes mono sound at 48 kHz piece by piece.
class BeatFinder {
public:
    BeatFinder();
    ~BeatFinder();
    void add(std::span<const float> mono);
    /// Errors: BadInput where too little sounds to tell a beat.
    Expected<FoundBeats> finish();

private:
    struct State;
    std::unique_ptr<State> m_state;
};

/// The beats of a sound file, of its first twenty minutes. `progress` gets 0 to 1. Errors: as AudioReader and finish,
/// with the file as their place; Cancelled.
Expected<FoundBeats> findBeats(const std::filesystem::path& path, Rational duration,
                               const std::function<void(double)>& progress = {}, const Cancel& cancel = {});

/// A grid through onsets, given as seconds and strengths, near a tempo: chosen among it, its half and double and its
/// thirds by how many beats have an onset and how many onsets a beat, with a mild liking for 120 (common practice).
/// Errors: BadInput for fewer than four onsets.
Expected<FoundBeats> beatsThrough(const std::vector<double>& onsets, const std::vector<double>& strengths,
                                  double nearTempo);

} // namespace virga
