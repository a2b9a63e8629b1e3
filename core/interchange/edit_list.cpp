#include "core/interchange/edit_list.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>
#include <sstream>

#include "core/base/printable.h"
#include "core/base/sequence_path.h"
#include "core/base/timecode.h"
#include "core/curve/curve_edit.h"
#include "core/edit/edits.h"
#include "core/edit/move_edits.h"
#include "core/edit/reel_edits.h"
#include "core/project/clip_time.h"
#include "core/project/limits.h"

namespace virga {
namespace {

std::string upper(std::string s) {
    std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return char(std::toupper(c)); });
    return s;
}

std::vector<std::string> words(const std::string& line) {
    std::istringstream in(line);
    std::vector<std::string> out;
    for (std::string word; in >> word;) out.push_back(word);
    return out;
}

bool isNumber(const std::string& s) {
    return !s.empty() && std::all_of(s.begin(), s.end(), [](unsigned char c) { return std::isdigit(c); });
}

struct Event {
    int line = 0;
    std::string text, number, reel, clipName, sourceFile;
    std::int64_t sourceIn = 0, sourceOut = 0, recordIn = 0, recordOut = 0;
    std::int64_t dissolve = 0;             // frames; 0 for a cut
    std::optional<double> framesPerSecond; // of an M2 line
};

class ListReader {
public:
    ListReader(const Project& base, const std::string& name) : m_rate(base.settings.rate) {
        m_out.project.settings = base.settings;
        m_out.project.media = base.media;
        m_out.project.name = name;
    }

    Expected<ImportedEdit> read(const std::string& text) {
        if (text.find('\0') != std::string::npos)
            return fail(ErrorCode::Unreadable, "is not an edit list: it is not text", {},
                        "choose a CMX 3600 edit list");
        std::istringstream in(text);
        int number = 0;
        for (std::string line; std::getline(in, line);) {
            ++number;
            while (!line.empty() && (line.back() == '\r' || line.back() == ' ' || line.back() == '\0')) line.pop_back();
            if (number == 1 && line.starts_with("\xef\xbb\xbf")) line.erase(0, 3);
            if (!line.empty()) takeLine(line, number);
        }
        if (m_events.empty())
            return fail(ErrorCode::BadInput,
                        m_out.problems.empty() ? "there is not one event in it" : m_out.problems.front(), {},
                        "choose a CMX 3600 edit list");
        for (std::size_t i = 0; i < m_out.project.media.size(); ++i) m_place[m_out.project.media[i].id] = i;
        knowBase();
        build();
        m_out.project = withinLimits(m_out.project, &m_out.problems);
        return std::move(m_out);
    }

private:
    void problem(int line, const std::string& why, const std::string& text) {
        m_out.problems.push_back(fmt::format("line {}: {}", line, printable(why)));
        m_out.project.notes.push_back(printable(std::string_view(text).substr(0, longestText)));
    }

    // A binary file read as a list must not reach a terminal as it is.

    void takeLine(const std::string& line, int number) {
        const auto w = words(line);
        if (w.empty()) return;
        const std::string first = upper(w[0]);
        if (first == "TITLE:") {
            const std::string title = line.substr(std::min(line.size(), line.find(':') + 1));
            const auto from = title.find_first_not_of(' ');
            m_out.project.name = from == std::string::npos ? "" : title.substr(from);
        } else if (first == "FCM:") {
            m_drop = upper(line).find("NON") == std::string::npos;
            if (m_drop && !usesDropFrame(m_rate)) {
                problem(number, "drop-frame counting belongs to 29.97 and 59.94 frames a second; counted plainly",
                        line);
                m_drop = false;
            }
        } else if (isNumber(w[0])) {
            takeEvent(line, w, number);
        } else if (first == "M2") {
            takeSpeed(line, w, number);
        } else if (first == "*" || first[0] == '*') {
            takeComment(line, number);
        } else {
            problem(number, fmt::format("\"{}\" is not supported and was kept as a comment", w[0]), line);
        }
    }

    void takeEvent(const std::string& line, const std::vector<std::string>& w, int number) {
        if (w.size() < 8)
            return problem(number, "an event needs a reel, a track, a transition and four timecodes", line);
        Event e;
        e.line = number;
        e.text = line;
        e.number = w[0];
        e.reel = w[1];
        const std::string track = upper(w[2]), transition = upper(w[3]);
        if (track.find('V') == std::string::npos && track != "B")
            return problem(number, fmt::format("track {} holds no picture; kept as a comment", w[2]), line);
        std::size_t at = 4;
        if (transition == "D") {
            if (!isNumber(w[4]) || w.size() < 9) return problem(number, "a dissolve needs its length in frames", line);
            e.dissolve = std::stoll(w[4].substr(0, 6));
            at = 5;
        } else if (transition[0] == 'W' || transition[0] == 'K') {
            problem(number, fmt::format("the transition {} is not supported; taken as a cut", w[3]), line);
            if (isNumber(w[4])) at = 5;
        } else if (transition != "C") {
            return problem(number, fmt::format("\"{}\" is not a transition", w[3]), line);
        }
        if (w.size() < at + 4) return problem(number, "four timecodes are needed", line);
        std::int64_t* const times[] = {&e.sourceIn, &e.sourceOut, &e.recordIn, &e.recordOut};
        for (std::size_t i = 0; i < 4; ++i) {
            const auto frame = frameOfTimecode(w[at + i], m_rate, m_drop);
            if (!frame) return problem(number, frame.error().message, line);
            *times[i] = *frame;
        }
        if (e.recordOut < e.recordIn || e.sourceOut < e.sourceIn)
            return problem(number, "it ends before it begins", line);
        m_events.push_back(std::move(e));
    }

    void takeSpeed(const std::string& line, const std::vector<std::string>& w, int number) {
        if (m_events.empty() || w.size() < 3) return problem(number, "this speed belongs to no event", line);
        double speed = 0;
        const char* const from = w[2].data();
        char* end = nullptr;
        speed = std::strtod(from, &end);
        if (end == from || *end != 0 || !std::isfinite(speed))
            return problem(number, "the speed is not a number", line);
        m_events.back().framesPerSecond = speed;
    }

    void takeComment(const std::string& line, int number) {
        const std::string up = upper(line);
        const auto value = [&](std::string_view key) -> std::optional<std::string> {
            const auto at = up.find(key);
            if (at == std::string::npos) return std::nullopt;
            std::string v = line.substr(at + key.size());
            v.erase(0, v.find_first_not_of(' '));
            return v;
        };
        if (!m_events.empty()) {
            // Of a dissolve's two names the second belongs to the shot that comes in, which is the event read last.
            if (const auto v = value("TO CLIP NAME:")) return void(m_events.back().clipName = *v);
            if (const auto v = value("FROM CLIP NAME:")) {
                Event& e = m_events.back();
                const bool pair = m_events.size() > 1 && e.dissolve > 0;
                return void((pair ? m_events[m_events.size() - 2] : e).clipName = *v);
            }
            if (const auto v = value("SOURCE FILE:")) return void(m_events.back().sourceFile = *v);
            if (const auto v = value("LOC:")) {
                const auto w = words(*v);
                if (!w.empty())
                    if (const auto frame = frameOfTimecode(w[0], m_rate, m_drop)) {
                        std::string label;
                        for (std::size_t i = 2; i < w.size(); ++i) label += (label.empty() ? "" : " ") + w[i];
                        return void(m_markers.push_back({*frame, label}));
                    }
                return problem(number, "the marker's timecode cannot be read", line);
            }
        }
        m_out.project.notes.push_back(line);
    }

    static std::string lower(std::string s) {
        std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return char(std::tolower(c)); });
        return s;
    }
    static std::string fileName(const std::string& name) {
        return lower(std::filesystem::path(name).filename().string());
    }

    // The files that are known, by every name that an event may call them: found once, lists may be long.
    void knowBase() {
        const Project& p = m_out.project;
        const auto reels = reelNames(p);
        for (const Media& m : p.media) m_known.emplace(fileName(m.path.string()), m.id);
        for (const Media& m : p.media) m_known.emplace(lower(m.path.stem().string()), m.id);
        for (std::size_t i = 0; i < reels.size(); ++i) m_known.emplace(lower(reels[i]), p.media[i].id);
    }

    std::string mediaFor(const Event& e) {
        Project& p = m_out.project;
        for (const std::string& name : {e.sourceFile, e.clipName, e.reel})
            if (!name.empty())
                if (const auto at = m_known.find(fileName(name)); at != m_known.end()) return at->second;
        Media media;
        media.path = !e.sourceFile.empty() ? e.sourceFile : !e.clipName.empty() ? e.clipName : e.reel;
        media.size = p.settings.size;
        media.rate = m_rate;
        if (m_nextMedia == 0) m_nextMedia = std::stol(freshId(p, "media-").substr(6));
        media.id = fmt::format("media-{}", m_nextMedia++);
        m_known.emplace(fileName(media.path.string()), media.id);
        m_known.emplace(lower(media.path.stem().string()), media.id);
        m_known.emplace(lower(e.reel), media.id);
        p.media.push_back(media);
        m_place[media.id] = p.media.size() - 1;
        m_new.insert(media.id);
        return media.id;
    }

    void append(Clip clip) {
        clip.id = fmt::format("clip-{}", m_out.project.reel.size() + 1);
        m_out.project.reel.push_back(std::move(clip));
    }

    // Only the two clips are copied, not the whole piece.
    void dissolve(std::int64_t frames) {
        Project& p = m_out.project;
        Project two;
        two.settings = p.settings;
        two.media = {};
        two.reel.assign(p.reel.end() - 2, p.reel.end());
        two = withOverlap(two, 0, {0, frames}, Side::Incoming);
        two = withMoveAdded(two, 0, MoveKind::Fade);
        two = withCurve(two, {0, 0, 0, Side::Incoming},
                        twoKeys(Space::Linear, 0, 0, double(frames), 1, Shape{Interpolation::Linear, 0, 0, 1, 1}));
        std::copy(two.reel.begin(), two.reel.end(), p.reel.end() - 2);
        for (Move& move : p.reel.back().transition.moves) move.id = fmt::format("move-{}", ++m_moves);
    }

    void build() {
        std::stable_sort(m_events.begin(), m_events.end(),
                         [](const Event& a, const Event& b) { return a.recordIn < b.recordIn; });
        // Cuts of no length only say where a dissolve comes from.
        std::erase_if(m_events, [](const Event& e) { return e.recordOut == e.recordIn; });
        if (m_events.empty()) return;
        Project& p = m_out.project;
        const auto origin = m_events.front().recordIn;
        p.settings.startFrame = origin;
        std::int64_t at = 0;
        for (const Event& e : m_events) {
            auto start = e.recordIn - origin;
            auto length = e.recordOut - e.recordIn;
            if (start < at) {
                problem(e.line,
                        fmt::format("it overlaps the event before by {} frames; its beginning was cut off", at - start),
                        e.text);
                length -= at - start;
                if (length < 1) continue;
            }
            if (start > at) append(gapOf(start - at));
            const auto late = std::max<std::int64_t>(0, at - start);
            at = std::max(start, at) + length;
            if (upper(e.reel) == "BL") {
                append(gapOf(length));
                continue;
            }
            Clip clip;
            clip.mediaId = mediaFor(e);
            clip.name = !e.clipName.empty() ? mediaName(e.clipName) : e.reel;
            clip.length = length;
            clip.speed = speedOf(e);
            Media* const media = &p.media[m_place.at(clip.mediaId)];
            clip.sourceIn = Rational(e.sourceIn) / m_rate - media->timecode;
            if (clip.speed < Rational(0)) // from its last picture on
                clip.sourceIn = Rational(std::max(e.sourceIn, e.sourceOut - 1)) / m_rate - media->timecode;
            clip.sourceIn = ClipTime(clip, media, m_rate).at(late);
            if (clip.sourceIn < Rational(0)) {
                problem(e.line, "its source begins before the file does; the first picture is used", e.text);
                clip.sourceIn = 0;
            }
            if (m_new.contains(media->id))
                media->duration = std::max(media->duration, ClipTime(clip, media, m_rate).used().to);
            append(clip);
            if (e.dissolve > 0 && p.reel.size() > 1) dissolve(std::min(e.dissolve, longestOverlap));
        }
        for (const auto& [frame, label] : m_markers) {
            Marker marker{fmt::format("marker-{}", p.markers.size() + 1), std::max<std::int64_t>(0, frame - origin),
                          label};
            p.markers.push_back(std::move(marker));
        }
        // A shot's own dissolve needs the frames of the shot before; what a missing file has is not known.
        for (const std::string& id : m_new)
            m_out.problems.push_back(
                fmt::format("\"{}\" is not among the project's files", p.media[m_place.at(id)].path.string()));
    }

    static Clip gapOf(std::int64_t length) {
        Clip gap;
        gap.length = length;
        return gap;
    }

    Rational speedOf(const Event& e) const {
        const auto source = e.sourceOut - e.sourceIn, record = e.recordOut - e.recordIn;
        Rational speed = 1;
        if (e.framesPerSecond)
            speed = Rational(std::llround(std::clamp(*e.framesPerSecond, -1e6, 1e6) * 1000), 1000) /
                    Rational(roundToInteger(m_rate));
        else if (source != record && source > 0)
            speed = Rational(source, record);
        return std::clamp(speed, Rational(0) - fastestSpeed, fastestSpeed);
    }

    FrameRate m_rate;
    bool m_drop = false;
    ImportedEdit m_out;
    std::vector<Event> m_events;
    std::vector<std::pair<std::int64_t, std::string>> m_markers;
    std::set<std::string> m_new;
    std::map<std::string, std::string> m_known; // names in lower case to media
    std::map<std::string, std::size_t> m_place; // media to their places in the list
    long m_nextMedia = 0, m_moves = 0;
};

} // namespace

Expected<ImportedEdit> readEditList(const std::string& text, const Project& base, const std::string& name) {
    return ListReader(base, name).read(asUtf8(text));
}

} // namespace virga
