#include "core/edit/project_patch.h"

#include <gtest/gtest.h>
#include <random>

#include "core/edit/edits.h"
#include "core/edit/layer_edits.h"
#include "core/edit/reel_edits.h"
#include "tests/support/projects.h"

namespace virga::project_patch_test {
namespace {

using namespace test;

Project longReel(int clips) {
    Project p = plungeProject();
    const Clip one = p.reel[1];
    p.reel.clear();
    for (int i = 0; i < clips; ++i) {
        Clip clip = one;
        clip.id = "clip-" + std::to_string(i);
        clip.length = 20 + i % 7;
        p.reel.push_back(clip);
    }
    return p;
}

// Edits of every kind, at random, walked back and forth.
TEST(ProjectPatch, LeadsBackAndForthExactly) {
    std::mt19937 draw(3);
    std::vector<Project> states{longReel(12)};
    std::vector<ProjectPatch> patches;
    for (int i = 0; i < 300; ++i) {
        const Project& p = states.back();
        Project next = p;
        const int clip = int(draw() % p.reel.size());
        switch (draw() % 9) {
        case 0:
            next = withSplit(p, std::int64_t(draw() % std::uint64_t(reelLength(p))));
            break;
        case 1:
            if (p.reel.size() > 3) next = withoutClips(p, {clip});
            break;
        case 2:
            next = withClipsMoved(p, {clip}, int(draw() % p.reel.size()));
            break;
        case 3:
            next = withMarker(p, std::int64_t(draw() % 400), "m");
            break;
        case 4:
            next = withOverlayAdded(p, "media-1", std::int64_t(draw() % 100));
            break;
        case 5:
            next.settings.shutter.angle = double(draw() % 360);
            break;
        case 6:
            next = withClipsInserted(p, {p.reel[std::size_t(clip)], p.reel[0]}, clip);
            break;
        case 7:
            next.name = std::to_string(i), next.reel[0].gain = i;
            break;
        default:
            next = withLength(p, clip, 5 + std::int64_t(draw() % 40));
            break;
        }
        patches.emplace_back(p, next);
        states.push_back(std::move(next));
    }
    Project now = states.back();
    for (std::size_t i = patches.size(); i-- > 0;) {
        now = patches[i].back(std::move(now));
        ASSERT_TRUE(now == states[i]) << i;
    }
    for (std::size_t i = 0; i < patches.size(); ++i) {
        now = patches[i].forth(std::move(now));
        ASSERT_TRUE(now == states[i + 1]) << i;
    }
}

TEST(ProjectPatch, TakesWhatWasChangedNotTheReel) {
    const Project p = longReel(2000);
    std::size_t whole = 0;
    for (const Clip& clip : p.reel) whole += bytesOf(clip);
    Project moved = p;
    moved.reel[1000].transition.moves[0].channels[0].outgoing.keys[0].value *= 1.1;
    EXPECT_LT(ProjectPatch(p, moved).bytes(), whole / 500);
    EXPECT_LT(ProjectPatch(p, withSplit(p, 300)).bytes(), whole / 300);
    EXPECT_EQ(ProjectPatch(p, p).bytes(), ProjectPatch(moved, moved).bytes()) << "nothing is the same everywhere";
}

TEST(ProjectPatch, WhatWasLearntMeanwhileStays) {
    const Project p = longReel(5);
    const Project split = withSplit(p, 30);
    const ProjectPatch patch(p, split);
    Project knowing = split;
    knowing.media[0].bars = Crop{0, 0.1, 0, 0.1};
    const Project back = patch.back(knowing);
    EXPECT_EQ(back.reel, p.reel);
    EXPECT_TRUE(back.media[0].bars.has_value());
}

} // namespace
} // namespace virga::project_patch_test
