#pragma once
// What users do to the reel, each as one named, undoable step.
#include "app/document/document.h"
#include "core/media/media_info.h"
#include "core/project/edits.h"

namespace virga {

/// Adds files in their order before clip `place` (-1: at the end): pictures become clips, sound alone becomes the
/// music. The first clip of an empty reel sets the piece's size and rate.
void addFiles(Document& document, const std::vector<MediaInfo>& files, int place);
void deleteClip(Document& document, int clip);
void moveClip(Document& document, int from, int to);
void changeClip(Document& document, int clip, const Clip& changed, const QString& name, const QString& mergeKey = {});
void changeSettings(Document& document, const Settings& settings, const QString& name, const QString& mergeKey = {});

/// What deleting would delete: the selected clip, or the selected cut's moves.
void deleteSelection(Document& document);

} // namespace virga
