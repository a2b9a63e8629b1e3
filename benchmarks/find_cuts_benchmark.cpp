// How well cuts are found again: a flat video is made of pieces of the given shots with known hard cuts, and searched.
// Prints precision, recall and speed; exits with 1 where either is below 0.95.
// Usage: find_cuts_benchmark [--pieces N] [--seed N] SHOT...
#include <CLI/CLI.hpp>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <fmt/format.h>
#include <random>
#include <set>

#include "core/analysis/find_cuts.h"
#include "core/decode/import_media.h"
#include "core/decode/probe.h"
#include "core/edit/edits.h"
#include "core/export/export_reel.h"

using namespace virga;

int main(int argc, char** argv) {
    CLI::App app("Precision and recall of finding cuts");
    std::vector<std::string> shots;
    int pieces = 60;
    unsigned seed = 1;
    app.add_option("--pieces", pieces, "Pieces of the flat video");
    app.add_option("--seed", seed, "For the pieces' order and lengths");
    app.add_option("shots", shots, "Videos without cuts of their own")->required();
    CLI11_PARSE(app, argc, argv);
    Project project;
    project.settings.size = {640, 360};
    project.settings.rate = 25;
    project.settings.shutter.angle = 0;
    std::vector<std::string> ids;
    for (const auto& shot : shots) {
        const auto info = probe(shot);
        if (!info || !info->video || info->video->still || info->video->duration < Rational(1, 2)) {
            fmt::print("left out: {}\n", shot);
            continue;
        }
        std::string id;
        project = withMedia(project, mediaFrom(*info), &id);
        ids.push_back(id);
    }
    std::mt19937 chance(seed);
    std::string before;
    for (int i = 0; i < pieces && ids.size() > 1; ++i) {
        std::string id;
        do id = ids[chance() % ids.size()];
        while (id == before);
        before = id;
        Clip clip = clipFor(project, *findMedia(project, id));
        const auto length = std::min<std::int64_t>(clip.length, 5 + std::int64_t(chance() % 45));
        clip.sourceIn =
            Rational(std::int64_t(chance() % std::uint64_t(clip.length - length + 1))) / project.settings.rate;
        clip.length = length;
        project = withClip(project, int(project.reel.size()), clip);
    }
    const auto file = std::filesystem::temp_directory_path() / fmt::format("virga-find-cuts-{}.mp4", seed);
    ExportSettings settings;
    settings.path = file;
    settings.sound = false;
    SourcePool pool;
    if (const auto done = exportReel(project, settings, pool); !done) {
        fmt::print("{}\n", describe(done.error()));
        return 2;
    }
    std::set<std::int64_t> wanted;
    const auto starts = clipStarts(project);
    for (std::size_t i = 1; i + 1 < starts.size(); ++i) wanted.insert(starts[i]);
    const auto began = std::chrono::steady_clock::now();
    const auto list = findCuts(file);
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    std::filesystem::remove(file);
    if (!list) {
        fmt::print("{}\n", describe(list.error()));
        return 2;
    }
    int right = 0, found = 0;
    for (const FoundCut& cut : list->cuts) {
        const bool sure = cut.confidence >= surely, real = wanted.contains(cut.picture);
        found += sure;
        right += sure && real;
        if (sure == real) continue;
        const int clip = clipAt(project, cut.picture);
        const Clip& in = project.reel[std::size_t(std::max(0, clip))];
        fmt::print(
            "  {} at {} ({:.2f}), {:.2f} s into {}\n", sure ? "false" : "missed", cut.picture, cut.confidence,
            (in.sourceIn + Rational(cut.picture - starts[std::size_t(std::max(0, clip))]) / project.settings.rate)
                .toDouble(),
            in.name);
    }
    const double precision = found ? double(right) / found : 1,
                 recall = wanted.empty() ? 1 : double(right) / double(wanted.size());
    fmt::print("{} shots, {} pictures, {} cuts: precision {:.3f}, recall {:.3f}, {:.0f} pictures/s\n", ids.size(),
               list->pictures, wanted.size(), precision, recall, double(list->pictures) / seconds);
    return precision >= 0.95 && recall >= 0.95 ? 0 : 1;
}
