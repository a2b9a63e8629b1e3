#include "core/analysis/trace.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

#include "core/analysis/channels.h"
#include "core/analysis/lens_course.h"
#include "core/analysis/measure_movement.h"
#include "core/analysis/shutter_estimate.h"
#include "core/analysis/step_finder.h"
#include "core/base/median.h"
#include "core/base/one_thread.h"
#include "core/decode/video_reader.h"

namespace virga {
namespace {

constexpr double stillStep = 0.04; // % of the width from frame to frame that counts as rest
constexpr double sureStep = 5;     // times the error of a step, that are more than rest
constexpr double overUsual = 3;    // times what the shot's own step usually changes by
constexpr double mostOwn = 0.25;   // of its fastest step, that is taken to be the shot's own
constexpr int restFrames = 2;      // in a row, that tell that it rests
constexpr double leastPeak = 0.35; // % of the width: less is no movement
constexpr double usualAngles[] = {0, 45, 90, 180, 270, 360};

struct Pictures {
    std::vector<Grey> greys;                     // of one side, in time
    std::vector<PictureStep> steps;              // from each to the next
    std::vector<std::vector<FeaturePair>> pairs; // that each step was read from
    std::vector<bool> mixed;                     // whether something else is seen through its pictures
};

double percent(const Matrix& step, double aspect) {
    return 100 * travelOf(step, aspect);
}

Matrix inverse(const Matrix& m) {
    return inverseOf(m).value_or(Matrix());
}

// The step that the shot does by itself, from those beyond the movement.
Matrix ownStep(const std::vector<PictureStep>& steps, std::size_t from, std::size_t to) {
    std::vector<TurnZoomSlide> parts;
    for (std::size_t i = from; i < to; ++i)
        if (steps[i].isKnown()) parts.push_back(partsOf(steps[i].map));
    if (parts.size() < 2) return {};
    const auto middleOf = [&](auto&& of) {
        std::vector<double> v;
        for (const auto& p : parts) v.push_back(of(p));
        return medianOf(std::move(v));
    };
    return matrixOf({middleOf([](auto& p) { return p.zoom; }),
                     middleOf([](auto& p) { return p.degrees; }),
                     {middleOf([](auto& p) { return p.slide.x; }), middleOf([](auto& p) { return p.slide.y; })}});
}

// Where a side comes to rest, as a number of steps from the cut, and what its shot does beyond.
struct Rest {
    std::size_t steps = 0;
    bool found = true;
    Matrix own;
    double peak = 0;
};

// `steps` count from the cut outward.
Rest findRest(const std::vector<PictureStep>& steps, double aspect) {
    Rest rest;
    std::vector<double> speeds, far, errors, changes;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        speeds.push_back(percent(steps[i].map, aspect));
        if (steps[i].isKnown()) rest.peak = std::max(rest.peak, speeds.back());
        if (i >= steps.size() / 2 && steps[i].isKnown())
            far.push_back(speeds.back()), errors.push_back(100 * steps[i].error);
    }
    double usual = 0, unsure = 0;
    if (!far.empty()) {
        usual = medianOf(far);
        unsure = medianOf(errors);
        if (usual > mostOwn * rest.peak && rest.peak > 1) usual = 0; // it moves all the while
    }
    // What it does by itself is taken away first, so that a steady pan is no movement.
    const Matrix own = usual > 0 ? ownStep(steps, steps.size() / 2, steps.size()) : Matrix();
    if (usual > 0)
        for (std::size_t i = steps.size() / 2; i < steps.size(); ++i)
            if (steps[i].isKnown()) changes.push_back(percent(then(steps[i].map, inverse(own)), aspect));
    const double change = changes.empty() ? 0 : medianOf(changes);
    const double still = std::max({stillStep, sureStep * unsure, overUsual * change});
    const auto isStill = [&](std::size_t i) {
        return i >= steps.size() || percent(then(steps[i].map, inverse(own)), aspect) <= still;
    };
    rest.steps = steps.size();
    rest.found = false;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        bool all = true;
        for (std::size_t k = i; k < i + restFrames; ++k) all = all && isStill(k);
        if (!all || i + 1 > steps.size()) continue;
        rest.steps = i;
        rest.found = true;
        break;
    }
    rest.own = rest.found ? ownStep(steps, rest.steps, std::min(steps.size(), rest.steps + 12)) : Matrix();
    if (rest.found && percent(rest.own, aspect) > std::max(0.02, mostOwn * rest.peak)) rest.own = Matrix();
    return rest;
}

// The steps with similarities in place of perspectives: what moves by itself in a picture may look like one.
std::vector<PictureStep> withoutPerspective(const Pictures& pictures) {
    std::vector<PictureStep> steps = pictures.steps;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        if (!steps[i].perspective) continue;
        const std::vector<FeaturePair>& pairs = pictures.pairs[i];
        steps[i].map = pairs.size() < 2 ? matrixOf(partsOf(steps[i].map)) : fittedSimilarity(pairs, 0.5 / measuredSide);
    }
    return steps;
}

TracedSide sideOf(Side side, const Pictures& pictures, double aspect) {
    TracedSide traced;
    traced.side = side;
    const bool out = side == Side::Outgoing;
    const auto n = std::int64_t(pictures.greys.size());
    const std::vector<PictureStep> plain = withoutPerspective(pictures);
    std::vector<PictureStep> outward = plain;
    if (out) std::reverse(outward.begin(), outward.end());
    const Rest rest = findRest(outward, aspect);
    traced.restFound = rest.found;
    traced.own = rest.own;
    const auto moving = std::int64_t(rest.steps);
    traced.rest = out ? -1 - moving : moving;
    int perspective = 0;
    double peak = 0;
    for (std::int64_t i = 0; i < moving; ++i) {
        perspective += outward[std::size_t(i)].perspective;
        if (outward[std::size_t(i)].isKnown()) peak = std::max(peak, percent(outward[std::size_t(i)].map, aspect));
    }
    traced.moves = moving > 0 && peak > leastPeak;
    traced.perspective = perspective >= 2 && perspective * 3 >= moving;
    // Where a lens explains more, the steps are those beneath it.
    std::vector<PictureStep> steps = traced.perspective ? pictures.steps : plain;
    std::vector<double> amounts(std::size_t(moving), 0.0);
    if (traced.moves && moving >= 3) {
        std::vector<OutwardStep> fromRest;
        for (std::int64_t k = 1; k <= moving; ++k) {
            const auto i = std::size_t(out ? n + traced.rest + k - 1 : traced.rest - k);
            OutwardStep s{pictures.steps[i], pictures.pairs[i]};
            if (!out) {
                s.step.map = inverse(s.step.map);
                for (FeaturePair& p : s.pairs) std::swap(p.from, p.to);
            }
            fromRest.push_back(std::move(s));
        }
        if (const auto course = lensCourse(fromRest, aspect)) {
            traced.lens = true;
            traced.perspective = false;
            amounts = course->amounts;
            for (std::int64_t k = 1; k <= moving; ++k) {
                const auto i = std::size_t(out ? n + traced.rest + k - 1 : traced.rest - k);
                const Matrix& map = course->maps[std::size_t(k - 1)];
                steps[i].map = out ? map : inverse(map);
            }
        }
    }
    // From rest to the cut: F(n) = M(n) O(n), so M(n + 1) = step M(n) own⁻¹.
    std::vector<TracedFrame> frames;
    Matrix map;
    double error = 0;
    const Matrix back = inverse(traced.own);
    const auto stepAt = [&](std::int64_t i) -> const PictureStep& { return steps[std::size_t(i)]; };
    const auto first = out ? traced.rest + n : traced.rest; // the picture at rest
    frames.push_back({traced.rest, Matrix(), 0, 0, 0, 1});
    for (std::int64_t k = 1; k <= moving; ++k) {
        const PictureStep& step = out ? stepAt(first + k - 1) : stepAt(first - k);
        map = out ? then(then(back, map), step.map) : then(then(traced.own, map), inverse(step.map));
        if (!step.isKnown()) map = traced.perspective ? map : matrixOf(partsOf(map));
        const double bridged = std::min(0.01, 0.0005 + 0.3 * travelOf(step.map, aspect));
        error = std::hypot(error, step.isKnown() ? step.error : bridged);
        frames.push_back(
            {out ? traced.rest + k : traced.rest - k, map, error, 0, amounts[std::size_t(k - 1)], step.trust});
    }
    if (!out) std::reverse(frames.begin(), frames.end());
    // Two frames more beyond rest, so that it is seen to rest.
    for (std::int64_t k = 1; k <= 2; ++k) {
        const std::int64_t at = out ? traced.rest - k : traced.rest + k;
        if (out ? at < -n : at >= n) break;
        frames.insert(out ? frames.begin() : frames.end(), TracedFrame{at, Matrix(), 0, 0, 0, 1});
    }
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const std::size_t a = i > 0 ? i - 1 : i, b = std::min(i + 1, frames.size() - 1);
        if (b > a) frames[i].speed = percent(then(inverse(frames[a].map), frames[b].map), aspect) / double(b - a);
    }
    traced.frames = std::move(frames);
    return traced;
}

// A side is followed from its far end to the cut: a movement that begins slowly is told by what it was before.
Expected<Pictures> read(VideoReader& reader, std::int64_t from, std::int64_t to, Side side,
                        const std::function<void(double)>& report, const Cancel& cancel) {
    Pictures pictures;
    for (std::int64_t i = from; i < to; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        auto picture = reader.readGrey(i, measuredSide);
        if (!picture) return tl::unexpected(picture.error());
        pictures.greys.push_back(std::move(*picture));
    }
    const bool out = side == Side::Outgoing;
    const std::size_t n = pictures.greys.size();
    StepFinder finder(true);
    pictures.steps.resize(n - 1);
    pictures.pairs.resize(n - 1);
    pictures.mixed.resize(n - 1);
    for (std::size_t k = 0; k < n; ++k) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        const std::size_t i = out ? k : n - 1 - k;
        FoundStep found = finder.next(pictures.greys[i]);
        PictureStep step = found.step;
        if (report) report(double(k + 1) / double(n));
        if (k == 0) continue;
        if (!out) {
            step.map = inverse(step.map);
            for (FeaturePair& p : found.pairs) std::swap(p.from, p.to);
        }
        pictures.steps[out ? i - 1 : i] = step;
        pictures.pairs[out ? i - 1 : i] = std::move(found.pairs);
        pictures.mixed[out ? i - 1 : i] = found.twofold || found.covered;
    }
    return pictures;
}

// Frames at the cut of which nothing is known go on as those before them did: each step grows as the one before grew.
void carryOn(Pictures& pictures, Side side) {
    std::vector<PictureStep>& steps = pictures.steps;
    std::vector<PictureStep*> inward; // toward the cut
    for (PictureStep& s : steps) inward.push_back(&s);
    if (side == Side::Incoming) std::reverse(inward.begin(), inward.end());
    for (std::size_t i = inward.size(); i-- > 0 && !inward[i]->isKnown();) {
        std::size_t first = i;
        while (first > 0 && !inward[first - 1]->isKnown()) --first;
        if (first < 2) return;
        const TurnZoomSlide a = partsOf(inward[first - 2]->map), b = partsOf(inward[first - 1]->map);
        const auto size = [](const TurnZoomSlide& p) {
            return std::abs(std::log2(p.zoom)) + std::abs(p.degrees) / 60 + p.slide.length();
        };
        double grows = std::clamp(size(a) > 1e-6 ? size(b) / size(a) : 1, 0.5, 1.8), by = 1;
        for (std::size_t k = first; k < inward.size(); ++k) {
            by *= grows;
            inward[k]->map = matrixOf({std::pow(b.zoom, by), b.degrees * by, b.slide * by});
        }
        return;
    }
}

void addBlurPairs(const Pictures& pictures, double aspect, std::vector<BlurPair>& pairs) {
    const auto n = pictures.greys.size();
    std::vector<double> speeds(n, 0);
    for (std::size_t i = 0; i < n; ++i) {
        double sum = 0, count = 0;
        if (i > 0) sum += travelOf(pictures.steps[i - 1].map, aspect), ++count;
        if (i + 1 < n) sum += travelOf(pictures.steps[i].map, aspect), ++count;
        speeds[i] = count > 0 ? sum / count : 0;
    }
    const auto known = [&](std::size_t i) { return pictures.steps[i].isKnown() && !pictures.mixed[i]; };
    for (std::size_t i = 1; i + 1 < n; ++i) {
        if (!known(i - 1) || !known(i)) continue;
        for (const std::size_t slow : {i - 1, i + 1}) {
            if (!(speeds[slow] < speeds[i])) continue;
            BlurPair pair;
            pair.fast = &pictures.greys[i];
            pair.slow = &pictures.greys[slow];
            pair.toFast = slow < i ? pictures.steps[i - 1].map : inverse(pictures.steps[i].map);
            pair.before = inverse(partOf(pictures.steps[i - 1].map, 0.5));
            pair.after = partOf(pictures.steps[i].map, 0.5);
            pair.slower = speeds[slow] / speeds[i];
            pair.travel = speeds[i];
            pairs.push_back(pair);
        }
    }
}

} // namespace

bool TracedChannel::missesAt(std::size_t i) const {
    const Space space = moveInfo(kind).channels[std::size_t(channel)].space;
    const double miss =
        std::abs(toSpace(evaluate(fitted.curve, values[i].time), space) - toSpace(values[i].value, space));
    return known[i] && miss > 1.2 * std::max(tolerance, 2.5 * values[i].error);
}

void fitTrace(Trace& trace, const TraceOptions& options) {
    Transition transition;
    const auto moveFor = [&](MoveKind kind) -> Move& {
        for (Move& m : transition.moves)
            if (m.kind == kind) return m;
        Move move = makeMove(kind, "traced-" + std::string(moveInfo(kind).name));
        if (!moveInfo(kind).anchor.empty() && kind != MoveKind::Warp) move.anchor = trace.anchor;
        transition.moves.push_back(move);
        return transition.moves.back();
    };
    for (const MoveKind kind : {MoveKind::Tilt, MoveKind::Zoom, MoveKind::Spin, MoveKind::Slide, MoveKind::Warp})
        for (TracedSide* side : {&trace.out, &trace.in})
            for (TracedChannel& c : side->channels) {
                if (c.kind != kind) continue;
                const ChannelInfo& info = moveInfo(kind).channels[std::size_t(c.channel)];
                std::vector<MeasuredValue> values = c.values;
                for (std::size_t i = 0; i < values.size(); ++i)
                    if (!c.known[i]) values[i].error = std::max(values[i].error, 20 * c.tolerance);
                const bool out = side->side == Side::Outgoing;
                CurveEnds ends;
                ends.restsBefore = out && side->restFound, ends.restsAfter = !out && side->restFound;
                (out ? ends.looseLast : ends.looseFirst) = true;
                if (out) ends.until = 0; // the cut breaks it off there
                c.fitted = fittedCurve(values, info.space, c.tolerance, ends, options.mostKeys);
                for (Key& key : c.fitted.curve.keys) key.value = std::clamp(key.value, info.lowest, info.highest);
                Curve& curve = moveFor(kind).channels[std::size_t(c.channel)].side(side->side);
                const Space space = curve.space;
                curve = c.fitted.curve;
                curve.space = space;
            }
    trace.transition = transition;
    if (trace.shutterAngle >= 0) {
        Shutter shutter;
        shutter.angle = trace.shutterAngle;
        trace.transition.shutter = shutter;
    }
    Stack beneathLens = transition.moves;
    erase_if(beneathLens, [](const Move& m) { return m.kind == MoveKind::Warp; });
    double way = 0, missed = 0;
    for (TracedSide* side : {&trace.out, &trace.in}) {
        double square = 0, sideWay = 0;
        int count = 0;
        for (const TracedFrame& f : side->frames) {
            if (!f.known()) continue;
            const Matrix curve =
                widthsMap(beneathLens, side->side, double(f.frame), double(f.frame), trace.rate, trace.size);
            const double miss = travelOf(then(inverse(f.map), curve), trace.size.aspect());
            square += miss * miss;
            const double travel = travelOf(f.map, trace.size.aspect());
            sideWay += travel * travel;
            ++count;
        }
        side->misfit = count ? 100 * std::sqrt(square / count) : 0;
        side->explained = sideWay > 0 && side->moves ? std::max(0.0, 1 - std::sqrt(square / sideWay)) : 1;
        if (!side->moves) continue;
        way += sideWay;
        missed += square;
    }
    trace.explained = way > 0 ? std::max(0.0, 1 - std::sqrt(missed / way)) : 1;
}

Expected<Trace> traceTransition(const std::filesystem::path& path, std::int64_t picture, const TraceOptions& options,
                                const std::function<void(double)>& report, const Cancel& cancel) {
    const OneThread alone;
    auto reader = VideoReader::open(path, cancel);
    if (!reader) return tl::unexpected(reader.error());
    const VideoInfo& video = *(*reader)->info().video;
    const std::int64_t count = video.still ? 1 : (*reader)->indexAt(Rational(std::int64_t(1) << 40)) + 1;
    if (video.still || picture < 1 || picture >= count)
        return fail(ErrorCode::BadInput, fmt::format("there is no cut before picture {}", picture), path.string(),
                    "choose a cut with pictures on both of its sides");
    Trace trace;
    trace.size = video.size;
    trace.rate = video.rate;
    trace.picture = picture;
    trace.seconds = (*reader)->timeOf(picture);
    const std::int64_t from = std::max<std::int64_t>(0, picture - options.most),
                       to = std::min(count, picture + options.most);
    const auto part = [&](double begin, double share) {
        return [&report, begin, share](double p) {
            if (report) report(begin + share * p);
        };
    };
    auto before = read(**reader, from, picture, Side::Outgoing, part(0, 0.45), cancel);
    if (!before) return tl::unexpected(before.error());
    auto after = read(**reader, picture, to, Side::Incoming, part(0.45, 0.45), cancel);
    if (!after) return tl::unexpected(after.error());
    for (Pictures* side : {&*before, &*after}) bridge(side->steps);
    carryOn(*before, Side::Outgoing);
    carryOn(*after, Side::Incoming);
    const double aspect = video.size.aspect();
    trace.out = sideOf(Side::Outgoing, *before, aspect);
    trace.in = sideOf(Side::Incoming, *after, aspect);
    const Point turning = turningPoint(trace);
    trace.anchor = {0.5 + turning.x, 0.5 + turning.y * aspect};
    for (TracedSide* side : {&trace.out, &trace.in}) {
        findChannels(trace, *side);
        side->moves = !side->channels.empty();
        const char* which = side->side == Side::Outgoing ? "before" : "after";
        const auto unread = std::count_if(side->frames.begin(), side->frames.end(), [](auto& f) { return !f.known(); });
        if (side->moves && unread > 0)
            trace.notes.push_back(fmt::format("{} of the {} frames {} the cut could not be read (flat, dark or too "
                                              "blurred); they go on as their neighbours do.",
                                              unread, side->frames.size(), which));
        if (side->moves && !side->restFound)
            trace.notes.push_back(fmt::format("The shot {} the cut moves in all {} frames that were read; what it does "
                                              "by itself could not be told from the move.",
                                              which, side->frames.size()));
        if (side->moves && percent(side->own, aspect) > 0.05)
            trace.notes.push_back(fmt::format("What the shot {} the cut does by itself, {:.2f} % of the width a frame, "
                                              "was left out.",
                                              which, percent(side->own, aspect)));
    }
    std::vector<BlurPair> pairs;
    addBlurPairs(*before, aspect, pairs);
    addBlurPairs(*after, aspect, pairs);
    std::sort(pairs.begin(), pairs.end(), [](const BlurPair& a, const BlurPair& b) { return a.travel > b.travel; });
    if (pairs.size() > 10) pairs.resize(10);
    if (const auto angle = trace.moves() ? shutterAngleOf(pairs) : std::nullopt) {
        trace.shutterAngle = std::round(*angle);
        for (const double usual : usualAngles)
            if (std::abs(*angle - usual) < std::max(8.0, 0.12 * usual)) trace.shutterAngle = usual;
    } else if (trace.moves()) {
        trace.notes.push_back("The shutter could not be told from the blur of these frames.");
    }
    fitTrace(trace, options);
    if (report) report(1);
    return trace;
}

} // namespace virga
