#include "core/project/project_file.h"

#include <fmt/format.h>
#include <set>

#include "core/base/file.h"
#include "core/base/fingerprint.h"
#include "core/base/hash.h"
#include "core/base/json.h"
#include "core/base/sequence_path.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"

namespace virga {
namespace fs = std::filesystem;

std::map<fs::path, fs::path> findNear(const std::vector<fs::path>& lost, const fs::path& folder) {
    std::map<fs::path, fs::path> found;
    if (lost.empty()) return found;
    constexpr int mostEntries = 20000, deepest = 4;
    // For a sequence its first picture is looked for, and the rest must lie beside it.
    std::multimap<std::string, fs::path> wanted;
    for (const fs::path& path : lost) {
        const auto s = sequenceOf(path);
        wanted.emplace((s ? s->picture(s->first) : path).filename().string(), path);
    }
    const auto see = [&](const fs::path& file) {
        const auto [from, to] = wanted.equal_range(file.filename().string());
        for (auto at = from; at != to; ++at) {
            const fs::path candidate = file.parent_path() / at->second.filename();
            // Of two files of one name, the one whose folder is called like the old one wins.
            const auto before = found.find(at->second);
            const bool alike = candidate.parent_path().filename() == at->second.parent_path().filename();
            if (mediaExists(candidate) && (before == found.end() || alike)) found[at->second] = candidate;
        }
    };
    std::error_code ec;
    int seen = 0;
    for (auto at = fs::recursive_directory_iterator(folder, fs::directory_options::skip_permission_denied, ec);
         !ec && at != fs::recursive_directory_iterator() && ++seen < mostEntries; at.increment(ec)) {
        const bool isFolder = at->is_directory(ec);
        if (isFolder && (at.depth() >= deepest || at->path().filename().string().starts_with(".")))
            at.disable_recursion_pending();
        if (!isFolder && wanted.contains(at->path().filename().string())) see(at->path());
    }
    return found;
}

namespace {
constexpr const char* keptOf = "keptOf"; // in kept copies only: the content of the file that they go on from
} // namespace

Expected<Project> loadProject(const fs::path& path, std::vector<std::string>* missing) {
    auto text = readFile(path);
    if (!text) return tl::unexpected(text.error());
    auto document = parseJson(*text, "a Virga project", path.string());
    if (!document) return tl::unexpected(document.error());
    if (document->is_object()) document->erase(keptOf);
    const fs::path folder = wholePath(path).parent_path();
    auto project = fromJson(std::move(*document), folder, path.string());
    if (!project) return project;
    std::vector<fs::path> lost;
    for (const Media& media : project->media)
        if (!mediaExists(media.path)) lost.push_back(media.path);
    const auto found = findNear(lost, folder);
    const std::set<fs::path> gone(lost.begin(), lost.end());
    for (Media& media : project->media) {
        if (const auto at = found.find(media.path); at != found.end())
            media.path = at->second;
        else if (missing && gone.contains(media.path))
            missing->push_back(media.id);
    }
    return project;
}

std::vector<std::string> changedMedia(const Project& project) {
    std::vector<std::string> changed;
    for (const Media& media : project.media) {
        if (media.fingerprint.empty()) continue;
        const std::string now = fingerprintOf(media.path);
        if (!now.empty() && now != media.fingerprint) changed.push_back(media.id);
    }
    return changed;
}

namespace {

bool isProjectFile(const fs::path& path) {
    const auto text = readFile(path);
    return text && text->find("\"virga-project\"") != std::string::npos;
}

} // namespace

Output projectOutput(const Project& project, bool force) {
    Output output{"a Virga project", {".virga"}, {}, !force, isProjectFile};
    for (const Media& media : project.media) output.inputs.push_back(media.path);
    return output;
}

Expected<void> saveProject(const Project& project, const fs::path& path, ProjectText* texts) {
    // What is saved can be opened: whatever made it, it is held to what a file may say.
    ProjectText once;
    return writeFileAtomically(path, (texts ? *texts : once).of(project, wholePath(path).parent_path()) + "\n");
}

std::string contentOf(const fs::path& path) {
    const auto text = readFile(path);
    return text ? fmt::format("{:016x}", Hash().add(*text).value()) : std::string();
}

Expected<void> keepCopy(const Project& project, const fs::path& path, const std::string& content, ProjectText* texts) {
    ProjectText once;
    return writeFileAtomically(
        path, (texts ? *texts : once).of(project, wholePath(path).parent_path(), {{keptOf, content}}) + "\n");
}

bool goesOnFrom(const fs::path& copy, const fs::path& project) {
    const auto text = readFile(copy);
    if (!text) return false;
    const auto document = parseJson(*text, "a kept copy", copy.string());
    if (!document || !document->is_object()) return true; // whatever it is, it is not thrown away unseen
    const std::string content = contentOf(project);
    return content.empty() || document->value(keptOf, content) == content;
}

} // namespace virga
