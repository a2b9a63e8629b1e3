#pragma once
// The one gate for files that are written: what may be replaced, and what is removed when a program is ended while it
// writes. Functions may be called from any thread.
#include <filesystem>
#include <functional>
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
    std::function<bool(const std::filesystem::path& path)> isOwn;
};

/// Whether a file may be written to. Errors: BadInput for another ending, one of the inputs, a file of another kind, a
/// folder, link, device or pipe, and a file that is protected against writing; NotFound for a folder that is not there.
Expected<void> mayWrite(const std::filesystem::path& path, const Output& output);

/// The ending in lower case.
std::string endingOf(const std::filesystem::path& path);

/// A file being written beside its final place, made empty and locked at once (flock), so that no other program takes
/// it for a leftover. While one lives, a signal that ends the program removes it.
class PartFile {
public:
    /// Removes leftovers in that folder first.
    explicit PartFile(const std::filesystem::path& target);
    /// Removes the file unless it was put in place.
    ~PartFile();
    PartFile(const PartFile&) = delete;
    PartFile& operator=(const PartFile&) = delete;
    const std::filesystem::path& path() const { return m_path; }
    /// Open for reading and writing; −1 where it could not be made.
    int descriptor() const { return m_descriptor; }
    /// The errno of that.
    int whyNot() const { return m_whyNot; }

private:
    std::filesystem::path m_path;
    int m_descriptor = -1, m_whyNot = 0, m_slot = -1;
};

/// The same for a folder of files that belong together.
class PartFolder {
public:
    explicit PartFolder(const std::filesystem::path& target);
    /// Removes the folder and all that is in it.
    ~PartFolder();
    PartFolder(const PartFolder&) = delete;
    PartFolder& operator=(const PartFolder&) = delete;
    const std::filesystem::path& path() const { return m_path; }
    bool isMade() const { return m_descriptor >= 0; }
    int whyNot() const { return m_whyNot; }

private:
    std::filesystem::path m_path;
    int m_descriptor = -1, m_whyNot = 0, m_slot = -1;
};

/// Puts something that cannot be written in the place of a standard stream that is closed, so that no file that is
/// opened later gets its number and the messages. Once, first thing in main().
void openMissingStreams();

/// Makes the signals that end a program (TERM, INT, HUP, PIPE, XFSZ) remove its part files and folders first. Also
/// where a signal alone would not end it, as in the first process of a container. Once, from main().
void removePartFilesWhenEnded();

} // namespace virga
