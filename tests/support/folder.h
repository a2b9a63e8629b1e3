#pragma once
// A folder that is removed at the end, and other programs run.
#include <filesystem>
#include <string>

namespace virga::test {

namespace fs = std::filesystem;

class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    const fs::path& path() const { return m_path; }
    fs::path operator/(const std::string& name) const { return m_path / name; }

private:
    fs::path m_path;
};

/// Runs Debian's ffmpeg: a general-purpose tool that makes the odd files of the world. True on success.
bool ffmpeg(const std::string& arguments);

/// A program's exit code, and what it printed.
struct Ran {
    int code = -1;
    std::string out, err;
};
Ran runProgram(const std::string& command);

} // namespace virga::test
