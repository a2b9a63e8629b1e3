#include "app/export/export_dialog.h"

#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>

#include "core/media/probe.h"
#include "tests/app/window_fixture.h"

namespace virga::test {
namespace {

class ExportWindow : public WindowTest {
protected:
    // Drives the open dialog from inside its own event loop.
    void inDialog(const std::function<void(ExportDialog*)>& act) {
        QTimer::singleShot(100, m_window.get(), [act] {
            auto* dialog = qobject_cast<ExportDialog*>(QApplication::activeModalWidget());
            ASSERT_TRUE(dialog);
            act(dialog);
        });
        QTest::mouseClick(button("Export…"), Qt::LeftButton);
    }
    static QPushButton* button2(QWidget* in, const QString& text) {
        for (auto* b : in->findChildren<QPushButton*>())
            if (b->text() == text) return b;
        return nullptr;
    }
    static QString state(ExportDialog* d) { return d->findChild<QLabel*>("exportState")->text(); }
};

TEST_F(ExportWindow, WritesTheReelAndSaysSo) {
    openPlunge();
    inDialog([this](ExportDialog* dialog) {
        auto* path = dialog->findChild<QLineEdit*>("exportPath");
        path->selectAll();
        QTest::keyClicks(path, at("result"));
        QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
        EXPECT_TRUE(QTest::qWaitFor([&] { return state(dialog).startsWith("Done"); }, 60000))
            << state(dialog).toStdString();
        EXPECT_TRUE(state(dialog).contains("50 frames"));
        QTest::keyClick(dialog, Qt::Key_Escape);
    });
    const auto info = probe(m_folder / "result.mp4");
    ASSERT_TRUE(info) << "the ending is added";
    EXPECT_EQ(info->video->frames, 50);
}

TEST_F(ExportWindow, TenBitsAndSharperShots) {
    openPlunge();
    inDialog([this](ExportDialog* dialog) {
        dialog->findChild<QLineEdit*>("exportPath")->setText(at("deep.mp4"));
        for (const char* name : {"10 bit", "sharp", "around this cut"})
            for (auto* b : dialog->findChildren<QToolButton*>())
                if (b->text() == name) QTest::mouseClick(b, Qt::LeftButton);
        bool needs = false;
        for (auto* l : dialog->findChildren<QLabel*>()) needs |= l->text().contains("MB of memory");
        EXPECT_TRUE(needs) << "what it needs is known before it starts";
        QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
        EXPECT_TRUE(QTest::qWaitFor([&] { return state(dialog).startsWith("Done"); }, 60000))
            << state(dialog).toStdString();
        QTest::keyClick(dialog, Qt::Key_Escape);
    });
    const auto info = probe(m_folder / "deep.mp4");
    ASSERT_TRUE(info);
    EXPECT_EQ(info->video->bitDepth, 10);
}

TEST_F(ExportWindow, CanBeCancelledWithoutATrace) {
    Project p = withOwnClips(plungeProject());
    p.settings.size = {1280, 720}; // long enough to be stopped
    open(p);
    inDialog([this](ExportDialog* dialog) {
        dialog->findChild<QLineEdit*>("exportPath")->setText(at("result.mp4"));
        QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
        EXPECT_TRUE(QTest::qWaitFor([&] { return state(dialog).startsWith("frame"); }, 30000));
        QTest::mouseClick(button2(dialog, "Cancel"), Qt::LeftButton);
        EXPECT_TRUE(QTest::qWaitFor([&] { return state(dialog).startsWith("Stopped"); }, 30000));
        EXPECT_TRUE(dialog->isVisible()) << "the first click stops the work only";
        QTest::keyClick(dialog, Qt::Key_Escape);
    });
    EXPECT_FALSE(QFileInfo::exists(at("result.mp4")));
}

TEST_F(ExportWindow, SaysWhatIsWrong) {
    openPlunge();
    inDialog([](ExportDialog* dialog) {
        dialog->findChild<QLineEdit*>("exportPath")->setText("/no/such/folder/x.mp4");
        QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
        EXPECT_TRUE(QTest::qWaitFor([&] { return state(dialog).contains("choose another folder"); }, 30000))
            << state(dialog).toStdString();
        QTest::keyClick(dialog, Qt::Key_Escape);
    });
}

TEST_F(ExportWindow, AnEmptyReelHasNothingToExport) {
    EXPECT_FALSE(button("Export…")->isEnabled());
}

} // namespace
} // namespace virga::test
