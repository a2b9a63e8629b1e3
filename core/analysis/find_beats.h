#pragma once
// Tempo, beats and bars of a piece of music; see beat_tracker.h. Each beat is then put where its sound begins, because
// an edit needs it to the frame. May run on any thread.
#include <filesystem>
#include <functional>
#include <memory>
#include <span>
#include <string>

#include "core/base/cancel.h"
#include "core/base/error.h"
#include "core/project/tempo.h"

namespace virga {

struct FoundBeats {
    Tempo tempo;
    double confidence = 0;           // 0 to 1: how much more begins on beats than anywhere else
    bool steady = true;              // one even grid; otherwise every beat is placed by itself
    double slowest = 0, fastest = 0; // beats a minute over some bars, where it is not steady
    double otherTempo = 0;           // half or twice the tempo where that is nearly as likely; else 0
    bool barsKnown = false;
    int firstHeard = 0; // the number of the first beat that sounds: it may lie within a bar
    int lastHeard = 0;
    bool isSure() const { return confidence >= 0.35; }
    /// Whether its tempo moves, other than by playing freely.
    bool changesTempo() const { return !steady && fastest > 1.08 * slowest; }
    /// "played freely", "steady": in words, for people.
    std::string described() const;
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

} // namespace virga
