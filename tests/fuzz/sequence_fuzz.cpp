// Names of numbered pictures.
#include "core/base/sequence_path.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string name(fuzz::text(data, std::min(size, std::size_t(4096))));
    if (const auto sequence = sequenceOf(name)) {
        fuzz::require(sequence->count() > 0 && sequence->count() <= mostSequencePictures, "a sequence has its length");
        const auto again = sequenceOf(sequence->path());
        fuzz::require(again && again->first == sequence->first && again->last == sequence->last &&
                          again->before == sequence->before,
                      "a sequence's path is read as the same", name);
    }
    mediaName(name);
    std::vector<std::filesystem::path> files;
    for (std::size_t at = 0; at < name.size();) {
        const std::size_t end = std::min(name.find('\n', at), name.size());
        files.emplace_back(name.substr(at, end - at));
        at = end + 1;
    }
    fuzz::require(withSequences(files).size() <= files.size(), "gathering makes no files");
    return 0;
}
