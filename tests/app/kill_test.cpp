// The process is killed (SIGKILL) at any moment while it edits, autosaves and saves; what is on disk always loads.
#include <gtest/gtest.h>

#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QImage>
#include <QProcess>
#include <QThread>
#include <random>
#include <utility>

#include "app/document/autosave.h"
#include "core/base/file.h"
#include "core/edit/edits.h"
#include "core/project/project_file.h"
#include "tests/support/clips.h"
#include "tests/support/projects.h"
#include "tests/support/sanitizers.h"

namespace virga::test::kill_test {
namespace {

TEST(Kill, TheLastSavedOrKeptStateAlwaysLoads) {
    TemporaryFolder folder;
    const fs::path path = folder / "piece.virga";
    Project start = plungeProject(folder / "a.mp4", folder / "b.mp4");
    start.name = "0";
    for (int i = 0; i < 10; ++i) start = withClip(start, 2, start.reel[std::size_t(i % 2)]);
    ASSERT_TRUE(saveProject(start, path));
    std::mt19937 chance(7);
    long saved = 0, kept = 0;
    int saves = 0, keeps = 0, newer = 0;
    for (int round = 0; round < 100; ++round) {
        QProcess victim;
        victim.setProgram(QStringLiteral(VIRGA_BINARY_DIR "/tests/edit_and_save"));
        victim.setArguments(
            {QString::fromStdString(path.string()), QString::number(round), QString::number(std::max(saved, kept))});
        victim.start();
        ASSERT_TRUE(victim.waitForReadyRead(20000)) << victim.readAllStandardError().toStdString();
        QThread::usleep(1000 + chance() % 100000);
        victim.kill();
        victim.waitForFinished();
        ASSERT_EQ(victim.exitStatus(), QProcess::CrashExit) << victim.readAllStandardError().toStdString();
        for (const QByteArray& line : victim.readAllStandardOutput().split('\n')) {
            if (line.startsWith("saved ")) saved = std::max(saved, line.mid(6).toLong()), ++saves;
            if (line.startsWith("kept ")) kept = std::max(kept, line.mid(5).toLong()), ++keeps;
        }
        // The file is whole, and at least as new as the last save that was finished.
        auto project = loadProject(path);
        ASSERT_TRUE(project) << "round " << round << ": " << describe(project.error());
        ASSERT_GE(std::stol(project->name), saved) << "round " << round;
        ASSERT_FALSE(project->reel.empty());
        // So is what autosave kept, where it is newer than the file.
        const QString copy = Autosave::placeFor(QString::fromStdString(path.string()));
        if (QFile::exists(copy)) {
            auto recovered = loadProject(copy.toStdString());
            ASSERT_TRUE(recovered) << "round " << round << ": " << describe(recovered.error());
            newer += kept > saved;
            ASSERT_TRUE(kept <= saved || std::stol(recovered->name) >= kept) << "round " << round;
            // It is offered where it goes on from what is saved, and only there.
            const QString offered = Autosave::leftFor(QString::fromStdString(path.string()));
            if (!offered.isEmpty())
                ASSERT_GE(std::stol(recovered->name), std::stol(project->name)) << "round " << round;
            ASSERT_TRUE(kept <= saved || std::stol(project->name) > saved || !offered.isEmpty()) << "round " << round;
        }
    }
    // What killed processes left half written is swept up when the project is opened.
    Document document;
    ASSERT_TRUE(document.open(QString::fromStdString(path.string())));
    for (const auto& entry : fs::directory_iterator(folder.path()))
        EXPECT_EQ(entry.path().string().find(".part"), std::string::npos) << entry.path();
    EXPECT_GT(saves, 30) << "it was really saving all the while";
    EXPECT_GT(keeps, 30);
    EXPECT_GT(newer, 10) << "the copy was newer than the file";
}

// The disk fills up while it saves and keeps copies: what was there last stays, whole.
TEST(Kill, OnAFullDiskTheLastSavedStateStays) {
    if (underSanitizer) GTEST_SKIP() << "a sanitizer's runtime must be loaded first";
    TemporaryFolder folder;
    const fs::path path = folder / "piece.virga";
    Project start = plungeProject(folder / "a.mp4", folder / "b.mp4");
    start.name = "0";
    ASSERT_TRUE(saveProject(start, path));
    std::mt19937 chance(9);
    long saved = 0;
    int refused = 0;
    for (int round = 0; round < 12; ++round) {
        QProcess victim;
        QProcessEnvironment with = QProcessEnvironment::systemEnvironment();
        with.insert("LD_PRELOAD", VIRGA_BINARY_DIR "/tests/trust/libwrite_faults.so");
        with.insert("VIRGA_FAULT_FOLDER", QString::fromStdString(folder.path().string()));
        with.insert("VIRGA_FAULT_BYTES", QString::number(chance() % 400000));
        victim.setProcessEnvironment(with);
        victim.setProgram(QStringLiteral(VIRGA_BINARY_DIR "/tests/edit_and_save"));
        victim.setArguments({QString::fromStdString(path.string()), QString::number(round), QString::number(saved)});
        victim.start();
        ASSERT_TRUE(victim.waitForReadyRead(20000)) << victim.readAllStandardError().toStdString();
        long last = 0;
        const auto listen = [&] {
            while (victim.canReadLine()) {
                const QByteArray line = victim.readLine();
                if (line.startsWith("saved ")) saved = std::max(saved, line.mid(6).toLong());
                if (line.startsWith("kept ")) last = std::max(last, line.mid(5).toLong());
            }
            return last > saved + 20; // it went on long after the last save that was done
        };
        QElapsedTimer clock;
        clock.start();
        while (!listen() && clock.elapsed() < 5000) victim.waitForReadyRead(50);
        QThread::usleep(chance() % 50000);
        ASSERT_EQ(victim.state(), QProcess::Running)
            << "a full disk ends nothing; it ended with " << victim.exitCode() << " after " << last << ", saved "
            << saved << ": " << victim.readAllStandardError().toStdString();
        victim.kill();
        victim.waitForFinished();
        refused += listen();
        const auto project = loadProject(path);
        ASSERT_TRUE(project) << "round " << round << ": " << describe(project.error());
        ASSERT_GE(std::stol(project->name), saved) << "round " << round;
        const QString copy = Autosave::placeFor(QString::fromStdString(path.string()));
        if (QFile::exists(copy)) ASSERT_TRUE(loadProject(copy.toStdString())) << "round " << round;
    }
    EXPECT_GT(refused, 9) << "the disk was really full";
}

// The disk of the caches is full, or may not be written to: the window shows the picture that it shows with room, and
// leaves no half files there.
TEST(Kill, OnAFullDiskTheCachesAreDoneWithout) {
    if (underSanitizer) GTEST_SKIP() << "a sanitizer's runtime must be loaded first";
    TemporaryFolder folder;
    writeNumberedClip(folder / "a.mp4", {320, 180}, 25, 75, 12, true);
    writeNumberedClip(folder / "b.mp4", {320, 180}, 25, 75, 11);
    Project piece = plungeProject(folder / "a.mp4", folder / "b.mp4");
    for (Media& media : piece.media) media.size = {320, 180}, media.sound = media.id == piece.media[0].id;
    ASSERT_TRUE(saveProject(piece, folder / "piece.virga"));
    const auto shotWith = [&](const char* variable, const QString& value) {
        const QString cache = QString::fromStdString((folder / "cache").string()), shot = cache + ".png";
        QDir(cache).removeRecursively();
        QDir().mkpath(cache);
        QFile::remove(shot);
        QProcess window;
        QProcessEnvironment with = QProcessEnvironment::systemEnvironment();
        with.insert("QT_QPA_PLATFORM", "offscreen");
        with.insert("XDG_CACHE_HOME", cache);
        with.insert("XDG_CONFIG_HOME", QString::fromStdString((folder / "config").string()));
        if (variable) {
            with.insert("LD_PRELOAD", VIRGA_BINARY_DIR "/tests/trust/libwrite_faults.so");
            with.insert("VIRGA_FAULT_FOLDER", cache + "/");
            with.insert(variable, value);
        }
        window.setProcessEnvironment(with);
        window.start(QStringLiteral(VIRGA_BINARY_DIR "/app/virga"),
                     {"--size", "1280x800", "--cut", "1", "--shot", shot,
                      QString::fromStdString((folder / "piece.virga").string())});
        EXPECT_TRUE(window.waitForFinished(120000));
        EXPECT_EQ(window.exitCode(), 0) << window.readAllStandardError().toStdString();
        return QImage(shot).copy(60, 200, 440, 240); // of the Picture: what else is still being drawn is another matter
    };
    const QImage good = shotWith(nullptr, {});
    ASSERT_FALSE(good.isNull());
    int kept = 0;
    for (const auto& entry : fs::recursive_directory_iterator(folder / "cache")) kept += entry.is_regular_file();
    EXPECT_GT(kept, 0) << "with room there is something in the caches";
    for (const auto& [variable, value] : {std::pair{"VIRGA_FAULT_BYTES", "0"},
                                          {"VIRGA_FAULT_BYTES", "900"},
                                          {"VIRGA_FAULT_BYTES", "20000"},
                                          {"VIRGA_FAULT_DENY", "1"}}) {
        EXPECT_EQ(shotWith(variable, value), good) << variable << " " << value;
        for (const auto& entry : fs::recursive_directory_iterator(folder / "cache"))
            EXPECT_EQ(entry.path().string().find(".part"), std::string::npos) << entry.path();
    }
}

} // namespace
} // namespace virga::test::kill_test
