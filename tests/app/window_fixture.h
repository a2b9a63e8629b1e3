#pragma once
// A real main window with two numbered clips at hand, driven by real mouse and key events.
#include <QApplication>
#include <QTest>
#include <QTimer>
#include <gtest/gtest.h>
#include <memory>

#include "app/style/number_field.h"
#include "app/window/main_window.h"
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

    /// Acts once in the dialog, menu or panel of a kind that comes up next, as soon as it is shown. What never comes up
    /// within half a minute is a failure, and whatever is modal then is closed, so that the test ends.
    template <typename Widget> void whenShown(std::function<void(Widget*)> act) {
        whenThere(
            [this]() -> QWidget* {
                for (QWidget* w : {QApplication::activePopupWidget(), QApplication::activeModalWidget()})
                    if (qobject_cast<Widget*>(w)) return w;
                for (Widget* w : m_window->findChildren<Widget*>())
                    if (w->isVisible()) return w;
                return nullptr;
            },
            [act = std::move(act)](QWidget* w) { act(qobject_cast<Widget*>(w)); });
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

    void whenThere(std::function<QWidget*()> find, std::function<void(QWidget*)> act);

    std::vector<std::unique_ptr<QTimer>> m_awaited; // what is to come up
    TemporaryFolder m_folder;
    std::unique_ptr<MainWindow> m_window;
};

} // namespace virga::test
