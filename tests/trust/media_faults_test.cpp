// Files that go wrong while they are open: damaged in the middle, cut short, gone, replaced, still growing. What can be
// shown is shown, the rest is told with its time, and every picture that the damage does not reach is as it was.
#include <fstream>
#include <gtest/gtest.h>
#include <random>

#include "core/audio/audio_reader.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/export/export_reel.h"
#include "core/render/render_frame.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::media_faults_test {
namespace {

using namespace test;

class MediaFaults : public testing::Test {
protected:
    void SetUp() override { writeNumberedClip(m_clip, {160, 90}, 25, 100); }
    static std::string bytesOf(const fs::path& path) {
        std::ifstream in(path, std::ios::binary);
        return {std::istreambuf_iterator<char>(in), {}};
    }
    static void put(const fs::path& path, const std::string& bytes) {
        std::ofstream(path, std::ios::binary | std::ios::trunc) << bytes;
    }
    TemporaryFolder m_folder;
    fs::path m_clip = m_folder / "a.mp4";
};

std::vector<std::optional<int>> numbersIn(VideoReader& reader, std::int64_t count) {
    std::vector<std::optional<int>> numbers;
    for (std::int64_t i = 0; i < count; ++i) {
        const auto picture = reader.read(i);
        if (!picture) {
            EXPECT_EQ(picture.error().code, ErrorCode::Unreadable);
            EXPECT_FALSE(picture.error().place.empty()) << "the time is told";
        }
        numbers.push_back(picture ? std::optional(numberIn(*picture)) : std::nullopt);
    }
    return numbers;
}

TEST_F(MediaFaults, DamageInTheMiddleReachesNoFartherThanTheNextKeyFrame) {
    const std::string good = bytesOf(m_clip);
    std::mt19937 draw(11);
    int damaged = 0;
    for (int round = 0; round < 12; ++round) {
        std::string bad = good;
        // Somewhere in the pictures; the index, which stands at one of the ends, stays.
        const std::size_t at = good.size() / 4 + draw() % (good.size() / 2);
        for (std::size_t i = at; i < std::min(at + 400, bad.size() - good.size() / 5); ++i) bad[i] = char(draw());
        put(m_folder / "bad.mp4", bad);
        auto reader = VideoReader::open(m_folder / "bad.mp4");
        if (!reader) continue; // its index was hit after all: it says so
        const std::int64_t count = (*reader)->info().video->frames;
        const auto numbers = numbersIn(**reader, std::min<std::int64_t>(count, 100));
        int wrong = 0;
        for (std::size_t i = 0; i < numbers.size(); ++i) wrong += !numbers[i] || *numbers[i] != int(i);
        damaged += wrong > 0;
        EXPECT_LE(wrong, int((*reader)->info().video->keyInterval) + 40) << "round " << round;
        // Asked once more, from behind, those that lie far from any damage are the same.
        const auto isRight = [&](std::int64_t i) {
            return i < 0 || i >= std::int64_t(numbers.size()) || numbers[std::size_t(i)] == int(i);
        };
        for (std::int64_t i = std::int64_t(numbers.size()) - 1; i >= 0; i -= 13) {
            bool far = true;
            for (std::int64_t k = i - 30; k <= i + 30; ++k) far = far && isRight(k);
            if (!far) continue;
            const auto again = (*reader)->read(i);
            ASSERT_TRUE(again) << i;
            EXPECT_EQ(numberIn(*again), int(i));
        }
    }
    EXPECT_GT(damaged, 3) << "some damage was really seen";
}

TEST_F(MediaFaults, AFileThatIsTakenAwayIsReadOnOrTold) {
    auto reader = VideoReader::open(m_clip);
    ASSERT_TRUE(reader && (*reader)->read(10));
    fs::remove(m_clip);
    for (const std::int64_t i : {11, 70, 3}) {
        const auto picture = (*reader)->read(i);
        EXPECT_TRUE(!picture || numberIn(*picture) == int(i)) << i;
    }
    const auto gone = probe(m_clip);
    ASSERT_FALSE(gone);
    EXPECT_EQ(gone.error().code, ErrorCode::NotFound);
}

TEST_F(MediaFaults, AFileCutShortUnderAReaderEndsNothing) {
    writeNumberedClip(m_clip, {640, 360}, 25, 100); // larger than what is read ahead
    auto reader = VideoReader::open(m_clip);
    ASSERT_TRUE(reader && (*reader)->read(0));
    fs::resize_file(m_clip, fs::file_size(m_clip) / 2);
    int told = 0;
    for (std::int64_t i = 0; i < 100; i += 9) {
        const auto picture = (*reader)->read(i);
        if (picture) {
            EXPECT_EQ(numberIn(*picture), int(i)) << "never another picture in its place";
            continue;
        }
        ++told;
        EXPECT_FALSE(describe(picture.error()).empty());
    }
    EXPECT_GT(told, 0) << "the second half is not there any more";
    fs::resize_file(m_clip, 0);
    for (std::int64_t i = 99; i >= 0; i -= 30) (void)(*reader)->read(i);
    const auto sound = readAudio(m_clip, 0, 100);
    EXPECT_FALSE(sound);
}

TEST_F(MediaFaults, AFileThatIsReplacedIsNoticedByTheNextPool) {
    Project p = plungeProject(m_clip, m_clip);
    p.settings.size = {160, 90};
    SourcePool pool;
    const auto before = renderFrame(p, 2, p.settings.size, exactQuality, pool);
    ASSERT_TRUE(before);
    writeClip(m_folder / "other.mp4", {160, 90}, 25, 100, [](int n) { return numberedFrame({160, 90}, n + 100); });
    fs::rename(m_folder / "other.mp4", m_clip);
    SourcePool anew;
    const auto after = renderFrame(p, 2, p.settings.size, exactQuality, anew);
    ASSERT_TRUE(after);
    EXPECT_GT(compare(before->view(), after->view()).most, 20);
}

TEST_F(MediaFaults, AFileThatIsStillBeingWrittenIsReadAsFarAsItGoes) {
    writeNumberedClip(m_folder / "grows.mkv", {160, 90}, 25, 100);
    const std::string whole = bytesOf(m_folder / "grows.mkv");
    std::int64_t last = 0;
    for (const double part : {0.3, 0.6, 0.9, 1.0}) {
        put(m_folder / "grows.mkv", whole.substr(0, std::size_t(double(whole.size()) * part)));
        auto reader = VideoReader::open(m_folder / "grows.mkv");
        if (!reader) {
            EXPECT_FALSE(describe(reader.error()).empty());
            continue;
        }
        const std::int64_t count = (*reader)->info().video->frames;
        EXPECT_GE(count, last);
        last = count;
        for (std::int64_t i = 0; i + 1 < count; i += 11) {
            const auto picture = (*reader)->read(i);
            ASSERT_TRUE(picture) << i << " of " << count;
            EXPECT_EQ(numberIn(*picture), int(i));
        }
    }
    EXPECT_EQ(last, 100);
}

TEST_F(MediaFaults, AnExportOfADamagedShotSaysWhichAndWhere) {
    fs::copy_file(m_clip, m_folder / "b.mp4");
    Project p = plungeProject(m_clip, m_folder / "b.mp4");
    p.settings.size = {160, 90};
    ExportSettings settings;
    settings.path = m_folder / "out.mp4";
    SourcePool pool;
    fs::resize_file(m_folder / "b.mp4", 200);
    const auto done = exportReel(p, settings, pool);
    ASSERT_FALSE(done);
    EXPECT_NE(describe(done.error()).find("b.mp4"), std::string::npos) << describe(done.error());
    EXPECT_FALSE(fs::exists(settings.path));
}

} // namespace
} // namespace virga::media_faults_test
