// What chunks cost: the pictures of a film encoded in one go, and anew every four seconds, in the same run by turns.
// chunk_benchmark FILM
#include <CLI/CLI.hpp>
#include <algorithm>
#include <chrono>
#include <ctime>
#include <filesystem>
#include <fmt/format.h>

#include "core/decode/video_reader.h"
#include "core/encode/encoder.h"

using namespace virga;

int main(int argc, char** argv) {
    CLI::App app{"Encoding in one go against encoding in chunks"};
    std::string film;
    int rounds = 3;
    app.add_option("FILM", film, "An H.264 film of Virga's")->required();
    app.add_option("--rounds", rounds, "How often each way is taken");
    CLI11_PARSE(app, argc, argv);
    auto reader = VideoReader::open(film);
    if (!reader) {
        fmt::print(stderr, "{}\n", describe(reader.error()));
        return 2;
    }
    const VideoInfo& video = *(*reader)->info().video;
    std::vector<CodedPicture> pictures;
    for (std::int64_t i = 0; i < video.frames; ++i)
        if (auto picture = (*reader)->coded(i)) pictures.push_back(std::move(picture));
    std::vector<double> seconds[2], work[2]; // on the wall, and of all processors
    std::uintmax_t bytes[2] = {};
    const auto path = std::filesystem::temp_directory_path() / "virga-chunk-benchmark.mp4";
    for (int round = 0; round < rounds; ++round)
        for (const bool chunked : {false, true}) {
            EncoderSettings settings;
            settings.size = video.size;
            settings.rate = video.rate;
            settings.keyInterval = int(keyDistance(video.rate));
            settings.chunk = chunked ? chunkLength(video.rate) : 0;
            const auto began = std::chrono::steady_clock::now();
            const auto clock = std::clock();
            auto encoder = Encoder::open(path, settings);
            for (const CodedPicture& picture : pictures)
                if (!encoder || !(*encoder)->addFrame(picture)) return 1;
            if (!(*encoder)->finish()) return 1;
            seconds[chunked].push_back(std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count());
            work[chunked].push_back(double(std::clock() - clock) / CLOCKS_PER_SEC);
            bytes[chunked] = std::filesystem::file_size(path);
        }
    std::filesystem::remove(path);
    const auto median = [](std::vector<double> values) {
        std::sort(values.begin(), values.end());
        return values[values.size() / 2];
    };
    const double whole = median(seconds[0]), parts = median(seconds[1]);
    fmt::print("{} pictures of {} x {}: in one go {:.1f} s, {} kB; in chunks of {} pictures {:.1f} s, {} kB; "
               "{:.3f} times as long, {:.3f} times the work, {:.3f} times as large\n",
               pictures.size(), video.size.width, video.size.height, whole, bytes[0] >> 10, chunkLength(video.rate),
               parts, bytes[1] >> 10, parts / whole, median(work[1]) / median(work[0]),
               double(bytes[1]) / double(bytes[0]));
    return 0;
}
