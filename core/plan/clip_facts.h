#pragma once
// What each frame of a clip measures as it is seen: how fast it moves, how much of it its own source leaves uncovered,
// and how large the source's pixels are. Where nothing changes, neighbouring frames share one measurement.
#include <functional>
#include <vector>

#include "core/plan/plan.h"

namespace virga {

/// A smaller share of the frame is not counted as uncovered: a hundredth of a pixel of 1920 x 1080.
inline constexpr double leastShare = 5e-9;

struct FrameFacts {
    double speed = 0;     // seen speed, % of the frame width per frame
    double open = 0;      // for how much of a frame its shutter is open
    double blur = 0;      // longest path while the shutter is open, % of the frame width
    double uncovered = 0; // the largest share, 0 to 1, over the shutter interval
    double bare = 0;      // the same of what not even a copy fills
    double seenTwice = 0; // the share that is plainly there twice, by copies (shareSeenTwice)
    double magnified = 0; // screen pixels for one of the source, at the frame's middle; 0 where nothing is seen
    EdgeFill edges = EdgeFill::Mirror;
    bool operator==(const FrameFacts&) const = default;
};

/// Whether copies fill more of it than the project's limit.
bool showsCopies(const Project& project, const FrameFacts& f);

/// What a frame adds to the copies that are seen (FlowLimits::copiesSeen): 1 where all of it is there twice, and the
/// square of the share, since little of a picture is overlooked.
inline double framesOfCopies(const FrameFacts& f) {
    return f.seenTwice * f.seenTwice;
}

/// The facts of one reel frame. REQUIRES: the project's own index.
FrameFacts factsOf(const Project& project, const ReelIndex& index, std::int64_t reelFrame);
FrameFacts factsOf(const Project& project, std::int64_t reelFrame);

/// The facts of a clip's frames, in runs: a run's frames have all the same. At most `mostRuns` of them; what lies
/// beyond is taken to be as the last.
class ClipFacts {
public:
    struct Run {
        std::int64_t first = 0; // from the clip's first frame
        FrameFacts facts;
        bool operator==(const Run&) const = default;
    };
    static constexpr std::size_t mostRuns = 20000;

    ClipFacts() = default;
    /// REQUIRES: the project's own index.
    ClipFacts(const Project& project, const ReelIndex& index, int clip);
    /// Of an overlay, by itself: what lies beneath it covers nothing of it.
    static ClipFacts ofOverlay(const Project& project, const ReelIndex& index, int overlay);

    std::int64_t length() const { return m_length; }
    const std::vector<Run>& runs() const { return m_runs; }
    /// Frames outside the clip measure nothing.
    const FrameFacts& at(std::int64_t frame) const;
    /// Whether its movement goes by a clock of its own (a shake), so that its speeds are no course.
    bool isShaken() const { return m_shaken; }
    double fastest() const { return m_fastest; }
    double slowest() const { return m_slowest; }
    /// The first and last frame that do not stand still, by the project's limit; -1 where all do.
    std::int64_t firstMoving() const { return m_firstMoving; }
    std::int64_t lastMoving() const { return m_lastMoving; }

private:
    void measure(const Project& project, const struct Busy& busy, const std::function<FrameFacts(std::int64_t)>& at);
    std::vector<Run> m_runs;
    std::int64_t m_length = 0;
    double m_fastest = 0, m_slowest = 0;
    std::int64_t m_firstMoving = -1, m_lastMoving = -1;
    bool m_shaken = false;
};

/// The span of frames that a cut's moves cover, from the cut: [first, last], clipped to the two clips; at least -1 to
/// 0.
struct FrameSpan {
    std::int64_t first = -1, last = 0;
};
FrameSpan movingSpan(const Project& project, int cut);
/// The frames whose edges are judged at a cut: those and one more on each side, whose exposure reaches into the moves.
FrameSpan judgedAtCut(const Project& project, int cut);

/// What is to be seen of a cut's moves as a whole.
struct CutShowing {
    double fastest = 0; // seen speed, % of the frame width per frame
    int copies = 0;     // frames on which copies fill more than the project's limit
};
/// REQUIRES: the project has the cut.
CutShowing showingAtCut(const Project& project, int cut);

/// What every frame of a span shows of one clip, for the coverage solver: several moments over each frame's exposure.
/// Frames are counted from `origin`. REQUIRES: the project's own index.
std::vector<struct SeenSource> seenSources(const Project& project, const ReelIndex& index, std::int64_t from,
                                           std::int64_t to, std::int64_t origin);

} // namespace virga
