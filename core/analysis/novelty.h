#pragma once
// How much begins to sound at each moment of a piece of music: rises of its spectrum, in bands, on a scale that follows
// how loud the music is around the moment, so that a quiet intro counts like what comes after it. aubio makes the
// spectra.
#include <memory>
#include <span>
#include <vector>

namespace virga {

inline constexpr int noveltyRate = 100; // frames a second

struct Novelty {
    std::vector<float> all;   // per frame; about 1 root mean square over some seconds
    std::vector<float> low;   // of what lies below about 140 Hz: drums and basses
    std::vector<float> bands; // the level in each band, noveltyBands a frame, on a logarithmic scale
};
inline constexpr int noveltyBands = 40;

/// Takes mono sound at 48 kHz piece by piece.
class NoveltyMeter {
public:
    NoveltyMeter();
    ~NoveltyMeter();
    void add(std::span<const float> mono);
    Novelty finish();

private:
    struct State;
    std::unique_ptr<State> m_state;
};

} // namespace virga
