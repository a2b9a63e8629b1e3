// Tray, panels, beats, found cuts and edits made elsewhere, through the window.
#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QElapsedTimer>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QMessageBox>
#include <QPushButton>
#include <QSlider>
#include <QTimer>
#include <cmath>
#include <fstream>

#include "app/find_cuts/cut_strip.h"
#include "app/find_cuts/find_cuts_dialog.h"
#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/sound/beats_panel.h"
#include "app/tray/tray_model.h"
#include "app/tray/tray_view.h"
#include "app/window/media_files.h"
#include "app/window/notice_bar.h"
#include "app/window/project_files.h"
#include "app/window/tab_panel.h"
#include "core/audio/audio_reader.h"
#include "core/audio/wav.h"
#include "core/base/file.h"
#include "core/edit/layer_edits.h"
#include "tests/app/window_fixture.h"
#include "tests/support/pictures.h"

namespace virga::test::assembling_test {
namespace {

class Assembling : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        m_window->windowLayout()->setAssembling(true);
    }
    TrayView* tray() { return m_window->views().tray; }
    NumberField* field(const QString& name) {
        for (auto* f : m_window->findChildren<NumberField*>())
            if (f->accessibleName() == name && f->isVisible()) return f;
        ADD_FAILURE() << "no field " << name.toStdString();
        return nullptr;
    }
    void clicks(const char* name, double tempo, double first, double seconds) {
        std::vector<float> stereo(std::size_t(seconds * audioRate) * 2, 0.0f);
        for (double at = first; at < seconds - 0.1; at += 60 / tempo)
            for (int i = 0; i < 3000; ++i) {
                const auto k = 2 * (std::size_t(at * audioRate) + std::size_t(i));
                stereo[k] = stereo[k + 1] = float(0.7 * std::exp(-i / 900.0) * std::sin(i * 0.2));
            }
        ASSERT_TRUE(writeWav(m_folder / name, stereo));
    }
};

TEST_F(Assembling, TheTrayHoldsWhatIsNotPlacedAndSaysWhatIsWrong) {
    std::ofstream(m_folder / "letter.mp4") << "Dear editor";
    fs::copy(m_folder / "a.mp4", m_folder / "a again.mp4");
    dropFiles(tray(), {100, 100}, {at("a.mp4"), at("b.mp4"), at("letter.mp4"), at("a again.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().media.size() == 2 && !m_window->media()->isBusy(); }));
    EXPECT_TRUE(project().reel.empty()) << "brought in, not placed";
    EXPECT_EQ(tray()->model()->summary(), "2 shots, 1 unreadable");
    EXPECT_TRUE(m_window->notice()->text().contains("a again.mp4")) << "the copy was recognised";
    const QModelIndex bad = tray()->model()->index(2);
    EXPECT_TRUE(bad.data(TrayModel::Broken).toBool());
    EXPECT_TRUE(bad.data(Qt::ToolTipRole).toString().contains("not a video"));
    EXPECT_FALSE(tray()->model()->index(0).data(TrayModel::Placed).toBool());
    // A double click puts one at the reel's end.
    const QRect card = tray()->list()->visualRect(tray()->model()->index(1));
    click(tray()->list()->viewport(), card.center());
    doubleClick(tray()->list()->viewport(), card.center());
    ASSERT_EQ(project().reel.size(), 1u);
    EXPECT_EQ(project().reel[0].mediaId, project().media[1].id);
    EXPECT_EQ(project().settings.size, (Size{320, 180}));
    EXPECT_TRUE(tray()->model()->index(1).data(TrayModel::Placed).toBool());
    settle();
}

TEST_F(Assembling, FoldersAndPictureSequencesComeIn) {
    fs::create_directories(m_folder / "card/day 1");
    fs::copy(m_folder / "a.mp4", m_folder / "card/a.mp4");
    std::ofstream(m_folder / "card/notes.txt") << "not media";
    ASSERT_TRUE(ffmpeg("-i " + (m_folder / "b.mp4").string() + " -frames:v 12 '" +
                       (m_folder / "card/day 1/f_%03d.png").string() + "'"));
    dropFiles(tray(), {100, 100}, {at("card")});
    ASSERT_TRUE(waitFor([this] { return project().media.size() == 2 && !m_window->media()->isBusy(); }));
    const Media* sequence = nullptr;
    for (const Media& m : project().media)
        if (m.path.filename() == "f_[001-012].png") sequence = &m;
    ASSERT_TRUE(sequence);
    EXPECT_EQ(sequence->duration, Rational(12, 25));
    EXPECT_TRUE(m_window->notice()->text().isEmpty() || !m_window->notice()->isVisible())
        << "a text file is passed over";
    m_window->media()->takeApart(QString::fromStdString(sequence->id));
    EXPECT_TRUE(waitFor([this] { return project().media.size() == 13; })) << "taken as single pictures";
    settle();
}

TEST_F(Assembling, MissingFilesAreRelinked) {
    Project p = withOwnClips(twoClips());
    p.media[0].path = "/nowhere/one.mp4";
    p.media[1].path = "/nowhere/b.mp4";
    open(p);
    ASSERT_TRUE(waitFor([this] { return m_window->services().shelf.missing() == 1; })) << "b.mp4 lies near the project";
    EXPECT_TRUE(tray()->model()->summary().contains("1 missing"));
    EXPECT_TRUE(tray()->model()->index(0).data(TrayModel::Missing).toBool());
    m_window->media()->relink("media-1", at("a.mp4"));
    ASSERT_TRUE(waitFor([this] { return m_window->services().shelf.missing() == 0; }));
    EXPECT_EQ(project().media[0].path, m_folder / "a.mp4");
    EXPECT_EQ(document().undoStack()->undoText(), "relink");
    fs::create_directories(m_folder / "moved");
    fs::rename(m_folder / "a.mp4", m_folder / "moved/a.mp4");
    m_window->services().shelf.lookForMissing();
    ASSERT_TRUE(waitFor([this] { return m_window->services().shelf.missing() == 1; }));
    ASSERT_TRUE(button("Relink all…"));
    m_window->media()->relinkFrom(at("moved"));
    ASSERT_TRUE(waitFor([this] { return m_window->services().shelf.missing() == 0; }));
    EXPECT_EQ(project().media[0].path, m_folder / "moved/a.mp4");
    settle();
}

TEST_F(Assembling, CollectingCopiesEverythingBeside) {
    openPlunge(); // p.virga lies beside its files: nothing is asked
    m_window->media()->chooseCollect();
    ASSERT_TRUE(waitFor([this] { return !m_window->media()->isBusy(); }));
    EXPECT_EQ(project().media[0].path, m_folder / "p media/a.mp4");
    EXPECT_TRUE(fs::exists(m_folder / "p media/b.mp4"));
    EXPECT_EQ(document().undoStack()->undoText(), "collect media");
}

// A project that came from elsewhere may name any file of this machine.
TEST_F(Assembling, CollectingShowsWhatItTakesFromElsewhereAndAsks) {
    TemporaryFolder elsewhere;
    openPlunge();
    fs::copy_file(m_folder / "a.mp4", elsewhere / "private.mp4");
    Project p = project();
    p.media[0].path = elsewhere / "private.mp4";
    fs::create_symlink(elsewhere / "private.mp4", m_folder / "link.mp4");
    p.media[1].path = m_folder / "link.mp4"; // looks as if it lay beside the project
    document().apply("as it came", std::move(p));
    const auto ask = [this](QMessageBox::StandardButton button, QString* said) {
        said->clear();
        QTimer answers; // the question comes once it is known what lies where
        QObject::connect(&answers, &QTimer::timeout, [button, said] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!box) return;
            *said = box->text() + box->informativeText() + box->detailedText();
            QTest::mouseClick(box->button(button), Qt::LeftButton);
        });
        answers.start(20);
        m_window->media()->chooseCollect();
        ASSERT_TRUE(waitFor([&] { return !said->isEmpty() && !QApplication::activeModalWidget(); }));
    };
    QString said;
    ask(QMessageBox::Cancel, &said);
    EXPECT_TRUE(said.startsWith("2 files from outside")) << said.toStdString();
    EXPECT_TRUE(said.contains(QString::fromStdString(fs::canonical(elsewhere.path()).string()))) << said.toStdString();
    EXPECT_TRUE(said.contains("link.mp4 (a link to")) << said.toStdString();
    EXPECT_FALSE(fs::exists(m_folder / "p media")) << "nothing was copied";
    ask(QMessageBox::Yes, &said);
    ASSERT_TRUE(waitFor([this] { return !m_window->media()->isBusy(); }));
    EXPECT_TRUE(fs::exists(m_folder / "p media/private.mp4"));
}

TEST_F(Assembling, TheClipPanelFitsCropsAndSpeedsAllChosenClips) {
    openPlunge();
    m_window->views().tabs->showTab(Layout::ClipTab);
    key(Qt::Key_A, Qt::ControlModifier);
    type(field("Own scale"), "120");
    EXPECT_DOUBLE_EQ(project().reel[0].placement.scale, 1.2);
    EXPECT_DOUBLE_EQ(project().reel[1].placement.scale, 1.2) << "all chosen ones";
    type(field("Position across, in frame widths"), "1/4");
    EXPECT_DOUBLE_EQ(project().reel[1].placement.position.x, 0.25);
    type(field("Speed"), "50");
    EXPECT_EQ(project().reel[0].speed, Rational(1, 2));
    EXPECT_EQ(project().reel[0].length, 50);
    type(field("Crop left"), "10");
    EXPECT_NEAR(project().reel[0].crop.left, 0.1, 1e-9);
    type(field("Crop right"), "90");
    EXPECT_EQ(project().reel[0].crop.right, 0) << "nothing would be left";
}

TEST_F(Assembling, BarsAreFoundAndCropped) {
    ASSERT_TRUE(
        ffmpeg("-f lavfi -i testsrc2=size=200x240:rate=25:duration=2 -vf pad=426:240:113:0:black -pix_fmt yuv420p " +
               (m_folder / "upright.mp4").string()));
    m_window->addFiles({at("upright.mp4"), at("a.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2; }));
    document().select({Selection::ClipSelected, 0, {}});
    m_window->views().tabs->showTab(Layout::ClipTab);
    bringIntoSight(button("Find bars"));
    click(button("Find bars"), {10, 8});
    ASSERT_TRUE(waitFor([this] { return !project().reel[0].crop.isEmpty(); }));
    EXPECT_NEAR(project().reel[0].crop.left * 426, 113, 4);
    EXPECT_TRUE(project().reel[1].crop.isEmpty());
    EXPECT_EQ(document().undoStack()->undoText(), "crop bars");
    document().select({Selection::ClipSelected, 1, {}});
    click(button("Find bars"), {10, 8});
    EXPECT_TRUE(waitFor([this] { return m_window->notice()->text().contains("no bars"); }));
    settle();
}

TEST_F(Assembling, TheCutPanelOverlapsAndCrossfades) {
    openPlunge();
    m_window->views().tabs->showTab(Layout::ClipTab);
    document().select({Selection::CutSelected, 0, {}});
    type(field("Overlap before the cut"), "3");
    type(field("Overlap after the cut"), "30");
    EXPECT_EQ(transitionAt(project(), 0).overlap, (Overlap{3, 30}));
    bool said = false;
    for (auto* l : m_window->findChildren<QLabel*>())
        said = said || (l->isVisible() && l->text().contains("25 spare frames of 30"));
    EXPECT_TRUE(said) << "what is missing is said at once";
    type(field("Crossfade frames"), "8");
    click(button("Crossfade"), {10, 8});
    EXPECT_EQ(transitionAt(project(), 0).overlap, (Overlap{4, 4}));
}

TEST_F(Assembling, AnOverlayComesInAndGoesOut) {
    open(withOverlayAdded(withOwnClips(twoClips()), "media-1", 10));
    m_window->windowLayout()->setAssembling(true);
    document().select({Selection::OverlaySelected, 0, {}});
    m_window->views().tabs->showTab(Layout::ClipTab);
    QComboBox* entrance = nullptr;
    for (auto* box : m_window->findChildren<QComboBox*>())
        if (box->accessibleName() == "Entrance" && box->isVisible()) entrance = box;
    ASSERT_TRUE(entrance);
    entrance->setFocus();
    QTest::keyClick(entrance, Qt::Key_Down);
    QTest::keyClick(entrance, Qt::Key_Down);
    EXPECT_EQ(entranceOf(project().overlays[0], Side::Incoming), Entrance::PopUp);
    type(field("Entrance frames"), "12");
    int frames = 0;
    EXPECT_EQ(entranceOf(project().overlays[0], Side::Incoming, &frames), Entrance::PopUp);
    EXPECT_EQ(frames, 12);
}

TEST_F(Assembling, BeatsAreFoundCorrectedAndCutTo) {
    clicks("song.wav", 120, 0.25, 30);
    openPlunge();
    m_window->addFiles({at("song.wav")});
    ASSERT_TRUE(waitFor([this] { return project().music.size() == 1; }));
    m_window->views().tabs->showTab(Layout::BeatsTab);
    click(button("Find the beats"), {10, 8});
    ASSERT_TRUE(waitFor([this] { return project().music[0].tempo.has_value(); }));
    EXPECT_NEAR(project().music[0].tempo->beatsPerMinute, 120, 0.5);
    EXPECT_NEAR(project().music[0].tempo->firstBeat.toDouble(), 0.25, 0.02);
    click(button("× 2"), {8, 8});
    EXPECT_NEAR(project().music[0].tempo->beatsPerMinute, 240, 1);
    click(button("÷ 2"), {8, 8});
    document().setPlayhead(10); // 0.4 s; the nearest beat is at 0.25 s
    click(button("here"), {8, 8});
    EXPECT_NEAR(project().music[0].tempo->firstBeat.toDouble(), 0.4, 0.02);
    type(field("Beats per minute"), "125");
    EXPECT_DOUBLE_EQ(project().music[0].tempo->beatsPerMinute, 125);
    type(field("First beat, seconds into the music"), "0");
    type(field("Cut to every so many beats"), "2");
    document().select({});
    click(button("Cut to beats"), {8, 8});
    EXPECT_EQ(clipStarts(project()), (std::vector<std::int64_t>{0, 24, 48}));
}

TEST_F(Assembling, TappingGivesATempo) {
    clicks("song.wav", 120, 0.25, 10);
    openPlunge();
    m_window->addFiles({at("song.wav")});
    ASSERT_TRUE(waitFor([this] { return project().music.size() == 1; }));
    // However late this machine lets single taps be, the tempo is that of the taps.
    QElapsedTimer clock;
    clock.start();
    std::vector<double> taps;
    for (int i = 0; i < 6; ++i) {
        taps.push_back(double(clock.nsecsElapsed()) * 1e-9);
        key(Qt::Key_T);
        if (i < 5) QTest::qWait(300);
    }
    ASSERT_TRUE(project().music[0].tempo.has_value());
    double shortest = 1e9, longest = 0;
    for (std::size_t i = 1; i < taps.size(); ++i) {
        shortest = std::min(shortest, taps[i] - taps[i - 1]);
        longest = std::max(longest, taps[i] - taps[i - 1]);
    }
    EXPECT_GE(project().music[0].tempo->beatsPerMinute, 0.94 * 60 / longest);
    EXPECT_LE(project().music[0].tempo->beatsPerMinute, 1.06 * 60 / shortest);
}

TEST_F(Assembling, FramesOfAnotherShotLeftInATrimAreToldAndTrimmed) {
    writeClip(m_folder / "card.mp4", {320, 180}, 25, 43, [](int n) {
        return texturedPicture({320, 180}, n < 40 ? 50 : 90);
    });
    openPlunge();
    m_window->addFiles({at("card.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 3 && project().reel[2].shot; }, 60000));
    EXPECT_EQ(project().reel[2].shot->to, Rational(40, 25));
    EXPECT_EQ(document().undoStack()->count(), 1) << "what was found out is no step of its own";
    document().select({Selection::ClipSelected, 2, {}});
    m_window->windowLayout()->setAssembling(false);
    ASSERT_TRUE(waitFor([this] { return button("Trim it") != nullptr; }));
    QTest::mouseClick(button("Trim it"), Qt::LeftButton);
    EXPECT_EQ(project().reel[2].length, 40);
    EXPECT_TRUE(waitFor([this] { return button("Trim it") == nullptr; }));
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(project().reel[2].length, 43);
    EXPECT_TRUE(waitFor([this] { return button("Trim it") != nullptr; })) << "undo brings the frames back";
}

TEST_F(Assembling, BurntInBarsAreFoundToldAndCropped) {
    writeClip(m_folder / "wide.mp4", {320, 180}, 25, 40, [](int n) {
        Image<Rgba8> picture = texturedPicture({320, 180}, 50 + unsigned(n));
        for (int y = 0; y < 180; ++y)
            if (y < 22 || y >= 158)
                for (int x = 0; x < 320; ++x) picture.at(x, y) = {0, 0, 0, 255};
        return picture;
    });
    openPlunge();
    m_window->addFiles({at("wide.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 3 && project().media.back().bars; }, 60000))
        << "its thread gives way to all others";
    EXPECT_NEAR(project().media.back().bars->top, 0.125, 0.012);
    EXPECT_EQ(document().undoStack()->count(), 1) << "what was found out is no step of its own";
    const auto* tray = m_window->findChild<QListView*>("tray");
    EXPECT_TRUE(tray->model()->index(2, 0).data(TrayModel::Facts).toString().contains("black bars"));
    // Once something moves at its cut the check tells, and crops them.
    document().apply("move", withMove(project(), 1, MoveKind::Zoom, 0, 1, 1.75, 8, 0.6, 1, 8));
    document().select({Selection::CutSelected, 1, {}});
    m_window->windowLayout()->setAssembling(false);
    ASSERT_TRUE(waitFor([this] { return button("Crop the bars") != nullptr; }));
    QTest::mouseClick(button("Crop the bars"), Qt::LeftButton);
    EXPECT_NEAR(project().reel[2].crop.top, 0.125, 0.012);
    EXPECT_TRUE(waitFor([this] { return button("Crop the bars") == nullptr; }));
    // The clip's own panel offers the same.
    key(Qt::Key_Z, Qt::ControlModifier);
    document().select({Selection::ClipSelected, 2, {}});
    key(Qt::Key_2, Qt::ControlModifier);
    ASSERT_TRUE(button("Crop bars"));
    QTest::mouseClick(button("Crop bars"), Qt::LeftButton);
    EXPECT_NEAR(project().reel[2].crop.top, 0.125, 0.012);
    EXPECT_TRUE(button("Find bars")) << "to look again";
    // Undone to before it was known, it is known again at once, and nothing is searched twice.
    for (int i = 0; i < 3; ++i) key(Qt::Key_Z, Qt::ControlModifier);
    for (int i = 0; i < 1; ++i) key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    ASSERT_EQ(project().reel.size(), 3u);
    EXPECT_TRUE(waitFor([this] { return project().media.back().bars.has_value(); }, 3000));
    settle();
}

TEST_F(Assembling, FoundCutsAreCorrectedAndSplit) {
    // Three shots of very different colour, 20, 15 and 25 frames.
    writeClip(m_folder / "flat.mp4", {320, 180}, 25, 60, [](int n) {
        const int shot = n < 20 ? 0 : n < 35 ? 1 : 2;
        Image<Rgba8> picture = texturedPicture({320, 180}, unsigned(40 + shot));
        return picture;
    });
    m_window->addFiles({at("flat.mp4")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 1; }));
    FindCutsDialog dialog(&document(), new Thumbnails(m_window.get()), project().media[0].id, m_window.get());
    dialog.open();
    dialog.activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&dialog)); // or the main window's shortcuts would take the keys
    ASSERT_TRUE(waitFor([&] { return !dialog.isSearching(); }));
    EXPECT_EQ(dialog.chosen(), (std::vector<std::int64_t>{20, 35}));
    // One more by hand, one moved by a picture, one left out and taken again.
    for (auto* f : dialog.findChildren<NumberField*>())
        if (f->accessibleName() == "Add a cut at picture") type(f, "50");
    EXPECT_EQ(dialog.chosen(), (std::vector<std::int64_t>{20, 35, 50}));
    QTest::keyClick(dialog.strip(), Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_EQ(dialog.chosen(), (std::vector<std::int64_t>{20, 35, 51}));
    QTest::mouseClick(dialog.strip(), Qt::LeftButton, {}, dialog.strip()->cardRect(0).center());
    EXPECT_EQ(dialog.chosen(), (std::vector<std::int64_t>{35, 51}));
    QTest::mouseClick(dialog.strip(), Qt::LeftButton, {}, dialog.strip()->cardRect(0).center());
    dialog.accept();
    EXPECT_EQ(clipStarts(project()), (std::vector<std::int64_t>{0, 20, 35, 51, 60})) << "no frame lost";
    for (std::size_t i = 0; i < 4; ++i)
        EXPECT_EQ(project().reel[i].sourceIn, Rational(clipStart(project(), int(i)), 25));
    EXPECT_EQ(document().undoStack()->undoText(), "split at found cuts");
    settle();
}

TEST_F(Assembling, EditsMadeElsewhereAreReadAndWritten) {
    openPlunge();
    m_window->media()->writeEdit(at("out.otio"));
    m_window->media()->writeEdit(at("out.edl"));
    EXPECT_TRUE(m_window->notice()->text().contains("moves")) << "what a list cannot hold is said";
    const std::string list = readFile(m_folder / "out.edl").value();
    EXPECT_NE(list.find("* FROM CLIP NAME: a.mp4"), std::string::npos);
    m_window->files()->startNew();
    m_window->document()->startNew();
    dropFiles(tray(), {100, 100}, {at("out.edl")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2 && !m_window->media()->isBusy(); }));
    EXPECT_EQ(project().media[0].path, m_folder / "a.mp4") << "found where the list lies";
    ASSERT_TRUE(waitFor([this] { return project().media[0].duration == Rational(3); })) << "and read";
    EXPECT_EQ(project().reel[1].sourceIn, Rational(1));
    EXPECT_EQ(document().undoStack()->count(), 1) << "one step";
    dropFiles(tray(), {100, 100}, {at("out.otio")});
    ASSERT_TRUE(waitFor([this] { return project().reel.size() == 2 && !project().reel[1].transition.moves.empty(); }))
        << "a timeline brings the moves along";
    std::ofstream(m_folder / "bad.otio") << "{\n \"OTIO_SCHEMA\": \"Timeline.1\",\n oops";
    const Project before = project();
    dropFiles(tray(), {100, 100}, {at("bad.otio")});
    ASSERT_TRUE(waitFor([this] { return !m_window->media()->isBusy(); }));
    EXPECT_TRUE(m_window->notice()->text().contains("line 3")) << m_window->notice()->text().toStdString();
    EXPECT_EQ(project(), before);
    settle();
}

TEST_F(Assembling, TheLayoutGoesAndComesBack) {
    openPlunge();
    EXPECT_TRUE(m_window->windowLayout()->isAssembling());
    EXPECT_GE(m_window->views().reel->height(), 290);
    key(Qt::Key_F6);
    EXPECT_FALSE(m_window->windowLayout()->isAssembling());
    EXPECT_LT(m_window->views().reel->height(), 200);
    key(Qt::Key_F6);
    EXPECT_GE(m_window->views().reel->height(), 290);
    EXPECT_EQ(m_window->views().tabs->current(), Layout::TrayTab);
}

} // namespace
} // namespace virga::test::assembling_test
