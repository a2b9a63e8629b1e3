// What a stranger's file says is shown as it is, and nothing of anybody else's is lost: names that are markup, a
// project that is open twice, a file that was exchanged meanwhile.
#include <QLabel>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>
#include <fstream>
#include <sys/stat.h>

#include "app/export/export_dialog.h"
#include "app/flow/limits_dialog.h"
#include "app/flow/plan_dialog.h"
#include "app/picture/picture_view.h"
#include "app/window/notice_bar.h"
#include "app/window/piece_dialog.h"
#include "app/window/project_files.h"
#include "app/window/tab_panel.h"
#include "core/base/file.h"
#include "core/base/file_lock.h"
#include "core/project/project_file.h"
#include "tests/app/window_fixture.h"

namespace virga::test::strangers_test {
namespace {

class Strangers : public WindowTest {
protected:
    // Presses the button with these words in the box that comes up, and keeps what it says.
    void answer(const QString& button) {
        whenShown<QMessageBox>([this, button](QMessageBox* box) {
            m_said = box->text();
            m_asked = true;
            for (QAbstractButton* b : box->buttons())
                if (b->text().remove('&') == button) return QTest::mouseClick(b, Qt::LeftButton);
            ADD_FAILURE() << "no button " << button.toStdString();
            box->reject();
        });
    }
    // Whatever holds the hostile words must not take them for markup.
    int everythingIsPlain(const char* where) {
        int found = 0;
        for (QWidget* w : QApplication::allWidgets()) {
            if (auto* label = qobject_cast<QLabel*>(w); label && label->text().contains("<img")) {
                ++found;
                EXPECT_EQ(label->textFormat(), Qt::PlainText) << where << ": " << label->text().toStdString();
            }
            EXPECT_FALSE(w->toolTip().contains("<img")) << where << ": " << w->toolTip().toStdString();
            found += w->toolTip().contains("&lt;img");
            EXPECT_FALSE(w->windowTitle().contains("<img") && w->windowTitle().contains('\n')) << where;
        }
        return found;
    }
    QString m_said;
    bool m_asked = false;
};

TEST_F(Strangers, NamesThatAreMarkupAreOnlyCharacters) {
    // A label that took this for markup would open the pipe, and wait for ever.
    const std::string pipe = at("pipe").toStdString();
    ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
    const std::string hostile = "<img src=\"file://" + pipe + "\"><b>bold</b>\n\u202e & [*]";
    Project p = plungeProject();
    p.name = hostile;
    for (Clip& c : p.reel) c.name = hostile;
    p.markers.push_back({"m1", 5, hostile});
    Adjustment a;
    a.id = "a1", a.name = hostile, a.start = 10, a.length = 20;
    p.adjustments.push_back(a);
    Media gone = p.media[0];
    gone.id = "gone", gone.path = (fs::path(at(".").toStdString()) / ("<img src='" + pipe + "'> & more.mp4"));
    p.media.push_back(gone);
    p.notes.push_back(hostile);
    open(p);
    settle();
    for (int tab = 0; tab <= Layout::ShutterTab; ++tab) {
        m_window->views().tabs->showTab(tab);
        QApplication::processEvents();
        everythingIsPlain("tab");
    }
    for (const Selection& s :
         {Selection{Selection::ClipSelected, 0, {}}, Selection{Selection::AdjustmentSelected, 0, {}},
          Selection{Selection::MarkerSelected, 0, {}}, Selection{Selection::CutSelected, 0, {}}}) {
        document().select(s);
        QApplication::processEvents();
        everythingIsPlain("selected");
    }
    m_window->windowLayout()->setAssembling(true);
    settle();
    everythingIsPlain("assembling");
    m_window->notice()->tell(QString::fromStdString(hostile), QString::fromStdString(hostile));
    EXPECT_GE(everythingIsPlain("notice"), 2);
    {
        ExportQueue queue;
        ExportDialog dialog(&document(), &queue, m_window.get());
        LimitsDialog limits(&document(), m_window.get());
        PieceDialog piece(&document(), m_window.get());
        for (QDialog* d :
             {static_cast<QDialog*>(&dialog), static_cast<QDialog*>(&limits), static_cast<QDialog*>(&piece)}) {
            d->show();
            QApplication::processEvents();
            everythingIsPlain("dialog");
            d->hide();
        }
    }
    EXPECT_TRUE(m_window->windowTitle().contains("<img")) << "it is shown, as it is";
    EXPECT_FALSE(m_window->windowTitle().contains('\n'));
    EXPECT_FALSE(m_window->windowTitle().contains(QChar(0x202e)));
}

TEST_F(Strangers, AProjectThatIsOpenTwiceSaysSo) {
    openPlunge();
    const QString file = at("p.virga");
    ASSERT_TRUE(m_window->files()->open(file));
    MainWindow second;
    answer("Open a copy");
    ASSERT_TRUE(second.files()->open(file));
    EXPECT_TRUE(m_asked);
    EXPECT_TRUE(m_said.contains("p.virga") && m_said.contains("since")) << m_said.toStdString();
    EXPECT_TRUE(second.document()->path().isEmpty()) << "a copy has no file yet";
    EXPECT_TRUE(second.document()->isModified());
    EXPECT_EQ(second.document()->project()->reel.size(), 2u);
    answer("Open read-only");
    ASSERT_TRUE(second.files()->open(file));
    EXPECT_TRUE(second.document()->isReadOnly());
    EXPECT_EQ(second.document()->path(), file);
    answer("Cancel");
    EXPECT_FALSE(second.files()->open(file));
    // Once the first window has let go, nobody is asked.
    document().undoStack()->setClean();
    m_window->files()->startNew();
    m_asked = false;
    ASSERT_TRUE(second.files()->open(file));
    EXPECT_FALSE(m_asked);
    EXPECT_FALSE(second.document()->isReadOnly());
    EXPECT_FALSE(FileLock::take(file.toStdString())) << "it is the second one's now";
}

TEST_F(Strangers, AFileThatSomebodyElseSavedIsNotReplacedWithoutAWord) {
    openPlunge();
    const std::string file = at("p.virga").toStdString();
    ASSERT_TRUE(m_window->files()->open(at("p.virga")));
    Project theirs = *loadProject(file);
    theirs.reel[0].name = "theirs";
    ASSERT_TRUE(saveProject(theirs, file)); // by a program that asks nobody
    const std::string held = *readFile(file);
    key(Qt::Key_Delete); // the move
    ASSERT_TRUE(document().isModified());
    answer("Cancel");
    EXPECT_FALSE(m_window->files()->save());
    EXPECT_TRUE(m_asked);
    EXPECT_TRUE(m_said.contains("differs")) << m_said.toStdString();
    EXPECT_EQ(*readFile(file), held);
    EXPECT_TRUE(document().isModified());
    answer("Replace it");
    EXPECT_TRUE(m_window->files()->save());
    EXPECT_NE(*readFile(file), held);
    EXPECT_FALSE(document().isModified());
    m_asked = false;
    key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(m_window->files()->save());
    EXPECT_FALSE(m_asked) << "it is this window's own now";
}

TEST_F(Strangers, AShotThatWasExchangedIsReported) {
    Project p = withOwnClips(plungeProject());
    p.media[0].fingerprint = "0123456789abcdef"; // of another file
    open(p);
    ASSERT_TRUE(waitFor([this] { return m_window->notice()->text().contains("not the file"); }));
    EXPECT_TRUE(m_window->notice()->text().contains("a.mp4")) << m_window->notice()->text().toStdString();
}

} // namespace
} // namespace virga::test::strangers_test
