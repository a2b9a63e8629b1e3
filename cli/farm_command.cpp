// A render handed to many machines, watched, mended and joined.
#include <array>
#include <chrono>
#include <cstdio>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <sys/wait.h>
#include <thread>

#include "cli/commands.h"
#include "cli/options.h"
#include "cli/print.h"
#include "core/base/file.h"
#include "core/export/chunk_record.h"
#include "core/export/export_reel.h"
#include "core/export/farm.h"

namespace virga::cli {
namespace {

namespace fs = std::filesystem;

struct Said {
    int code = -1;
    std::string text;
};

Said ask(const std::string& command) {
    Said said;
    FILE* pipe = ::popen(command.c_str(), "r");
    if (!pipe) return said;
    std::array<char, 4096> buffer;
    for (std::size_t n = 0; (n = std::fread(buffer.data(), 1, buffer.size(), pipe)) > 0;)
        said.text.append(buffer.data(), n);
    const int status = ::pclose(pipe);
    said.code = WIFEXITED(status) ? WEXITSTATUS(status) : 128;
    while (!said.text.empty() && std::isspace(static_cast<unsigned char>(said.text.back()))) said.text.pop_back();
    return said;
}

// This program with the same result's options.
std::string commandFor(const char* what, const RenderOptions& o) {
    std::error_code ec;
    std::string text = shellQuoted(fs::read_symlink("/proc/self/exe", ec).string()) + " " + what + " " +
                       shellQuoted(wholePath(o.project).string()) + " --quiet";
    const auto add = [&](const char* name, const std::string& value) {
        if (!value.empty()) text += std::string(" ") + name + " " + shellQuoted(value);
    };
    add("--out", wholePath(o.out).string());
    add("--format", o.format);
    add("--preset", o.preset);
    add("--frames", o.frames);
    add("--size", o.size);
    add("--rate", o.rate);
    add("--quality", o.quality);
    add("--bits", o.depth >= 0 ? std::to_string(o.depth) : "");
    add("--sound", o.sound);
    add("--enlarge", o.enlarging);
    if (o.alpha) text += " --alpha";
    if (o.noSound) text += " --no-sound";
    if (o.force) text += " --force";
    return text;
}

class Farm {
public:
    Farm(const FarmOptions& options, const ExportPlan& plan) : m_options(options), m_plan(plan) {
        std::error_code ec;
        fs::create_directory(chunkFolder(plan.path), ec);
        m_words.name = "virga-" + plan.path.stem().string();
        m_words.log = farmLog(plan.path).string();
        if (std::FILE* log = std::fopen(m_words.log.c_str(), "a"))
            std::fclose(log); // there until the chunks are joined
        m_words.options = options.schedulerOptions;
    }

    // Chunk by chunk on this machine, each by a program of its own.
    Expected<void> here() {
        for (int attempt = 1; attempt <= m_options.tries; ++attempt)
            for (const int k : missingChunks(m_plan)) {
                const Said said = ask(commandFor("render", m_options.render) + fmt::format(" --chunk {} 2>&1", k));
                if (said.code == 0)
                    tell();
                else
                    warn("chunk {}: try {} of {} failed: {}\n", k, attempt, m_options.tries, said.text);
                m_last = said.text;
            }
        return complete();
    }

    // True where nobody waits for the end.
    Expected<bool> by(const Scheduler& scheduler) {
        for (int attempt = 1; attempt <= m_options.tries; ++attempt) {
            const auto missing = missingChunks(m_plan);
            if (missing.empty()) return false;
            if (attempt > 1) warn("try {} of {}: chunks {} once more\n", attempt, m_options.tries, rangesText(missing));
            m_words.chunks = rangesText(missing);
            m_words.command = commandFor("render", m_options.render) + " --chunk " + scheduler.index;
            const auto job = submitted(scheduler.submit);
            if (!job) return tl::unexpected(job.error());
            m_words.job = *job;
            m_words.command = commandFor("join", m_options.render);
            const auto join = submitted(scheduler.join);
            if (!join) return tl::unexpected(join.error());
            say("{}: job {} renders chunks {}, job {} joins them\n", scheduler.name, *job, m_words.chunks, *join);
            std::fflush(stdout);
            if (m_options.noWait) return true;
            waitFor(scheduler, *job);
            if (fs::exists(farmLog(m_plan.path)) && !missingChunks(m_plan).empty()) {
                if (!scheduler.cancel.empty()) {
                    m_words.job = *join;
                    ask(filledIn(scheduler.cancel, m_words));
                }
                continue;
            }
            waitFor(scheduler, *join);
            return false;
        }
        if (auto done = complete(); !done) return tl::unexpected(done.error());
        return false;
    }

    // What a broken run left is told with the program's own last words.
    Error withLog(Error error) const {
        const auto text = readFile(m_words.log);
        std::string last = text ? *text : m_last;
        while (!last.empty() && std::isspace(static_cast<unsigned char>(last.back()))) last.pop_back();
        if (last.size() > 600) last = last.substr(last.size() - 600);
        for (std::size_t at = 0; (at = last.find('\n', at)) != last.npos; at += 2) last.replace(at, 1, "; ");
        if (!last.empty()) error.message += "; the last that was said: " + last;
        return error;
    }

private:
    Expected<std::string> submitted(const std::string& text) const {
        const Said said = ask(filledIn(text, m_words));
        const auto id = said.text.substr(0, said.text.find_first_of(";\n "));
        if (said.code != 0 || id.empty())
            return fail(ErrorCode::BadInput,
                        fmt::format("the scheduler did not take the job (exit code {})", said.code), {},
                        "see what it says above; --options gives it more words");
        return id;
    }
    void waitFor(const Scheduler& scheduler, const std::string& job) {
        FarmWords words = m_words;
        words.job = job;
        while (true) {
            const Said said = ask(filledIn(scheduler.state, words));
            tell();
            if (said.code != 0 || said.text.empty()) return;
            std::this_thread::sleep_for(std::chrono::duration<double>(m_options.every));
        }
    }
    void tell() {
        if (m_options.render.quiet || !fs::exists(farmLog(m_plan.path))) return;
        const int done = m_plan.chunks() - int(missingChunks(m_plan).size());
        if (done == m_told) return;
        m_told = done;
        say("{} of {} chunks\n", done, m_plan.chunks());
        std::fflush(stdout);
    }
    Expected<void> complete() const {
        const auto missing = missingChunks(m_plan);
        if (missing.empty()) return {};
        return fail(ErrorCode::NotFound,
                    fmt::format("chunks {} could not be rendered in {} tries", rangesText(missing), m_options.tries),
                    m_plan.path.string(), "mend what is wrong, and run this again: what is there stays");
    }

    const FarmOptions& m_options;
    const ExportPlan& m_plan;
    FarmWords m_words;
    std::string m_last;
    int m_told = -1;
};

} // namespace

int runFarm(const FarmOptions& options) {
    auto project = openProject(options.render.project);
    if (!project) return complain(project.error());
    auto settings = settingsFrom(options.render, *project);
    if (!settings) return complain(settings.error());
    settings->path = wholePath(settings->path);
    if (auto may = mayExport(*project, *settings, options.render.project); !may) return complain(may.error());
    const auto plan = planExport(*project, *settings);
    if (!plan) return complain(plan.error());
    if (!infoOf(plan->encoder.format).chunked)
        return complain({ErrorCode::Unsupported,
                         std::string(infoOf(plan->encoder.format).name) + " cannot be made in chunks",
                         options.render.out, "use 'render'"});
    const bool here = options.scheduler == "here";
    Scheduler scheduler = slurm();
    if (!here && options.scheduler != "slurm") {
        auto read = readScheduler(options.scheduler);
        if (!read) return complain(read.error());
        scheduler = *read;
    }
    auto shared = here ? std::vector<fs::path>{"/"} : networkFolders();
    shared.insert(shared.end(), options.shared.begin(), options.shared.end());
    if (const auto unseen = unseenElsewhere(*project, wholePath(options.render.project), settings->path, shared);
        !unseen.empty()) {
        for (const std::string& u : unseen) warn("virga-cli: {}\n", u);
        return complain({ErrorCode::BadInput, "other machines could not see all of it", options.render.project,
                         "collect the project in a folder that all see, or name such folders with --shared"});
    }
    Farm farm(options, *plan);
    if (here) {
        if (auto done = farm.here(); !done) return complain(farm.withLog(done.error()));
    } else {
        const auto left = farm.by(scheduler);
        if (!left) return complain(farm.withLog(left.error()));
        if (*left) return Fine;
    }
    if (fs::exists(farmLog(plan->path))) { // nobody joined them yet
        const auto joined = joinChunks(*project, *settings);
        if (!joined) return complain(joined.error());
    }
    if (infoOf(plan->encoder.format).sequence ? !fs::exists(picturePath(plan->path, long(plan->from)))
                                              : !fs::exists(plan->path))
        return complain(farm.withLog({ErrorCode::NotFound, "the chunks were not joined", plan->path.string(), {}}));
    say("{}: {} frames in {} chunks\n", options.render.out, plan->frames(), plan->chunks());
    return Fine;
}

} // namespace virga::cli
