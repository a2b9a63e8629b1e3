#include "app/picture/transport.h"

#include <QAction>
#include <QAudioDevice>
#include <QElapsedTimer>
#include <QLabel>
#include <QMediaDevices>
#include <QToolButton>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

#include "app/picture/picture_view.h"
#include "app/playback/player.h"
#include "app/playback/sound_ahead.h"
#include "app/reel/reel_view.h"
#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "tests/app/window_fixture.h"

namespace virga::test::transport_test {
namespace {

class Playing : public WindowTest {
protected:
    void openWithMusic() {
        Project p = withOwnClips(plungeProject());
        Music music;
        music.id = "music-1";
        music.mediaId = p.reel[0].mediaId;
        p.music = {music};
        open(p);
        settle();
    }
    /// How many frames the playhead lies behind what the clock says as it comes to one, at worst. A tick that comes
    /// late on a busy machine does not count, what it shows then does.
    std::shared_ptr<double> worstBehind() {
        auto worst = std::make_shared<double>(0);
        QObject::connect(&document(), &Document::playheadChanged, m_window.get(), [this, worst] {
            const double behind = std::floor(m_window->services().player.position()) - double(document().playhead());
            *worst = std::max(*worst, behind < 0 ? behind + 50 : behind); // round the reel
        });
        return worst;
    }
    QString timecode() { return m_window->findChild<QLabel*>("timecode")->text(); }
};

TEST_F(Playing, ArrowsStepAndHomeAndEndJump) {
    openPlunge();
    document().setPlayhead(25);
    key(Qt::Key_Right);
    EXPECT_EQ(document().playhead(), 26);
    EXPECT_EQ(timecode(), "00:00:01:01");
    key(Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_EQ(document().playhead(), 16);
    key(Qt::Key_Home);
    EXPECT_EQ(document().playhead(), 0);
    key(Qt::Key_End);
    EXPECT_EQ(document().playhead(), 49);
    key(Qt::Key_Right);
    EXPECT_EQ(document().playhead(), 49);
}

TEST_F(Playing, UpAndDownGoFromCutToCut) {
    Project p = plungeProject();
    p.reel.push_back(p.reel[1]);
    p.reel[2].id = "clip-3";
    p.reel[2].transition = {};
    open(withOwnClips(p));
    key(Qt::Key_Down);
    EXPECT_EQ(document().selection(), (Selection{Selection::CutSelected, 1}));
    EXPECT_EQ(document().playhead(), 50);
    key(Qt::Key_Down);
    EXPECT_EQ(document().cut(), 1);
    key(Qt::Key_Up);
    EXPECT_EQ(document().cut(), 0);
}

TEST_F(Playing, SpacePlaysTheCutOverAndOverInRealTime) {
    openPlunge();
    settle();
    QElapsedTimer clock;
    key(Qt::Key_Space);
    ASSERT_TRUE(m_window->services().player.isPlaying());
    ASSERT_TRUE(waitFor([this] { return !m_window->services().player.isStarting(); }, 2000));
    clock.start();
    std::set<std::int64_t> seen;
    bool wrapped = false;
    std::int64_t last = document().playhead();
    waitFor(
        [&] {
            seen.insert(m_window->views().picture->shownFrame());
            wrapped = wrapped || document().playhead() < last;
            last = document().playhead();
            return clock.elapsed() > 3000;
        },
        6000);
    EXPECT_TRUE(wrapped) << "two seconds, then again";
    // Real time: the playhead is where the clock says, to within three frames either way round the loop. (Another test
    // may hold the machine for a tick or two; a player that lost time in every loop would be farther off.)
    const double gone = double(clock.elapsed()) / 1000 * 25;
    const double apart = std::fmod(std::abs(gone - double(document().playhead())), 50);
    EXPECT_LE(std::min(apart, 50 - apart), 3) << gone << " " << document().playhead();
    EXPECT_GT(seen.size(), 25u) << "most of the 50 frames were really shown";
    key(Qt::Key_Space);
    EXPECT_FALSE(m_window->services().player.isPlaying());
    settle();
    EXPECT_TRUE(m_window->views().picture->isExact()) << "at rest it sharpens";
}

TEST_F(Playing, TheClockStartsOnceTheFirstPicturesAndTheFirstOfTheSoundAreThere) {
    openWithMusic();
    Player* player = &m_window->services().player;
    player->useStandIn(true);
    m_window->services().setMemory(64); // nothing is kept
    m_window->services().setMemory(FrameService::usualBudget());
    QElapsedTimer clock;
    clock.start();
    key(Qt::Key_Space);
    ASSERT_TRUE(player->isStarting());
    const auto first = document().playhead();
    const double wholly = player->position();
    ASSERT_TRUE(waitFor(
        [&] {
            const bool starting = player->isStarting();
            EXPECT_TRUE(!starting || player->position() == wholly) << "it has not begun";
            return !starting;
        },
        5000));
    const double waited = double(clock.elapsed());
    const auto isThere = [&](std::int64_t frame) {
        return !m_window->services()
                    .frames.kept({document().project(), frame, player->size(), player->quality(), Urgency::Soon})
                    .isNull();
    };
    if (waited < 330) {
        for (int i = 0; i < 4; ++i) EXPECT_TRUE(isThere(first + i)) << i;
        EXPECT_TRUE(player->isHeard()) << "the sound was waited for";
    }
    EXPECT_LT(waited, 330 + 1500) << "no longer than a third of a second, but for what holds the machine";
    ASSERT_TRUE(waitFor([&] { return document().playhead() > first; }, 2000));
    // Stopped while it still waits, it does not begin by itself.
    key(Qt::Key_Space);
    m_window->services().setMemory(64);
    key(Qt::Key_Space);
    ASSERT_TRUE(player->isStarting());
    key(Qt::Key_Space);
    EXPECT_FALSE(player->isStarting());
    EXPECT_FALSE(player->isPlaying());
}

TEST_F(Playing, ShiftSpacePlaysTheReel) {
    openPlunge();
    document().setPlayhead(5);
    key(Qt::Key_Space, Qt::ShiftModifier);
    EXPECT_TRUE(m_window->services().player.isPlaying());
    EXPECT_EQ(m_window->services().player.span(), Player::ReelSpan);
    EXPECT_EQ(m_window->services().player.range(), (std::pair<std::int64_t, std::int64_t>(0, 50)));
    ASSERT_TRUE(waitFor([this] { return document().playhead() > 8; }, 5000));
    key(Qt::Key_Space, Qt::ShiftModifier);
    EXPECT_FALSE(m_window->services().player.isPlaying());
}

TEST_F(Playing, ButtonsDoTheSame) {
    openPlunge();
    document().setPlayhead(25);
    const auto press = [this](const QString& tip) {
        for (auto* b : m_window->findChildren<QToolButton*>())
            if (b->toolTip().startsWith(tip)) return QTest::mouseClick(b, Qt::LeftButton);
        FAIL() << tip.toStdString();
    };
    press("One frame forward");
    EXPECT_EQ(document().playhead(), 26);
    press("One frame back");
    press("One frame back");
    EXPECT_EQ(document().playhead(), 24);
    press("Play (Space)");
    EXPECT_TRUE(m_window->services().player.isPlaying());
    press("Stop (Space)");
    EXPECT_FALSE(m_window->services().player.isPlaying());
}

// The stand-in takes sound at its own pace, as a device does; VIRGA_PLAY_SECONDS=60 for the long run.
TEST_F(Playing, TheSoundIsTheClockAndIsMixedInBlocksAhead) {
    openWithMusic();
    Player* player = &m_window->services().player;
    player->useStandIn(true);
    player->setSpan(Player::ReelSpan);
    player->play();
    ASSERT_TRUE(waitFor([&] { return player->sound() != nullptr; }, 2000));
    const double seconds =
        qEnvironmentVariableIsSet("VIRGA_PLAY_SECONDS") ? qEnvironmentVariable("VIRGA_PLAY_SECONDS").toDouble() : 5;
    QElapsedTimer clock;
    clock.start();
    const auto worst = worstBehind();
    int late = 0, shown = 0;
    const auto seen = QObject::connect(m_window->views().picture, &PictureView::shown, [&] {
        ++shown;
        late += m_window->views().picture->shownFrame() != document().playhead(); // as it comes on screen
    });
    waitFor([&] { return double(clock.elapsed()) > seconds * 1000; }, int(seconds * 1000) + 5000);
    EXPECT_LE(*worst, 1) << "what is shown is the frame that the clock is at, or the one before it";
    QObject::disconnect(seen);
    EXPECT_GT(shown, 10);
    EXPECT_EQ(late, 0) << "nothing is shown late";
    EXPECT_LT(double(player->sound()->mostHeld()), 4.0 * 48000 * 2 * 4) << "not the whole reel over and over";
    EXPECT_LT(player->sound()->missed(), 48000 / 2) << "nor too late";
    player->stop();
    EXPECT_EQ(player->sound(), nullptr);
}

// A device asks on while the sound is still being opened or mixed.
TEST_F(Playing, SoundThatCameTooLateIsLeftOutAndWhatFollowsIsHeardWhenItIsDue) {
    std::vector<float> chirp(std::size_t(2.5 * audioRate) * audioChannels); // no two places of it sound alike
    for (std::size_t i = 0; i < chirp.size(); ++i) {
        const double t = double(i / audioChannels) / audioRate;
        chirp[i] = float(0.5 * std::sin(2 * std::numbers::pi * (100 + 150 * t) * t));
    }
    ASSERT_TRUE(writeWav(m_folder / "chirp.wav", chirp));
    Project p = withOwnClips(plungeProject());
    Media song;
    song.id = "media-song";
    song.path = m_folder / "chirp.wav";
    song.duration = Rational(5, 2);
    song.sound = true;
    p.media.push_back(song);
    p.music.emplace_back().id = "music-1";
    p.music[0].mediaId = song.id;
    const Snapshot project = std::make_shared<const Project>(p);
    const auto length = reelLength(p);
    SoundPool pool;
    const std::vector<float> whole = mixSound(p, 0, length, pool).stereo;
    ASSERT_GT(std::ranges::max(whole), 0.4f);
    for (const double late :
         {0.0, 0.1234, 0.7, 1.9}) { // within a block, beyond one, and beyond the end of the reel's last
        SCOPED_TRACE(late);
        SoundAhead ahead(project, 0, length, 0, std::make_shared<SoundPool>());
        const auto asked = std::size_t(late * audioRate) * audioChannels;
        std::vector<float> early(asked), heard(std::size_t(0.4 * audioRate) * audioChannels);
        if (asked > 0) ahead.read(reinterpret_cast<char*>(early.data()), qint64(asked * sizeof(float)));
        EXPECT_EQ(ahead.missed(), std::int64_t(asked / audioChannels)) << "nothing was mixed yet";
        ASSERT_TRUE(waitFor([&] { return ahead.held() >= heard.size(); }, 10000));
        ahead.read(reinterpret_cast<char*>(heard.data()), qint64(heard.size() * sizeof(float)));
        EXPECT_EQ(ahead.missed(), std::int64_t(asked / audioChannels)) << "and no more";
        for (std::size_t i = 0; i < heard.size(); ++i)
            ASSERT_NEAR(heard[i], whole[(asked + i) % whole.size()], 1e-5) << "sample " << i / audioChannels;
    }
}

// Run by tests/app/with_null_sink, which starts such a device; VIRGA_PLAY_SECONDS=60 for the long run.
TEST_F(Playing, IntoADeviceOfTheSystemItKeepsToTheDevicesClock) {
    if (!qEnvironmentVariableIsSet("VIRGA_NULL_SINK")) GTEST_SKIP() << "run by with_null_sink";
    ASSERT_FALSE(QMediaDevices::defaultAudioOutput().isNull()) << "the null sink is the default output";
    openWithMusic();
    Player* player = &m_window->services().player;
    player->setSpan(Player::ReelSpan);
    player->play();
    const double seconds =
        qEnvironmentVariableIsSet("VIRGA_PLAY_SECONDS") ? qEnvironmentVariable("VIRGA_PLAY_SECONDS").toDouble() : 6;
    // From when it is heard. What the device has taken is its own clock, which stands still where the machine is too
    // busy to feed it: what is heard, and with it the picture, keeps behind it by what its buffers hold.
    ASSERT_TRUE(waitFor([&] { return player->isHeard(); }, 5000));
    QTest::qWait(3000); // the sound server fills its own buffers first
    QElapsedTimer clock;
    clock.start();
    const auto worst = worstBehind();
    double least = 1e9, most = -1e9;
    waitFor(
        [&] {
            const double held = player->takenTo() - player->seconds();
            least = std::min(least, held), most = std::max(most, held);
            return double(clock.elapsed()) > seconds * 1000;
        },
        int(seconds * 1000) + 5000);
    EXPECT_TRUE(player->isHeard());
    EXPECT_LE(*worst, 1);
    EXPECT_GT(player->seconds(), 1) << "it goes on";
    EXPECT_GT(least, -0.05) << "nothing is heard before it was taken";
    EXPECT_LT(most, 0.4) << "the program's own buffer, an eighth of a second, and what the sound server holds back";
    EXPECT_LT(player->sound()->missed(), 48000 / 2);
    player->stop();
}

TEST_F(Playing, WhatIsLeftOutWhilePlayingIsRememberedAndChangesNothing) {
    openPlunge();
    settle();
    Player* player = &m_window->services().player;
    EXPECT_EQ(player->quality(), quickQuality);
    action("No blur")->trigger();
    EXPECT_FALSE(player->quality().blur);
    action("Full blur")->trigger();
    EXPECT_TRUE(player->quality().blur);
    EXPECT_EQ(player->quality().mostSamples, exactQuality.mostSamples);
    action("Clips above the reel")->trigger();
    EXPECT_FALSE(player->quality().overlays);
    action("Finishing")->trigger();
    EXPECT_FALSE(player->quality().finishing);
    EXPECT_EQ(document().undoStack()->count(), 0);
    EXPECT_TRUE(m_window->views().picture->isExact()) << "the picture at rest stays as it is";
    { // another window, as after a restart
        MainWindow other;
        EXPECT_EQ(other.services().player.quality(), player->quality());
    }
    action("Draft blur")->trigger();
    action("Clips above the reel")->trigger();
    action("Finishing")->trigger();
    EXPECT_EQ(player->quality(), quickQuality);
}

TEST_F(Playing, TheReelShowsWhichFramesAreReady) {
    openPlunge();
    settle();
    ReadyFrames* ready = &m_window->services().ready;
    m_window->services().player.setSpan(Player::CutSpan);
    // Around the cut frames are made ready at leisure.
    ASSERT_TRUE(waitFor([&] { return ready->isReady(24) && ready->isReady(25); }, 20000));
    ASSERT_TRUE(waitFor([&] { return !ready->spans().empty() && ready->spans().front().first == 0; }, 20000));
    // A change at the cut takes those away that it reaches, and no others.
    Project p = project();
    p.reel[1].transition.moves[0].channels[0].incoming.keys.back().value *= 1.2;
    document().apply("change", std::move(p));
    ASSERT_TRUE(waitFor([&] { return !ready->isReady(30) || m_window->services().frames.isIdle(); }, 5000));
    EXPECT_TRUE(ready->isReady(2)) << "before the move nothing changed";
    // Back again, they are all there still.
    document().undoStack()->undo();
    EXPECT_TRUE(waitFor([&] { return ready->isReady(30) && ready->isReady(2); }, 20000));
}

TEST_F(Playing, PlaysTheClipAMarkedSpanAndSlowly) {
    openPlunge();
    settle();
    Player* player = &m_window->services().player;
    player->useStandIn(true);
    document().select({Selection::ClipSelected, 1, {}});
    action("Play the clip")->trigger();
    EXPECT_TRUE(player->isPlaying());
    EXPECT_EQ(player->range(), (std::pair<std::int64_t, std::int64_t>(25, 50)));
    action("Play the clip")->trigger();
    EXPECT_FALSE(player->isPlaying());
    document().setPlayhead(10);
    key(Qt::Key_B);
    document().setPlayhead(19);
    key(Qt::Key_E);
    EXPECT_EQ(document().marked(), (std::optional(std::pair<std::int64_t, std::int64_t>(10, 20))));
    action("Play the marked span")->trigger();
    EXPECT_EQ(player->range(), (std::pair<std::int64_t, std::int64_t>(10, 20)));
    ASSERT_TRUE(waitFor([&] { return document().playhead() > 12; }, 3000));
    player->setSpeed(0.25); // goes on from where it is, in silence
    EXPECT_EQ(player->sound(), nullptr);
    QElapsedTimer clock;
    clock.start();
    const double from = player->position();
    QTest::qWait(400); // or more, on a busy machine
    const double due = double(clock.nsecsElapsed()) * 1e-9 * 25 / 4;
    const double off = std::remainder(player->position() - from - due, 10.0); // round the span of ten frames
    EXPECT_LT(off, 0.5);
    EXPECT_GT(off, -2.5) << "the first pictures are waited for, a third of a second at most";
    player->stop();
    player->setSpeed(1);
    player->setSpan(Player::CutSpan);
    player->setAround(0.5);
    EXPECT_EQ(player->range(), (std::pair<std::int64_t, std::int64_t>(25 - 13, 25 + 13)));
}

TEST_F(Playing, GoesOnWhileEditing) {
    openPlunge();
    settle();
    Player* player = &m_window->services().player;
    player->useStandIn(true);
    player->setSpan(Player::ReelSpan);
    player->play();
    ASSERT_TRUE(waitFor([&] { return document().playhead() > 8; }, 5000));
    const auto at = document().playhead();
    Project next = project();
    next.reel[1].length = 20;
    document().apply("shorten", next);
    EXPECT_TRUE(player->isPlaying());
    EXPECT_EQ(player->range().second, 45);
    EXPECT_NEAR(double(document().playhead()), double(at), 2) << "from where it was";
    ASSERT_TRUE(waitFor([&] { return document().playhead() > at + 3; }, 5000));
    // Many changes one after another, as a drag makes them, do not hold it up.
    QElapsedTimer clock;
    clock.start();
    const double from = player->position();
    for (int i = 0; clock.elapsed() < 600; ++i) {
        Project dragged = next;
        dragged.reel[0].placement.scale = 1 + 0.001 * i;
        document().drag(dragged);
        QTest::qWait(10);
    }
    double gone = player->position() - from;
    if (gone < 0) gone += 45;
    EXPECT_NEAR(gone, double(clock.elapsed()) / 1000 * 25, 5);
    document().cancelDrag();
    player->stop();
}

TEST_F(Playing, NothingPlaysInAnEmptyReel) {
    key(Qt::Key_Space);
    EXPECT_FALSE(m_window->services().player.isPlaying());
    for (auto* b : m_window->findChild<Transport*>()->findChildren<QToolButton*>()) EXPECT_FALSE(b->isEnabled());
}

TEST_F(Playing, AMissingFileIsToldInThePicture) {
    Project p = withOwnClips(plungeProject());
    p.media[0].path = m_folder / "gone.mp4";
    open(p);
    ASSERT_TRUE(waitFor([this] { return m_window->views().picture->shownFrame() == 0; }));
    EXPECT_TRUE(m_window->views().picture->image().isNull());
    document().setPlayhead(30);
    EXPECT_TRUE(waitFor([this] { return !m_window->views().picture->image().isNull(); })) << "the other clip is shown";
}

} // namespace
} // namespace virga::test::transport_test
