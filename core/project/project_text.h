#pragma once
// The text of a project's file, made again and again while it is edited. Clips and files that are shared with the
// project before are not put into words anew: a reel of ten thousand clips is saved in the time that its text takes to
// be copied.
#include <string>
#include <unordered_map>
#include <vector>

#include "core/project/project.h"

namespace virga {

class ProjectText {
public:
    /// Fields at the top that are no part of a project.
    using Beside = std::vector<std::pair<std::string, std::string>>;

    /// As a file in `folder` holds it, within the limits, with what its file had that is not known. The same, letter by
    /// letter, as without what is remembered. One thread at a time.
    std::string of(const Project& project, const std::filesystem::path& folder, const Beside& beside = {});
    /// Of how many clips and files the text was made the last time.
    std::size_t made() const { return m_made; }

private:
    // The elements of a list with their texts. They are held, so that nothing else can come to stand where they are.
    template <typename T> struct Texts {
        SharedList<T> of;
        std::unordered_map<const T*, std::size_t> at;
        std::vector<std::string> texts;
        std::vector<std::size_t> missing; // of the list that is written now
        void takeOver(const SharedList<T>& list);
    };
    Texts<Clip> m_reel;
    Texts<Media> m_media;
    std::filesystem::path m_folder;
    std::shared_ptr<const UnknownFields> m_unknown;
    std::size_t m_made = 0;
    bool m_whole = true; // else making it was broken off, and nothing may be taken from it
};

} // namespace virga
