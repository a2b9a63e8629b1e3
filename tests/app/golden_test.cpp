// Every kind of move and treatment on the demo's footage looks as it did: the pictures of docs/moves, which the user
// guide shows. VIRGA_DRAW_PICTURES=1 draws them anew.
#include <QDir>
#include <QImage>
#include <cmath>
#include <gtest/gtest.h>

#include "app/services/frame_service.h"
#include "core/edit/move_edits.h"
#include "core/project/project_file.h"

namespace virga::golden_test {
namespace {

namespace fs = std::filesystem;

// Two shots of the demo with one move at their cut, by its usual amount.
Project shotsWith(const Project& demo, MoveKind kind) {
    Project p = demo;
    p.reel = {demo.reel[1], demo.reel[2]}; // the lanterns and the sails
    for (Clip& clip : p.reel) clip.transition = {}, clip.drift.clear();
    p.overlays.clear();
    p.adjustments.clear();
    return withUsualMove(p, 0, kind);
}

double decibels(const QImage& a, const QImage& b) {
    if (a.size() != b.size()) return 0;
    double sum = 0;
    for (int y = 0; y < a.height(); ++y)
        for (int x = 0; x < a.width(); ++x) {
            const QRgb p = a.pixel(x, y), q = b.pixel(x, y);
            for (const int d : {qRed(p) - qRed(q), qGreen(p) - qGreen(q), qBlue(p) - qBlue(q)}) sum += d * d;
        }
    return 10 * std::log10(255.0 * 255 * 3 * a.width() * a.height() / std::max(sum, 1e-9));
}

TEST(Golden, EveryKindLooksAsItDid) {
    const fs::path demo = fs::path(VIRGA_SOURCE_DIR) / "demo";
    if (!fs::exists(demo / "footage/last-light.mp4")) GTEST_SKIP() << "the demo footage is not drawn";
    const auto project = loadProject(demo / "lantern-regatta.virga");
    ASSERT_TRUE(project) << describe(project.error());
    const QString folder = QStringLiteral(VIRGA_SOURCE_DIR "/docs/moves");
    SourcePool pool;
    for (const MoveInfo& info : allMoves()) {
        Project p = shotsWith(*project, info.kind);
        p.settings.shutter.angle = 60; // still pictures of movement
        const auto frame = p.reel[0].length - 1;
        const auto picture = renderFrame(p, frame, {192, 108}, exactQuality, pool);
        ASSERT_TRUE(picture) << info.name << describe(picture.error());
        const QImage drawn = toImage(*picture).convertToFormat(QImage::Format_RGB32);
        const QString file = folder + "/" + QString::fromUtf8(info.name.data(), int(info.name.size())) + ".png";
        if (qEnvironmentVariableIsSet("VIRGA_DRAW_PICTURES")) {
            ASSERT_TRUE(drawn.save(file)) << file.toStdString();
            continue;
        }
        const QImage kept(file);
        ASSERT_FALSE(kept.isNull()) << file.toStdString();
        // The shots are encoded anew on every machine: not to the bit.
        EXPECT_GT(decibels(drawn, kept.convertToFormat(QImage::Format_RGB32)), 38) << info.name;
    }
}

} // namespace
} // namespace virga::golden_test
