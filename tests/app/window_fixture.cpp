#include "tests/app/window_fixture.h"

#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QDropEvent>
#include <QElapsedTimer>
#include <QMimeData>
#include <QMouseEvent>
#include <QPushButton>
#include <QScrollArea>
#include <QUrl>

#include "app/picture/picture_view.h"
#include "core/project/project_file.h"

namespace virga::test {

namespace {

// Encoded once for all tests of a program. Each has copies of its own, as some change or remove them.
const fs::path& numberedClips() {
    static const TemporaryFolder folder;
    static const bool written = [] {
        writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 75);
        writeNumberedClip(folder / "b.mp4", {320, 180}, 25, 75, 11);
        return true;
    }();
    (void)written;
    return folder.path();
}

} // namespace

void WindowTest::SetUp() {
    for (const char* name : {"a.mp4", "b.mp4"}) fs::copy_file(numberedClips() / name, m_folder / name);
    m_window = std::make_unique<MainWindow>();
    m_window->resize(1280, 800);
    m_window->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(m_window.get()));
    m_window->activateWindow();
    (void)QTest::qWaitForWindowActive(m_window.get(), 1000); // without a window manager it may never be told
}

void WindowTest::TearDown() {
    for (const auto& timer : m_awaited) EXPECT_FALSE(timer->isActive()) << "something was to come up and did not";
    m_awaited.clear();
    if (m_window) document().undoStack()->setClean(); // no question at closing
    m_window.reset();
}

Project WindowTest::withOwnClips(Project project) const {
    project.settings.size = {320, 180};
    for (std::size_t i = 0; i < project.media.size(); ++i) {
        project.media[i].path = m_folder / (i == 0 ? "a.mp4" : "b.mp4");
        project.media[i].size = {320, 180};
    }
    return project;
}

void WindowTest::open(const Project& project) {
    ASSERT_TRUE(saveProject(project, m_folder / "p.virga"));
    const auto done = document().open(at("p.virga"));
    ASSERT_TRUE(done) << describe(done.error());
    QCoreApplication::processEvents();
}

void WindowTest::openPlunge() {
    open(withOwnClips(plungeProject()));
}
void WindowTest::openStill() {
    open(withOwnClips(twoClips()));
}

bool WindowTest::waitFor(const std::function<bool()>& condition, int milliseconds) {
    return QTest::qWaitFor(condition, milliseconds);
}

void WindowTest::whenThere(std::function<QWidget*()> find, std::function<void(QWidget*)> act) {
    auto& timer = m_awaited.emplace_back(std::make_unique<QTimer>());
    QElapsedTimer clock;
    clock.start();
    QObject::connect(timer.get(), &QTimer::timeout, timer.get(),
                     [timer = timer.get(), find = std::move(find), act = std::move(act), clock] {
                         QWidget* there = find();
                         if (there && there->isVisible()) {
                             timer->stop();
                             act(there);
                         } else if (clock.elapsed() > 30000) {
                             timer->stop();
                             ADD_FAILURE() << "what the test waits for did not come up";
                             if (QWidget* popup = QApplication::activePopupWidget()) popup->close();
                             if (QWidget* modal = QApplication::activeModalWidget()) modal->close();
                         }
                     });
    timer->start(5);
}

void WindowTest::inDialog(const std::function<void(QDialog*)>& act, const std::function<void()>& open) {
    bool done = false;
    const QWidgetList before = QApplication::topLevelWidgets();
    whenThere(
        [before]() -> QWidget* {
            for (QWidget* w : QApplication::topLevelWidgets())
                if (qobject_cast<QDialog*>(w) && w->isVisible() && !before.contains(w)) return w;
            return nullptr;
        },
        [&](QWidget* w) {
            const QPointer<QDialog> dialog = qobject_cast<QDialog*>(w);
            act(dialog), done = true;
            if (::testing::Test::HasFatalFailure() && dialog) dialog->reject(); // nobody else would close it
        });
    open();
    EXPECT_TRUE(done);
}

void WindowTest::press(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers, Qt::MouseButton button) {
    EXPECT_TRUE(widget->isVisible()) << "nobody can click what is hidden";
    QTest::mouseMove(m_window->windowHandle(), widget->mapTo(m_window.get(), at.toPoint()));
    QTest::mousePress(m_window->windowHandle(), button, modifiers, widget->mapTo(m_window.get(), at.toPoint()));
}

void WindowTest::moveTo(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers) {
    // QTest::mouseMove knows no modifiers; with some held the event is sent as it is.
    const QPoint local = widget->mapTo(m_window.get(), at.toPoint());
    if (!modifiers)
        QTest::mouseMove(m_window->windowHandle(), local);
    else {
        QMouseEvent event(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, modifiers);
        QApplication::sendEvent(widget, &event);
    }
    QCoreApplication::processEvents();
}

void WindowTest::release(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers, Qt::MouseButton button) {
    QTest::mouseRelease(m_window->windowHandle(), button, modifiers, widget->mapTo(m_window.get(), at.toPoint()));
    QCoreApplication::processEvents();
}

void WindowTest::click(QWidget* widget, QPointF at, Qt::KeyboardModifiers modifiers) {
    press(widget, at, modifiers);
    release(widget, at, modifiers);
    QTest::qWait(1); // QTest stamps its clicks half a second apart: no two are a double click
}

void WindowTest::doubleClick(QWidget* widget, QPointF at) {
    EXPECT_TRUE(widget->isVisible()) << "nobody can click what is hidden";
    const QPoint local = widget->mapTo(m_window.get(), at.toPoint());
    QTest::mouseClick(m_window->windowHandle(), Qt::LeftButton, {}, local);
    QTest::mouseDClick(m_window->windowHandle(), Qt::LeftButton, {}, local);
    QCoreApplication::processEvents();
}

void WindowTest::drag(QWidget* widget, QPointF from, QPointF to, Qt::KeyboardModifiers modifiers) {
    press(widget, from, modifiers);
    for (int i = 1; i <= 6; ++i) moveTo(widget, from + (to - from) * i / 6.0, modifiers);
    release(widget, to, modifiers);
    QTest::qWait(1);
}

void WindowTest::key(int k, Qt::KeyboardModifiers modifiers) {
    QWidget* target = QApplication::focusWidget() ? QApplication::focusWidget() : m_window.get();
    QTest::keyClick(target, Qt::Key(k), modifiers);
    QCoreApplication::processEvents();
}

void WindowTest::bringIntoSight(QWidget* widget) {
    ASSERT_TRUE(widget);
    for (QWidget* w = widget->parentWidget(); w; w = w->parentWidget())
        if (auto* scroll = qobject_cast<QScrollArea*>(w)) scroll->ensureWidgetVisible(widget);
    QCoreApplication::processEvents();
}

void WindowTest::type(NumberField* field, const QString& text) {
    ASSERT_TRUE(field);
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    QCoreApplication::processEvents();
}

void WindowTest::dropFiles(QWidget* widget, QPoint at, const QStringList& paths) {
    QMimeData data;
    QList<QUrl> urls;
    for (const QString& path : paths) urls << QUrl::fromLocalFile(path);
    data.setUrls(urls);
    QDragEnterEvent enter(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(widget, &enter);
    ASSERT_TRUE(enter.isAccepted());
    QDragMoveEvent over(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(widget, &over);
    QDropEvent drop(at, Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(widget, &drop);
    EXPECT_TRUE(drop.isAccepted());
}

QPushButton* WindowTest::button(const QString& text) const {
    for (auto* b : m_window->findChildren<QPushButton*>())
        if (b->text() == text && b->isVisible()) return b;
    return nullptr;
}

QAction* WindowTest::action(const QString& text) const {
    for (auto* a : m_window->actions())
        if (a->text().remove('&') == text) return a;
    return nullptr;
}

} // namespace virga::test
