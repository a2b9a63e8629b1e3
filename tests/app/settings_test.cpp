// What the program's user prefers: keys of the commands, large steps, lengths; kept from one start to the next.
#include <QAction>
#include <QFile>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>
#include <QTimer>
#include <QTreeWidget>
#include <set>

#include "app/commands/reel_commands.h"
#include "app/document/preferences.h"
#include "app/window/command_table.h"
#include "app/window/settings_dialog.h"
#include "app/window/shortcuts_dialog.h"
#include "tests/app/window_fixture.h"

namespace virga::test::settings_test {
namespace {

class UserSettings : public WindowTest {
protected:
    void SetUp() override {
        QSettings().remove("prefer");
        QSettings().remove("keys");
        WindowTest::SetUp();
    }
    void TearDown() override {
        WindowTest::TearDown();
        QSettings().remove("prefer");
        QSettings().remove("keys");
    }
    // Does something in a dialog while it is open.
    template <typename Dialog, typename Open, typename Work> void in(Open open, Work work) {
        bool done = false;
        whenShown<Dialog>([&](Dialog* dialog) {
            work(dialog);
            dialog->accept();
            done = true;
        });
        open();
        EXPECT_TRUE(done);
        m_window->activateWindow();
        (void)QTest::qWaitForWindowActive(m_window.get(), 1000);
    }
    static QPushButton* in(QWidget* dialog, const QString& text) {
        for (QPushButton* b : dialog->findChildren<QPushButton*>())
            if (b->text() == text) return b;
        return nullptr;
    }
    static void choose(QWidget* dialog, const QString& command) {
        QLineEdit* search = nullptr;
        for (QLineEdit* field : dialog->findChildren<QLineEdit*>())
            if (!field->isReadOnly()) search = field;
        ASSERT_TRUE(search);
        search->clear();
        QTest::keyClicks(search, command);
        auto* list = dialog->findChild<QTreeWidget*>();
        QTreeWidgetItem* only = nullptr;
        for (int i = 0; i < list->topLevelItemCount(); ++i)
            if (!list->topLevelItem(i)->isHidden()) {
                EXPECT_FALSE(only) << "one is left";
                only = list->topLevelItem(i);
            }
        ASSERT_TRUE(only);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(only).center());
        EXPECT_EQ(list->currentItem(), only);
    }
};

TEST_F(UserSettings, ACommandIsPutOnAnotherKeyAndKeptThere) {
    openPlunge();
    document().setPlayhead(10);
    in<ShortcutsDialog>([&] { action("Keys of the commands…")->trigger(); },
                        [&](ShortcutsDialog* dialog) {
                            choose(dialog, "One frame forward");
                            auto* keys = dialog->findChild<KeyField*>();
                            keys->setFocus();
                            QTest::keyClick(keys, Qt::Key_J);
                            QPushButton* set = in(dialog, "Put it on this key");
                            ASSERT_TRUE(set);
                            ASSERT_TRUE(set->isEnabled());
                            QTest::mouseClick(set, Qt::LeftButton);
                        });
    key(Qt::Key_J);
    EXPECT_EQ(document().playhead(), 11);
    key(Qt::Key_Right);
    EXPECT_EQ(document().playhead(), 11) << "no longer there";
    MainWindow other; // as after a restart
    for (const auto& command : other.commands()->all()) {
        if (command.path().endsWith("One frame forward")) {
            EXPECT_EQ(command.action->shortcut(), QKeySequence(Qt::Key_J));
        }
    }
}

TEST_F(UserSettings, ATakenKeyIsTakenOnlyWhenThatIsSaid) {
    openPlunge();
    in<ShortcutsDialog>([&] { action("Keys of the commands…")->trigger(); },
                        [&](ShortcutsDialog* dialog) {
                            choose(dialog, "One frame forward");
                            auto* keys = dialog->findChild<KeyField*>();
                            keys->setFocus();
                            QTest::keyClick(keys, Qt::Key_B);
                            EXPECT_FALSE(in(dialog, "Put it on this key"));
                            QPushButton* take = in(dialog, "Take it from there");
                            ASSERT_TRUE(take);
                            bool told = false;
                            for (QLabel* l : dialog->findChildren<QLabel*>()) told |= l->text().contains("Begins here");
                            EXPECT_TRUE(told) << "whose key it is";
                            QTest::mouseClick(take, Qt::LeftButton);
                        });
    EXPECT_TRUE(action("Begins here")->shortcut().isEmpty());
    EXPECT_EQ(action("One frame forward")->shortcut(), QKeySequence(Qt::Key_B));
    in<ShortcutsDialog>(
        [&] { action("Keys of the commands…")->trigger(); },
        [&](ShortcutsDialog* dialog) { QTest::mouseClick(in(dialog, "All as at first"), Qt::LeftButton); });
    EXPECT_EQ(action("Begins here")->shortcut(), QKeySequence(Qt::Key_B));
    EXPECT_EQ(action("One frame forward")->shortcut(), QKeySequence(Qt::Key_Right));
    EXPECT_TRUE(QSettings().childGroups().filter("keys").isEmpty()) << "nothing is kept that is as at first";
}

TEST_F(UserSettings, NoTwoCommandsShareAKeyAtFirst) {
    std::map<QString, QString> seen;
    for (const auto& command : m_window->commands()->all()) {
        if (command.usual.isEmpty()) continue;
        const QString keys = command.usual.toString(QKeySequence::PortableText);
        EXPECT_FALSE(seen.contains(keys))
            << keys.toStdString() << ": " << seen[keys].toStdString() << " and " << command.path().toStdString();
        seen[keys] = command.path();
    }
    EXPECT_GT(seen.size(), 60u);
}

// Written anew by VIRGA_WRITE_TOLD=1.
TEST_F(UserSettings, TheGuidesTableOfKeysIsTheProgramsOwn) {
    const QString begin = QStringLiteral("<!-- keys -->\n"), end = QStringLiteral("<!-- end of keys -->");
    QFile file(VIRGA_SOURCE_DIR "/docs/user-guide.md");
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    QString guide = QString::fromUtf8(file.readAll());
    file.close();
    const auto from = guide.indexOf(begin) + begin.size(), to = guide.indexOf(end);
    ASSERT_GT(from, begin.size());
    ASSERT_GE(to, from);
    const QString now = m_window->commands()->keysAsMarkdown();
    EXPECT_GT(now.count('\n'), 8);
    if (qEnvironmentVariableIsSet("VIRGA_WRITE_TOLD")) {
        guide.replace(from, to - from, now);
        ASSERT_TRUE(file.open(QIODevice::WriteOnly));
        file.write(guide.toUtf8());
    } else {
        EXPECT_EQ(guide.mid(from, to - from).toStdString(), now.toStdString());
    }
}

// Kept by versions whose commands had no ids.
TEST_F(UserSettings, KeysKeptUnderACommandsMenuAndNameStillHold) {
    QSettings().setValue("keys/Play | One frame forward", "J");
    MainWindow other;
    EXPECT_EQ(other.commands()->action("play.forward")->shortcut(), QKeySequence(Qt::Key_J));
    for (const Command& c : other.commands()->all())
        if (c.id == "play.forward") other.commands()->setKeys(c, c.usual);
    EXPECT_FALSE(QSettings().contains("keys/Play | One frame forward"));
}

TEST_F(UserSettings, EveryCommandHasAnIdOfItsOwn) {
    std::set<QString> ids;
    for (const Command& c : m_window->commands()->all()) {
        EXPECT_FALSE(c.id.isEmpty()) << c.path().toStdString();
        EXPECT_TRUE(ids.insert(c.id).second) << c.id.toStdString();
    }
}

TEST_F(UserSettings, StepsAndLengthsArePreferred) {
    openPlunge();
    document().setPlayhead(2);
    in<SettingsDialog>([&] { action("Settings of the program…")->trigger(); },
                       [&](SettingsDialog* dialog) {
                           for (NumberField* field : dialog->findChildren<NumberField*>()) {
                               if (field->accessibleName().startsWith("Frames that Shift")) type(field, "7");
                               if (field->accessibleName().startsWith("Seconds that a new adj")) type(field, "0.4");
                               if (field->accessibleName().startsWith("Seconds that a still")) type(field, "3");
                           }
                       });
    EXPECT_EQ(Preferences::kept(), (Preferences{3, 0.4, 7}));
    key(Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_EQ(document().playhead(), 9);
    document().select({});
    addAdjustment(document());
    EXPECT_EQ(project().adjustments.back().length, 10);
    Project p = project();
    p.media[0].still = true;
    document().apply("a still", p);
    placeMedia(document(), {p.media[0].id}, -1);
    EXPECT_EQ(project().reel.back().length, 75);
}

} // namespace
} // namespace virga::test::settings_test
