// The program as scripts start it: pictures of the window, exports, and what it says of bad input.
#include <QImage>
#include <gtest/gtest.h>
#include <set>

#include "core/decode/probe.h"
#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

namespace virga::start_test {
namespace {

using namespace test;

const std::string program = std::string(VIRGA_BINARY_DIR) + "/app/virga ";

class Start : public testing::Test {
protected:
    void SetUp() override {
        writeNumberedClip(m_folder / "a.mp4", {320, 180}, 25, 75);
        writeNumberedClip(m_folder / "b.mp4", {320, 180}, 25, 75, 11);
        Project p = plungeProject(m_folder / "a.mp4", m_folder / "b.mp4");
        p.settings.size = {320, 180};
        ASSERT_TRUE(saveProject(p, m_folder / "p.virga"));
    }
    std::string at(const std::string& name) { return (m_folder / name).string(); }
    TemporaryFolder m_folder;
};

TEST_F(Start, TakesAPictureOfTheWindowAndEnds) {
    const Ran ran =
        runProgram(program + "--shot " + at("s.png") + " --size 1200x760 --cut 1 --frame=-2 " + at("p.virga"));
    ASSERT_EQ(ran.code, 0) << ran.err;
    EXPECT_EQ(ran.err.find("did not come to rest"), std::string::npos) << ran.err;
    const QImage shot(QString::fromStdString(at("s.png")));
    EXPECT_EQ(shot.size(), QSize(1200, 760));
    std::set<QRgb> colours;
    for (int y = 0; y < shot.height(); y += 5)
        for (int x = 0; x < shot.width(); x += 5) colours.insert(shot.pixel(x, y));
    EXPECT_GT(colours.size(), 500u) << "the picture of the frame is in it";
}

TEST_F(Start, ExportsAndEnds) {
    const Ran ran = runProgram(program + "--export " + at("e.mp4") + " " + at("p.virga"));
    ASSERT_EQ(ran.code, 0) << ran.err;
    const auto info = probe(m_folder / "e.mp4");
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->frames, 50);
}

TEST_F(Start, TakesFilesInsteadOfAProject) {
    const Ran ran = runProgram(program + "--export " + at("e.mp4") + " " + at("a.mp4") + " " + at("b.mp4"));
    ASSERT_EQ(ran.code, 0) << ran.err;
    EXPECT_EQ(probe(m_folder / "e.mp4")->video->frames, 150);
}

TEST_F(Start, SaysWhatIsWrongAndEndsWithTwo) {
    const Ran missing = runProgram(program + "--shot " + at("s.png") + " " + at("none.virga"));
    EXPECT_EQ(missing.code, 2);
    EXPECT_NE(missing.err.find("none.virga"), std::string::npos);
    EXPECT_EQ(runProgram(program + "--shot /no/such/folder/s.png " + at("p.virga")).code, 2);
    EXPECT_EQ(runProgram(program + "--help").code, 0);
    for (const char* wrong : {"--size 0x800", "--size wide", "--size 1280", "--cut one", "--cut 9", "--clip 0",
                              "--frame half", "--theme dusk"}) {
        const Ran ran = runProgram(program + "--shot " + at("w.png") + " " + wrong + " " + at("p.virga"));
        EXPECT_EQ(ran.code, 2) << wrong;
        EXPECT_NE(ran.err.find("virga: "), std::string::npos) << wrong;
        EXPECT_FALSE(fs::exists(m_folder / "w.png")) << wrong;
    }
}

} // namespace
} // namespace virga::start_test
