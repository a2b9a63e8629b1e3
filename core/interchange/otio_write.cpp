#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/base/sequence_path.h"
#include "core/interchange/otio.h"
#include "core/project/clip_time.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;

struct Writer {
    const Project& project;
    std::filesystem::path folder;
    double rate = project.settings.rate.toDouble();
    json known = documentOf(project, {}); // where the clips' own JSON comes from

    static json time(double value, double rate) {
        return {{"OTIO_SCHEMA", "RationalTime.1"}, {"rate", rate}, {"value", value}};
    }
    json frames(std::int64_t n) const { return time(double(n), rate); }
    json seconds(Rational s) const { return time((s * project.settings.rate).toDouble(), rate); }
    static json range(json start, json duration) {
        return {{"OTIO_SCHEMA", "TimeRange.1"}, {"start_time", std::move(start)}, {"duration", std::move(duration)}};
    }

    json gap(std::int64_t length) const {
        return {{"OTIO_SCHEMA", "Gap.1"},
                {"name", ""},
                {"metadata", json::object()},
                {"source_range", range(frames(0), frames(length))},
                {"effects", json::array()},
                {"markers", json::array()},
                {"enabled", true}};
    }

    json reference(const Media* media) const {
        if (!media)
            return {{"OTIO_SCHEMA", "MissingReference.1"},
                    {"name", ""},
                    {"metadata", json::object()},
                    {"available_range", nullptr}};
        const auto relative = folder.empty() ? std::filesystem::path() : media->path.lexically_relative(folder);
        const bool inside = !relative.empty() && *relative.begin() != "..";
        json out = {{"OTIO_SCHEMA", "ExternalReference.1"},
                    {"name", media->path.filename().string()},
                    {"metadata", {{"virga", {{"media", media->id}}}}},
                    {"target_url", urlOfPath(inside ? relative : media->path)},
                    {"available_range", nullptr}};
        if (media->duration > Rational(0))
            out["available_range"] = range(seconds(media->timecode), seconds(media->duration));
        return out;
    }

    // A speed that changes is written as its mean; Virga's own data keeps the keys.
    json clip(const std::string& name, const std::string& mediaId, Rational in, std::int64_t length, double speed,
              bool keyed, json own) const {
        const Media* media = findMedia(project, mediaId);
        json effects = json::array();
        if (speed == 0 && !keyed)
            effects.push_back({{"OTIO_SCHEMA", "FreezeFrame.1"},
                               {"name", ""},
                               {"effect_name", "FreezeFrame"},
                               {"metadata", json::object()},
                               {"enabled", true},
                               {"time_scalar", 0}});
        else if (speed != 1 || keyed)
            effects.push_back({{"OTIO_SCHEMA", "LinearTimeWarp.1"},
                               {"name", ""},
                               {"effect_name", "LinearTimeWarp"},
                               {"metadata", json::object()},
                               {"enabled", true},
                               {"time_scalar", speed}});
        return {{"OTIO_SCHEMA", "Clip.2"},
                {"name", name},
                {"metadata", {{"virga", std::move(own)}}},
                {"source_range", range(seconds(in + (media ? media->timecode : Rational(0))), frames(length))},
                {"effects", effects},
                {"markers", json::array()},
                {"enabled", true},
                {"media_references", {{"DEFAULT_MEDIA", reference(media)}}},
                {"active_media_reference_key", "DEFAULT_MEDIA"}};
    }

    json clip(const Clip& c, json own) const {
        return clip(c.name, c.mediaId, c.sourceIn, c.length, meanSpeed(c), hasSpeedKeys(c), std::move(own));
    }

    static json track(const std::string& name, const std::string& kind, json children) {
        return {{"OTIO_SCHEMA", "Track.1"},
                {"name", name},
                {"kind", kind},
                {"children", children},
                {"source_range", nullptr},
                {"metadata", json::object()},
                {"effects", json::array()},
                {"markers", json::array()},
                {"enabled", true}};
    }

    json reelTrack() const {
        json children = json::array();
        for (std::size_t i = 0; i < project.reel.size(); ++i) {
            const Clip& c = project.reel[i];
            const Overlap& overlap = c.transition.overlap;
            if (i > 0 && !overlap.isEmpty() && !c.isGap() && !project.reel[i - 1].isGap()) {
                const bool fades = std::any_of(c.transition.moves.begin(), c.transition.moves.end(),
                                               [](const Move& m) { return m.kind == MoveKind::Fade; });
                children.push_back({{"OTIO_SCHEMA", "Transition.1"},
                                    {"name", ""},
                                    {"metadata", json::object()},
                                    {"transition_type", fades ? "SMPTE_Dissolve" : "Custom_Transition"},
                                    {"in_offset", frames(overlap.before)},
                                    {"out_offset", frames(overlap.after)}});
            }
            children.push_back(c.isGap() ? gap(c.length) : clip(c, known["reel"][i]));
        }
        return track("Reel", "Video", std::move(children));
    }

    json overlayTrack(int row) const {
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < project.overlays.size(); ++i)
            if (project.overlays[i].row == row) order.push_back(i);
        std::sort(order.begin(), order.end(),
                  [&](auto a, auto b) { return project.overlays[a].start < project.overlays[b].start; });
        json children = json::array();
        std::int64_t at = 0;
        for (const auto i : order) {
            const Overlay& o = project.overlays[i];
            if (o.start > at) children.push_back(gap(o.start - at));
            children.push_back(clip(o.clip, known["overlays"][i]));
            at = o.end();
        }
        return track(fmt::format("Over {}", row + 1), "Video", std::move(children));
    }

    bool isHeard(const Clip& c) const {
        const Media* media = findMedia(project, c.mediaId);
        return media && media->sound && !c.muted && !c.isGap();
    }

    // The shots' own sound, clip beneath clip; null where nothing of the reel is heard.
    json shotSoundTrack() const {
        if (std::none_of(project.reel.begin(), project.reel.end(), [&](const Clip& c) { return isHeard(c); }))
            return {};
        json children = json::array();
        for (const Clip& c : project.reel)
            children.push_back(isHeard(c) ? clip(c, {{"shotSound", true}}) : gap(c.length));
        return track("Sound of the shots", "Audio", std::move(children));
    }

    json musicTrack(std::size_t i) const {
        const Music& m = project.music[i];
        json children = json::array();
        if (m.start > 0) children.push_back(gap(m.start));
        const Media* media = findMedia(project, m.mediaId);
        children.push_back(clip(media ? mediaName(media->path) : m.id, m.mediaId, m.sourceIn, musicLength(project, m),
                                1, false, known["music"][i]));
        return track(fmt::format("Music {}", i + 1), "Audio", std::move(children));
    }

    json markers() const {
        json out = json::array();
        for (const Marker& m : project.markers)
            out.push_back({{"OTIO_SCHEMA", "Marker.2"},
                           {"name", m.name},
                           {"metadata", json::object()},
                           {"color", "WHITE"},
                           {"comment", ""},
                           {"marked_range", range(frames(m.frame), frames(0))}});
        return out;
    }

    json timeline() const {
        json tracks = json::array({reelTrack()});
        int rows = 0;
        for (const Overlay& o : project.overlays) rows = std::max(rows, o.row + 1);
        for (int row = 0; row < rows; ++row) tracks.push_back(overlayTrack(row));
        if (json sound = shotSoundTrack(); !sound.is_null()) tracks.push_back(std::move(sound));
        for (std::size_t i = 0; i < project.music.size(); ++i) tracks.push_back(musicTrack(i));
        const json stack = {
            {"OTIO_SCHEMA", "Stack.1"},   {"name", "tracks"},         {"children", tracks},   {"source_range", nullptr},
            {"metadata", json::object()}, {"effects", json::array()}, {"markers", markers()}, {"enabled", true}};
        return {
            {"OTIO_SCHEMA", "Timeline.1"},
            {"name", project.name},
            {"global_start_time", frames(project.settings.startFrame.value_or(0))},
            {"tracks", stack},
            {"metadata",
             {{"virga",
               {{"settings", known["settings"]}, {"adjustments", known["adjustments"]}, {"notes", known["notes"]}}}}}};
    }
};

} // namespace

std::string urlOfPath(const std::filesystem::path& path) {
    std::string out = path.is_absolute() ? "file://" : "";
    for (const char c : path.generic_string()) {
        const auto u = static_cast<unsigned char>(c);
        if (std::isalnum(u) && u < 128)
            out += c;
        else if (std::string_view("/-_.~").find(c) != std::string_view::npos)
            out += c;
        else
            out += fmt::format("%{:02X}", u); // RFC 3986, section 2.1
    }
    return out;
}

std::filesystem::path pathOfUrl(const std::string& url) {
    std::string rest = url;
    if (rest.starts_with("file://")) {
        rest.erase(0, 7);
        if (rest.starts_with("localhost/")) rest.erase(0, 9);
    }
    std::string out;
    for (std::size_t i = 0; i < rest.size(); ++i) {
        if (rest[i] == '%' && i + 2 < rest.size() && std::isxdigit(static_cast<unsigned char>(rest[i + 1])) &&
            std::isxdigit(static_cast<unsigned char>(rest[i + 2]))) {
            out += char(std::stoi(rest.substr(i + 1, 2), nullptr, 16));
            i += 2;
        } else {
            out += rest[i];
        }
    }
    return out;
}

std::string writeOtio(const Project& project, const std::filesystem::path& folder) {
    return Writer{project, folder}.timeline().dump(4, ' ', false, json::error_handler_t::replace) + "\n";
}

} // namespace virga
