#include "core/edit/collect.h"

#include <fstream>
#include <gtest/gtest.h>

#include "core/base/file.h"
#include "core/edit/edits.h"
#include "core/project/project_file.h"
#include "tests/support/folder.h"
#include "tests/support/projects.h"

namespace virga::collect_test {
namespace {

using namespace test;

void write(const fs::path& path, const std::string& text) {
    fs::create_directories(path.parent_path());
    std::ofstream(path) << text;
}

TEST(Collect, CopiesEverythingBesideTheProject) {
    TemporaryFolder folder;
    write(folder / "card1/a.mp4", "first");
    write(folder / "card2/a.mp4", "second one");
    write(folder / "card2/f_01.png", "1");
    write(folder / "card2/f_02.png", "2");
    Project p = twoClips(folder / "card1/a.mp4", folder / "card2/a.mp4");
    Media sequence;
    sequence.path = folder / "card2/f_[01-02].png";
    p = withMedia(p, sequence);
    std::uintmax_t done = 0, all = 0;
    const auto collected = collectMedia(p, folder / "piece media", [&](auto d, auto a) { done = d, all = a; });
    ASSERT_TRUE(collected) << describe(collected.error());
    EXPECT_EQ(collected->copied, 3);
    EXPECT_EQ(done, all);
    EXPECT_EQ(all, 17u);
    EXPECT_EQ(readFile(collected->project.media[0].path).value(), "first");
    EXPECT_EQ(collected->project.media[1].path, folder / "piece media/a 2.mp4") << "two of one name";
    EXPECT_EQ(readFile(collected->project.media[1].path).value(), "second one");
    EXPECT_EQ(readFile(folder / "piece media/f_02.png").value(), "2");
    EXPECT_EQ(collected->project.reel, p.reel);
    // Carried away as a whole, it opens.
    ASSERT_TRUE(saveProject(collected->project, folder / "piece.virga"));
    fs::create_directories(folder / "away");
    fs::rename(folder / "piece.virga", folder / "away/piece.virga");
    fs::rename(folder / "piece media", folder / "away/piece media");
    fs::remove_all(folder / "card1");
    fs::remove_all(folder / "card2");
    std::vector<std::string> missing;
    const auto back = loadProject(folder / "away/piece.virga", &missing);
    ASSERT_TRUE(back);
    EXPECT_TRUE(missing.empty());
    EXPECT_EQ(back->media[1].path, folder / "away/piece media/a 2.mp4");
}

TEST(Collect, TellsWhatLiesOutsideAndFollowsNoLinkThatItDidNotTell) {
    TemporaryFolder folder, elsewhere;
    write(folder / "shots/a.mp4", "inside");
    write(elsewhere / "secret.mp4", "private matters");
    fs::create_symlink(elsewhere / "secret.mp4", folder / "shots/b.mp4");
    const Project p = twoClips(folder / "shots/a.mp4", folder / "shots/b.mp4");
    const auto files = toCollect(p, folder / "piece media");
    ASSERT_EQ(files.size(), 2u);
    EXPECT_FALSE(files[0].outside);
    EXPECT_EQ(files[0].bytes, 6u);
    EXPECT_TRUE(files[1].outside) << "a link beside the project leads out of it";
    EXPECT_EQ(files[1].really, fs::canonical(elsewhere / "secret.mp4"));
    // Between asking and copying a file was exchanged for a link to something else.
    fs::remove(folder / "shots/a.mp4");
    write(elsewhere / "another.mp4", "not told");
    fs::create_symlink(elsewhere / "another.mp4", folder / "shots/a.mp4");
    const auto done = collectMedia(p, folder / "piece media", {}, {}, &files);
    ASSERT_TRUE(done) << describe(done.error());
    EXPECT_EQ(done->copied, 1) << "the link that was told and agreed to";
    ASSERT_EQ(done->problems.size(), 1u);
    EXPECT_NE(describe(done->problems[0]).find("a.mp4"), std::string::npos);
    EXPECT_FALSE(fs::exists(folder / "piece media/a.mp4"));
    EXPECT_EQ(done->project.media[0].path, p.media[0].path) << "it stays where it was";
}

TEST(Collect, AgainCopiesNothingTwice) {
    TemporaryFolder folder;
    write(folder / "card/a.mp4", "first");
    Project p = twoClips(folder / "card/a.mp4", folder / "card/gone.mp4");
    auto once = collectMedia(p, folder / "m");
    ASSERT_TRUE(once);
    EXPECT_EQ(once->copied, 1);
    ASSERT_EQ(once->problems.size(), 1u);
    EXPECT_NE(describe(once->problems[0]).find("gone.mp4"), std::string::npos);
    const auto again = collectMedia(p, folder / "m");
    EXPECT_EQ(again->copied, 0);
    EXPECT_EQ(again->alreadyThere, 1);
    EXPECT_EQ(collectMedia(once->project, folder / "m")->copied, 0);
}

TEST(Collect, StoppedOrRefusedItLeavesNothingHalf) {
    TemporaryFolder folder;
    write(folder / "card/a.mp4", std::string(100000, 'x'));
    const Project p = twoClips(folder / "card/a.mp4", folder / "card/a.mp4");
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(collectMedia(p, folder / "m", {}, cancel).error().code, ErrorCode::Cancelled);
    EXPECT_TRUE(fs::is_empty(folder / "m"));
    write(folder / "file", "x");
    const auto refused = collectMedia(p, folder / "file");
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, ErrorCode::WriteFailed);
}

} // namespace
} // namespace virga::collect_test
