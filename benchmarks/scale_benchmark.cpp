// A project of ten thousand clips, each with a file of its own and moves at its cuts: opened, edited, checked anew,
// saved, planned. Beside it, in the same run, what nlohmann's JSON alone takes to read and write the same text. Usage:
// scale_benchmark PROJECT [CLIPS]
#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sys/resource.h>

#include "core/base/file.h"
#include "core/check/flow.h"
#include "core/edit/project_patch.h"
#include "core/edit/reel_edits.h"
#include "core/plan/plan.h"
#include "core/project/project_file.h"

using namespace virga;
namespace fs = std::filesystem;

namespace {

template <typename Work> double milliseconds(const Work& work) {
    const auto began = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - began).count();
}

template <typename Work> std::pair<double, double> medianAndMost(int times, const Work& work) {
    std::vector<double> took;
    for (int i = 0; i < times; ++i) took.push_back(milliseconds([&] { work(i); }));
    std::sort(took.begin(), took.end());
    return {took[took.size() / 2], took.back()};
}

Project longReel(const Project& demo, int clips, const fs::path& folder) {
    Project p = demo;
    p.overlays.clear(), p.adjustments.clear(), p.markers.clear(), p.recipes.clear();
    p.media.clear(), p.reel.clear();
    for (int i = 0; i < clips; ++i) {
        Media media = demo.media[std::size_t(i) % demo.media.size()];
        media.id = fmt::format("media-{}", i + 1);
        media.path = folder / fmt::format("shot-{:05}.mp4", i + 1);
        p.media.push_back(media);
        Clip clip = demo.reel[std::size_t(i) % demo.reel.size()];
        clip.id = fmt::format("clip-{}", i + 1);
        clip.mediaId = media.id;
        clip.transition.link.reset();
        for (Move& move : clip.transition.moves) move.id = fmt::format("{}-{}", move.id, i);
        for (Move& move : clip.drift) move.id = fmt::format("{}-{}", move.id, i);
        p.reel.push_back(clip);
    }
    p.reel[0].transition = {};
    return p;
}

// A value typed at a clip and its cut.
void type(Clip& clip) {
    clip.gain *= 1.01;
    for (Move& move : clip.transition.moves)
        for (Channel& channel : move.channels)
            for (Key& key : channel.incoming.keys) key.value *= 1.01;
}

void row(const char* what, double median, double most, const char* asked, const std::string& beside = {}) {
    fmt::print("| {} | {:.1f} ms ({:.1f} at most) | {} | {} |\n", what, median, most, asked, beside);
}

} // namespace

int main(int argc, char** argv) {
    if (argc < 2) return fmt::print(stderr, "Usage: scale_benchmark PROJECT [CLIPS]\n"), 2;
    const auto demo = loadProject(argv[1]);
    if (!demo) return fmt::print(stderr, "{}\n", describe(demo.error())), 2;
    const int clips = argc > 2 ? std::max(100, std::atoi(argv[2])) : 10000;
    const fs::path folder = fs::temp_directory_path() / fmt::format("virga-scale-{}", ::getpid());
    fs::create_directories(folder);
    const fs::path file = folder / "long.virga";
    const Project made = longReel(*demo, clips, folder);
    for (const Media& media : made.media) std::ofstream(media.path); // they are there, as a reel's files are
    if (auto saved = saveProject(made, file); !saved) return fmt::print(stderr, "{}\n", describe(saved.error())), 2;
    fmt::print("{} clips, {} frames, {:.1f} MB of JSON\n\n| what | took | asked | beside it |\n|---|---|---|---|\n",
               clips, reelLength(made), double(fs::file_size(file)) / 1e6);

    const std::string text = *readFile(file);
    nlohmann::json document;
    const double parsing = milliseconds([&] { document = nlohmann::json::parse(text); });
    std::string again;
    const double dumping = milliseconds([&] { again = document.dump(1); });
    Project opened;
    const auto open = medianAndMost(3, [&](int) { opened = *loadProject(file); });
    row("opened", open.first, open.second, "3 s", fmt::format("JSON alone parsed: {:.0f} ms", parsing));
    // As Document does it: what did not change is not put into words anew.
    ProjectText texts;
    const double firstSave = milliseconds([&] { (void)saveProject(opened, file, &texts); });
    row("saved for the first time since it was opened (in the background)", firstSave, firstSave, "",
        fmt::format("JSON alone written: {:.0f} ms", dumping));
    Project edited = opened;
    const auto save = medianAndMost(9, [&](int i) {
        type(edited.reel[edited.reel.size() / 3 + std::size_t(i)]);
        (void)saveProject(edited, file, &texts);
    });
    row("saved after an edit (in the background)", save.first, save.second, "300 ms", "");
    if (!(*loadProject(file) == edited)) return fmt::print(stderr, "what was saved is not what was edited\n"), 2;

    // As Document does it: the next value, compared, shared, what lies between kept for undoing.
    auto now = std::make_shared<const Project>(opened);
    const auto edit = medianAndMost(15, [&](int i) {
        Project next = *now;
        type(next.reel[next.reel.size() / 2 + std::size_t(i)]);
        if (next == *now) std::abort();
        auto after = std::make_shared<const Project>(std::move(next));
        const ProjectPatch patch(*now, *after);
        now = std::move(after);
    });
    row("a value typed, with its undo step", edit.first, edit.second, "20 ms");
    const auto split = medianAndMost(9, [&](int i) {
        auto after = std::make_shared<const Project>(withSplit(*now, reelLength(*now) / 2 + 7 * i));
        const ProjectPatch patch(*now, *after);
        now = std::move(after);
    });
    row("a clip split, with its undo step", split.first, split.second, "20 ms");

    ReelFlow whole;
    const double first = milliseconds([&] { whole = flowOfReel(now); });
    const auto check = medianAndMost(9, [&](int i) {
        Project next = *now;
        type(next.reel[next.reel.size() / 2 + std::size_t(i)]);
        now = std::make_shared<const Project>(std::move(next));
    });
    const auto recheck = medianAndMost(9, [&](int i) {
        Project next = *now;
        type(next.reel[next.reel.size() / 2 + std::size_t(i)]);
        now = std::make_shared<const Project>(std::move(next));
        whole = flowOfReel(now, whole);
    });
    row("checked anew, the edit left out", recheck.first - check.first, recheck.second - check.first, "30 ms",
        fmt::format("the first time, all of it: {:.0f} ms", first));

    const ReelIndex index = reelIndex(*now);
    std::size_t layers = 0;
    constexpr int frames = 2000;
    const double planned = milliseconds([&] {
        for (int i = 0; i < frames; ++i) layers += planFrame(*now, index, reelLength(*now) / frames * i).layers.size();
    });
    fmt::print("| a frame planned | {:.1f} µs | {} layers | |\n", 1000 * planned / frames, layers);
    struct rusage used {};
    getrusage(RUSAGE_SELF, &used);
    fmt::print("\n{} MB at most\n", used.ru_maxrss / 1024);
    fs::remove_all(folder);
    return 0;
}
