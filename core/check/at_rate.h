#pragma once
// The check at the rate that a result is delivered at. A result of a higher rate shows parts of a frame: where the
// frames beside a cut agree at the piece's own rate, the speeds at the cut itself may still differ.
#include "core/check/flow.h"

namespace virga {

/// A piece as a result of another rate shows it (withRate), with its limits of the check brought to that rate: speeds
/// and counts of frames mean what they mean in seconds, but for the one of strobing, which is a matter of single
/// frames.
Project deliveredAt(const Project& project, FrameRate rate);

/// What the check finds at the cuts of a piece at another rate (deliveredAt) and not at its own: speed, direction and
/// frames that fall away. The gravest first; none where the rates are the same. `shots` as for flowOfReel.
std::vector<Finding> foundOnlyAt(const Project& project, FrameRate rate, const Cancel& cancel = {},
                                 const std::shared_ptr<const ShotMovements>& shots = nullptr);

struct CurvesMatched {
    Project project;
    std::vector<int> done, left; // cuts; those left say at that rate what they said before
};
/// The piece, at its own rate, with frames and curves matched (Match::Curves) at the cuts that foundOnlyAt names. A cut
/// is done only where afterwards neither rate finds a step of speed or direction there, nor anything new.
CurvesMatched withCurvesMatched(const Project& project, FrameRate rate,
                                const std::shared_ptr<const ShotMovements>& shots = nullptr);

} // namespace virga
