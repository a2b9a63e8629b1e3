#include "core/edit/collect.h"

#include <algorithm>
#include <fmt/format.h>
#include <fstream>
#include <set>
#include <vector>

#include "core/base/file.h"
#include "core/base/fingerprint.h"
#include "core/base/output.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace fs = std::filesystem;
namespace {

struct Copier {
    const std::function<void(std::uintmax_t, std::uintmax_t)>& progress;
    const Cancel& cancel;
    std::uintmax_t done = 0, all = 0;

    Expected<void> copy(const fs::path& from, const fs::path& to) {
        std::ifstream in(from, std::ios::binary);
        if (!in) return fail(ErrorCode::Unreadable, "cannot be read", from.string(), "check its permissions");
        const PartFile part(to);
        const fs::path& temporary = part.path();
        std::ofstream out(temporary, std::ios::binary);
        std::vector<char> block(std::size_t(1) << 20);
        while (out && in) {
            if (cancel.requested()) {
                out.close();
                return fail(ErrorCode::Cancelled, "stopped", to.string());
            }
            in.read(block.data(), std::streamsize(block.size()));
            out.write(block.data(), in.gcount());
            done += std::uintmax_t(in.gcount());
            if (progress) progress(done, all);
        }
        out.close();
        if (!out || in.bad()) {
            if (in.bad())
                return fail(ErrorCode::Unreadable, "cannot be read to its end", from.string(), "copy it by hand");
            return fail(ErrorCode::WriteFailed, "the copy cannot be written (is the disk full?)", to.string(),
                        "make room and collect again; what is there already is kept");
        }
        return putInPlace(temporary, to);
    }
};

std::uintmax_t sizeOf(const fs::path& path) {
    std::uintmax_t size = 0;
    for (const fs::path& file : filesOf(path)) {
        std::error_code ec;
        const auto n = fs::file_size(file, ec);
        if (!ec) size += n;
    }
    return size;
}

// The same name and size may be another file: the content decides.
bool isCopy(const fs::path& a, const fs::path& b) {
    if (sizeOf(a) != sizeOf(b)) return false;
    const std::string first = fingerprintOf(a);
    return !first.empty() && first == fingerprintOf(b);
}

fs::path numbered(const fs::path& path, int number) {
    const auto s = sequenceOf(path);
    if (!s) return path.parent_path() / fmt::format("{} {}{}", path.stem().string(), number, path.extension().string());
    SequencePath other = *s;
    other.before = fmt::format("{}{}_", s->before, number);
    return other.path();
}

} // namespace

Expected<Collected> collectMedia(const Project& project, const fs::path& folder,
                                 const std::function<void(std::uintmax_t, std::uintmax_t)>& progress,
                                 const Cancel& cancel) {
    std::error_code ec;
    fs::create_directories(folder, ec);
    if (ec) return fail(ErrorCode::WriteFailed, "the folder cannot be made", folder.string(), "choose another place");
    Collected out{project, 0, 0, {}};
    Copier copier{progress, cancel};
    for (const Media& m : project.media)
        if (m.path.parent_path() != folder) copier.all += sizeOf(m.path);
    std::set<fs::path> taken;
    for (const Media& m : project.media)
        if (m.path.parent_path() == folder) taken.insert(m.path);
    for (Media& media : out.project.media) {
        if (media.path.parent_path() == folder) {
            ++out.alreadyThere;
            continue;
        }
        if (!mediaExists(media.path)) {
            out.problems.push_back({ErrorCode::NotFound, "is not there and could not be copied", media.path.string(),
                                    "relink it, then collect again"});
            continue;
        }
        fs::path target = folder / media.path.filename();
        for (int n = 2; taken.contains(target) || (mediaExists(target) && !isCopy(target, media.path)); ++n)
            target = numbered(folder / media.path.filename(), n);
        taken.insert(target);
        if (mediaExists(target)) { // an earlier collection's copy
            ++out.alreadyThere;
            media.path = target;
            continue;
        }
        const auto from = filesOf(media.path), to = filesOf(target);
        std::optional<Error> problem;
        for (std::size_t i = 0; i < from.size() && !problem; ++i)
            if (auto done = copier.copy(from[i], to[i]); !done) problem = done.error();
        if (problem && problem->code != ErrorCode::Unreadable) return tl::unexpected(*problem);
        if (problem) {
            out.problems.push_back(*problem);
            continue;
        }
        media.path = target;
        ++out.copied;
    }
    return out;
}

} // namespace virga
