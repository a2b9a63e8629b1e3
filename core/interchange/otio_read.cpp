#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <set>

#include "core/base/json.h"
#include "core/base/sequence_path.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"
#include "core/interchange/otio.h"
#include "core/project/clip_time.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"

namespace virga {
namespace {

using json = nlohmann::json;

// Thrown inside this file only, to leave deep recursion with a place; readOtio turns it into an Error.
struct Wrong {
    std::string place, why;
};

std::string schemaOf(const json& object) {
    if (!object.is_object() || !object.contains("OTIO_SCHEMA") || !object["OTIO_SCHEMA"].is_string()) return {};
    return object["OTIO_SCHEMA"].get<std::string>();
}

std::string kindOf(const json& object) {
    const std::string schema = schemaOf(object);
    return schema.substr(0, schema.find('.'));
}

std::string textIn(const json& object, const char* key) {
    const auto at = object.find(key);
    return at != object.end() && at->is_string() ? at->get<std::string>() : std::string();
}

class Reader {
public:
    Reader(const Project& base, const std::filesystem::path& folder, const std::string& name) : m_folder(folder) {
        m_out.project.settings = base.settings;
        m_out.project.media = base.media;
        m_out.project.name = name;
    }

    ImportedEdit read(const json& timeline) {
        Project& p = m_out.project;
        if (const std::string name = textIn(timeline, "name"); !name.empty()) p.name = name;
        if (!timeline.contains("tracks") || kindOf(timeline["tracks"]) != "Stack")
            throw Wrong{"/tracks", "a timeline needs a Stack of tracks"};
        const json& stack = timeline["tracks"];
        takeOwn(timeline);
        takeRate(timeline, stack);
        const json& children = listIn(stack, "children", "/tracks");
        int video = 0;
        for (std::size_t i = 0; i < children.size(); ++i) {
            const std::string place = fmt::format("/tracks/children/{}", i);
            if (kindOf(children[i]) != "Track") {
                leave(place, children[i]);
                continue;
            }
            const std::string kind = textIn(children[i], "kind");
            if (kind == "Audio")
                continue; // below: what lies beneath a shot of it may be that shot's own sound
            else if (video++ == 0)
                takeReel(children[i], place);
            else
                takeOverlays(children[i], place, video - 2);
        }
        for (std::size_t i = 0; i < children.size(); ++i)
            if (kindOf(children[i]) == "Track" && textIn(children[i], "kind") == "Audio")
                takeSound(children[i], fmt::format("/tracks/children/{}", i));
        // Where a timeline says which shots are heard, the others are not.
        if (!m_heard.empty() && !m_ownTimeline)
            for (std::size_t i = 0; i < p.reel.size(); ++i)
                if (!m_heard.contains(i)) p.reel[i].muted = true;
        takeMarkers(stack, "/tracks", 0);
        return std::move(m_out);
    }

private:
    void leave(const std::string& place, const json& object) {
        const std::string schema = schemaOf(object);
        const std::string what = schema.empty() ? "an object without a schema" : schema;
        const std::string name = object.is_object() ? textIn(object, "name") : std::string();
        m_out.problems.push_back(fmt::format("{}: {} {}is not supported and was left out", place, what,
                                             name.empty() ? "" : "\"" + name + "\" "));
        m_out.project.notes.push_back(fmt::format("left out of an OpenTimelineIO file: {} {}", what, name));
    }

    static const json& listIn(const json& object, const char* key, const std::string& place) {
        if (!object.contains(key) || !object[key].is_array()) throw Wrong{place + "/" + key, "a list is missing"};
        return object[key];
    }

    // Seconds of a RationalTime; decimals of a frame survive.
    static Rational secondsOf(const json& time, const std::string& place) {
        if (kindOf(time) != "RationalTime" || !time.contains("value") || !time["value"].is_number() ||
            !time.contains("rate") || !time["rate"].is_number() || !(time["rate"].get<double>() > 0))
            throw Wrong{place, "a RationalTime with a value and a rate is needed"};
        const double value = time["value"];
        if (!std::isfinite(value) || std::abs(value) > 1e12) throw Wrong{place, "the time is out of range"};
        // An item may count in other units than frames, such as samples of sound.
        const double perSecond = time["rate"];
        const Rational rate = perSecond <= 1000 ? rateFromDecimal(perSecond)
                                                : Rational(std::llround(std::min(perSecond, 1e6) * 1000), 1000);
        const auto whole = std::int64_t(std::floor(value));
        return (Rational(whole) + Rational(std::llround((value - double(whole)) * 1e6), 1000000)) / rate;
    }

    struct Range {
        Rational start, duration;
    };
    static std::optional<Range> rangeIn(const json& object, const char* key, const std::string& place) {
        if (!object.contains(key) || object[key].is_null()) return std::nullopt;
        const json& range = object[key];
        if (kindOf(range) != "TimeRange" || !range.contains("start_time") || !range.contains("duration"))
            throw Wrong{place + "/" + key, "a TimeRange with start_time and duration is needed"};
        return Range{secondsOf(range["start_time"], place + "/" + key + "/start_time"),
                     secondsOf(range["duration"], place + "/" + key + "/duration")};
    }

    // Frames of a duration that begins at a time: rounding both ends keeps long tracks from drifting.
    std::int64_t framesAt(Rational from, Rational duration) const {
        return roundToInteger((from + duration) * rate()) - roundToInteger(from * rate());
    }
    FrameRate rate() const { return m_out.project.settings.rate; }

    // The settings, adjustments and notes that Virga itself wrote.
    void takeOwn(const json& timeline) {
        if (!timeline.contains("metadata") || !timeline["metadata"].is_object()) return;
        const auto own = timeline["metadata"].find("virga");
        if (own == timeline["metadata"].end() || !own->is_object() || !own->contains("settings")) return;
        m_ownTimeline = true;
        json document = {{"format", "virga-project"},
                         {"version", projectVersion},
                         {"media", json::array()},
                         {"reel", json::array()},
                         {"settings", (*own)["settings"]}};
        for (const char* key : {"adjustments", "notes"})
            if (own->contains(key)) document[key] = (*own)[key];
        if (const auto known = fromJson(document, {}, "")) {
            m_out.project.settings = known->settings;
            m_out.project.adjustments = known->adjustments;
            m_out.project.notes = known->notes;
        }
    }

    void takeRate(const json& timeline, const json& stack) {
        const json* time = nullptr;
        if (timeline.contains("global_start_time") && kindOf(timeline["global_start_time"]) == "RationalTime")
            time = &timeline["global_start_time"];
        // Without it, the first clip's own source range decides.
        if (!time && stack.contains("children") && stack["children"].is_array())
            for (const json& track : stack["children"])
                if (track.is_object() && track.contains("children") && track["children"].is_array())
                    for (const json& child : track["children"])
                        if (!time && child.is_object() && kindOf(child) == "Clip" && child.contains("source_range") &&
                            child["source_range"].is_object() && child["source_range"].contains("duration"))
                            time = &child["source_range"]["duration"];
        if (!time || !time->is_object() || !time->contains("rate") || !(*time)["rate"].is_number()) return;
        m_out.project.settings.rate = rateFromDecimal((*time)["rate"].get<double>());
        if (!timeline.contains("global_start_time") || time != &timeline["global_start_time"]) return;
        const auto start = time->find("value");
        if (start != time->end() && start->is_number() && start->get<double>() >= 1 && start->get<double>() <= 1e8)
            m_out.project.settings.startFrame = std::llround(start->get<double>());
    }

    struct Reference {
        std::string mediaId;
        Rational available; // start of its range
    };
    Reference referenceOf(const json& clip, const std::string& place) {
        const json* reference = nullptr;
        if (clip.contains("media_references") && clip["media_references"].is_object()) {
            const std::string key = clip.value("active_media_reference_key", "DEFAULT_MEDIA");
            const auto at = clip["media_references"].find(key);
            if (at != clip["media_references"].end()) reference = &*at;
        } else if (clip.contains("media_reference")) {
            reference = &clip["media_reference"]; // Clip.1
        }
        Project& p = m_out.project;
        const std::string kind = reference ? kindOf(*reference) : std::string();
        std::filesystem::path path;
        if (kind == "ExternalReference") {
            path = pathOfUrl(textIn(*reference, "target_url"));
            if (path.empty()) throw Wrong{place, "a reference without a target_url"};
            if (path.is_relative()) path = (m_folder / path).lexically_normal();
        } else if (kind == "ImageSequenceReference") {
            path = sequencePath(*reference);
        } else {
            path = textIn(clip, "name");
            if (path.empty()) path = "missing";
        }
        Reference out;
        if (reference)
            if (const auto range = rangeIn(*reference, "available_range", place)) out.available = range->start;
        for (const Media& m : p.media)
            if (m.path == path) out.mediaId = m.id;
        if (path.string().size() > longestText) throw Wrong{place, "the name of a file is too long"};
        if (out.mediaId.empty() && !mediaExists(path)) out.mediaId = mediaNamed(p, path.string());
        if (!out.mediaId.empty()) return out;
        Media media;
        media.path = path;
        media.rate = rate();
        media.size = p.settings.size;
        media.timecode = out.available;
        if (reference)
            if (const auto range = rangeIn(*reference, "available_range", place)) media.duration = range->duration;
        p = withMedia(p, media, &out.mediaId);
        if (kind != "ExternalReference" && kind != "ImageSequenceReference")
            m_out.problems.push_back(fmt::format("{}: \"{}\" refers to no file", place, path.string()));
        return out;
    }

    // A number held inside bounds before it becomes a whole one: it may be as large as a double.
    static long wholeIn(const json& r, const char* key, long otherwise, long least, long most) {
        return long(std::clamp(r.value(key, double(otherwise)), double(least), double(most)));
    }

    std::filesystem::path sequencePath(const json& r) const {
        SequencePath s;
        s.folder = pathOfUrl(textIn(r, "target_url_base"));
        if (s.folder.is_relative()) s.folder = (m_folder / s.folder).lexically_normal();
        s.before = textIn(r, "name_prefix");
        s.after = textIn(r, "name_suffix");
        s.first = wholeIn(r, "start_frame", 1, 0, 999999999);
        s.digits = int(wholeIn(r, "frame_zero_padding", 4, 1, 9));
        s.last = s.first;
        if (const auto range = rangeIn(r, "available_range", ""))
            s.last +=
                std::clamp<std::int64_t>(roundToInteger(range->duration * rate()) - 1, 0, mostSequencePictures - 1);
        return s.path();
    }

    // A clip without its place in time: its length follows from where it stands.
    struct Read {
        Clip clip;
        Rational duration;
        json own; // what Virga wrote about it
    };
    Read readClip(const json& j, const std::string& place) {
        Read out;
        const Reference reference = referenceOf(j, place);
        if (j.contains("metadata") && j["metadata"].is_object() && j["metadata"].contains("virga"))
            out.own = j["metadata"]["virga"];
        if (out.own.is_object()) {
            json document = {{"format", "virga-project"},
                             {"version", projectVersion},
                             {"settings", {{"width", 1280}, {"height", 720}, {"rate", "25"}}},
                             {"media", json::array({{{"id", out.own.value("media", "m")}, {"path", "x"}}})},
                             {"reel", json::array({out.own})}};
            if (const auto known = fromJson(document, {}, "")) out.clip = known->reel.front();
        }
        out.clip.mediaId = reference.mediaId;
        out.clip.name = textIn(j, "name");
        if (out.clip.name.empty()) out.clip.name = mediaName(findMedia(m_out.project, reference.mediaId)->path);
        out.clip.speed = 1;
        const Media& media = *findMedia(m_out.project, reference.mediaId);
        out.duration = media.duration;
        if (const auto range = rangeIn(j, "source_range", place)) {
            out.clip.sourceIn = range->start - reference.available;
            out.duration = range->duration;
        } else if (media.duration <= Rational(0)) {
            throw Wrong{place, "neither the clip nor its media says how long it is"};
        }
        bool warped = false;
        if (j.contains("effects") && j["effects"].is_array())
            for (const json& effect : j["effects"]) {
                const double scalar = effect.is_object() ? effect.value("time_scalar", 1.0) : 1.0;
                if (kindOf(effect) == "FreezeFrame") {
                    out.clip.speed = 0, out.clip.speedCurve = {};
                } else if (kindOf(effect) == "LinearTimeWarp" && std::isfinite(scalar)) {
                    warped = true;
                    // A curve of our own is known by the speed that stands for it.
                    const bool ours = hasSpeedKeys(out.clip) && std::abs(meanSpeed(out.clip) - scalar) < 1e-4;
                    if (!ours) out.clip.speedCurve = {};
                    out.clip.speed =
                        std::clamp(Rational(std::llround(std::clamp(scalar, -100.0, 100.0) * 10000), 10000),
                                   Rational(0) - fastestSpeed, fastestSpeed);
                } else {
                    leave(place + "/effects", effect);
                }
            }
        if (!warped) out.clip.speedCurve = {}; // ours was taken away elsewhere
        if (out.clip.sourceIn < Rational(0)) out.clip.sourceIn = 0;
        return out;
    }

    void takeReel(const json& track, const std::string& place) {
        Project& p = m_out.project;
        Rational at;
        struct {
            bool there = false, dissolves = false;
            Overlap overlap;
        } waiting; // a transition read before the clip that it brings in
        const json& children = listIn(track, "children", place);
        for (std::size_t i = 0; i < children.size(); ++i) {
            const json& child = children[i];
            const std::string here = fmt::format("{}/children/{}", place, i), kind = kindOf(child);
            if (kind == "Transition") {
                const std::string type = textIn(child, "transition_type");
                const auto offset = [&](const char* key) {
                    return child.contains(key) ? roundToInteger(secondsOf(child[key], here + "/" + key) * rate()) : 0;
                };
                waiting = {true, type == "SMPTE_Dissolve", {offset("in_offset"), offset("out_offset")}};
                continue;
            }
            if (kind != "Clip" && kind != "Gap") {
                leave(here, child);
                const auto range = child.is_object() ? rangeIn(child, "source_range", here) : std::nullopt;
                if (range) put(gapOf(framesAt(at, range->duration)), at, range->duration);
                continue;
            }
            if (kind == "Gap") {
                const auto range = rangeIn(child, "source_range", here);
                if (!range) throw Wrong{here, "a gap needs a source_range"};
                put(gapOf(framesAt(at, range->duration)), at, range->duration);
                continue;
            }
            Read read = readClip(child, here);
            const bool own = read.own.is_object();
            read.clip.length = framesAt(at, read.duration);
            const Rational began = at;
            if (!put(read.clip, at, read.duration)) continue;
            takeMarkers(child, here, roundToInteger(began * rate()));
            const int cut = cutCount(p) - 1;
            if (waiting.there && cut >= 0) {
                const Side top = p.reel.back().transition.top;
                p = withOverlap(p, cut, waiting.overlap, own ? top : Side::Incoming);
                const auto& moves = p.reel.back().transition.moves;
                const bool fades =
                    std::any_of(moves.begin(), moves.end(), [](const Move& m) { return m.kind == MoveKind::Fade; });
                if (waiting.dissolves && !fades) {
                    const Overlap o = waiting.overlap;
                    p = withMoveAdded(p, cut, MoveKind::Fade);
                    p = withCurve(p, {cut, int(transitionAt(p, cut).moves.size()) - 1, 0, Side::Incoming},
                                  twoKeys(Space::Linear, -double(o.before), 0, double(o.after), 1,
                                          Shape{Interpolation::Linear, 0, 0, 1, 1}));
                }
            } else if (own) {
                p.reel.back().transition.overlap = {}; // the cut is hard now, whatever it was
            }
            waiting = {};
        }
    }

    static Clip gapOf(std::int64_t length) {
        Clip gap;
        gap.length = length;
        return gap;
    }

    bool put(Clip clip, Rational& at, Rational duration) {
        at = at + duration;
        if (clip.length < 1) {
            if (!clip.isGap())
                m_out.problems.push_back(fmt::format("\"{}\" is shorter than a frame and was left out", clip.name));
            return false;
        }
        m_out.project = withClip(m_out.project, int(m_out.project.reel.size()), std::move(clip));
        return true;
    }

    void takeOverlays(const json& track, const std::string& place, int row) {
        Rational at;
        const json& children = listIn(track, "children", place);
        for (std::size_t i = 0; i < children.size(); ++i) {
            const std::string here = fmt::format("{}/children/{}", place, i), kind = kindOf(children[i]);
            if (kind == "Gap") {
                if (const auto range = rangeIn(children[i], "source_range", here)) at = at + range->duration;
            } else if (kind == "Clip") {
                const Read read = readClip(children[i], here);
                Overlay o;
                o.clip = read.clip;
                o.clip.length = std::max<std::int64_t>(1, framesAt(at, read.duration));
                o.start = roundToInteger(at * rate());
                o.row = row;
                if (!read.own.is_object()) o.clip.edges = EdgeFill::Empty;
                m_out.project = withOverlayPut(m_out.project, std::move(o));
                at = at + read.duration;
            } else {
                leave(here, children[i]);
            }
        }
    }

    void takeSound(const json& track, const std::string& place) {
        Rational at;
        const json& children = listIn(track, "children", place);
        for (std::size_t i = 0; i < children.size(); ++i) {
            const std::string here = fmt::format("{}/children/{}", place, i), kind = kindOf(children[i]);
            if (kind == "Gap") {
                if (const auto range = rangeIn(children[i], "source_range", here)) at = at + range->duration;
                continue;
            }
            if (kind != "Clip") {
                leave(here, children[i]);
                continue;
            }
            const Read read = readClip(children[i], here);
            if (isSoundOfAShot(read, at)) {
                at = at + read.duration;
                continue;
            }
            Music m;
            if (read.own.is_object()) m = ownMusic(read.own);
            m.id = freshId(m_out.project, "music-");
            m.mediaId = read.clip.mediaId;
            m.start = roundToInteger(at * rate());
            m.sourceIn = read.clip.sourceIn;
            const auto frames = framesAt(at, read.duration);
            if (m.length > 0 || !read.own.is_object()) m.length = frames;
            for (Media& media : m_out.project.media)
                if (media.id == m.mediaId && media.duration <= read.duration) media.sound = true;
            m_out.project.music.push_back(std::move(m));
            at = at + read.duration;
        }
    }

    // Whether a piece of sound lies beneath a clip of the reel and is of the same moments of the same file.
    bool isSoundOfAShot(const Read& read, Rational at) {
        const auto near = [](std::int64_t a, std::int64_t b) { return std::abs(a - b) <= 1; };
        std::int64_t start = 0;
        for (std::size_t i = 0; i < m_out.project.reel.size(); ++i) {
            const Clip& c = m_out.project.reel[i];
            const bool same = !c.isGap() && c.mediaId == read.clip.mediaId &&
                              near(start, roundToInteger(at * rate())) && near(c.length, framesAt(at, read.duration)) &&
                              near(roundToInteger(c.sourceIn * rate()), roundToInteger(read.clip.sourceIn * rate()));
            if (same) {
                m_heard.insert(i);
                for (Media& media : m_out.project.media)
                    if (media.id == c.mediaId) media.sound = true;
                return true;
            }
            start += c.length;
        }
        return false;
    }

    static Music ownMusic(const json& own) {
        const json document = {{"format", "virga-project"},
                               {"version", projectVersion},
                               {"settings", {{"width", 1280}, {"height", 720}, {"rate", "25"}}},
                               {"media", json::array()},
                               {"reel", json::array()},
                               {"music", json::array({own})}};
        const auto known = fromJson(document, {}, "");
        return known && !known->music.empty() ? known->music.front() : Music();
    }

    void takeMarkers(const json& object, const std::string& place, std::int64_t from) {
        if (!object.contains("markers") || !object["markers"].is_array()) return;
        for (const json& marker : object["markers"]) {
            const auto range = marker.is_object() ? rangeIn(marker, "marked_range", place + "/markers") : std::nullopt;
            if (!range) continue;
            Rational start = range->start;
            // A clip's markers count from its media's start.
            if (kindOf(object) == "Clip")
                if (const auto source = rangeIn(object, "source_range", place)) start = start - source->start;
            m_out.project = withMarker(m_out.project, from + roundToInteger(start * rate()), textIn(marker, "name"));
        }
    }

    std::filesystem::path m_folder;
    ImportedEdit m_out;
    std::set<std::size_t> m_heard; // clips of the reel whose own sound is there
    bool m_ownTimeline = false;    // written by Virga
};

} // namespace

Expected<ImportedEdit> readOtio(const std::string& text, const Project& base, const std::filesystem::path& folder,
                                const std::string& name) {
    auto parsed = parseJson(text, "an OpenTimelineIO file", name);
    if (!parsed) return tl::unexpected(parsed.error());
    const json& document = *parsed;
    const std::string schema = schemaOf(document);
    if (schema.empty())
        return fail(ErrorCode::Unreadable, "is not an OpenTimelineIO file: it has no OTIO_SCHEMA", name,
                    "choose a file that ends in .otio");
    const json* timeline = &document;
    // A collection holds several timelines: the first one is taken.
    if (kindOf(document) == "SerializableCollection" && document.contains("children") &&
        document["children"].is_array())
        for (const json& child : document["children"])
            if (kindOf(child) == "Timeline") {
                timeline = &child;
                break;
            }
    if (kindOf(*timeline) != "Timeline")
        return fail(ErrorCode::Unsupported, fmt::format("holds a {}, not a timeline", schema), name,
                    "export the whole timeline");
    try {
        ImportedEdit edit = Reader(base, folder, mediaName(name)).read(*timeline);
        edit.project = withinLimits(edit.project, &edit.problems);
        return edit;
    } catch (const Wrong& wrong) {
        return fail(ErrorCode::Unreadable, wrong.why, name + " at " + wrong.place,
                    "export it again from where it was made");
    } catch (const json::exception& error) {
        (void)error; // a library's words say nothing to people
        return fail(ErrorCode::Unreadable, "a value in it is of the wrong kind or missing", name,
                    "export it again from where it was made");
    }
}

} // namespace virga
