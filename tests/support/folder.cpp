#include "tests/support/folder.h"

#include <cstdlib>
#include <fstream>
#include <iterator>
#include <sys/wait.h>
#include <unistd.h>

namespace virga::test {

TemporaryFolder::TemporaryFolder() {
    std::string pattern = (fs::temp_directory_path() / "virga-test-XXXXXX").string();
    m_path = ::mkdtemp(pattern.data());
}

TemporaryFolder::~TemporaryFolder() {
    std::error_code ignored;
    fs::remove_all(m_path, ignored);
}

bool ffmpeg(const std::string& arguments) {
    return std::system(("ffmpeg -nostdin -v error -y " + arguments + " 2>&1").c_str()) == 0;
}

Ran runProgram(const std::string& command) {
    TemporaryFolder folder;
    const auto out = folder / "out", err = folder / "err";
    const int status = std::system((command + " >" + out.string() + " 2>" + err.string() + " </dev/null").c_str());
    const auto text = [](const fs::path& p) {
        std::ifstream in(p);
        return std::string(std::istreambuf_iterator<char>(in), {});
    };
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, text(out), text(err)};
}

} // namespace virga::test
