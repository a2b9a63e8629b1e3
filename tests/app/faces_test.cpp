// Subjects at a cut by real mouse events: found, followed, turned, corrected by hand on a frame; light copies of slow
// shots; the piece's background.
#include <QAction>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QTimer>
#include <cmath>
#include <random>

#include "app/picture/picture_view.h"
#include "app/reel/reel_view.h"
#include "app/style/controls.h"
#include "app/tray/tray_view.h"
#include "app/window/notice_bar.h"
#include "app/window/piece_dialog.h"
#include "app/window/project_files.h"
#include "app/window/settings_dialog.h"
#include "tests/app/window_fixture.h"

namespace virga::test::faces_test {
namespace {

// Blobs that drift to the right by 1.5 pixels a frame and grow a little: the same field everywhere in the file.
Image<Rgba8> driftingField(int n) {
    static constexpr int wide = 480, high = 260;
    static const auto field = [] { // once
        std::vector<float> values(wide * high, 90);
        std::mt19937 draw(9);
        for (int i = 0; i < 420; ++i) {
            const int x = int(draw() % wide), y = int(draw() % high), r = 3 + int(draw() % 9);
            const auto value = float(40 + draw() % 200);
            for (int v = std::max(0, y - r); v < std::min(high, y + r); ++v)
                for (int u = std::max(0, x - r); u < std::min(wide, x + r); ++u)
                    if (std::hypot(u - x, v - y) < r) values[std::size_t(v * wide + u)] = value;
        }
        return values;
    }();
    Image<Rgba8> picture(320, 180);
    const double scale = 1 + 0.002 * n;
    for (int y = 0; y < 180; ++y)
        for (int x = 0; x < 320; ++x) {
            const double u = (x - 160 - 1.5 * n) / scale + 280, v = (y - 90) / scale + 130;
            const int i = int(u), j = int(v);
            const float a = float(u - i), b = float(v - j);
            const float* f = &field[std::size_t(j * wide + i)];
            const float value = (f[0] * (1 - a) + f[1] * a) * (1 - b) + (f[wide] * (1 - a) + f[wide + 1] * a) * b;
            const auto code = std::uint8_t(value);
            picture.at(x, y) = {code, code, code, 255};
        }
    return picture;
}

class FacesWindow : public WindowTest {
protected:
    void SetUp() override {
        WindowTest::SetUp();
        writeClip(m_folder / "c.mp4", {320, 180}, 25, 60, driftingField, 6);
        Project p = withOwnClips(twoClips());
        for (Media& media : p.media) media.path = m_folder / "c.mp4", media.duration = Rational(60, 25);
        for (Clip& clip : p.reel) clip.length = 25;
        p.reel[0].sourceIn = 0;
        p.reel[1].sourceIn = Rational(30, 25);
        open(p);
        settle();
        action("Faces")->trigger();
        ASSERT_TRUE(waitFor([&] { return faces()->isReady(); }, 10000));
    }
    PictureView* picture() { return m_window->views().picture; }
    Faces* faces() { return picture()->faces(); }
    void press(const char* text) { QTest::mouseClick(button(text), Qt::LeftButton); }
    using WindowTest::press;
};

TEST_F(FacesWindow, FindsWhatBothShotsShowAndLinesItUp) {
    press("Find");
    ASSERT_TRUE(waitFor([&] { return project().reel[1].subjectIn.has_value(); }, 20000));
    EXPECT_EQ(document().undoStack()->undoText(), "find the subject");
    const Subject out = *project().reel[0].subjectOut, in = *project().reel[1].subjectIn;
    // Frame 24 of the file on one side, frame 30 on the other.
    const double grown = (1 + 0.002 * 30) / (1 + 0.002 * 24);
    EXPECT_NEAR(in.size / out.size, grown, 0.01);
    const double u = (out.at.x * 320 - 160 - 1.5 * 24) / (1 + 0.002 * 24), x = u * (1 + 0.002 * 30) + 160 + 1.5 * 30;
    EXPECT_NEAR(in.at.x * 320, x, 1);
    press("Line up");
    EXPECT_LT(QLineF(faces()->markOf(Side::Outgoing), faces()->markOf(Side::Incoming)).length(), 0.1);
    EXPECT_NEAR(project().reel[1].placement.scale, 1 / grown, 0.01);
}

TEST_F(FacesWindow, ATurnedMarkTurnsTheShot) {
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const QPointF at = faces()->markOf(side);
        drag(picture(), at, at + QPointF(5, 5));
    }
    const QPointF at = faces()->markOf(Side::Incoming), knob = faces()->knobOf(Side::Incoming);
    const double radius = QLineF(at, knob).length();
    drag(picture(), knob, at + QPointF(0, radius)); // a quarter, clockwise
    EXPECT_NEAR(project().reel[1].subjectIn->angle, 90, 1);
    press("Line up");
    EXPECT_NEAR(project().reel[1].placement.angle, -90, 1);
    document().undoStack()->undo();
    EXPECT_EQ(project().reel[1].placement.angle, 0);
}

// A subject that is twice as large in the second shot makes it half as large: its copies stand at its edges.
TEST_F(FacesWindow, SaysWhatALinedUpShotLeavesOpen) {
    const QPointF at = faces()->markOf(Side::Incoming), out = faces()->markOf(Side::Outgoing);
    drag(picture(), out, out + QPointF(3, 0));
    const double radius = QLineF(at, faces()->knobOf(Side::Incoming)).length();
    drag(picture(), at + QPointF(0, -radius), at + QPointF(0, -2.2 * radius));
    QStringList told;
    QObject::connect(faces(), &Faces::told, m_window.get(), [&](const QString& text) { told << text; });
    press("Line up");
    EXPECT_NEAR(project().reel[1].placement.scale, 1 / 2.2, 0.05);
    ASSERT_TRUE(waitFor([&] { return !told.isEmpty(); }, 10000));
    EXPECT_TRUE(told[0].startsWith("Lined up. Copies fill")) << told[0].toStdString();
    EXPECT_TRUE(told[0].contains("Flow offers: Scale both shots at cut 1")) << told[0].toStdString();
    told.clear();
    press("Line up"); // once more: nothing new
    EXPECT_FALSE(waitFor([&] { return !told.isEmpty(); }, 700));
}

TEST_F(FacesWindow, FollowsTheSubjectAndIsCorrectedOnAnyFrame) {
    const QPointF at = faces()->markOf(Side::Incoming);
    drag(picture(), at, at + QPointF(-picture()->outline().width() * 0.2, 0));
    press("Follow");
    ASSERT_TRUE(waitFor([&] { return !project().reel[1].subjectIn->path.empty(); }, 30000));
    EXPECT_EQ(document().undoStack()->undoText(), "follow the subject");
    const auto& path = project().reel[1].subjectIn->path;
    EXPECT_EQ(path.size(), 25u);
    const double moved = (path.back().at.x - path.front().at.x) * 320;
    EXPECT_NEAR(moved, 1.5 * 24, 4) << "it drifts by 1.5 pixels a frame, and grows about the middle";
    // In the frame's own view, ten frames on, its mark is dragged.
    action("Frame")->trigger();
    document().setPlayhead(35);
    settle();
    const QPointF mark = picture()->handles()->placeOf({PictureHandles::Mark, 0});
    drag(picture(), mark, mark + QPointF(18, 0));
    EXPECT_EQ(document().undoStack()->undoText(), "correct the subject");
    const SubjectSpot spot = spotAt(*project().reel[1].subjectIn, sourceTime(project(), project().reel[1], 10));
    EXPECT_TRUE(spot.byHand);
    EXPECT_NEAR(picture()->handles()->placeOf({PictureHandles::Mark, 0}).x(), mark.x() + 18, 1.5);
    EXPECT_EQ(project().reel[1].placement, Placement()) << "the shot itself stays where it is";
}

TEST_F(FacesWindow, WhereNothingIsInCommonItSaysSo) {
    Project p = project();
    p.media[0].path = m_folder / "a.mp4";
    writeClip(m_folder / "flat.mp4", {320, 180}, 25, 60, [](int) { return Image<Rgba8>(320, 180); });
    p.media[1].path = m_folder / "flat.mp4";
    document().apply("other shots", p);
    settle();
    press("Find");
    ASSERT_TRUE(waitFor([&] { return m_window->notice()->isVisible(); }, 20000));
    EXPECT_FALSE(project().reel[0].subjectOut);
}

TEST_F(FacesWindow, TheClipItselfIsTurnedByItsRing) {
    action("Frame")->trigger();
    document().setPlayhead(30);
    settle();
    const QPointF knob = picture()->handles()->placeOf({PictureHandles::Ring, 0});
    const QPointF middle = picture()->outline().center();
    const QPointF arm = knob - middle;
    drag(picture(), knob, middle + QPointF(-arm.y(), arm.x())); // a quarter on
    EXPECT_NEAR(project().reel[1].placement.angle, 90, 1.5);
    EXPECT_EQ(document().undoStack()->undoText(), "spin on the picture");
}

class ThePiece : public WindowTest {};

TEST_F(ThePiece, HasABackgroundBeneathEverything) {
    Project p = withOwnClips(twoClips());
    p.reel[0].placement.scale = 0.5;
    p.reel[0].edges = EdgeFill::Empty;
    open(p);
    document().setPlayhead(3);
    settle();
    EXPECT_EQ(m_window->views().picture->image().pixelColor(4, 4), QColor(Qt::black));
    whenShown<PieceDialog>([&](PieceDialog* dialog) {
        auto* colour = dialog->findChild<QLineEdit*>({}, Qt::FindDirectChildrenOnly);
        for (QLineEdit* field : dialog->findChildren<QLineEdit*>())
            if (field->accessibleName().startsWith("Background")) colour = field;
        ASSERT_TRUE(colour);
        colour->selectAll();
        QTest::keyClicks(colour, "#336699");
        for (QPushButton* b : dialog->findChildren<QPushButton*>())
            if (b->text() == "Change the piece") QTest::mouseClick(b, Qt::LeftButton);
    });
    action("The piece's size, rate, background…")->trigger();
    settle();
    const QColor seen = m_window->views().picture->image().pixelColor(4, 4);
    EXPECT_NEAR(seen.red(), 0x33, 1);
    EXPECT_NEAR(seen.green(), 0x66, 1);
    EXPECT_NEAR(seen.blue(), 0x99, 1);
}

class SlowShots : public WindowTest {};

TEST_F(SlowShots, GetLightCopiesThatAreShownWhileEditingAndKeptForTheNextTime) {
    // No place to begin decoding at but its start: 640 x 360 x 500 pictures.
    writeClip(
        m_folder / "slow.mp4", {640, 360}, 25, 500,
        [](int n) {
            return numberedFrame({640, 360}, n);
        },
        600);
    Project p = withOwnClips(twoClips());
    for (Media& media : p.media)
        media.path = m_folder / "slow.mp4", media.size = {640, 360}, media.duration = Rational(20);
    open(p);
    Proxies* proxies = &m_window->services().proxies;
    ASSERT_TRUE(waitFor([&] { return proxies->stateOf(project().media[0]).kind == Proxies::State::Ready; }, 60000));
    EXPECT_TRUE(proxies->progressText().isEmpty()) << "all are made";
    const TrayModel* tray = m_window->views().tray->model();
    EXPECT_TRUE(tray->data(tray->index(0), Qt::ToolTipRole).toString().contains("a light copy is shown while editing"));
    settle();
    const QImage exact = m_window->views().picture->image();
    const auto disk = Proxies::onDisk();
    EXPECT_EQ(disk.files, 1);
    EXPECT_GT(disk.bytes, 1000);
    // Opened anew it is there at once, and nothing is made again.
    const auto made = QFileInfo(Proxies::folder()).lastModified();
    open(p);
    ASSERT_TRUE(waitFor([&] { return proxies->stateOf(project().media[0]).kind == Proxies::State::Ready; }, 5000));
    EXPECT_EQ(QFileInfo(Proxies::folder()).lastModified(), made);
    // At rest the exact picture is the shot itself, with copies or without.
    proxies->setOn(false);
    EXPECT_EQ(proxies->stateOf(project().media[0]).kind, Proxies::State::None);
    document().setPlayhead(3);
    settle();
    document().setPlayhead(0);
    settle();
    EXPECT_EQ(m_window->views().picture->image(), exact);
    proxies->setOn(true);
    ASSERT_TRUE(waitFor([&] { return proxies->stateOf(project().media[0]).kind == Proxies::State::Ready; }, 10000));
    // The settings tell of them, and take them from the disk.
    whenShown<SettingsDialog>([&](SettingsDialog* dialog) {
        for (QPushButton* b : dialog->findChildren<QPushButton*>())
            if (b->text() == "Remove") {
                EXPECT_TRUE(waitFor([&] { return b->isEnabled(); }, 5000));
                QTest::mouseClick(b, Qt::LeftButton);
            }
        EXPECT_TRUE(waitFor([] { return Proxies::onDisk().files == 0; }, 5000));
        dialog->accept();
    });
    action("Settings of the program…")->trigger();
    EXPECT_EQ(Proxies::onDisk().files, 0);
}

} // namespace
} // namespace virga::test::faces_test
