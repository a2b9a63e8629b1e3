#include "core/export/chunk_record.h"

#include <fmt/format.h>
#include <fstream>

#include "core/base/file.h"
#include "core/base/hash.h"
#include "core/base/json.h"
#include "core/encode/encoder.h"

namespace virga {
namespace fs = std::filesystem;
namespace {

// The file, and in a sequence the pictures that it stands for.
std::vector<fs::path> filesOfChunk(const ExportPlan& plan, int chunk, const fs::path& chunkFile) {
    std::vector<fs::path> files{chunkFile};
    if (infoOf(plan.encoder.format).sequence)
        for (auto n = plan.chunkFrom(chunk); n < plan.chunkFrom(chunk + 1); ++n)
            files.push_back(picturePath(plan.path, long(n)));
    return files;
}

// Of all bytes (FNV-1a, 64 bits); empty where one cannot be read.
std::string checksumOf(const std::vector<fs::path>& files) {
    Hash hash;
    std::vector<char> bytes(std::size_t(1) << 20);
    for (const fs::path& path : files) {
        if (!mayRead(path)) return {};
        std::ifstream file(path, std::ios::binary);
        if (!file) return {};
        while (file.read(bytes.data(), std::streamsize(bytes.size())) || file.gcount() > 0)
            hash.add(std::string_view(bytes.data(), std::size_t(file.gcount())));
        if (file.bad()) return {};
    }
    return fmt::format("{:016x}", hash.value());
}

nlohmann::json identity(const ExportPlan& plan, int chunk) {
    return {{"virga", "chunk"},
            {"job", jobKey(plan)},
            {"chunk", chunk},
            {"from", plan.chunkFrom(chunk)},
            {"to", plan.chunkFrom(chunk + 1)}};
}

} // namespace

fs::path recordOf(const fs::path& chunkFile) {
    return fs::path(chunkFile).replace_extension(".record");
}

Expected<void> writeChunkRecord(const ExportPlan& plan, int chunk, const fs::path& chunkFile) {
    nlohmann::json record = identity(plan, chunk);
    record["checksum"] = checksumOf(filesOfChunk(plan, chunk, chunkFile));
    return writeFileAtomically(recordOf(chunkFile), jsonText(record, 2) + "\n");
}

Expected<void> verifyChunk(const ExportPlan& plan, int chunk, const fs::path& chunkFile) {
    std::error_code ec;
    const fs::path file = recordOf(chunkFile);
    if (!fs::exists(chunkFile, ec) || !fs::exists(file, ec))
        return fail(ErrorCode::NotFound, fmt::format("chunk {} is not there yet", chunk), chunkFile.string());
    const auto text = readFile(file);
    if (!text) return tl::unexpected(text.error());
    auto record = parseJson(*text, "a chunk's record", file.string());
    if (!record) return tl::unexpected(record.error());
    const std::string checksum =
        record->is_object() && record->contains("checksum") && (*record)["checksum"].is_string()
            ? (*record)["checksum"].get<std::string>()
            : std::string();
    if (record->is_object()) record->erase("checksum");
    if (*record != identity(plan, chunk))
        return fail(ErrorCode::BadInput,
                    fmt::format("this is not chunk {} of this piece with these settings and sources", chunk),
                    chunkFile.string());
    if (checksum.empty() || checksum != checksumOf(filesOfChunk(plan, chunk, chunkFile)))
        return fail(ErrorCode::Unreadable, fmt::format("chunk {} is not as it was rendered", chunk),
                    chunkFile.string());
    return {};
}

fs::path farmLog(const fs::path& result) {
    return chunkFolder(result) / "virga-farm.log";
}

void removeChunks(const ExportPlan& plan) {
    std::error_code ignored;
    for (const fs::path& file : chunkPaths(plan)) {
        fs::remove(file, ignored);
        fs::remove(recordOf(file), ignored);
    }
    fs::remove(farmLog(plan.path), ignored);
    fs::remove(chunkFolder(plan.path), ignored); // succeeds only where it is empty
}

} // namespace virga
