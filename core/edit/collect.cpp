#include "core/edit/collect.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <fmt/format.h>
#include <fstream>
#include <map>
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

    // `from` is where it really lies: a link in its place by now is not followed.
    Expected<void> copy(const fs::path& from, const fs::path& to) {
        std::error_code gone;
        if (fs::symlink_status(from, gone).type() != fs::file_type::regular)
            return fail(ErrorCode::Unreadable, "is no plain file any more, and was not copied", from.string(),
                        "look what became of it, then collect again");
        std::ifstream in(from, std::ios::binary);
        if (!in) return fail(ErrorCode::Unreadable, "cannot be read", from.string(), "check its permissions");
        const PartFile part(to);
        const fs::path& temporary = part.path();
        std::ofstream out(temporary, std::ios::binary);
        std::vector<char> block(std::size_t(1) << 20);
        int reason = 0;
        while (out && in) {
            if (cancel.requested()) {
                out.close();
                return fail(ErrorCode::Cancelled, "stopped", to.string());
            }
            in.read(block.data(), std::streamsize(block.size()));
            errno = 0;
            if (!out.write(block.data(), in.gcount())) reason = errno;
            done += std::uintmax_t(in.gcount());
            if (progress) progress(done, all);
        }
        errno = 0;
        out.close();
        if (!out && reason == 0) reason = errno;
        if (!out || in.bad()) {
            if (in.bad())
                return fail(ErrorCode::Unreadable, "cannot be read to its end", from.string(), "copy it by hand");
            const std::string why = reason == 0 ? "is the disk full?" : std::strerror(reason);
            return fail(ErrorCode::WriteFailed, "the copy cannot be written (" + why + ")", to.string(),
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

// Links followed, as far as the file is there.
fs::path reallyAt(const fs::path& path) {
    std::error_code ec;
    const fs::path really = fs::canonical(path, ec);
    return ec ? path : really;
}

bool isBelow(const fs::path& path, const fs::path& folder) {
    const auto [end, rest] = std::mismatch(folder.begin(), folder.end(), path.begin(), path.end());
    return end == folder.end();
}

} // namespace

std::vector<ToCollect> toCollect(const Project& project, const fs::path& folder) {
    std::vector<ToCollect> files;
    const fs::path home = reallyAt(folder.parent_path());
    for (const Media& media : project.media) {
        if (media.path.parent_path() == folder || !mediaExists(media.path)) continue;
        for (const fs::path& file : filesOf(media.path)) {
            ToCollect one{file, reallyAt(file), 0, false};
            std::error_code ec;
            one.bytes = fs::file_size(one.really, ec);
            if (ec) one.bytes = 0;
            one.outside = !isBelow(one.really, home);
            files.push_back(std::move(one));
        }
    }
    return files;
}

Expected<Collected> collectMedia(const Project& project, const fs::path& folder,
                                 const std::function<void(std::uintmax_t, std::uintmax_t)>& progress,
                                 const Cancel& cancel, const std::vector<ToCollect>* promised) {
    std::map<fs::path, fs::path> places; // where each file was said to lie
    for (const ToCollect& one : promised ? *promised : toCollect(project, folder)) places[one.named] = one.really;
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
        for (std::size_t i = 0; i < from.size() && !problem; ++i) {
            const auto place = places.find(from[i]);
            if (place == places.end() || reallyAt(from[i]) != place->second)
                problem = Error{ErrorCode::Unreadable, "lies elsewhere than was said, and was not copied",
                                from[i].string(), "look what became of it, then collect again"};
            else if (auto done = copier.copy(place->second, to[i]); !done)
                problem = done.error();
        }
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
