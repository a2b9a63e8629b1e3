#include "core/base/file.h"
#include "core/base/file_lock.h"
#include "core/base/json.h"
#include "core/base/output.h"
#include "core/base/printable.h"

#include <fstream>
#include <gtest/gtest.h>

#include "core/base/hash.h"
#include "tests/support/folder.h"

namespace virga::file_test {
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

// A folder shared by many machines and containers: a lock says that somebody is at work, process numbers say nothing.
TEST(File, OnlyThisMachinesLeftoversAreSweptUp) {
    TemporaryFolder folder;
    const PartFile part(folder / "film.mp4");
    ASSERT_GE(part.descriptor(), 0);
    const std::string mine = part.path().filename().string();
    const auto own = "-" + std::to_string(::getpid()) + "-";
    ASSERT_NE(mine.find(own), std::string::npos) << mine;
    std::string gone = mine, elsewhere = mine;
    gone.replace(gone.find(own), own.size(), "-999999999-"); // beyond the highest process number
    elsewhere = gone;
    elsewhere.replace(elsewhere.find("film.") + 5, 1, elsewhere[elsewhere.find("film.") + 5] == '9' ? "8" : "9");
    for (const std::string& name : {gone, elsewhere}) std::ofstream(folder / name) << "half";
    fs::create_directory(folder / (gone + "s"));
    std::ofstream(folder / (gone + "s") / "film_0001.png") << "half";
    removeLeftovers(folder / "film.mp4");
    EXPECT_TRUE(fs::exists(folder / mine)) << "it is locked";
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

// A file whose process number is one that runs here (this one's own), but whom nobody holds: a killed container's.
TEST(File, AProcessNumberThatIsInUseAgainProtectsNothing) {
    TemporaryFolder folder;
    std::string left;
    { left = PartFile(folder / "film.mp4").path().filename().string(); }
    std::ofstream(folder / left) << "half";
    removeLeftovers(folder / "film.mp4");
    EXPECT_FALSE(fs::exists(folder / left));
}

TEST(File, OfManyThatCreateOneNameOneSucceeds) {
    for (int round = 0; round < 40; ++round) {
        TemporaryFolder folder;
        std::atomic<int> created{0}, refused{0};
        std::vector<std::thread> threads;
        for (int i = 0; i < 8; ++i)
            threads.emplace_back([&, i] {
                const auto done = createFileAtomically(folder / "one", std::string(1000, char('a' + i)));
                ASSERT_TRUE(done);
                ++(*done ? created : refused);
            });
        for (auto& t : threads) t.join();
        EXPECT_EQ(created, 1);
        EXPECT_EQ(refused, 7);
        const std::string kept = *readFile(folder / "one");
        EXPECT_EQ(kept, std::string(1000, kept[0]));
        int files = 0;
        for ([[maybe_unused]] const auto& e : fs::directory_iterator(folder.path())) ++files;
        EXPECT_EQ(files, 1) << "and nothing is left beside it";
    }
}

TEST(File, WholePathsOfOneFileAreOne) {
    TemporaryFolder folder;
    fs::create_directories(folder / "real/inner");
    fs::create_directory_symlink(folder / "real/inner", folder / "link");
    EXPECT_EQ(wholePath(folder / "real/./x"), folder / "real/x");
    EXPECT_EQ(wholePath(folder / "real/../x"), fs::canonical(folder.path()) / "x");
    EXPECT_EQ(wholePath(folder / "link/../x"), fs::canonical(folder.path()) / "real/x") << "as the system walks it";
}

TEST(FileLock, KeepsTheSecondOutAndSaysWhoHasIt) {
    TemporaryFolder folder;
    auto first = FileLock::take(folder / "p.virga");
    ASSERT_TRUE(first);
    LockOwner owner;
    EXPECT_FALSE(FileLock::take(folder / "p.virga", &owner));
    EXPECT_EQ(owner.process, ::getpid());
    EXPECT_FALSE(owner.user.empty());
    EXPECT_EQ(owner.since.size(), 20u) << owner.since;
    EXPECT_TRUE(FileLock::take(folder / "q.virga"));
    first.reset();
    EXPECT_FALSE(fs::exists(FileLock::placeFor(folder / "p.virga")));
    EXPECT_TRUE(FileLock::take(folder / "p.virga"));
    // One that a crash left: its file is there, and nobody holds it.
    std::ofstream(FileLock::placeFor(folder / "p.virga")) << R"({"virga":"lock","process":1,"user":"x"})";
    EXPECT_TRUE(FileLock::take(folder / "p.virga"));
}

TEST(Printable, ShowsItselfAndDoesNothingElse) {
    EXPECT_EQ(printable("a\x1b[31mb"), "a?[31mb");
    EXPECT_EQ(printable("a\nb\tc\x7f"), "a?b?c?");
    EXPECT_EQ(printable("a\xc2\x9b"
                        "31m"),
              "a?31m")
        << "C1's control sequence introducer (ECMA-48)";
    EXPECT_EQ(printable("a\x9b"
                        "31m"),
              "a?31m")
        << "the same as one byte, which is no UTF-8";
    EXPECT_EQ(printable("gpj.\u202e"
                        "exe"),
              "gpj.?exe")
        << "right-to-left override (UAX #9)";
    EXPECT_EQ(printable("a\u2028"
                        "b\u2066"
                        "c"),
              "a?b?c");
    EXPECT_EQ(printable("Grüße, 日本 🎞 é"), "Grüße, 日本 🎞 é");
    EXPECT_EQ(printableLines("a\nb\r"), "a\nb?");
    EXPECT_EQ(printableJson("{\"a\": \"x\u202ey\"}\n"), "{\"a\": \"x\\u202ey\"}\n");
    EXPECT_EQ(nlohmann::json::parse(printableJson("\"\xf3\xa0\x81\x81\u009b\"")).get<std::string>(),
              "\xf3\xa0\x81\x81\u009b")
        << "as JSON it is the same text";
}

} // namespace
} // namespace virga::file_test
