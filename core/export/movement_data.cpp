#include "core/export/movement_data.h"

#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/base/json.h"
#include "core/base/sequence_path.h"
#include "core/curve/css_easing.h"
#include "core/plan/plan.h"
#include "core/plan/seen_speed.h"

namespace virga {

using nlohmann::json;

namespace {

constexpr std::string_view csvHead =
    "frame,time,layer,clip,overlay,media,source_time,opacity,shutter_open,shutter_close,"
    "m11,m12,m13,m21,m22,m23,m31,m32,m33,lenses,lens_x,lens_y,lens_radius,lens_amount,"
    "n11,n12,n13,n21,n22,n23,n31,n32,n33,seen_speed\n";

DataMatrix columns(const Matrix& m) { // Imath's act on rows
    DataMatrix out;
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t column = 0; column < 3; ++column) out[row * 3 + column] = m[int(column)][int(row)];
    const double scale = out[8] != 0 ? 1 / out[8] : 1;
    for (double& v : out) v *= scale;
    return out;
}

LayerMovement movementOf(const Project& project, const LayerPlan& layer, Size size) {
    LayerMovement out;
    out.clip = layer.clip, out.overlay = layer.overlay;
    if (const Media* media = findMedia(project, layer.mediaId)) out.media = media->path.filename().string();
    out.sourceTime = layer.sourceTime.toDouble();
    out.opacity = layer.opacity;
    out.open = layer.shutter.open, out.close = layer.shutter.close;
    out.source = layer.source;
    const auto time = double(layer.frame);
    const ScreenMap map = mapAt(layer, time, size);
    out.matrix = columns(map.firstMatrix());
    for (const ScreenMap::LensStage& s : map.lensStages())
        out.lenses.push_back({s.lens.centre.x, s.lens.centre.y, s.lens.radius, s.lens.amount, columns(s.after)});
    out.seenSpeed = seenSpeed(layer, time, size);
    return out;
}

const char* nameOf(Space space) {
    return space == Space::Log2 ? "log2" : space == Space::Depth ? "depth" : "linear";
}

void addEasings(const Stack& stack, EasingText base, std::vector<EasingText>& to) {
    for (const Move& move : stack) {
        const MoveInfo& info = moveInfo(move.kind);
        base.move = info.name;
        for (std::size_t c = 0; c < move.channels.size() && c < info.channels.size(); ++c)
            for (const Side side : {Side::Outgoing, Side::Incoming}) {
                const Curve& curve = move.channels[c].side(side);
                base.channel = info.channels[c].name;
                base.side = side == Side::Outgoing ? "outgoing" : "incoming";
                base.space = nameOf(curve.space);
                for (std::size_t k = 0; k + 1 < curve.keys.size(); ++k) {
                    const Key &a = curve.keys[k], &b = curve.keys[k + 1];
                    base.fromTime = a.time, base.toTime = b.time;
                    base.fromValue = a.value, base.toValue = b.value;
                    const auto easing = easingOf(curve, int(k), int(k) + 1);
                    base.css = easing ? cssOf(*easing) : "linear"; // nothing changes
                    to.push_back(base);
                }
            }
    }
}

json arrayOf(const DataMatrix& m) {
    return json(m);
}

} // namespace

Expected<MovementData> movementData(const Project& project, std::int64_t from, std::int64_t to, const Cancel& cancel) {
    MovementData data;
    data.size = project.settings.size;
    data.rate = project.settings.rate;
    const ReelIndex index = reelIndex(project);
    for (auto n = from; n < to; ++n) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        FrameMovement frame;
        frame.frame = n;
        for (const LayerPlan& layer : planFrame(project, index, n).layers)
            frame.layers.push_back(movementOf(project, layer, data.size));
        data.frames.push_back(std::move(frame));
    }
    for (int i = 0; i < int(project.reel.size()); ++i) {
        const Clip& clip = project.reel[std::size_t(i)];
        if (i > 0) {
            EasingText at{.cut = i, .where = "cut", .index = i};
            addEasings(clip.transition.moves, at, data.easings);
        }
        addEasings(clip.drift, {.where = "drift", .index = i}, data.easings);
    }
    for (int i = 0; i < int(project.overlays.size()); ++i)
        addEasings(project.overlays[std::size_t(i)].clip.transition.moves, {.where = "overlay", .index = i},
                   data.easings);
    for (int i = 0; i < int(project.adjustments.size()); ++i)
        addEasings(project.adjustments[std::size_t(i)].moves, {.where = "adjustment", .index = i}, data.easings);
    return data;
}

std::string jsonOf(const MovementData& data) {
    json frames = json::array(), easings = json::array();
    for (const FrameMovement& f : data.frames) {
        json layers = json::array();
        for (const LayerMovement& l : f.layers) {
            json lenses = json::array();
            for (const auto& lens : l.lenses)
                lenses.push_back({{"centre", {lens.x, lens.y}},
                                  {"radius", lens.radius},
                                  {"amount", lens.amount},
                                  {"after", arrayOf(lens.after)}});
            json one = {{"media", l.media},
                        {"sourceTime", l.sourceTime},
                        {"sourceSize", {l.source.width, l.source.height}},
                        {"opacity", l.opacity},
                        {"shutter", {l.open, l.close}},
                        {"matrix", arrayOf(l.matrix)},
                        {"lenses", lenses},
                        {"seenSpeed", l.seenSpeed}};
            if (l.clip >= 0)
                one["clip"] = l.clip;
            else
                one["overlay"] = l.overlay;
            layers.push_back(std::move(one));
        }
        frames.push_back(
            {{"frame", f.frame}, {"time", double(f.frame) / data.rate.toDouble()}, {"layers", std::move(layers)}});
    }
    for (const EasingText& e : data.easings)
        easings.push_back({{"at", e.where},
                           {"index", e.index},
                           {"move", e.move},
                           {"channel", e.channel},
                           {"side", e.side},
                           {"frames", {e.fromTime, e.toTime}},
                           {"values", {e.fromValue, e.toValue}},
                           {"space", e.space},
                           {"css", e.css}});
    const json out = {{"virga", "movement"},
                      {"version", 1},
                      {"size", {data.size.width, data.size.height}},
                      {"rate", toText(data.rate)},
                      {"frames", std::move(frames)},
                      {"easings", std::move(easings)}};
    return jsonText(out, 1) + "\n";
}

std::string csvOf(const MovementData& data) {
    std::string text(csvHead);
    const auto number = [](double v) { return fmt::format("{:.9g}", v); };
    // Quoted by IETF RFC 4180.
    const auto quoted = [](const std::string& s) {
        if (s.find_first_of(",\"\r\n") == s.npos) return s;
        std::string out = "\"";
        for (const char c : s) out += c == '"' ? std::string("\"\"") : std::string(1, c);
        return out + "\"";
    };
    for (const FrameMovement& f : data.frames)
        for (std::size_t i = 0; i < f.layers.size(); ++i) {
            const LayerMovement& l = f.layers[i];
            text +=
                fmt::format("{},{},{},{},{},{},{},{},{},{}", f.frame, number(double(f.frame) / data.rate.toDouble()), i,
                            l.clip >= 0 ? std::to_string(l.clip) : "", l.overlay >= 0 ? std::to_string(l.overlay) : "",
                            quoted(l.media), number(l.sourceTime), number(l.opacity), number(l.open), number(l.close));
            for (const double v : l.matrix) text += "," + number(v);
            text += fmt::format(",{}", l.lenses.size());
            if (l.lenses.empty()) {
                text += std::string(13, ',');
            } else {
                const auto& lens = l.lenses.front();
                for (const double v : {lens.x, lens.y, lens.radius, lens.amount}) text += "," + number(v);
                for (const double v : lens.after) text += "," + number(v);
            }
            text += "," + number(l.seenSpeed) + "\n";
        }
    return text;
}

Output movementOutput(const Project& project, bool force) {
    Output output{"movement data", {".json", ".csv"}, {}, !force, [](const std::filesystem::path& file) {
                      const auto text = readFile(file, std::size_t(1) << 30);
                      return text &&
                             (text->find("\"virga\": \"movement\"") != text->npos || text->starts_with(csvHead));
                  }};
    for (const Media& media : project.media) output.inputs.push_back(media.path);
    return output;
}

Expected<void> writeMovement(const Project& project, const std::filesystem::path& path, std::int64_t from,
                             std::int64_t to, bool force, const Cancel& cancel) {
    if (auto may = mayWrite(path, movementOutput(project, force)); !may) return may;
    const auto data = movementData(project, from, to, cancel);
    if (!data) return tl::unexpected(data.error());
    return writeFileAtomically(path, endingOf(path) == ".csv" ? csvOf(*data) : jsonOf(*data));
}

} // namespace virga
