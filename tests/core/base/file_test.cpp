#include "core/base/file.h"

#include <fstream>
#include <gtest/gtest.h>

#include "core/base/hash.h"
#include "tests/support/clips.h"

namespace virga {
namespace {

using test::TemporaryFolder;
namespace fs = std::filesystem;

int filesIn(const fs::path& folder) {
    return int(std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
}

TEST(File, WritesAndReadsBack) {
    TemporaryFolder folder;
    ASSERT_TRUE(writeFileAtomically(folder / "a.txt", "one"));
    EXPECT_EQ(readFile(folder / "a.txt").value(), "one");
    ASSERT_TRUE(writeFileAtomically(folder / "a.txt", "two"));
    EXPECT_EQ(readFile(folder / "a.txt").value(), "two");
    EXPECT_EQ(filesIn(folder.path()), 1) << "nothing is left beside it";
}

TEST(File, FailsClearlyAndLeavesTheOldFile) {
    TemporaryFolder folder;
    EXPECT_EQ(readFile(folder / "nothing").error().code, ErrorCode::NotFound);
    EXPECT_EQ(readFile(folder.path()).error().code, ErrorCode::Unreadable);
    EXPECT_EQ(writeFileAtomically(folder / "no" / "such" / "folder.txt", "x").error().code, ErrorCode::WriteFailed);
    ASSERT_TRUE(writeFileAtomically(folder / "big", std::string(1000, 'x')));
    EXPECT_EQ(readFile(folder / "big", 999).error().code, ErrorCode::Unreadable);
    // The target is a folder: the rename must fail and clean up after itself.
    fs::create_directory(folder / "target");
    std::ofstream(folder.path() / "target" / "inside") << "kept";
    EXPECT_FALSE(writeFileAtomically(folder / "target", "x"));
    EXPECT_TRUE(fs::exists(folder.path() / "target" / "inside"));
    EXPECT_EQ(filesIn(folder.path()), 2);
}

TEST(File, KeepsPermissions) {
    TemporaryFolder folder;
    ASSERT_TRUE(writeFileAtomically(folder / "a", "1"));
    fs::permissions(folder / "a", fs::perms::owner_read | fs::perms::owner_write);
    ASSERT_TRUE(writeFileAtomically(folder / "a", "2"));
    EXPECT_EQ(fs::status(folder / "a").permissions(), fs::perms::owner_read | fs::perms::owner_write);
}

TEST(Error, DescribesPlaceMessageAndRemedyInOneLine) {
    EXPECT_EQ(describe({ErrorCode::Unreadable, "is empty", "a.mp4", "copy it again"}),
              "a.mp4: is empty; copy it again");
    EXPECT_EQ(describe({ErrorCode::BadInput, "no", "", ""}), "no");
}

TEST(Hash, IsFnv1a) {
    // The published test vectors of FNV-1a 64 (draft-eastlake-fnv): "" and "a".
    EXPECT_EQ(Hash().value(), 0xcbf29ce484222325ull);
    EXPECT_EQ(Hash().add('a').value(), 0xaf63dc4c8601ec8cull);
    EXPECT_NE(Hash().add(std::string_view("ab")).add(std::string_view("c")).value(),
              Hash().add(std::string_view("a")).add(std::string_view("bc")).value());
}

// A folder shared by many machines: what another one is writing has a process that is not known here.
TEST(File, OnlyThisMachinesLeftoversAreSweptUp) {
    TemporaryFolder folder;
    const std::string mine = temporaryBeside(folder / "film.mp4").filename().string();
    const auto own = "-" + std::to_string(::getpid()) + "-";
    ASSERT_NE(mine.find(own), std::string::npos) << mine;
    std::string gone = mine, elsewhere = mine;
    gone.replace(gone.find(own), own.size(), "-999999999-"); // beyond the highest process number
    elsewhere = gone;
    elsewhere.replace(elsewhere.find("film.") + 5, 1, elsewhere[elsewhere.find("film.") + 5] == '9' ? "8" : "9");
    for (const std::string& name : {mine, gone, elsewhere}) std::ofstream(folder / name) << "half";
    fs::create_directory(folder / (gone + "s"));
    std::ofstream(folder / (gone + "s") / "film_0001.png") << "half";
    removeLeftovers(folder / "film.mp4");
    EXPECT_TRUE(fs::exists(folder / mine)) << "this process is at work on it";
    EXPECT_FALSE(fs::exists(folder / gone));
    EXPECT_FALSE(fs::exists(folder / (gone + "s"))) << "a folder of pictures goes with what is in it";
    EXPECT_TRUE(fs::exists(folder / elsewhere)) << "another machine's";
}

TEST(File, LeftoversGoWhereSomethingIsWritten) {
    TemporaryFolder folder;
    std::string gone = temporaryBeside("elsewhere/kept.flow").filename().string();
    const auto own = "-" + std::to_string(::getpid()) + "-";
    gone.replace(gone.find(own), own.size(), "-999999999-");
    std::ofstream(folder / gone) << "half";
    ASSERT_TRUE(writeFileAtomically(folder / "other.flow", "whole"));
    EXPECT_FALSE(fs::exists(folder / gone)) << "what a killed process left, of whatever name";
    EXPECT_TRUE(fs::exists(folder / "other.flow"));
}

} // namespace
} // namespace virga
