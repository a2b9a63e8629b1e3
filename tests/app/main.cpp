// Tests in the real window. Settings and autosaves go to a folder of their own.
#include <QApplication>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <cstring>
#include <gtest/gtest.h>

#include "app/services/frame_service.h"
#include "app/style/theme.h"
#include "tests/app/event_watch.h"
#include "tests/support/cases.h"

int main(int argc, char** argv) {
    testing::InitGoogleTest(&argc, argv);
    if (GTEST_FLAG_GET(list_tests)) return RUN_ALL_TESTS(); // needs no display
    virga::test::watchCases();
    QTemporaryDir home;
    qputenv("XDG_CONFIG_HOME", home.path().toUtf8());
    qputenv("XDG_DATA_HOME", home.path().toUtf8());
    qputenv("XDG_CACHE_HOME", home.path().toUtf8());
    qputenv("XDG_RUNTIME_DIR", home.path().toUtf8());
    QApplication::setStyle("Fusion");
    virga::test::WatchedApplication app(argc, argv);
    QApplication::setApplicationName("virga");
    QApplication::setOrganizationName("virga-tests");
    virga::useTheme("night");
    return RUN_ALL_TESTS();
}
