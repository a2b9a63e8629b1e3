#pragma once
// What users do to the reel, each as one named, undoable step. Commands that act on the selection do nothing where it
// does not fit.
#include "app/document/document.h"
#include "core/decode/media_info.h"
#include "core/edit/edits.h"
#include "core/edit/reel_edits.h"

namespace virga {

/// `place` for files that only go to the Tray.
inline constexpr int toTray = -2;

/// Adds files in their order before clip `place` (-1: at the end; toTray: into the list of media only): pictures become
/// clips, sound alone becomes music. The first clip of an empty reel sets the piece's size and rate.
void addFiles(Document& document, const std::vector<MediaInfo>& files, int place);
/// Media that are there already, put into the reel before clip `place`, or as music.
void placeMedia(Document& document, const std::vector<std::string>& ids, int place);
void placeAsOverlay(Document& document, const std::vector<std::string>& ids, std::int64_t frame);

void moveClips(Document& document, const std::vector<int>& clips, int to);
/// Size, rate and background (withPieceSettings).
void changePiece(Document& document, const Settings& wanted);
void changeSettings(Document& document, const Settings& settings, const QString& name, const QString& mergeKey = {});

/// What deleting deletes: the selected clips (closing the gap or leaving one), overlay, adjustment, music or marker, or
/// the selected cut's moves.
void deleteSelection(Document& document, bool closeGap = true);
void duplicateSelection(Document& document);
void selectAllClips(Document& document);

/// The selection as text for the clipboard; empty where nothing can be copied.
std::string copySelection(const Document& document);
/// Pastes copied text behind the selected clips, at the playhead, or to the selected cut; what went wrong, or nothing.
QString paste(Document& document, const std::string& text);

void splitAtPlayhead(Document& document);
/// Sets the length of the selected clips, or cuts them to beats.
void setLengths(Document& document, std::int64_t frames);
/// Says which clips were too short, or why nothing could be done; empty where all reached their beat.
QString cutSelectionToBeats(Document& document, int everyBeats);
QString cascade(Document& document, std::int64_t apart, std::int64_t slideFrames, Direction direction);
void setSpeeds(Document& document, Rational speed);
void slipSelection(Document& document, std::int64_t frames);
void rollCut(Document& document, int cut, std::int64_t frames);
void crossfade(Document& document, int cut, std::int64_t frames);
void setOverlap(Document& document, int cut, Overlap overlap, Side top);
/// Whether the shot on top has no copies at its edges while both are seen.
void setAlone(Document& document, int cut, bool alone);
void liftToOverlay(Document& document);
void addAdjustment(Document& document);
/// At the playhead; selects it.
void addMarker(Document& document, const QString& name = {});
void insertGap(Document& document);

/// A tempo for the first music.
void setTempo(Document& document, int music, const std::optional<Tempo>& tempo, const QString& name,
              const QString& mergeKey = {});

/// The clips that commands act on: the selected ones, or the one under the playhead.
std::vector<int> chosenClips(const Document& document);

} // namespace virga
