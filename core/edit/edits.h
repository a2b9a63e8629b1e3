#pragma once
// Edits of media, the reel and settings: each is a function from a project to a project. An index out of range gives
// the project back unchanged.
#include "core/base/error.h"
#include "core/project/project.h"

namespace virga {

enum class Edge { Head, Tail };

/// A media added under a fresh id, or the one already there with the same path or content. `id` receives which.
Project withMedia(const Project& project, Media media, std::string* id = nullptr);

/// A clip that shows a media whole (a still for so many seconds, a picture sequence one picture a frame), named after
/// its file. Not yet in the reel.
Clip clipFor(const Project& project, const Media& media, Rational stillSeconds = 2);

/// A clip inserted before index `at` (or at the end), given a fresh id.
Project withClip(const Project& project, int at, Clip clip);
/// A media that nothing uses taken out of the list; one in use stays.
Project withoutMedia(const Project& project, const std::string& id);
bool isUsed(const Project& project, const std::string& mediaId);
/// The file of a media changed, with what probing found in it; what refers to it stays.
Project withMediaRelinked(const Project& project, const std::string& id, const Media& found);
Project withoutClip(const Project& project, int clip);

/// An edge dragged by frames (positive to the right); what follows moves along. The clip keeps at least one frame and
/// never leaves its source.
Project withClipTrimmed(const Project& project, int clip, Edge edge, std::int64_t frames);

Project withClipChanged(const Project& project, int clip, const Clip& changed);
Project withSettings(const Project& project, const Settings& settings);

/// Music laid under the reel: the first from the reel's start, later ones after the last.
Project withMusic(const Project& project, const std::string& mediaId);
Project withoutMusic(const Project& project, int music);
Project withMusicChanged(const Project& project, int music, const Music& changed);

} // namespace virga
