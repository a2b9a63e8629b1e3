#pragma once
// What users do to chosen keys, each as one named, undoable step. Texts that are returned say why something could not
// be done; they are empty where it was.
#include "app/document/document.h"
#include "core/curve/easing.h"
#include "core/edit/key_edits.h"

namespace virga {

void deleteKeys(Document& document, const KeySet& keys);
/// Moved by frames and by steps of each channel; nudges in a row become one step.
void nudgeKeys(Document& document, const KeySet& keys, double frames, double steps);
/// All of them on that value; one also to that time.
void setKeyValues(Document& document, const KeySet& keys, double value);
void setKeyTime(Document& document, const KeyAddress& key, double time);

void reverseKeys(Document& document, const KeySet& keys);
void flipKeys(Document& document, const KeySet& keys);
/// About the key of each curve that lies nearest to the cut.
void stretchKeys(Document& document, const KeySet& keys, double factor);
void spreadKeys(Document& document, const KeySet& keys);
void endKeysPastCut(Document& document, const KeySet& keys);
void evenOutKeys(Document& document, const KeySet& keys);
void smoothKeys(Document& document, const KeySet& keys);
/// To the other side, mirrored in time; with `carryOn` turned about rest as well, so that the movement goes on.
void mirrorKeys(Document& document, const KeySet& keys, bool carryOn);

/// The stretches between chosen neighbouring keys, or those that leave a single chosen one.
struct Stretch {
    CurveAddress curve;
    int first = 0, last = 0;
};
std::vector<Stretch> stretchesOf(const Project& project, const KeySet& keys);
Project withEasingOn(const Project& project, const std::vector<Stretch>& stretches, const Easing& easing);
void setEasing(Document& document, const std::vector<Stretch>& stretches, const Easing& easing, const QString& name);

/// Pasted keys, to be selected, or what is the matter.
Expected<KeySet> pasteKeys(Document& document, const std::string& text, const PasteTarget& target);

} // namespace virga
