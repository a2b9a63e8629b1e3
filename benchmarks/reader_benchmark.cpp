// Reading pictures one after the other beside FFmpeg's own loop, which knows nothing of times and places, and what
// damage costs. Usage: reader_benchmark [FILE]; without one a clip of 8 s at 1280 x 720 is made by ffmpeg.
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>
#include <vector>

#include "core/decode/picture_decoder.h"

namespace {

using namespace virga;
namespace fs = std::filesystem;

double seconds(const auto& work) {
    const auto began = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
}

// Opened, indexed, and every picture decoded by its number.
int byVirga(const fs::path& path) {
    auto opened = av::openPictures(path, {});
    if (!opened) return 0;
    auto decoder = av::openDecoder(opened->format->streams[opened->video], path.string());
    if (!decoder) return 0;
    av::PictureDecoder pictures(std::move(*opened), std::move(*decoder));
    const auto count = std::int64_t(pictures.index().stamps.size());
    int got = 0;
    for (std::int64_t n = 0; n < count; ++n) got += bool(pictures.picture(n));
    return got;
}

// The plain loop of any program that uses FFmpeg's libraries.
int byFFmpeg(const fs::path& path) {
    auto format = av::openInput(path, {});
    if (!format) return 0;
    const int stream = av_find_best_stream(format->get(), AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    auto decoder = av::openDecoder((*format)->streams[stream], path.string());
    if (!decoder) return 0;
    auto packet = av::makePacket();
    auto frame = av::makeFrame();
    int got = 0;
    for (bool more = true; more;) {
        more = av_read_frame(format->get(), packet.get()) >= 0;
        if (more && packet->stream_index != stream) {
            av_packet_unref(packet.get());
            continue;
        }
        avcodec_send_packet(decoder->get(), more ? packet.get() : nullptr);
        if (more) av_packet_unref(packet.get());
        while (avcodec_receive_frame(decoder->get(), frame.get()) == 0) ++got;
    }
    return got;
}

double medianOf(int times, const auto& work) {
    std::vector<double> all;
    for (int i = 0; i < times; ++i) all.push_back(seconds(work));
    std::sort(all.begin(), all.end());
    return all[all.size() / 2];
}

} // namespace

int main(int argc, char** argv) {
    const fs::path folder = fs::temp_directory_path() / "virga-reader-benchmark";
    fs::create_directories(folder);
    fs::path path = argc > 1 ? fs::path(argv[1]) : folder / "clean.mp4";
    if (argc < 2 &&
        std::system(("ffmpeg -nostdin -v error -y -f lavfi -i \"testsrc2=s=1280x720:r=25:d=8,noise=alls=12:allf=t\" "
                     "-c:v libx264 -preset veryfast -crf 20 -bf 2 -g 50 -pix_fmt yuv420p " +
                     path.string())
                        .c_str()) != 0)
        return 1;
    int a = 0, b = 0;
    std::vector<double> ratios;
    for (int i = 0; i < 5; ++i) { // side by side, so that the clock's drift falls on both
        const double theirs = seconds([&] { b = byFFmpeg(path); }), ours = seconds([&] { a = byVirga(path); });
        ratios.push_back(theirs / ours);
        std::printf("%d pictures by number in %.3f s, %d by FFmpeg's plain loop in %.3f s: %.3f of its speed\n", a,
                    ours, b, theirs, theirs / ours);
    }
    std::sort(ratios.begin(), ratios.end());
    std::printf("median: %.3f of its speed\n", ratios[2]);
    const double clean = medianOf(3, [&] { byVirga(path); });
    std::ifstream in(path, std::ios::binary);
    const std::string bytes(std::istreambuf_iterator<char>(in), {});
    for (const int flips : {30, 100, 300}) {
        std::string damaged = bytes;
        std::mt19937 random(7);
        for (int i = 0; i < flips; ++i) { // between the head and the index at the end
            const auto at = bytes.size() / 50 + random() % (bytes.size() * 47 / 50);
            damaged[at] = char(damaged[at] ^ (1 << (random() % 8)));
        }
        const auto other = folder / ("damaged" + path.extension().string());
        std::ofstream(other, std::ios::binary) << damaged;
        int got = 0;
        const double time = medianOf(3, [&] { got = byVirga(other); });
        std::printf("%3d bits turned over: %d pictures in %.3f s, %.2f of the clean time\n", flips, got, time,
                    time / clean);
    }
    fs::remove_all(folder);
}
