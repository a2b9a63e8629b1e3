#pragma once
// A real main window with two numbered clips at hand, driven by real mouse and key events.
#include <QApplication>
#include <QTest>
#include <gtest/gtest.h>
#include <memory>

#include "app/shell/main_window.h"
#include "app/style/number_field.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"

class QAction;
class QDialog;
class QPushButton;
class QToolButton;

namespace virga::test {

class WindowTest : public testing::Test {
protected:
    void SetUp() override;
    void TearDown() override;

    /// Opens a project with the two clips and, where given, its moves.
    void openPlunge();
    void openStill();
    void open(const Project& project);
    Project withOwnClips(Project project) const;

    bool waitFor(const std::function<bool()>& condition, int milliseconds = 20000);
    void settle() {
        EXPECT_TRUE(waitFor([this] { return m_window->isSettled(); }, 60000)) << "the window came to rest";
    }

    /// Acts in a dialog that is open for as long as `open` runs it.
    void inDialog(const std::function<void(QDialog*)>& act, const std::function<void()>& open);
    void press(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers = {},
               Qt::MouseButton button = Qt::LeftButton);
    void moveTo(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers = {});
    void release(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers = {},
                 Qt::MouseButton button = Qt::LeftButton);
    void click(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers = {});
    void doubleClick(QWidget* widget, QPointF at);
    void drag(QWidget* widget, QPointF from, QPointF to, Qt::KeyboardModifiers modifiers = {});
    void key(int k, Qt::KeyboardModifiers modifiers = {});
    void type(NumberField* field, const QString& text);
    /// A file dropped on a widget, as a file manager does it.
    void dropFiles(QWidget* widget, QPoint at, const QStringList& paths);
    /// Scrolls a panel to a widget that lies beyond what is seen of it.
    void bringIntoSight(QWidget* widget);
    /// The visible button with that text, or null.
    QPushButton* button(const QString& text) const;
    QAction* action(const QString& text) const;

    Document& document() { return *m_window->document(); }
    const Project& project() { return *m_window->document()->project(); }
    const Curve& curve(Side side, int move = 0, int channel = 0) {
        return curveAt(project(), {document().cut(), move, channel, side});
    }
    QString at(const std::string& name) const { return QString::fromStdString((m_folder / name).string()); }

    /// The next press is not a double click.
    int betweenClicks() const {
        return m_betweenClicks >= 0 ? m_betweenClicks : QApplication::doubleClickInterval() + 20;
    }

    int m_betweenClicks = -1; // milliseconds; below 0: as long as a double click may take
    TemporaryFolder m_folder;
    std::unique_ptr<MainWindow> m_window;
};

} // namespace virga::test
