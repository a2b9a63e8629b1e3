#include "core/interchange/edit_file.h"

#include "core/base/file.h"
#include "core/base/sequence_path.h"
#include "core/interchange/edit_list.h"
#include "core/interchange/otio.h"
#include "core/project/project_file.h"

namespace virga {
namespace fs = std::filesystem;

bool isTimeline(const fs::path& path) {
    return endingOf(path) == ".otio";
}

Expected<ImportedEdit> readEditFile(const fs::path& path, const Project& base) {
    const auto text = readFile(path);
    if (!text) return tl::unexpected(text.error());
    const fs::path folder = wholePath(path).parent_path();
    auto read = isTimeline(path) ? readOtio(*text, base, folder, path.string())
                                 : readEditList(*text, base, path.stem().string());
    if (!read) {
        if (read.error().place.empty()) read.error().place = path.string();
        return read;
    }
    const auto foundAt = [&](Media& m, const fs::path& place) {
        const std::string named = "\"" + m.path.string() + "\"";
        std::erase_if(read->problems, [&](const std::string& p) { return p.find(named) != std::string::npos; });
        m.path = place;
    };
    for (Media& m : read->project.media) // beside the edit, wherever the program works
        if (m.path.is_relative() && mediaExists(folder / m.path)) foundAt(m, folder / m.path);
    std::vector<fs::path> lost;
    for (const Media& m : read->project.media)
        if (!mediaExists(m.path)) lost.push_back(m.path);
    const auto found = findNear(lost, folder);
    for (Media& m : read->project.media) {
        if (const auto at = found.find(m.path); at != found.end()) {
            foundAt(m, at->second);
        } else if (m.path.is_relative()) {
            m.path = folder / m.path;
        }
    }
    if (!isTimeline(path)) {
        read->project.music = base.music;
        read->project.overlays = base.overlays;
        read->project.adjustments = base.adjustments;
    }
    read->project.unknown = base.unknown;
    return read;
}

namespace {

bool isEdit(const fs::path& path) {
    const auto text = readFile(path);
    if (!text || text->find('\0') != std::string::npos) return false;
    return isTimeline(path) ? text->find("OTIO_SCHEMA") != std::string::npos
                            : text->find("TITLE:") != std::string::npos || text->find("FCM:") != std::string::npos;
}

} // namespace

Output editOutput(const Project& project, bool force) {
    Output output{"an edit", {".otio", ".edl"}, {}, !force, isEdit};
    for (const Media& media : project.media) output.inputs.push_back(media.path);
    return output;
}

Expected<void> writeEditFile(const Project& project, const fs::path& path, std::vector<std::string>* problems) {
    return writeFileAtomically(path, isTimeline(path) ? writeOtio(project, wholePath(path).parent_path())
                                                      : writeEditList(project, problems));
}

} // namespace virga
