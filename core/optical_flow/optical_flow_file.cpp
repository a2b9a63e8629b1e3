#include "core/optical_flow/optical_flow_file.h"

#include <cstring>

#include "core/base/file.h"
#include "core/base/hash.h"

namespace virga {
namespace {

constexpr std::string_view mark = "virga-flow-1\n";

struct Head {
    std::int32_t gridWidth = 0, gridHeight = 0, sourceWidth = 0, sourceHeight = 0;
    double untrusted = 0;
    std::uint64_t sum = 0; // of what follows
};

Error damaged(const std::filesystem::path& path, std::string why) {
    return {ErrorCode::Unreadable, "is no flow of this version: " + std::move(why), path.string(),
            "delete it; it is made again"};
}

} // namespace

Expected<void> writeFlow(const std::filesystem::path& path, const FlowPair& flow) {
    std::string body;
    for (const FlowField* field : {&flow.forward, &flow.backward})
        body.append(reinterpret_cast<const char*>(field->steps.data()), field->steps.size() * sizeof(std::int16_t));
    Head head{flow.grid.width,    flow.grid.height, flow.source.width,
              flow.source.height, flow.untrusted,   Hash().add(std::string_view(body)).value()};
    std::string bytes(mark);
    bytes.append(reinterpret_cast<const char*>(&head), sizeof head);
    return writeFileAtomically(path, bytes + body);
}

Expected<FlowPair> readFlow(const std::filesystem::path& path) {
    const auto bytes = readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    Head head;
    if (!bytes->starts_with(mark) || bytes->size() < mark.size() + sizeof head)
        return tl::unexpected(damaged(path, "its beginning is another"));
    std::memcpy(&head, bytes->data() + mark.size(), sizeof head);
    constexpr std::int32_t longest = 1 << 14;
    if (head.gridWidth < 1 || head.gridHeight < 1 || head.gridWidth > longest || head.gridHeight > longest ||
        head.sourceWidth < 1 || head.sourceHeight < 1)
        return tl::unexpected(damaged(path, "its size is none"));
    const std::size_t steps = std::size_t(head.gridWidth) * std::size_t(head.gridHeight) * 2;
    const std::string_view body = std::string_view(*bytes).substr(mark.size() + sizeof head);
    if (body.size() != steps * 2 * sizeof(std::int16_t)) return tl::unexpected(damaged(path, "it is cut off"));
    if (Hash().add(body).value() != head.sum) return tl::unexpected(damaged(path, "its bytes are others"));
    FlowPair flow;
    flow.grid = {head.gridWidth, head.gridHeight};
    flow.source = {head.sourceWidth, head.sourceHeight};
    flow.untrusted = head.untrusted >= 0 && head.untrusted <= 1 ? head.untrusted : 1;
    for (FlowField* field : {&flow.forward, &flow.backward}) {
        field->steps.resize(steps);
        const std::size_t from = field == &flow.forward ? 0 : steps * sizeof(std::int16_t);
        std::memcpy(field->steps.data(), body.data() + from, steps * sizeof(std::int16_t));
    }
    return flow;
}

} // namespace virga
