// Draws the demo's footage: eight shots and a track. Usage: demo_footage FOLDER [--force]. Files that are there already
// are kept, so an interrupted run is simply run again.
#include <QFontDatabase>
#include <QGuiApplication>
#include <atomic>
#include <cstdio>
#include <filesystem>
#include <fmt/format.h>
#include <mutex>
#include <thread>
#include <vector>

#include "core/audio/wav.h"
#include "core/encode/encoder.h"
#include "tools/demo_footage/percussion.h"
#include "tools/demo_footage/shots.h"

namespace {

using namespace virga;

constexpr int rate = 25;

// Says how far the drawing is: "120/1350 frames".
class Told {
public:
    explicit Told(int total) : m_total(total) {}
    void frameDone() {
        const std::lock_guard lock(m_mutex);
        if (++m_done % 20 != 0 && m_done != m_total) return;
        fmt::print("{}/{} frames\n", m_done, m_total);
        std::fflush(stdout);
    }

private:
    const int m_total;
    int m_done = 0;
    std::mutex m_mutex;
};

Expected<void> writeShot(const demo::Shot& shot, const std::filesystem::path& path, Told& told) {
    EncoderSettings settings;
    settings.size = {1280, 720};
    settings.rate = rate;
    settings.quality = 15;
    settings.preset = "veryfast";
    settings.keyInterval = 12;
    auto encoder = Encoder::open(path, settings);
    if (!encoder) return tl::unexpected(encoder.error());
    for (int n = 0; n < shot.frames; ++n) {
        const QImage picture = shot.draw(double(n) / rate).convertToFormat(QImage::Format_RGBA8888);
        const ImageView<const Rgba8> view{reinterpret_cast<const Rgba8*>(picture.constBits()), picture.width(),
                                          picture.height(), picture.bytesPerLine() / 4};
        if (auto done = (*encoder)->addFrame(view); !done) return done;
        told.frameDone();
    }
    return (*encoder)->finish();
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication app(argc, argv);
    QFontDatabase::addApplicationFont(":/fonts/Inter-SemiBold.otf");
    if (argc < 2) {
        fmt::print(stderr, "usage: demo_footage FOLDER [--force]\n");
        return 2;
    }
    const std::filesystem::path folder = argv[1];
    const bool force = argc > 2 && std::string_view(argv[2]) == "--force";
    std::error_code ec;
    std::filesystem::create_directories(folder, ec);
    std::vector<const demo::Shot*> wanted;
    for (const auto& shot : demo::shots())
        if (force || !std::filesystem::exists(folder / fmt::format("{}.mp4", shot.file))) wanted.push_back(&shot);
    int frames = 0;
    for (const demo::Shot* shot : wanted) frames += shot->frames;
    Told told(frames);
    std::atomic<std::size_t> next{0};
    std::atomic<bool> failed{false};
    const auto work = [&] {
        for (std::size_t i = next++; i < wanted.size(); i = next++) {
            const auto path = folder / fmt::format("{}.mp4", wanted[i]->file);
            if (auto done = writeShot(*wanted[i], path, told); !done) {
                fmt::print(stderr, "demo_footage: {}\n", describe(done.error()));
                failed = true;
            }
        }
    };
    std::vector<std::thread> threads;
    for (unsigned i = 0; i < std::max(1u, std::thread::hardware_concurrency()); ++i) threads.emplace_back(work);
    for (auto& thread : threads) thread.join();
    const auto track = folder / "percussion-120.wav";
    if (force || !std::filesystem::exists(track))
        if (auto done = writeWav(track, demo::percussion(12)); !done) {
            fmt::print(stderr, "demo_footage: {}\n", describe(done.error()));
            failed = true;
        }
    return failed ? 2 : 0;
}
