#include "core/export/farm.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/file.h"
#include "core/base/json.h"
#include "core/base/sequence_path.h"

namespace virga {

namespace fs = std::filesystem;

Scheduler slurm() {
    return {"slurm",
            "$SLURM_ARRAY_TASK_ID",
            "sbatch --parsable --requeue --job-name={name} --array={chunks} --cpus-per-task=2 --output={log} {options} "
            "--wrap={command}",
            "sbatch --parsable --job-name={name}-join --dependency=afterok:{job} --kill-on-invalid-dep=yes "
            "--cpus-per-task=1 --output={log} {options} --wrap={command}",
            "squeue --noheader --jobs={job} --format=%T 2>/dev/null",
            "scancel {job}"};
}

Expected<Scheduler> readScheduler(const fs::path& file) {
    const auto text = readFile(file, 1 << 20);
    if (!text) return tl::unexpected(text.error());
    const auto parsed = parseJson(*text, "a scheduler's commands", file.string());
    if (!parsed) return tl::unexpected(parsed.error());
    Scheduler s;
    s.name = file.stem().string();
    const std::array<std::pair<const char*, std::string*>, 5> fields{
        {{"index", &s.index}, {"submit", &s.submit}, {"join", &s.join}, {"state", &s.state}, {"cancel", &s.cancel}}};
    for (const auto& [name, to] : fields) {
        const auto found = parsed->is_object() ? parsed->find(name) : parsed->end();
        if (parsed->is_object() && found != parsed->end() && found->is_string())
            *to = found->get<std::string>();
        else if (to != &s.cancel)
            return fail(ErrorCode::Unreadable, fmt::format("the command \"{}\" is missing", name), file.string(),
                        "see docs/farm.md");
    }
    return s;
}

std::string shellQuoted(const std::string& text) {
    std::string out = "'";
    for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

std::string filledIn(const std::string& text, const FarmWords& words) {
    const std::array<std::pair<std::string, std::string>, 6> places{{{"{name}", shellQuoted(words.name)},
                                                                     {"{chunks}", words.chunks},
                                                                     {"{command}", shellQuoted(words.command)},
                                                                     {"{log}", shellQuoted(words.log)},
                                                                     {"{options}", words.options},
                                                                     {"{job}", words.job}}};
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto place = std::find_if(places.begin(), places.end(),
                                        [&](const auto& p) { return text.compare(i, p.first.size(), p.first) == 0; });
        if (place == places.end()) {
            out += text[i++];
            continue;
        }
        out += place->second;
        i += place->first.size();
    }
    return out;
}

std::string rangesText(const std::vector<int>& numbers) {
    std::string out;
    for (std::size_t i = 0; i < numbers.size();) {
        std::size_t last = i;
        while (last + 1 < numbers.size() && numbers[last + 1] == numbers[last] + 1) ++last;
        out += (out.empty() ? "" : ",") + std::to_string(numbers[i]);
        if (last > i) out += "-" + std::to_string(numbers[last]);
        i = last + 1;
    }
    return out;
}

std::vector<fs::path> networkFolders() {
    // Types as Linux names them in /proc/filesystems and for FUSE.
    static constexpr const char* kinds[] = {"nfs",  "nfs4",   "cifs",     "smb3",      "ceph",           "lustre",
                                            "gpfs", "beegfs", "afs",      "glusterfs", "fuse.glusterfs", "fuse.sshfs",
                                            "9p",   "ocfs2",  "orangefs", "virtiofs",  "fuse.cephfs"};
    std::vector<fs::path> folders;
    std::ifstream mounts("/proc/self/mounts");
    for (std::string line; std::getline(mounts, line);) {
        std::istringstream words(line);
        std::string device, folder, kind;
        words >> device >> folder >> kind;
        if (std::find(std::begin(kinds), std::end(kinds), kind) != std::end(kinds)) folders.emplace_back(folder);
    }
    return folders;
}

std::vector<std::string> unseenElsewhere(const Project& project, const fs::path& projectFile, const fs::path& result,
                                         const std::vector<fs::path>& shared) {
    std::vector<std::string> unseen;
    const auto look = [&](const fs::path& path, bool mustBeThere) {
        if (mustBeThere && !mediaExists(path)) {
            unseen.push_back(fmt::format("{} is not there", path.string()));
            return;
        }
        std::error_code ec;
        const fs::path real = fs::weakly_canonical(path, ec);
        for (const fs::path& folder : shared) {
            const fs::path within = real.lexically_relative(fs::weakly_canonical(folder, ec));
            if (!within.empty() && *within.begin() != "..") return;
        }
        unseen.push_back(fmt::format("{} lies on this machine alone", path.string()));
    };
    look(projectFile, true);
    look(result, false);
    std::vector<std::string> used;
    for (const Clip& c : project.reel) used.push_back(c.mediaId);
    for (const Overlay& o : project.overlays) used.push_back(o.clip.mediaId);
    for (const Music& m : project.music) used.push_back(m.mediaId);
    for (const Media& m : project.media)
        if (std::find(used.begin(), used.end(), m.id) != used.end()) look(m.path, true);
    return unseen;
}

} // namespace virga
