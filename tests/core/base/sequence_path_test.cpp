#include "core/base/sequence_path.h"

#include <gtest/gtest.h>

namespace virga::sequence_path_test {
namespace {

namespace fs = std::filesystem;

TEST(SequencePath, IsReadAndWritten) {
    const auto s = sequenceOf("/shots/heat_[0001-0120].png");
    ASSERT_TRUE(s);
    EXPECT_EQ(s->count(), 120);
    EXPECT_EQ(s->picture(7), "/shots/heat_0007.png");
    EXPECT_EQ(s->path(), "/shots/heat_[0001-0120].png");
    EXPECT_FALSE(sequenceOf("/shots/heat_0001.png"));
    EXPECT_FALSE(sequenceOf("/shots/heat_[0009-0001].png"));
    EXPECT_FALSE(sequenceOf("/shots/heat_[a-b].png"));
    EXPECT_EQ(mediaName("/shots/heat_[0001-0120].png"), "heat");
    EXPECT_EQ(mediaName("/shots/[0001-0120].png"), "shots");
    EXPECT_EQ(mediaName("/shots/heat.mp4"), "heat");
}

TEST(SequencePath, RunsAreGathered) {
    std::vector<fs::path> files = {"/a/clip.mp4"};
    for (int n = 1; n <= 12; ++n)
        files.push_back("/a/f" + std::string(n < 10 ? "00" : "0") + std::to_string(n) + ".png");
    files.push_back("/a/song.wav");
    files.push_back("/a/f020.png"); // not part of the run
    const auto out = withSequences(files);
    EXPECT_EQ(out, (std::vector<fs::path>{"/a/clip.mp4", "/a/f[001-012].png", "/a/song.wav", "/a/f020.png"}));
    EXPECT_EQ(withSequences(files, 13), files) << "too short a run stays single pictures";
    std::vector<fs::path> videos;
    for (int n = 10; n < 40; ++n) videos.push_back("/a/take" + std::to_string(n) + ".mp4");
    EXPECT_EQ(withSequences(videos), videos) << "only pictures make sequences";
    EXPECT_EQ(filesOf("/a/f[001-003].png"), (std::vector<fs::path>{"/a/f001.png", "/a/f002.png", "/a/f003.png"}));
}

} // namespace
} // namespace virga::sequence_path_test
