#include "tests/support/projects.h"

#include "core/curve/curve_edit.h"
#include "core/motion/stack_map.h"
#include "core/plan/seen_speed.h"

namespace virga::test {

Project twoClips(const std::filesystem::path& a, const std::filesystem::path& b) {
    Project project;
    project.name = "Test";
    project.settings.size = {1280, 720};
    project.settings.rate = 25;
    for (const auto& path : {a, b}) {
        Media media;
        media.id = path == a ? "media-1" : "media-2";
        media.path = path;
        media.size = {1280, 720};
        media.rate = 25;
        media.duration = 3;
        project.media.push_back(media);
        Clip clip;
        clip.id = path == a ? "clip-1" : "clip-2";
        clip.mediaId = media.id;
        clip.name = path == a ? "A" : "B";
        clip.sourceIn = 1;
        clip.length = 25;
        project.reel.push_back(clip);
    }
    return project;
}

Project withMove(const Project& project, int cut, MoveKind kind, int channel, double o0, double o1, double before,
                 double i0, double i1, double after, const Shape& out, const Shape& in) {
    Project next = withMoveAdded(project, cut, kind);
    const int move = int(transitionAt(next, cut).moves.size()) - 1;
    const Space space = spaceOf(transitionAt(next, cut).moves[std::size_t(move)], channel);
    if (before > 0)
        next = withCurve(next, {cut, move, channel, Side::Outgoing}, twoKeys(space, -before, o0, 0, o1, out));
    if (after > 0) next = withCurve(next, {cut, move, channel, Side::Incoming}, twoKeys(space, 0, i0, after, i1, in));
    return next;
}

ScreenMap movementOf(const Stack& stack, Side side, double time, Size frame) {
    return stackMap(ScreenMap(), stack, side, time, frame);
}

double seenSpeedOf(const Stack& stack, Side side, double time, Size frame) {
    LayerPlan layer;
    layer.stacks = {{stack, side, 0, {}, 25}};
    return seenSpeed(layer, time, frame);
}

Project plungeProject(const std::filesystem::path& a, const std::filesystem::path& b) {
    return withMove(twoClips(a, b), 0, MoveKind::Zoom, 0, 1, 2.5, 5, 0.62, 1, 12);
}

std::shared_ptr<const ShotMovement> shotMovement(const std::function<TurnZoomSlide(int)>& step) {
    ShotMovement m;
    m.size = {1280, 720};
    for (int i = 0; i < 75; ++i) {
        m.times.push_back(Rational(i, 25));
        if (i == 74) break;
        PictureStep s;
        s.map = matrixOf(step(i));
        s.trust = 1;
        m.steps.push_back(s);
    }
    return std::make_shared<const ShotMovement>(std::move(m));
}

} // namespace virga::test
