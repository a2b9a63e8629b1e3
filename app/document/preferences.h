#pragma once
// What the program's user prefers, which no project holds; kept in the user's settings. Interface thread only.
#include <QSettings>
#include <algorithm>

namespace virga {

struct Preferences {
    double stillSeconds = 2;      // that a still is put into the reel for
    double adjustmentSeconds = 1; // of a new adjustment, where nothing else says
    int largeStep = 10;           // frames that Shift with an arrow goes
    bool operator==(const Preferences&) const = default;

    static Preferences kept() {
        const QSettings settings;
        Preferences p;
        p.stillSeconds = std::clamp(settings.value("prefer/stillSeconds", p.stillSeconds).toDouble(), 0.04, 600.0);
        p.adjustmentSeconds =
            std::clamp(settings.value("prefer/adjustmentSeconds", p.adjustmentSeconds).toDouble(), 0.04, 600.0);
        p.largeStep = std::clamp(settings.value("prefer/largeStep", p.largeStep).toInt(), 2, 1000);
        return p;
    }
    void keep() const {
        QSettings settings;
        settings.setValue("prefer/stillSeconds", stillSeconds);
        settings.setValue("prefer/adjustmentSeconds", adjustmentSeconds);
        settings.setValue("prefer/largeStep", largeStep);
    }
};

} // namespace virga
