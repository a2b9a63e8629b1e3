// The fuzzers' seeds and every case that they found, once more, in every ./check: tests/corpus/fuzz has a folder a
// gate. What is wrong ends the program, as in the fuzzer itself.
#include <fstream>
#include <gtest/gtest.h>
#include <iterator>

#include "tests/fuzz/fuzz.h"

#define DECLARE(gate) extern "C" int fuzz_##gate(const std::uint8_t* data, std::size_t size);
VIRGA_GATES(DECLARE) // the list of CMakeLists.txt

namespace virga::replay_test {
namespace {

namespace fs = std::filesystem;
using Gate = int (*)(const std::uint8_t*, std::size_t);

std::vector<std::uint8_t> bytesOf(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

class FuzzCases : public testing::TestWithParam<std::pair<const char*, Gate>> {};

TEST_P(FuzzCases, AreStood) {
    const auto [name, gate] = GetParam();
    int cases = 0;
    for (const auto& entry : fs::directory_iterator(fs::path(VIRGA_SOURCE_DIR "/tests/corpus/fuzz") / name)) {
        SCOPED_TRACE(entry.path().string());
        const auto bytes = bytesOf(entry.path());
        EXPECT_EQ(gate(bytes.data(), bytes.size()), 0);
        ++cases;
    }
    EXPECT_GT(cases, 0);
    // Nothing, and one byte of any kind, are cases too.
    gate(nullptr, 0);
    for (int byte = 0; byte < 256; byte += 5) {
        const auto one = std::uint8_t(byte);
        gate(&one, 1);
    }
}

#define CASE(gate) std::pair<const char*, Gate>(#gate, fuzz_##gate),
INSTANTIATE_TEST_SUITE_P(Gates, FuzzCases, testing::ValuesIn({VIRGA_GATES(CASE)}),
                         [](const auto& of) { return std::string(of.param.first); });

} // namespace
} // namespace virga::replay_test
