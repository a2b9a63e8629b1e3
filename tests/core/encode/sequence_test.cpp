// Numbered picture sequences read as one media.
#include <fstream>
#include <gtest/gtest.h>

#include "core/base/fingerprint.h"
#include "core/base/sequence_path.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "tests/support/clips.h"

namespace virga::sequence_test {
namespace {

using namespace test;

class Sequence : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "n.mp4", {192, 108}, 25, 12);
        ASSERT_TRUE(ffmpeg("-i " + (m_folder / "n.mp4").string() + " -start_number 7 '" +
                           (m_folder / "heat 100%%_").string() + "%03d.png'"));
        m_path = m_folder / "heat 100%_[007-018].png";
    }
    TemporaryFolder m_folder;
    fs::path m_path;
};

TEST_F(Sequence, IsReadPictureByPicture) {
    const auto info = probe(m_path);
    ASSERT_TRUE(info) << describe(info.error());
    ASSERT_TRUE(info->video);
    EXPECT_EQ(info->video->frames, 12);
    EXPECT_FALSE(info->video->still);
    EXPECT_EQ(info->video->rate, Rational(25));
    EXPECT_EQ(info->video->duration, Rational(12, 25));
    auto reader = VideoReader::open(m_path);
    ASSERT_TRUE(reader);
    for (const int n : {0, 5, 11, 3, 4, 10, 0}) {
        auto picture = (*reader)->read(n);
        ASSERT_TRUE(picture) << n << ": " << describe(picture.error());
        EXPECT_EQ(numberIn(*picture), n);
    }
}

TEST_F(Sequence, EndsWhereItsNameSays) {
    const auto part = probe(m_folder / "heat 100%_[009-012].png");
    ASSERT_TRUE(part);
    EXPECT_EQ(part->video->frames, 4);
    auto reader = VideoReader::open(m_folder / "heat 100%_[009-012].png");
    ASSERT_TRUE(reader);
    EXPECT_EQ(numberIn(*(*reader)->read(0)), 2);
}

TEST_F(Sequence, AMissingPictureIsNamed) {
    fs::remove(m_folder / "heat 100%_011.png");
    const auto info = probe(m_path);
    ASSERT_FALSE(info);
    EXPECT_EQ(info.error().code, ErrorCode::NotFound);
    EXPECT_NE(info.error().message.find("11"), std::string::npos);
}

TEST_F(Sequence, FingerprintsTellContentApart) {
    const std::string whole = fingerprintOf(m_path);
    EXPECT_EQ(whole.size(), 16u);
    EXPECT_NE(whole, fingerprintOf(m_folder / "heat 100%_[009-012].png"));
    fs::copy(m_folder / "n.mp4", m_folder / "copy.mp4");
    EXPECT_EQ(fingerprintOf(m_folder / "n.mp4"), fingerprintOf(m_folder / "copy.mp4"));
    std::ofstream(m_folder / "copy.mp4", std::ios::app) << "x";
    EXPECT_NE(fingerprintOf(m_folder / "n.mp4"), fingerprintOf(m_folder / "copy.mp4"));
    EXPECT_TRUE(fingerprintOf(m_folder / "none").empty());
}

} // namespace
} // namespace virga::sequence_test
