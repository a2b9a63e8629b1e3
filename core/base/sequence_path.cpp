#include "core/base/sequence_path.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <map>
#include <set>

namespace virga {
namespace fs = std::filesystem;
namespace {

bool isPicture(const fs::path& path) {
    static const std::set<std::string> kinds = {".png", ".jpg", ".jpeg", ".tif", ".tiff", ".exr",
                                                ".dpx", ".bmp", ".webp", ".tga", ".ppm"};
    std::string kind = path.extension().string();
    std::transform(kind.begin(), kind.end(), kind.begin(), [](unsigned char c) { return char(std::tolower(c)); });
    return kinds.contains(kind);
}

struct Numbered {
    std::string before, after, number;
};

std::optional<Numbered> numberedIn(const fs::path& path) {
    const std::string name = path.filename().string(), kind = path.extension().string();
    const std::size_t end = name.size() - kind.size();
    std::size_t from = end;
    while (from > 0 && std::isdigit(static_cast<unsigned char>(name[from - 1]))) --from;
    if (from == end || end - from > 9) return std::nullopt;
    return Numbered{name.substr(0, from), kind, name.substr(from, end - from)};
}

} // namespace

fs::path SequencePath::path() const {
    return folder / fmt::format("{}[{:0{}}-{:0{}}]{}", before, first, digits, last, digits, after);
}

fs::path SequencePath::picture(long number) const {
    return folder / fmt::format("{}{:0{}}{}", before, number, digits, after);
}

std::optional<SequencePath> sequenceOf(const fs::path& path) {
    // before[first-last].kind, read from the end: a name may be long, and hold brackets of its own.
    std::error_code ec;
    if (!isPicture(path) || fs::is_regular_file(path, ec)) return std::nullopt;
    const std::string name = path.filename().string(), kind = path.extension().string();
    const std::string_view stem = std::string_view(name).substr(0, name.size() - kind.size());
    if (!stem.ends_with(']')) return std::nullopt;
    const std::size_t open = stem.rfind('['), dash = stem.rfind('-');
    if (open == stem.npos || dash == stem.npos || dash < open) return std::nullopt;
    const std::string_view first = stem.substr(open + 1, dash - open - 1),
                           last = stem.substr(dash + 1, stem.size() - dash - 2);
    const auto number = [](std::string_view text) -> std::optional<long> {
        constexpr std::size_t mostDigits = 9;
        if (text.empty() || text.size() > mostDigits || text.find_first_not_of("0123456789") != text.npos)
            return std::nullopt;
        return std::stol(std::string(text));
    };
    SequencePath s;
    const auto from = number(first), to = number(last);
    if (!from || !to || *to < *from || *to - *from >= mostSequencePictures) return std::nullopt;
    s.folder = path.parent_path();
    s.before = stem.substr(0, open);
    s.after = kind;
    s.first = *from, s.last = *to;
    s.digits = int(first.size());
    return s;
}

bool mediaExists(const fs::path& path) {
    std::error_code ec;
    if (fs::is_regular_file(path, ec)) return true;
    const auto s = sequenceOf(path);
    return s && fs::exists(s->picture(s->first), ec) && fs::exists(s->picture(s->last), ec);
}

std::string mediaName(const fs::path& path) {
    const auto s = sequenceOf(path);
    if (!s) return path.stem().string();
    std::string name = s->before;
    while (!name.empty() && (name.back() == '_' || name.back() == '-' || name.back() == '.' || name.back() == ' '))
        name.pop_back();
    return name.empty() ? s->folder.filename().string() : name;
}

std::vector<fs::path> withSequences(const std::vector<fs::path>& files, long shortest) {
    std::map<std::tuple<std::string, std::string, std::string, std::size_t>, std::map<long, fs::path>> groups;
    const auto keyOf = [](const fs::path& file, const Numbered& n) {
        return std::tuple(file.parent_path().string(), n.before, n.after, n.number.size());
    };
    for (const fs::path& file : files)
        if (const auto n = numberedIn(file); n && isPicture(file)) groups[keyOf(file, *n)][std::stol(n->number)] = file;
    std::map<fs::path, fs::path> starts; // a run's first file to its sequence
    std::set<fs::path> inside;
    for (const auto& [key, group] : groups) {
        for (auto at = group.begin(); at != group.end();) {
            auto end = at;
            long last = at->first;
            while (std::next(end) != group.end() && std::next(end)->first == last + 1) ++end, ++last;
            const auto after = std::next(end);
            if (last - at->first + 1 >= shortest) {
                const SequencePath s{at->second.parent_path(), std::get<1>(key), std::get<2>(key), at->first, last,
                                     int(std::get<3>(key))};
                starts[at->second] = s.path();
                for (auto i = at; i != after; ++i) inside.insert(i->second);
            }
            at = after;
        }
    }
    std::vector<fs::path> out;
    for (const fs::path& file : files) {
        if (const auto s = starts.find(file); s != starts.end())
            out.push_back(s->second);
        else if (!inside.contains(file))
            out.push_back(file);
    }
    return out;
}

std::vector<fs::path> filesOf(const fs::path& path) {
    const auto s = sequenceOf(path);
    if (!s) return {path};
    std::vector<fs::path> out;
    for (long n = s->first; n <= s->last; ++n) out.push_back(s->picture(n));
    return out;
}

} // namespace virga
