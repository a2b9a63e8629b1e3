#pragma once
// What users do to the list of media and with edits that are read, each as one named, undoable step.
#include <map>

#include "app/document/document.h"
#include "core/edit/found_cuts.h"

namespace virga {

/// An edit that was read takes the reel's place; its first cut is selected. What probing tells of its files afterwards
/// (by their media's ids) becomes part of the same step.
void takeEdit(Document& document, const QString& file, Project edit);
void takeProbed(Document& document, const QString& file, const std::vector<std::pair<std::string, Media>>& probed);

void relink(Document& document, const std::string& id, const Media& found);
/// Media whose files were found elsewhere, by their old paths.
void relinkAll(Document& document, const std::map<std::filesystem::path, std::filesystem::path>& found);
/// The paths of copies that lie beside the project.
void takeCollected(Document& document, const Project& collected);
/// Only what is not placed.
void takeOutMedia(Document& document, const std::vector<std::string>& ids);
void takePicturesApart(Document& document, const std::string& id);

/// The clips of a video, parted at cuts that were found in it, are selected.
void partAtCuts(Document& document, const Media& media, const std::vector<CutTimes>& cuts);
/// Black bars that were found in a media, cropped wherever it is placed.
void cropBars(Document& document, const std::string& mediaId);

void removeMusic(Document& document, int music);
void changeMusic(Document& document, int music, const Music& changed, const QString& name, const QString& mergeKey);

} // namespace virga
