#pragma once
// Clip time: every conversion between a clip's frames and its source's time. A clip without speed keys runs at its
// constant speed, exactly; one with keys by the integral of its curve, to 1e-9 s. Frames count from the clip's first
// one and may lie outside it. Nothing else multiplies frames by a speed.
#include <optional>

#include "core/curve/integral.h"
#include "core/project/project.h"

namespace virga {

/// A clip's speed over its frames, in % of the speed it was shot at, as one curve counted from its first frame: its
/// keys from the start, then those from the end; of the latter, those before the last of the former are left out.
Curve speedCurveOf(const Clip& clip);
/// The same, with one key for a constant speed.
Curve wholeSpeedCurveOf(const Clip& clip);

class ClipTime {
public:
    ClipTime(const Project& project, const Clip& clip);
    ClipTime(const Clip& clip, const Media* media, FrameRate rate);

    bool isConstant() const { return !m_integral; }
    /// False for stills, gaps and media that is away: then every frame shows the same.
    bool runs() const { return m_runs; }
    /// The source's time at a frame's start, in seconds, also before the source's start and behind its end. Times
    /// within 1e-6 pictures of a picture's start are that start.
    Rational at(std::int64_t frame) const;
    double secondsAt(double frame) const;
    /// Source seconds per second at a moment.
    double speedAt(double frame) const;
    /// The source's seconds that pass during a frame; negative where it runs backwards.
    Rational passing(std::int64_t frame) const;

    /// The earliest and the latest moment from the first frame to the end.
    struct Span {
        Rational from, to;
    };
    Span used() const;
    /// The first moment in the clip at which a moment of the source is shown, in frames.
    std::optional<double> frameAt(double seconds) const;
    Spare spare() const;
    /// The first frame of the clip that lies outside the source, whose first or last picture is shown instead.
    std::optional<std::int64_t> runsOut() const;

private:
    bool holds(Rational time) const;

    const Clip* m_clip;
    const Media* m_media;
    FrameRate m_rate;
    bool m_runs;
    std::optional<CurveIntegral> m_integral;
};

/// Source seconds per second over the whole clip; the constant speed where it has no keys.
double meanSpeed(const Clip& clip);

/// The clip with frames cut off its start or its end (negative: added): every frame that stays shows the moment that it
/// showed.
Clip withHeadCut(const Project& project, Clip clip, std::int64_t frames);
Clip withTailCut(Clip clip, std::int64_t frames);
/// The same with its speed keys at their distance from that end, as when a cut is rolled; what is shown at the clip's
/// other end stays.
Clip withHeadRolled(const Project& project, Clip clip, std::int64_t frames);
Clip withTailRolled(Clip clip, std::int64_t frames);
/// The clip's pins that still hold: inside it, and with their moments seen on their frames.
std::vector<Pin> heldPins(const Project& project, const Clip& clip);

/// Showing the same pictures in reverse order.
Clip runBackwards(const Project& project, Clip clip);

} // namespace virga
