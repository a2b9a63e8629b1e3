#include "app/export/export_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>
#include <QUndoStack>

#include "core/check/at_rate.h"
#include "core/decode/probe.h"
#include "core/edit/carry_on.h"
#include "tests/app/window_fixture.h"

namespace virga::test::export_test {
namespace {

class ExportWindow : public WindowTest {
protected:
    // The dialog, which stays open beside the window.
    ExportDialog* openDialog() {
        QTest::mouseClick(button("Export…"), Qt::LeftButton);
        auto* dialog = m_window->findChild<ExportDialog*>();
        EXPECT_TRUE(dialog && dialog->isVisible());
        return dialog;
    }
    ExportQueue* queue() { return &m_window->services().exports; }
    const QueuedExport& last() { return queue()->all().back(); }
    void fileName(ExportDialog* dialog, const char* name) {
        auto* path = dialog->findChild<QLineEdit*>("exportPath");
        path->selectAll();
        QTest::keyClicks(path, at(name));
    }
    static void choose(ExportDialog* dialog, const char* box, const QString& text) {
        auto* combo = dialog->findChild<QComboBox*>(box);
        ASSERT_TRUE(combo);
        const int i = combo->findText(text, Qt::MatchStartsWith);
        ASSERT_GE(i, 0) << text.toStdString();
        combo->setFocus();
        QTest::keyClick(combo, Qt::Key_Home);
        for (int k = 0; k < i; ++k) QTest::keyClick(combo, Qt::Key_Down);
        ASSERT_EQ(combo->currentIndex(), i);
        emit combo->activated(i); // as a choice from the list does; keys do not say so in every style
    }
    static void press(QWidget* in, const QString& name) {
        for (auto* b : in->findChildren<QToolButton*>())
            if (b->text() == name) QTest::mouseClick(b, Qt::LeftButton);
    }
    bool isOver(int id) {
        return QTest::qWaitFor([&] { return !queue()->find(id) || queue()->find(id)->isOver(); }, 60000);
    }
    static QToolButton* toolButton(QWidget* in, const QString& name) { // the newest export's
        for (auto* b : in->findChildren<QToolButton*>())
            if (b->accessibleName() == name && b->isVisible()) return b;
        return nullptr;
    }
    static QPushButton* button2(QWidget* in, const QString& text) {
        for (auto* b : in->findChildren<QPushButton*>())
            if (b->text() == text) return b;
        return nullptr;
    }
    static QString textOf(ExportDialog* d, const char* called) {
        for (auto* l : d->findChildren<QLabel*>())
            if (l->accessibleName() == called && l->isVisible()) return l->text();
        return {};
    }
    static QString told(ExportDialog* d) { return textOf(d, "What is wrong"); }
    static QString row(ExportDialog* d) { return textOf(d, "How far it is"); } // the newest
};

// Frames that agree at the piece's rate and not at twice that: it is told, and matched by a press.
TEST_F(ExportWindow, WhatAHigherRateShowsIsToldAndMatched) {
    openPlunge();
    m_window->document()->apply("match", *withAllMatched(*m_window->document()->project(), 0, Match::ByHandle));
    ExportDialog* dialog = openDialog();
    const auto steps = [&] { return textOf(dialog, "What another rate shows"); };
    auto* match = button2(dialog, "Match frames and curves");
    ASSERT_TRUE(match);
    QTest::qWait(50);
    EXPECT_TRUE(steps().isEmpty()) << "at its own rate";
    EXPECT_FALSE(match->isVisible());
    choose(dialog, "exportRate", "60");
    ASSERT_TRUE(QTest::qWaitFor([&] { return match->isVisible(); }, 20000));
    EXPECT_TRUE(steps().contains("at cut 1; at the piece's own")) << steps().toStdString();
    QTest::mouseClick(match, Qt::LeftButton);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !match->isVisible(); }, 20000));
    EXPECT_TRUE(foundOnlyAt(*m_window->document()->project(), 60).empty());
    EXPECT_TRUE(steps().isEmpty());
    EXPECT_TRUE(told(dialog).isEmpty()) << told(dialog).toStdString();
    m_window->document()->undoStack()->undo();
    ASSERT_TRUE(QTest::qWaitFor([&] { return match->isVisible(); }, 20000)) << "and told again";
}

TEST_F(ExportWindow, WritesTheReelAndSaysSo) {
    openPlunge();
    ExportDialog* dialog = openDialog();
    fileName(dialog, "result");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_EQ(queue()->all().size(), 1u);
    ASSERT_TRUE(isOver(last().id));
    EXPECT_TRUE(row(dialog).startsWith("Done: 50 frames")) << row(dialog).toStdString();
    QTest::keyClick(dialog, Qt::Key_Escape);
    EXPECT_FALSE(dialog->isVisible());
    const auto info = probe(m_folder / "result.mp4");
    ASSERT_TRUE(info) << "the ending is added";
    EXPECT_EQ(info->video->frames, 50);
}

TEST_F(ExportWindow, TenBitsAndSharperShots) {
    openPlunge();
    ExportDialog* dialog = openDialog();
    fileName(dialog, "deep.mp4");
    for (const char* name : {"sharp", "around this cut"}) press(dialog, name);
    choose(dialog, "exportBits", "10 bit");
    const auto needs = [&] {
        for (auto* l : dialog->findChildren<QLabel*>())
            if (l->text().contains("MB of memory")) return true;
        return false;
    };
    EXPECT_TRUE(QTest::qWaitFor(needs, 10000)) << "what it needs is known before it starts";
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_TRUE(isOver(last().id));
    const auto info = probe(m_folder / "deep.mp4");
    ASSERT_TRUE(info) << row(dialog).toStdString();
    EXPECT_EQ(info->video->bitDepth, 10);
}

TEST_F(ExportWindow, TheFormatDecidesWhatCanBeChosen) {
    openPlunge();
    ExportDialog* dialog = openDialog();
    auto* alpha = dialog->findChild<QCheckBox*>("exportAlpha");
    EXPECT_FALSE(alpha->isEnabled()) << "H.264 cannot be seen through";
    choose(dialog, "exportFormat", "PNG");
    EXPECT_TRUE(alpha->isEnabled());
    EXPECT_TRUE(dialog->findChild<QLineEdit*>("exportPath")->text().endsWith(".png")) << "the ending follows";
    EXPECT_EQ(dialog->findChild<QComboBox*>("exportQuality")->currentText(), "lossless");
    fileName(dialog, "still.png");
    QTest::mouseClick(alpha, Qt::LeftButton, {}, QPoint(8, alpha->height() / 2));
    m_window->document()->setPlayhead(12);
    press(dialog, "this frame");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_TRUE(isOver(last().id));
    const auto info = probe(m_folder / "still_0012.png");
    ASSERT_TRUE(info) << row(dialog).toStdString();
    EXPECT_TRUE(info->video->still && info->video->alpha);
    press(dialog, "each cut");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_TRUE(isOver(last().id));
    EXPECT_TRUE(QFileInfo::exists(at("still_0025.png"))) << row(dialog).toStdString();
}

TEST_F(ExportWindow, CanBeCancelledWithoutATrace) {
    Project p = withOwnClips(plungeProject());
    p.settings.size = {1280, 720}; // long enough to be stopped
    open(p);
    ExportDialog* dialog = openDialog();
    fileName(dialog, "result.mp4");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    EXPECT_TRUE(QTest::qWaitFor([&] { return row(dialog).startsWith("frame"); }, 30000));
    const int id = last().id;
    QTest::mouseClick(toolButton(dialog, "Stop"), Qt::LeftButton);
    ASSERT_TRUE(isOver(id));
    EXPECT_TRUE(row(dialog).startsWith("Stopped"));
    EXPECT_FALSE(QFileInfo::exists(at("result.mp4")));
    QTest::mouseClick(toolButton(dialog, "Export it again"), Qt::LeftButton);
    ASSERT_TRUE(isOver(id));
    EXPECT_TRUE(row(dialog).startsWith("Done")) << row(dialog).toStdString();
    EXPECT_TRUE(QFileInfo::exists(at("result.mp4")));
    QTest::mouseClick(toolButton(dialog, "Take it off the list"), Qt::LeftButton);
    EXPECT_TRUE(queue()->all().empty());
}

TEST_F(ExportWindow, SeveralAreMadeOneAfterTheOtherWhileEditingGoesOn) {
    Project p = withOwnClips(plungeProject());
    p.settings.size = {640, 360};
    open(p);
    ExportDialog* dialog = openDialog();
    fileName(dialog, "one.mp4");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    QTest::mouseClick(button2(dialog, "Pause"), Qt::LeftButton);
    fileName(dialog, "two.mp4");
    choose(dialog, "exportPreset", "Draft");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_EQ(queue()->all().size(), 2u);
    const int first = queue()->all()[0].id, second = queue()->all()[1].id;
    EXPECT_TRUE(button("Export, paused"));
    QTest::qWait(300);
    const qint64 stood = queue()->find(first)->done;
    QTest::qWait(400);
    EXPECT_LE(queue()->find(first)->done, stood + 1) << "a pause is one";
    EXPECT_EQ(queue()->find(second)->state, QueuedExport::Waiting);
    // The same file twice at once makes no sense.
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    EXPECT_TRUE(told(dialog).contains("on the list already")) << told(dialog).toStdString();
    // Editing goes on; what is exported is the piece as it was.
    Project less = project();
    less.reel[1].length = 5;
    m_window->document()->apply("Shorten", less);
    QTest::mouseClick(button2(dialog, "Go on"), Qt::LeftButton);
    ASSERT_TRUE(isOver(first));
    ASSERT_TRUE(isOver(second));
    EXPECT_EQ(probe(m_folder / "one.mp4")->video->frames, 50);
    EXPECT_EQ(probe(m_folder / "two.mp4")->video->frames, 50);
    EXPECT_EQ(probe(m_folder / "two.mp4")->video->size, (Size{320, 180}));
    EXPECT_TRUE(button("Export…"));
}

TEST_F(ExportWindow, PartsAndNumbersAreWrittenToo) {
    openPlunge();
    ExportDialog* dialog = openDialog();
    press(dialog, "its cuts as parts");
    fileName(dialog, "reel.mp4");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_TRUE(isOver(last().id));
    for (const char* name : {"reel-cut-01.mp4", "reel-parts.otio", "reel-parts.edl"})
        EXPECT_TRUE(QFileInfo::exists(at(name))) << name << row(dialog).toStdString();
    press(dialog, "movement as numbers");
    EXPECT_TRUE(dialog->findChild<QLineEdit*>("exportPath")->text().endsWith(".json"));
    fileName(dialog, "moves.csv");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    ASSERT_TRUE(isOver(last().id));
    EXPECT_GT(QFileInfo(at("moves.csv")).size(), 1000);
}

TEST_F(ExportWindow, SaysWhatIsWrong) {
    openPlunge();
    ExportDialog* dialog = openDialog();
    auto* path = dialog->findChild<QLineEdit*>("exportPath");
    path->setText("/no/such/folder/x.mp4");
    QTest::mouseClick(button2(dialog, "Export"), Qt::LeftButton);
    EXPECT_TRUE(told(dialog).contains("choose another folder")) << told(dialog).toStdString();
    EXPECT_TRUE(queue()->all().empty());
}

TEST_F(ExportWindow, PresetsAreKept) {
    qputenv("XDG_CONFIG_HOME", m_folder.path().c_str());
    openPlunge();
    ExportDialog* dialog = openDialog();
    choose(dialog, "exportFormat", "ProRes");
    whenShown<QInputDialog>([](QWidget* ask) {
        QTest::keyClicks(ask->findChild<QLineEdit*>(), "Night crew");
        QTest::keyClick(ask, Qt::Key_Return);
    });
    QTest::mouseClick(button2(dialog, "Keep…"), Qt::LeftButton);
    const auto kept = presetsIn(presetFolder());
    ASSERT_EQ(kept.size(), 1u);
    EXPECT_EQ(kept[0].name, "Night crew");
    EXPECT_EQ(kept[0].delivery.format, DeliveryFormat::ProRes);
    choose(dialog, "exportPreset", "Upload");
    EXPECT_TRUE(dialog->findChild<QComboBox*>("exportFormat")->currentText().startsWith("H.264"));
    choose(dialog, "exportPreset", "Night crew");
    EXPECT_TRUE(dialog->findChild<QComboBox*>("exportFormat")->currentText().startsWith("ProRes"));
    QTest::mouseClick(button2(dialog, "Remove"), Qt::LeftButton);
    EXPECT_TRUE(presetsIn(presetFolder()).empty());
    qunsetenv("XDG_CONFIG_HOME");
}

TEST_F(ExportWindow, AnEmptyReelHasNothingToExport) {
    EXPECT_FALSE(button("Export…")->isEnabled());
}

} // namespace
} // namespace virga::test::export_test
