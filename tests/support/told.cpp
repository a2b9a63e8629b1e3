#include "tests/support/told.h"

#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <sstream>

namespace virga::test {
namespace {

std::map<std::string, std::string> partsOf(const std::string& text) {
    std::map<std::string, std::string> parts;
    std::string name;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        if (line.starts_with("== ")) name = line;
        parts[name] += line + "\n";
    }
    return parts;
}

} // namespace

void expectAsRead(const std::string& file, const std::string& text) {
    const auto path = std::filesystem::path(VIRGA_SOURCE_DIR) / "tests" / file;
    if (std::getenv("VIRGA_WRITE_TOLD")) std::ofstream(path) << text;
    std::ifstream in(path);
    std::stringstream read;
    read << in.rdbuf();
    const auto before = partsOf(read.str()), now = partsOf(text);
    EXPECT_EQ(before.size(), now.size()) << file;
    for (const auto& [name, part] : now) {
        const auto at = before.find(name);
        EXPECT_EQ(at == before.end() ? "" : at->second, part) << file;
    }
}

} // namespace virga::test
