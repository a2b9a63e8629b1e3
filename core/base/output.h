#pragma once
// The one gate for files that are written: what may be replaced, and what is removed when a program is ended while it
// writes. Functions may be called from any thread.
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"

namespace virga {

/// What is written, and over what.
struct Output {
    std::string what;               // "a video", for messages
    std::vector<std::string> kinds; // endings that its content has, such as ".mp4", lower case; one at least
    std::vector<std::filesystem::path>
        inputs;               // what it is made from and must not replace; numbered sequences count whole
    bool onlyOwnKind = false; // an existing file is replaced only where `isOwn` knows its content
    bool (*isOwn)(const std::filesystem::path& path) = nullptr;
};

/// Whether a file may be written to. Errors: BadInput for another ending, one of the inputs, a file of another kind, a
/// folder, link, device or pipe, and a file that is protected against writing; NotFound for a folder that is not there.
Expected<void> mayWrite(const std::filesystem::path& path, const Output& output);

/// The ending in lower case.
std::string endingOf(const std::filesystem::path& path);

/// A file being written beside its final place: while one lives, ending the program by TERM, INT or HUP removes it.
class PartFile {
public:
    /// Takes away what programs that are gone have left half written in that folder.
    explicit PartFile(const std::filesystem::path& target);
    /// Removes the file unless it was put in place.
    ~PartFile();
    PartFile(const PartFile&) = delete;
    PartFile& operator=(const PartFile&) = delete;
    const std::filesystem::path& path() const { return m_path; }

private:
    std::filesystem::path m_path;
    int m_slot = -1;
};

/// Makes the signals that end a program remove its part files first. Once, from main().
void removePartFilesWhenEnded();

} // namespace virga
