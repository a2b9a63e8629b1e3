// What is made can be saved, and what is saved can be opened.
#include "core/project/field_range.h"
#include "core/project/limits.h"

#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

#include "core/base/file.h"
#include "core/edit/move_edits.h"
#include "core/project/project_file.h"
#include "core/project/project_json.h"
#include "tests/support/folder.h"
#include "tests/support/projects.h"

namespace virga::limits_test {
namespace {

using namespace test;

class Wild {
public:
    explicit Wild(unsigned seed) : m_random(seed) {}
    double number() {
        switch (m_random() % 8) {
        case 0:
            return std::numeric_limits<double>::quiet_NaN();
        case 1:
            return std::numeric_limits<double>::infinity();
        case 2:
            return -1e300;
        case 3:
            return 1e18;
        default:
            return double(int(m_random() % 2001) - 1000) / 7;
        }
    }
    std::int64_t whole() {
        constexpr std::int64_t some[] = {INT64_MIN, INT64_MAX, -1, 0, 1, 25, 10000001, 99999999999};
        return some[m_random() % 8];
    }
    Rational fraction() { return {whole() / 3 + 1, std::max<std::int64_t>(1, std::abs(whole() / 5))}; }
    std::string text() {
        return std::string(m_random() % 3 == 0 ? 9000 : m_random() % 20, m_random() % 2 ? 'a' : '\xc3');
    }

private:
    std::mt19937 m_random;
};

TEST(Limits, WhateverIsMadeIsSavedAndOpensAgain) {
    TemporaryFolder folder;
    for (unsigned seed = 0; seed < 300; ++seed) {
        Wild wild(seed);
        Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2, 5, 0.6, 1, 8);
        p.name = wild.text();
        p.settings.copies = int(wild.whole() % 1000);
        p.settings.shutter.angle = wild.number();
        p.settings.startFrame = wild.whole();
        for (Clip& c : p.reel) {
            c.name = wild.text();
            c.length = wild.whole();
            c.sourceIn = wild.fraction();
            c.speed = wild.fraction();
            c.gain = wild.number();
            c.crop.left = wild.number();
            c.placement.scale = wild.number();
            c.placement.position.x = wild.number();
            c.transition.overlap = {wild.whole(), wild.whole()};
            for (Move& m : c.transition.moves)
                for (Channel& ch : m.channels)
                    for (Key& k : ch.outgoing.keys)
                        k.time = wild.number(), k.value = wild.number(), k.leave.rise = wild.number();
        }
        p.media[0].duration = wild.fraction();
        p.media[0].rate = wild.fraction();
        p.markers.push_back({"marker-1", wild.whole(), wild.text()});
        Adjustment a;
        a.id = "adjustment-1";
        a.start = wild.whole(), a.length = wild.whole(), a.bars = wild.number();
        p.adjustments.push_back(a);
        Music music;
        music.id = "music-1";
        music.mediaId = p.media[0].id;
        music.start = wild.whole(), music.gain = wild.number();
        music.tempo = Tempo{wild.number(), wild.fraction(), int(wild.whole() % 100), {}};
        p.music.push_back(music);
        const auto path = folder / "p.virga";
        ASSERT_TRUE(saveProject(p, path));
        const auto back = loadProject(path);
        ASSERT_TRUE(back) << seed << ": " << describe(back.error());
        ASSERT_TRUE(saveProject(*back, path));
        const auto again = loadProject(path);
        ASSERT_TRUE(again) << seed;
        EXPECT_EQ(*again, *back) << seed << ": what was opened stays";
    }
}

TEST(Limits, LeaveWhatIsWithinThemAlone) {
    const Project p = withMove(twoClips(), 0, MoveKind::Zoom, 0, 1, 2, 5, 0.6, 1, 8);
    std::vector<std::string> problems;
    EXPECT_EQ(withinLimits(p, &problems), p);
    EXPECT_TRUE(problems.empty());
}

TEST(Limits, OfASingleFieldAreThoseOfItsList) {
    EXPECT_EQ(rangeOf<Clip>("gain", 100), (FieldRange{0, 100 * loudestGain}));
    EXPECT_EQ(rangeOf<Clip>("length"), (FieldRange{1, double(longestClip)}));
    EXPECT_EQ(rangeOf<Clip>("speed", 100), (FieldRange{-double(fastestPercent), double(fastestPercent)}));
    EXPECT_EQ(rangeOf<Overlay>("row"), (FieldRange{0, double(highestRow)}));
    EXPECT_EQ(rangeOf<Placement>("angle"), (FieldRange{-36000, 36000}));
    EXPECT_EQ(rangeOf<Settings>("width"), (FieldRange{double(smallestSide), double(largestSide)}));
}

// The published file is what the lists of fields say. VIRGA_WRITE_SCHEMA=1 writes it anew.
TEST(Limits, AreThePublishedSchemas) {
    const std::filesystem::path file = std::filesystem::path(VIRGA_SOURCE_DIR) / "core/project/project.schema.json";
    const std::string text = projectSchema().dump(2) + "\n";
    if (std::getenv("VIRGA_WRITE_SCHEMA")) {
        ASSERT_TRUE(writeFileAtomically(file, text));
    }
    EXPECT_EQ(readFile(file).value(), text);
    const auto schema = nlohmann::json::parse(text);
    const auto at = [&](const char* pointer) { return schema.at(nlohmann::json::json_pointer(pointer)).get<double>(); };
    EXPECT_EQ(at("/definitions/clip/properties/length/maximum"), double(longestClip));
    EXPECT_EQ(at("/definitions/overlap/properties/before/maximum"), double(longestOverlap));
    EXPECT_EQ(at("/definitions/key/properties/time/maximum"), farthestKey);
    EXPECT_EQ(at("/definitions/curve/maxItems"), double(mostKeys));
    EXPECT_EQ(at("/definitions/media/properties/path/maxLength"), double(longestText));
    EXPECT_EQ(at("/definitions/settings/properties/width/minimum"), smallestSide);
}

} // namespace
} // namespace virga::limits_test
