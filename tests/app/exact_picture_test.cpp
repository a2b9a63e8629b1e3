// What the Picture shows is what is exported, frame by frame.
#include "app/picture/picture_view.h"
#include "app/services/frame_service.h"
#include "core/decode/video_reader.h"
#include "core/export/export_reel.h"
#include "core/project/project_file.h"
#include "core/raster/transfer.h"
#include "tests/app/window_fixture.h"
#include "tests/support/pictures.h"

namespace virga::test::exact_picture_test {
namespace {

ImageView<const Rgba8> viewOf(const QImage& image) {
    return {reinterpret_cast<const Rgba8*>(image.constBits()), image.width(), image.height(), image.bytesPerLine() / 4};
}

class ExactPicture : public WindowTest {
protected:
    // The frames around the first cut: shown, rendered for export, and read back from an exported file.
    void compareAround(const Project p, std::int64_t from, std::int64_t to) {
        ExportSettings settings;
        settings.path = m_folder / "out.mp4";
        settings.from = from;
        settings.to = to;
        settings.quality = 6;
        settings.sound = false;
        SourcePool pool;
        ASSERT_TRUE(exportReel(p, settings, pool));
        auto reader = VideoReader::open(settings.path);
        ASSERT_TRUE(reader);
        for (auto n = from; n < to; ++n) {
            document().setPlayhead(n);
            ASSERT_TRUE(waitFor(
                [&] { return m_window->views().picture->isExact() && m_window->views().picture->shownFrame() == n; },
                60000))
                << n;
            const QImage shown = m_window->views().picture->image();
            const auto rendered = renderFrame(p, n, p.settings.size, exactQuality, pool);
            ASSERT_TRUE(rendered);
            EXPECT_EQ(compare(viewOf(shown), rendered->view()).most, 0) << "frame " << n << " as the export renders it";
            const auto decoded = (*reader)->read(n - from);
            ASSERT_TRUE(decoded);
            const auto back = sampled(Pyramid(std::move(const_cast<Image<Linear16>&>(*decoded))), EdgeFill::Hold,
                                      {ScreenMap()}, p.settings.size);
            EXPECT_GT(compare(viewOf(shown), back.view()).psnr, 34) << "frame " << n << " through the codec";
        }
    }
};

TEST_F(ExactPicture, IsTheExportedFrame) {
    openPlunge();
    compareAround(project(), 18, 33);
}

// The demo's first cut at 1280 x 720, where its footage has been drawn (./start and ./check draw it).
TEST_F(ExactPicture, DemosFirstCut) {
    const fs::path demo = fs::path(VIRGA_SOURCE_DIR) / "demo";
    if (!fs::exists(demo / "footage/last-light.mp4")) GTEST_SKIP() << "the demo footage is not drawn";
    ASSERT_TRUE(document().open(QString::fromStdString((demo / "lantern-regatta.virga").string())));
    const auto at = cutFrame(project(), 0);
    compareAround(project(), at - 6, at + 6);
}

} // namespace
} // namespace virga::test::exact_picture_test
