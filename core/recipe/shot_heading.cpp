#include "core/recipe/shot_heading.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/project/clip_time.h"

namespace virga {
namespace {

constexpr std::int64_t frames = 10; // before the cut, that tell where the shot goes
constexpr double leastKnown = 0.6, mostOfSubject = 0.3;

} // namespace

std::optional<Heading> headingOfShot(const Project& project, int cut, const ShotMovements& shots) {
    if (!hasCut(project, cut)) return std::nullopt;
    const Clip& clip = project.reel[std::size_t(cut)];
    const auto shot = shots.find(clip.mediaId);
    const ClipTime time(project, clip);
    if (shot == shots.end() || !shot->second || !time.runs()) return std::nullopt;
    const std::int64_t count = std::min(frames, clip.length - 1);
    if (count < 2) return std::nullopt;
    const double from = time.secondsAt(double(clip.length - 1 - count)), to = time.secondsAt(double(clip.length - 1));
    if (shot->second->knownShare(std::min(from, to), std::max(from, to)) < leastKnown) return std::nullopt;
    if (shot->second->subjectShare(std::min(from, to), std::max(from, to)) > mostOfSubject) return std::nullopt;
    const TurnZoomSlide p = partsOf(shot->second->between(from, to));
    // How far each takes the picture's corners a frame, in % of the width.
    const double aspect = std::max(0.1, shot->second->size.aspect()), corner = std::hypot(0.5, 0.5 / aspect);
    const double slides = 100 * p.slide.length() / double(count),
                 zooms = 100 * corner * std::abs(std::log(p.zoom)) / double(count),
                 turns = 100 * corner * std::abs(p.degrees) * std::numbers::pi / 180 / double(count);
    if (std::max({slides, zooms, turns}) < project.settings.flow.pan) return std::nullopt;
    if (slides >= zooms && slides >= turns) {
        if (std::abs(p.slide.x) >= std::abs(p.slide.y)) return p.slide.x < 0 ? Heading::Left : Heading::Right;
        return p.slide.y < 0 ? Heading::Up : Heading::Down;
    }
    if (zooms >= turns) return p.zoom > 1 ? Heading::In : Heading::Out;
    return p.degrees > 0 ? Heading::Clockwise : Heading::Counter;
}

} // namespace virga
