#pragma once
// Numbered picture sequences as one path: "shots/heat_[0001-0120].png" is heat_0001.png to heat_0120.png. Such a path
// goes wherever a file's path goes; no file of that name exists.
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace virga {

struct SequencePath {
    std::filesystem::path folder;
    std::string before, after; // around the number: "heat_" and ".png"
    long first = 0, last = 0;
    int digits = 4;

    std::filesystem::path path() const;
    std::filesystem::path picture(long number) const;
    long count() const { return last - first + 1; }
};

/// The most pictures of a sequence: eleven hours at 25 a second.
inline constexpr long mostSequencePictures = 1000000;

/// Empty where the path is not of that form, of no picture format, or of a file that is really called so.
std::optional<SequencePath> sequenceOf(const std::filesystem::path& path);

/// True where the file, or the first and last picture of a sequence, is there.
bool mediaExists(const std::filesystem::path& path);

/// What a media is called on screen: the file's stem, or "heat_" for a sequence without its trailing separators.
std::string mediaName(const std::filesystem::path& path);

/// Files with runs of at least `shortest` consecutively numbered pictures of one name and width gathered into sequence
/// paths, each where its first picture was. The others stay, in their order.
std::vector<std::filesystem::path> withSequences(const std::vector<std::filesystem::path>& files, long shortest = 10);

/// The pictures of a sequence, or the file itself.
std::vector<std::filesystem::path> filesOf(const std::filesystem::path& path);

} // namespace virga
