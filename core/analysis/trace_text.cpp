#include <cmath>
#include <fmt/format.h>

#include "core/analysis/trace.h"
#include "core/base/json.h"
#include "core/recipe/recipe.h"

namespace virga {

std::string textOf(const Trace& trace, Side side) {
    std::string text;
    for (const TracedChannel& c : trace.side(side).channels) {
        const ChannelInfo& info = moveInfo(c.kind).channels[std::size_t(c.channel)];
        const auto& keys = c.fitted.curve.keys;
        if (keys.empty()) continue;
        std::string label(info.label);
        label[0] = char(std::tolower(label[0]));
        text += fmt::format("{}{} {} → {} in {:.0f} frames", text.empty() ? "" : ", ", label,
                            spokenValue(keys.front().value, info), spokenValue(keys.back().value, info),
                            keys.back().time - keys.front().time);
    }
    return text.empty() ? "no movement" : text;
}

Expected<Recipe> recipeOf(const Trace& trace, const std::string& name) {
    if (!trace.moves())
        return fail(ErrorCode::BadInput, "nothing moves at this cut", name, "trace one at which something moves");
    Project project;
    project.settings.size = trace.size;
    project.settings.rate = trace.rate;
    for (const char* id : {"before", "after"}) {
        Clip clip;
        clip.id = id;
        clip.length = 400;
        project.reel.push_back(clip);
    }
    project.reel[1].transition = trace.transition;
    auto recipe = recipeFrom(project, 0, name);
    if (recipe) recipe->note = "Traced from a video.";
    return recipe;
}

std::string traceText(const Trace& trace) {
    const auto sideJson = [&](const TracedSide& side) {
        nlohmann::json json = {{"moves", side.moves},         {"restsAt", side.rest},
                               {"restFound", side.restFound}, {"misfit", side.misfit},
                               {"explained", side.explained}, {"text", textOf(trace, side.side)}};
        auto& frames = json["frames"] = nlohmann::json::array();
        for (const TracedFrame& f : side.frames)
            frames.push_back({{"frame", f.frame}, {"speed", f.speed}, {"trust", f.trust}});
        auto& channels = json["channels"] = nlohmann::json::array();
        for (const TracedChannel& c : side.channels) {
            nlohmann::json channel = {{"move", moveInfo(c.kind).name},
                                      {"channel", moveInfo(c.kind).channels[std::size_t(c.channel)].name},
                                      {"keys", c.fitted.curve.keys.size()},
                                      {"worstMiss", c.fitted.worst},
                                      {"shape", c.fitted.like}};
            auto& values = channel["values"] = nlohmann::json::array();
            for (std::size_t i = 0; i < c.values.size(); ++i)
                values.push_back({{"frame", c.values[i].time},
                                  {"value", c.values[i].value},
                                  {"error", c.values[i].error},
                                  {"known", bool(c.known[i])}});
            channels.push_back(std::move(channel));
        }
        return json;
    };
    nlohmann::json all = {{"picture", trace.picture},
                          {"seconds", trace.seconds.toDouble()},
                          {"anchor", {trace.anchor.x, trace.anchor.y}},
                          {"explained", trace.explained},
                          {"outgoing", sideJson(trace.out)},
                          {"incoming", sideJson(trace.in)},
                          {"notes", trace.notes}};
    all["shutter"] = trace.shutterAngle >= 0 ? nlohmann::json(trace.shutterAngle) : nlohmann::json();
    return jsonText(all, 2);
}

} // namespace virga
