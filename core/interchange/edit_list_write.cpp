// Writing a CMX 3600 edit list.
#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <set>

#include "core/base/sequence_path.h"
#include "core/base/timecode.h"
#include "core/interchange/edit_list.h"
#include "core/project/clip_time.h"

namespace virga {

std::vector<std::string> reelNames(const Project& project) {
    std::vector<std::string> names;
    std::set<std::string> taken = {"BL", "AX"}; // black and auxiliary mean something else
    for (const Media& media : project.media) {
        std::string name;
        for (const char c : mediaName(media.path))
            if (std::isalnum(static_cast<unsigned char>(c)) && static_cast<unsigned char>(c) < 128 && name.size() < 8)
                name += char(std::toupper(static_cast<unsigned char>(c)));
        if (name.empty()) name = "REEL";
        std::string unique = name;
        for (int n = 2; !taken.insert(unique).second; ++n) {
            const std::string number = std::to_string(n);
            unique = name.substr(0, 8 - number.size()) + number;
        }
        names.push_back(unique);
    }
    return names;
}

namespace {

struct ListWriter {
    const Project& p;
    FrameRate rate = p.settings.rate;
    bool drop = usesDropFrame(rate);
    std::vector<std::string> reels = reelNames(p);
    // The record side starts where the piece does, else at one hour (common practice).
    std::int64_t start = p.settings.startFrame.value_or(*frameOfTimecode("01:00:00:00", rate, drop));
    std::string out;

    std::string code(std::int64_t frame) const { return timecodeOfFrame(frame, rate, drop); }

    void line(int number, const std::string& reel, const std::string& transition, std::int64_t sourceIn,
              std::int64_t sourceOut, std::int64_t recordIn, std::int64_t recordOut) {
        out += fmt::format("{:03}  {:<8} V     {:<8} {} {} {} {}\r\n", number, reel, transition, code(sourceIn),
                           code(sourceOut), code(start + recordIn), code(start + recordOut));
    }
};

} // namespace

std::string writeEditList(const Project& project, std::vector<std::string>* problems) {
    ListWriter w{project};
    const auto rate = project.settings.rate;
    std::string title;
    for (const char c : project.name.empty() ? std::string("VIRGA") : project.name)
        title += char(std::toupper(static_cast<unsigned char>(c)));
    w.out = "TITLE: " + title.substr(0, 70) + "\r\n";
    w.out += w.drop ? "FCM: DROP FRAME\r\n" : "FCM: NON-DROP FRAME\r\n";
    const auto starts = clipStarts(project);
    const auto reelOf = [&](const Clip& c) {
        for (std::size_t i = 0; i < project.media.size(); ++i)
            if (project.media[i].id == c.mediaId) return w.reels[i];
        return std::string("AX");
    };
    const auto sourceFrame = [&](const Clip& c, std::int64_t frame) {
        const Media* media = findMedia(project, c.mediaId);
        return roundToInteger((sourceTime(project, c, frame) + (media ? media->timecode : Rational(0))) * rate);
    };
    int number = 0, moves = 0, keyed = 0;
    for (std::size_t i = 0; i < project.reel.size(); ++i) {
        const Clip& c = project.reel[i];
        moves += int(c.transition.moves.size() + c.drift.size());
        if (c.isGap()) continue;
        const Overlap in = i > 0 && !project.reel[i - 1].isGap() ? c.transition.overlap : Overlap();
        const Overlap next = i + 1 < project.reel.size() ? project.reel[i + 1].transition.overlap : Overlap();
        const auto from = starts[i] - in.before, to = starts[i] + c.length - next.before;
        const auto length = in.before + in.after;
        auto first = sourceFrame(c, -in.before), last = sourceFrame(c, c.length - next.before);
        if (first > last) { // backwards: the span that is used, from its earliest picture
            std::swap(first, last);
            ++first, ++last;
        }
        keyed += hasSpeedKeys(c);
        ++number;
        if (length > 0) {
            const Clip& before = project.reel[i - 1];
            const auto end = sourceFrame(before, before.length - in.before);
            w.line(number, reelOf(before), "C", end, end, from, from);
            w.line(number, reelOf(c), fmt::format("D    {:03}", length), first, last, from, to);
            if (const Media* m = findMedia(project, before.mediaId))
                w.out += "* FROM CLIP NAME: " + m->path.filename().string() + "\r\n";
        } else {
            w.line(number, reelOf(c), "C", first, last, from, to);
        }
        if (hasSpeedKeys(c) || c.speed != Rational(1))
            w.out += fmt::format("M2   {:<8}       {:05.1f}                {}\r\n", reelOf(c),
                                 meanSpeed(c) * double(roundToInteger(rate)), w.code(first));
        if (const Media* m = findMedia(project, c.mediaId))
            w.out += (length > 0 ? "* TO CLIP NAME: " : "* FROM CLIP NAME: ") + m->path.filename().string() + "\r\n";
    }
    for (const Marker& m : project.markers)
        w.out += fmt::format("* LOC: {} WHITE   {}\r\n", w.code(w.start + m.frame), m.name);
    for (const std::string& note : project.notes) w.out += (note.starts_with("*") ? "" : "* ") + note + "\r\n";
    if (!problems) return w.out;
    if (number > 999) problems->push_back(fmt::format("{} events; a CMX 3600 list holds 999", number));
    if (moves > 0) problems->push_back(fmt::format("{} moves: a list holds only cuts and dissolves", moves));
    if (keyed > 0)
        problems->push_back(fmt::format("{} shots whose speed changes: a list holds one speed, their mean", keyed));
    if (!project.overlays.empty()) problems->push_back(fmt::format("{} overlays", project.overlays.size()));
    if (!project.adjustments.empty()) problems->push_back(fmt::format("{} adjustments", project.adjustments.size()));
    if (!project.music.empty()) problems->push_back("the music");
    return w.out;
}

} // namespace virga
