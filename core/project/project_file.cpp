#include "core/project/project_file.h"

#include <algorithm>
#include <fmt/format.h>

#include "core/base/file.h"
#include "core/project/project_json.h"

namespace virga {
namespace fs = std::filesystem;

Expected<Project> loadProject(const fs::path& path, std::vector<std::string>* missing) {
    auto text = readFile(path);
    if (!text) return tl::unexpected(text.error());
    nlohmann::json document;
    try {
        document = nlohmann::json::parse(*text);
    } catch (const nlohmann::json::parse_error& error) {
        const auto at = std::min<std::size_t>(error.byte, text->size());
        const auto line = 1 + std::count(text->begin(), text->begin() + std::ptrdiff_t(at), '\n');
        return fail(ErrorCode::Unreadable, "is not a Virga project: its text is not JSON from here on",
                    fmt::format("{}, line {}", path.string(), line),
                    "open the autosave beside it, or a copy; the file was not changed");
    }
    const fs::path folder = fs::absolute(path).parent_path();
    auto project = fromJson(std::move(document), folder, path.string());
    if (!project) return project;
    for (Media& media : project->media) {
        std::error_code ec;
        if (fs::exists(media.path, ec)) continue;
        const auto beside = folder / media.path.filename();
        if (fs::exists(beside, ec))
            media.path = beside;
        else if (missing)
            missing->push_back(media.id);
    }
    return project;
}

Expected<void> saveProject(const Project& project, const fs::path& path) {
    return writeFileAtomically(path, toJson(project, fs::absolute(path).parent_path())
                                             .dump(1, ' ', false, nlohmann::json::error_handler_t::replace) +
                                         "\n");
}

} // namespace virga
