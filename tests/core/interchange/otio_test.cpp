#include "core/interchange/otio.h"

#include <functional>
#include <gtest/gtest.h>
#include <map>
#include <nlohmann/json.hpp>

#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/reel_edits.h"
#include "core/edit/speed_edits.h"
#include "core/project/limits.h"
#include "tests/support/projects.h"

namespace virga::otio_test {
namespace {

using namespace test;
using json = nlohmann::json;

Project full() {
    Project p = plungeProject("/shots/dawn crane.mp4", "/shots/heat.mp4");
    p.name = "Lantern Regatta";
    p.media[0].timecode = 3600;
    p = withSpeed(p, 0, Rational(3, 2));
    p = withCrossfade(p, 0, 6);
    p = withGap(p, 0, 7);
    p.reel[2].crop.left = 0.1;
    p.reel[2].speed = 0;
    p = withOverlayAdded(p, "media-2", 12);
    p = withEntrance(p, 0, Side::Incoming, Entrance::PopUp, 8);
    p = withAdjustmentAdded(p, 4, 8);
    p = withMarker(p, 9, "gun");
    Media song;
    song.path = "/shots/percussion.wav";
    song.sound = true;
    song.duration = 30;
    std::string id;
    p = withMedia(p, song, &id);
    p = withMusic(p, id);
    p.music[0].tempo = Tempo{120, Rational(1, 4), 4, {}};
    return p;
}

TEST(Otio, IsReadBackEqual) {
    const Project p = full();
    Project base; // knows the files, as the Tray does
    base.media = p.media;
    const auto back = readOtio(writeOtio(p, "/shots"), base, "/shots", "regatta.otio");
    ASSERT_TRUE(back) << describe(back.error());
    for (const auto& problem : back->problems) ADD_FAILURE() << problem;
    // Objects get ids of their own here; everything else must be the same.
    const auto plain = [](Project q) {
        int n = 0;
        const auto clear = [&](Clip& c) {
            c.id = std::to_string(++n);
            for (Stack* s : {&c.drift, &c.transition.moves})
                for (Move& m : *s) m.id = std::to_string(++n);
        };
        for (Clip& c : q.reel) {
            clear(c);
            if (c.isGap()) c.transition = {};
        }
        for (Overlay& o : q.overlays) clear(o.clip);
        for (Music& m : q.music) m.id = "m";
        for (Marker& m : q.markers) m.id = "m";
        return q;
    };
    EXPECT_EQ(plain(back->project), plain(p));
}

TEST(Otio, SpeedsGoByTimeEffectsAndKeysStayOurs) {
    Project p = test::twoClips();
    for (Media& m : p.media) m.duration = 60;
    Clip more = p.reel[0];
    for (int i = 0; i < 2; ++i) more.id = "clip-" + std::to_string(40 + i), p.reel.push_back(more);
    for (Clip& c : p.reel) c.sourceIn = 20, c.transition = {};
    p.reel[0] = withRamp(p.reel[0], Side::Outgoing, {100, 800, 12});
    p.reel[1].speed = 0;
    p.reel[2].speed = Rational(-3, 2);
    p.reel[3] = withRamp(p.reel[3], Side::Incoming, {50, 50, 10}); // keys of one value
    p.reel[3].inBetween = InBetween::MadeUp;
    Project base;
    base.media = p.media;
    const std::string text = writeOtio(p, "/shots");
    EXPECT_NE(text.find("FreezeFrame.1"), std::string::npos);
    const auto back = readOtio(text, base, "/shots", "a.otio");
    ASSERT_TRUE(back) << describe(back.error());
    ASSERT_EQ(back->project.reel.size(), 4u);
    EXPECT_EQ(back->project.reel[0].speedCurve, p.reel[0].speedCurve);
    EXPECT_EQ(back->project.reel[1].speed, Rational(0));
    EXPECT_EQ(back->project.reel[2].speed, Rational(-3, 2));
    EXPECT_EQ(back->project.reel[3].speedCurve, p.reel[3].speedCurve);
    EXPECT_EQ(back->project.reel[3].inBetween, InBetween::MadeUp);
    // Another program sees the mean, and its word counts where it says something else.
    json j = json::parse(text);
    json& clip = j["tracks"]["children"][0]["children"][0];
    EXPECT_NEAR(clip["effects"][0]["time_scalar"].get<double>(), meanSpeed(p.reel[0]), 1e-12);
    clip["effects"][0]["time_scalar"] = 2.0;
    EXPECT_FALSE(hasSpeedKeys(readOtio(j.dump(), base, "/shots", "a.otio")->project.reel[0]));
    clip["effects"] = json::array();
    EXPECT_FALSE(hasSpeedKeys(readOtio(j.dump(), base, "/shots", "a.otio")->project.reel[0])) << "taken away elsewhere";
}

// Schema names and versions as published in the "OpenTimelineIO Serialized Schema Documentation" (Academy Software
// Foundation), with the fields each must have. From memory of that page; the package itself is in neither registry.
const std::map<std::string, std::vector<std::string>> published = {
    {"Timeline.1", {"name", "metadata", "global_start_time", "tracks"}},
    {"Stack.1", {"name", "metadata", "source_range", "effects", "markers", "children"}},
    {"Track.1", {"name", "metadata", "source_range", "effects", "markers", "children", "kind"}},
    {"Clip.2",
     {"name", "metadata", "source_range", "effects", "markers", "media_references", "active_media_reference_key"}},
    {"Gap.1", {"name", "metadata", "source_range", "effects", "markers"}},
    {"Transition.1", {"name", "metadata", "in_offset", "out_offset", "transition_type"}},
    {"ExternalReference.1", {"name", "metadata", "available_range", "target_url"}},
    {"LinearTimeWarp.1", {"name", "metadata", "effect_name", "time_scalar"}},
    {"FreezeFrame.1", {"name", "metadata", "effect_name", "time_scalar"}},
    {"Marker.2", {"name", "metadata", "color", "marked_range"}},
    {"RationalTime.1", {"value", "rate"}},
    {"TimeRange.1", {"start_time", "duration"}},
};

void checkSchemas(const json& j, const std::string& place, std::map<std::string, int>& seen) {
    if (j.is_array())
        for (std::size_t i = 0; i < j.size(); ++i) checkSchemas(j[i], place + "/" + std::to_string(i), seen);
    if (!j.is_object()) return;
    if (j.contains("OTIO_SCHEMA")) {
        const std::string schema = j["OTIO_SCHEMA"];
        ++seen[schema];
        const auto known = published.find(schema);
        ASSERT_NE(known, published.end()) << schema << " at " << place;
        for (const auto& field : known->second)
            EXPECT_TRUE(j.contains(field)) << field << " of " << schema << " at " << place;
    }
    for (const auto& [key, value] : j.items())
        if (key != "metadata") checkSchemas(value, place + "/" + key, seen);
}

TEST(Otio, UsesThePublishedSchemas) {
    const json document = json::parse(writeOtio(full(), "/shots"));
    std::map<std::string, int> seen;
    checkSchemas(document, "", seen);
    EXPECT_EQ(seen.size(), published.size()) << "each of them is there at least once";
    const json& video = document["tracks"]["children"][0];
    EXPECT_EQ(video["kind"], "Video");
    const json& first = video["children"][1];
    EXPECT_EQ(first["media_references"]["DEFAULT_MEDIA"]["target_url"], "dawn%20crane.mp4") << "relative to its folder";
    EXPECT_EQ(first["source_range"]["start_time"]["value"], 3601 * 25) << "counted by the file's own timecode";
    EXPECT_EQ(document["tracks"]["children"].back()["kind"], "Audio");
}

// What a shot sounds like belongs to it: an audio track beneath the reel says so, for other programs and back.
TEST(Otio, TheShotsOwnSoundIsWrittenAndReadBack) {
    Project p = full();
    for (Media& m : p.media) m.sound = m.hasPicture();
    ASSERT_GE(p.reel.size(), 3u);
    for (Clip& c : p.reel) c.muted = false;
    const std::size_t silent = p.reel.size() - 1;
    p.reel[silent].muted = true;
    json document = json::parse(writeOtio(p, "/shots"));
    const json* sound = nullptr;
    for (const json& track : document["tracks"]["children"])
        if (track["name"] == "Sound of the shots") sound = &track;
    ASSERT_TRUE(sound);
    EXPECT_EQ((*sound)["kind"], "Audio");
    ASSERT_EQ((*sound)["children"].size(), p.reel.size());
    for (std::size_t i = 0; i < p.reel.size(); ++i)
        EXPECT_EQ((*sound)["children"][i]["OTIO_SCHEMA"],
                  p.reel[i].isGap() || i == silent ? "Gap.1"
                                                   : document["tracks"]["children"][0]["children"][1]["OTIO_SCHEMA"])
            << i;
    const auto back = readOtio(document.dump(), Project(), "/shots", "a.otio");
    ASSERT_TRUE(back) << describe(back.error());
    EXPECT_EQ(back->project.music.size(), p.music.size()) << "it is no music";
    ASSERT_EQ(back->project.reel.size(), p.reel.size());
    for (std::size_t i = 0; i < p.reel.size(); ++i)
        if (!p.reel[i].isGap()) EXPECT_EQ(back->project.reel[i].muted, p.reel[i].muted) << i;
    // From another program, which writes nothing of Virga's own: a shot without its sound beneath it is silent.
    const std::function<void(json&)> forget = [&](json& value) {
        if (value.is_object() && value.contains("metadata")) value["metadata"] = json::object();
        if (value.is_structured())
            for (json& inner : value) forget(inner);
    };
    forget(document);
    const auto foreign = readOtio(document.dump(), Project(), "/shots", "a.otio");
    ASSERT_TRUE(foreign) << describe(foreign.error());
    ASSERT_EQ(foreign->project.reel.size(), p.reel.size());
    EXPECT_TRUE(foreign->project.reel[silent].muted);
    for (std::size_t i = 0; i < silent; ++i)
        if (!p.reel[i].isGap()) EXPECT_FALSE(foreign->project.reel[i].muted) << i;
}

// A timeline as another program writes it: the older Clip.1, 24 frames, a dissolve, a nested stack, a missing file.
const char* const foreign = R"({
 "OTIO_SCHEMA": "Timeline.1", "name": "from elsewhere", "metadata": {},
 "global_start_time": null,
 "tracks": {"OTIO_SCHEMA": "Stack.1", "name": "tracks", "children": [
  {"OTIO_SCHEMA": "Track.1", "kind": "Video", "name": "V1", "children": [
   {"OTIO_SCHEMA": "Clip.1", "name": "one", "source_range": {"OTIO_SCHEMA": "TimeRange.1",
     "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 86412},
     "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 48}},
    "media_reference": {"OTIO_SCHEMA": "ExternalReference.1", "target_url": "file:///shots/one.mov",
     "available_range": {"OTIO_SCHEMA": "TimeRange.1",
      "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 86400},
      "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 240}}},
    "markers": [{"OTIO_SCHEMA": "Marker.1", "name": "wave", "marked_range": {"OTIO_SCHEMA": "TimeRange.1",
      "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 86422},
      "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 0}}}]},
   {"OTIO_SCHEMA": "Transition.1", "transition_type": "SMPTE_Dissolve",
    "in_offset": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 6},
    "out_offset": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 4}},
   {"OTIO_SCHEMA": "Clip.1", "name": "two", "source_range": {"OTIO_SCHEMA": "TimeRange.1",
     "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 48, "value": 48},
     "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 48, "value": 96}},
    "effects": [{"OTIO_SCHEMA": "LinearTimeWarp.1", "time_scalar": 0.5}],
    "media_reference": {"OTIO_SCHEMA": "MissingReference.1"}},
   {"OTIO_SCHEMA": "Stack.1", "name": "nested", "source_range": {"OTIO_SCHEMA": "TimeRange.1",
     "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 0},
     "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24, "value": 12}}, "children": []}
  ]}]}})";

TEST(Otio, ReadsWhatOthersWrite) {
    const auto read = readOtio(foreign, Project(), "/here", "x.otio");
    ASSERT_TRUE(read) << describe(read.error());
    const Project& p = read->project;
    EXPECT_EQ(p.name, "from elsewhere");
    EXPECT_EQ(p.settings.rate, Rational(24));
    EXPECT_EQ(clipStarts(p), (std::vector<std::int64_t>{0, 48, 96, 108}));
    EXPECT_EQ(p.reel[0].sourceIn, Rational(1, 2)) << "from the file's own timecode";
    EXPECT_EQ(findMedia(p, p.reel[0].mediaId)->path, "/shots/one.mov");
    EXPECT_EQ(findMedia(p, p.reel[0].mediaId)->duration, Rational(10));
    EXPECT_EQ(transitionAt(p, 0).overlap, (Overlap{6, 4}));
    EXPECT_EQ(transitionAt(p, 0).moves[0].kind, MoveKind::Fade);
    EXPECT_EQ(p.reel[1].speed, Rational(1, 2));
    EXPECT_TRUE(p.reel[2].isGap()) << "what is not understood keeps its place";
    ASSERT_EQ(p.markers.size(), 1u);
    EXPECT_EQ(p.markers[0].frame, 10);
    std::string all;
    for (const auto& problem : read->problems) all += problem + "\n";
    EXPECT_NE(all.find("/tracks/children/0/children/3: Stack.1 \"nested\""), std::string::npos) << all;
    EXPECT_NE(all.find("\"two\" refers to no file"), std::string::npos) << all;
}

TEST(Otio, MalformedFilesSayWhereAndWhy) {
    const auto error = [](const std::string& text) {
        const auto read = readOtio(text, Project(), "/", "x.otio");
        EXPECT_FALSE(read) << text.substr(0, 60);
        return read ? std::string() : describe(read.error());
    };
    EXPECT_NE(error("{\n\"OTIO_SCHEMA\": oops").find("line 2"), std::string::npos);
    EXPECT_NE(error("{}").find("OTIO_SCHEMA"), std::string::npos);
    EXPECT_NE(error(R"({"OTIO_SCHEMA": "Clip.2"})").find("Clip.2"), std::string::npos);
    EXPECT_NE(error(R"({"OTIO_SCHEMA": "Timeline.1"})").find("/tracks"), std::string::npos);
    json broken = json::parse(foreign);
    broken["tracks"]["children"][0]["children"][0]["source_range"]["duration"]["rate"] = "fast";
    EXPECT_NE(error(broken.dump()).find("/tracks/children/0/children/0/source_range/duration"), std::string::npos);
    broken = json::parse(foreign);
    broken["tracks"]["children"][0].erase("children");
    EXPECT_NE(error(broken.dump()).find("/tracks/children/0/children"), std::string::npos);
    EXPECT_FALSE(error("[1, 2]").empty());
    EXPECT_FALSE(error("").empty());
}

// Every place of a document.
void places(const json& at, const json::json_pointer& here, std::vector<json::json_pointer>& all) {
    if (!here.empty()) all.push_back(here);
    if (at.is_object())
        for (const auto& [key, value] : at.items()) places(value, here / key, all);
    if (at.is_array())
        for (std::size_t i = 0; i < at.size(); ++i) places(at[i], here / i, all);
}

// A value of the wrong kind at any place: an error that names a place at or above it, or a project that is sound and at
// least as long as the clips that were left alone.
TEST(Otio, AWrongValueAnywhereIsToldOrLeftOut) {
    const json good = json::parse(foreign);
    const Project whole = readOtio(foreign, Project(), "/", "x.otio")->project;
    std::vector<json::json_pointer> all;
    places(good, json::json_pointer(), all);
    ASSERT_GT(all.size(), 80u);
    int told = 0, taken = 0;
    for (const json::json_pointer& place : all)
        for (const json& wrong : {json::array({json::array(), {{"x", nullptr}}}), json(nullptr), json(-7), json("?")}) {
            if (good[place].type() == wrong.type()) continue;
            json changed = good;
            changed[place] = wrong;
            const auto read = readOtio(changed.dump(), Project(), "/", "x.otio");
            SCOPED_TRACE(place.to_string() + " = " + wrong.dump());
            if (!read) {
                ++told;
                EXPECT_NE(describe(read.error()).find("x.otio"), std::string::npos) << describe(read.error());
                continue;
            }
            ++taken;
            EXPECT_EQ(withinLimits(read->project), read->project);
            EXPECT_LE(read->project.reel.size(), whole.reel.size());
            if (read->project.reel.size() < whole.reel.size())
                EXPECT_FALSE(read->problems.empty()) << "left out silently";
        }
    EXPECT_GT(told, 60);
    EXPECT_GT(taken, 60) << "what is no part of the reel does not stop it";
}

TEST(Otio, PathsAndUrls) {
    // RFC 3986, section 2.1: percent encoding.
    EXPECT_EQ(urlOfPath("/a b/c#d.mp4"), "file:///a%20b/c%23d.mp4");
    EXPECT_EQ(pathOfUrl("file:///a%20b/c%23d.mp4"), "/a b/c#d.mp4");
    EXPECT_EQ(pathOfUrl("file://localhost/a.mp4"), "/a.mp4");
    EXPECT_EQ(pathOfUrl("a%20b.mp4"), "a b.mp4");
    EXPECT_EQ(pathOfUrl("100%.mp4"), "100%.mp4");
    EXPECT_EQ(rateFromDecimal(29.97), Rational(30000, 1001));
    EXPECT_EQ(rateFromDecimal(23.976023976), Rational(24000, 1001));
    EXPECT_EQ(rateFromDecimal(25), Rational(25));
}

} // namespace
} // namespace virga::otio_test
