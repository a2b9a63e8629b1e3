// Frames of other shots at a clip's ends, in files made of shots that meet at known pictures.
#include "core/analysis/find_shot.h"

#include <gtest/gtest.h>

#include "core/project/project.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"
#include "tests/support/projects.h"

namespace virga::find_shot_test {
namespace {

using namespace test;

constexpr Size size{320, 180};

// The pictures of several shots one after the other; each moves a little, as one that is held by hand does.
class FindShot : public testing::Test {
protected:
    void write(const std::vector<int>& lengths) {
        std::vector<Image<Rgba8>> shots;
        std::vector<std::pair<std::size_t, int>> pictures;
        for (std::size_t shot = 0; shot < lengths.size(); ++shot) {
            shots.push_back(texturedPicture({size.width + 64, size.height}, unsigned(shot) * 31 + 3));
            for (int i = 0; i < lengths[shot]; ++i) pictures.emplace_back(shot, i);
        }
        writeClip(file(), size, 25, int(pictures.size()), [&](int n) {
            const auto [shot, time] = pictures[std::size_t(n)];
            const Image<Rgba8>& wide = shots[shot];
            Image<Rgba8> out(size);
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x) out.at(x, y) = wide.at(x + time % 64, y);
            return out;
        });
    }
    fs::path file() const { return m_folder / "shots.mp4"; }
    // In pictures: [from, to).
    FoundShot found(std::int64_t from, std::int64_t to, std::int64_t most = 12) const {
        const auto shot = findShot(file(), {Rational(from, 25), Rational(to, 25)}, Rational(most, 25));
        EXPECT_TRUE(shot) << describe(shot.error());
        return shot.value_or(FoundShot{});
    }
    TemporaryFolder m_folder;
};

TEST_F(FindShot, ATitleCardOfOneFrameAfterTheCut) {
    write({40, 1, 40});
    EXPECT_EQ(found(10, 41), (FoundShot{{}, Rational(40, 25)})) << "the card is the last picture that is used";
    EXPECT_EQ(found(40, 70), (FoundShot{Rational(41, 25), {}})) << "and the first one";
    EXPECT_TRUE(found(10, 40).isWhole()) << "trimmed to the frame";
    EXPECT_TRUE(found(41, 75).isWhole());
}

TEST_F(FindShot, AFewFramesOfTheNextShotAtBothEnds) {
    write({30, 50, 30});
    EXPECT_EQ(found(27, 85), (FoundShot{Rational(30, 25), Rational(80, 25)}));
    EXPECT_EQ(found(18, 80), (FoundShot{Rational(30, 25), {}})) << "as many as are asked for";
    EXPECT_TRUE(found(15, 95).isWhole()) << "more are meant";
    EXPECT_EQ(found(28, 40), (FoundShot{Rational(30, 25), {}})) << "a short clip";
    EXPECT_EQ(found(70, 83), (FoundShot{{}, Rational(80, 25)}));
}

TEST_F(FindShot, TheFileEndsWithIt) {
    write({40, 2});
    EXPECT_EQ(found(5, 42), (FoundShot{{}, Rational(40, 25)}));
}

TEST_F(FindShot, ErrorsAreToldAndItCanBeStopped) {
    EXPECT_EQ(findShot(file(), {0, 1}, 1).error().code, ErrorCode::NotFound);
    write({12});
    Cancel cancel;
    cancel.request();
    EXPECT_EQ(findShot(file(), {0, Rational(12, 25)}, 1, cancel).error().code, ErrorCode::Cancelled);
}

TEST(SeenOfSource, CountsOverlapsSpeedsAndRunningBackwards) {
    Project p = twoClips(); // 25 frames each, from one second of their source on
    EXPECT_EQ(seenOfSource(p, 0).from, Rational(1));
    EXPECT_EQ(seenOfSource(p, 0).to, Rational(2));
    p.reel[1].transition.overlap = {4, 6};
    EXPECT_EQ(seenOfSource(p, 0).to, Rational(2) + Rational(6, 25));
    EXPECT_EQ(seenOfSource(p, 1).from, Rational(1) - Rational(4, 25));
    EXPECT_EQ(foreignSeconds(p, 0), Rational(12, 25));
    p.reel[0].speed = Rational(1, 2);
    EXPECT_EQ(foreignSeconds(p, 0), Rational(6, 25));
    p = twoClips();
    p.reel[0] = runBackwards(p, p.reel[0]);
    EXPECT_LE(seenOfSource(p, 0).from, Rational(26, 25));
    EXPECT_GE(seenOfSource(p, 0).to, Rational(49, 25));
}

} // namespace
} // namespace virga::find_shot_test
