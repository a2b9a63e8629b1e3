#include "tests/support/told.h"

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <fmt/format.h>
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

std::string number(double value, int digits) {
    if (!std::isfinite(value)) return "none";
    return fmt::format("{:.{}g}", std::abs(value) < 5e-6 ? 0.0 : value, digits);
}

std::string textOf(const Curve& curve, int digits) {
    std::string text;
    for (const Key& k : curve.keys) {
        text += fmt::format("{}{} {}", text.empty() ? "" : "; ", number(k.time, digits), number(k.value, digits));
        if (k.arrive != Handle())
            text += fmt::format(" <{} {}", number(k.arrive.reach, digits), number(k.arrive.rise, digits));
        if (&k == &curve.keys.back()) break;
        text += k.next == Interpolation::Hold ? " hold" : k.next == Interpolation::Linear ? " straight" : "";
        if (k.next == Interpolation::Eased)
            text += fmt::format(" >{} {}", number(k.leave.reach, digits), number(k.leave.rise, digits));
    }
    return text.empty() ? "no keys" : text;
}

} // namespace virga::test
