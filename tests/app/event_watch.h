#pragma once
// An application that times every event of the interface's thread: what it takes and what it waits for, but not what
// the scheduler gives to others meanwhile. An event that runs a dialog is not counted; those inside it are. Pressing
// what is hidden fails the test: nobody can.
#include <QAction>
#include <QApplication>
#include <QEvent>
#include <QThread>
#include <QWidget>
#include <algorithm>
#include <chrono>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <string>
#include <vector>

namespace virga::test {

class WatchedApplication : public QApplication {
public:
    using QApplication::QApplication;
    struct Event {
        double milliseconds = 0;
        std::string what;
    };
    static WatchedApplication* it() { return static_cast<WatchedApplication*>(qApp); }
    /// Forgets what was; from now on events that take longer are kept.
    void start(double longerThan) {
        m_longer.clear();
        m_kinds.clear();
        m_longest = 0;
        m_count = 0;
        m_limit = longerThan;
        m_on = true;
    }
    void stop() { m_on = false; }
    const std::vector<Event>& longer() const { return m_longer; }
    /// Kinds of events that are slow as a rule: of those that came at least five times, more than one in twenty took
    /// longer; of rarer ones, all did. What they take then. A machine that others share stands still now and then,
    /// whatever this program does.
    std::vector<Event> slowKinds() const {
        std::vector<Event> slow;
        for (const auto& [what, times] : m_kinds) {
            std::vector<float> sorted = times;
            std::sort(sorted.begin(), sorted.end());
            const double usual = sorted.size() < 5 ? sorted.front() : sorted[(sorted.size() - 1) * 19 / 20];
            if (usual > m_limit) slow.push_back({usual, what});
        }
        return slow;
    }
    double longest() const { return m_longest; }
    int count() const { return m_count; }

    bool notify(QObject* receiver, QEvent* event) override {
        if (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::KeyPress)
            if (const auto* widget = qobject_cast<QWidget*>(receiver))
                EXPECT_TRUE(widget->isVisible()) << "nobody can press what is hidden: " << nameOf(receiver);
        if (!m_on || QThread::currentThread() != thread()) return QApplication::notify(receiver, event);
        const int level = thread()->loopLevel();
        if (!m_open.empty() && m_open.back().level == level)
            return QApplication::notify(receiver, event); // a part of one
        for (Open& outer : m_open) outer.ranLoop = true;
        m_open.push_back({level, false});
        // The receiver may be gone behind it.
        std::string what = nameOf(receiver);
        if (const QObject* parent = receiver->parent()) what += std::string(" of ") + parent->metaObject()->className();
        if (const auto* action = qobject_cast<QAction*>(receiver)) what += " " + action->text().toStdString();
        what += ", event " + std::to_string(int(event->type()));
        const double waited = waitedForACore();
        const auto begun = std::chrono::steady_clock::now();
        const bool done = QApplication::notify(receiver, event);
        const double took =
            std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun).count() -
            (waitedForACore() - waited);
        const bool ranLoop = m_open.back().ranLoop;
        m_open.pop_back();
        if (ranLoop) return done;
        ++m_count;
        m_longest = std::max(m_longest, took);
        m_kinds[what].push_back(float(took));
        if (took > m_limit) m_longer.push_back({took, what});
        return done;
    }

private:
    struct Open {
        int level = 0;
        bool ranLoop = false;
    };
    static std::string nameOf(const QObject* object) {
        return std::string(object->metaObject()->className()) + " " + object->objectName().toStdString();
    }
    // Milliseconds that this thread was ready to run and did not, since it began (Linux's schedstat).
    static double waitedForACore() {
        std::ifstream file("/proc/thread-self/schedstat");
        double ran = 0, waited = 0;
        file >> ran >> waited;
        return waited * 1e-6;
    }
    std::vector<Open> m_open;
    std::vector<Event> m_longer;
    std::map<std::string, std::vector<float>> m_kinds; // what each took
    double m_longest = 0, m_limit = 50;
    int m_count = 0;
    bool m_on = false;
};

} // namespace virga::test
