#include "core/base/fingerprint.h"

#include <fmt/format.h>
#include <fstream>
#include <vector>

#include "core/base/hash.h"
#include "core/base/sequence_path.h"

namespace virga {
namespace {

bool addFile(Hash& hash, const std::filesystem::path& path) {
    std::ifstream file(path, std::ios::binary);
    if (!file) return false;
    file.seekg(0, std::ios::end);
    const auto size = std::int64_t(file.tellg());
    if (size < 0) return false;
    hash.add(size);
    constexpr std::int64_t block = 1 << 16;
    std::vector<char> bytes(block);
    for (const std::int64_t at : {std::int64_t(0), size / 2, size - block}) {
        file.clear();
        file.seekg(std::max<std::int64_t>(0, at));
        file.read(bytes.data(), block);
        hash.add(std::string_view(bytes.data(), std::size_t(file.gcount())));
    }
    return true;
}

} // namespace

std::string fingerprintOf(const std::filesystem::path& path) {
    Hash hash;
    const auto sequence = sequenceOf(path);
    const bool read = sequence ? addFile(hash, sequence->picture(sequence->first)) &&
                                     addFile(hash.add(sequence->count()), sequence->picture(sequence->last))
                               : addFile(hash, path);
    return read ? fmt::format("{:016x}", hash.value()) : std::string();
}

} // namespace virga
