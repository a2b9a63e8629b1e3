#pragma once
// Every field of the project's structs, listed once: its name in files, what it may hold, and what it is called.
// Reading, writing, the published schema, the limits and hashes all go over these lists, so that a new field cannot be
// forgotten in one of them. A visitor is called with a Field and the field itself, one struct after another; see
// project_json.cpp (reading), project_write.cpp, schema.cpp, limits.cpp and field_hash.h.
#include <concepts>
#include <filesystem>
#include <limits>
#include <type_traits>

#include "core/project/limits.h"
#include "core/project/project.h"

namespace virga {

struct Field {
    const char* name; // in files
    double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
    const char* called = nullptr; // in a message; by its name where not given
    const char* told = nullptr;   // in the schema
    bool needed = false;          // a file without it is not valid
};
inline Field needed(Field field) {
    field.needed = true;
    return field;
}

/// A struct, const or not.
template <typename T, typename Struct>
concept Is = std::same_as<std::remove_const_t<T>, Struct>;

/// Structs that have a list of fields.
template <typename T> struct HasFields : std::false_type {};
#define VIRGA_HAS_FIELDS(Struct)                                                                                       \
    template <> struct HasFields<Struct> : std::true_type {}
VIRGA_HAS_FIELDS(Crop);
VIRGA_HAS_FIELDS(Shutter);
VIRGA_HAS_FIELDS(Placement);
VIRGA_HAS_FIELDS(SubjectSpot);
VIRGA_HAS_FIELDS(Subject);
VIRGA_HAS_FIELDS(Colour);
VIRGA_HAS_FIELDS(Overlap);
VIRGA_HAS_FIELDS(Handle);
VIRGA_HAS_FIELDS(Key);
VIRGA_HAS_FIELDS(Move);
VIRGA_HAS_FIELDS(Channel);
VIRGA_HAS_FIELDS(Ramp);
VIRGA_HAS_FIELDS(RecipeUse);
VIRGA_HAS_FIELDS(RecipeLink);
VIRGA_HAS_FIELDS(Transition);
VIRGA_HAS_FIELDS(Recipe);
VIRGA_HAS_FIELDS(Guess);
VIRGA_HAS_FIELDS(FoundShot);
VIRGA_HAS_FIELDS(Pin);
VIRGA_HAS_FIELDS(Clip);
VIRGA_HAS_FIELDS(Overlay);
VIRGA_HAS_FIELDS(Adjustment);
VIRGA_HAS_FIELDS(Marker);
VIRGA_HAS_FIELDS(Tempo);
VIRGA_HAS_FIELDS(Music);
VIRGA_HAS_FIELDS(Media);
VIRGA_HAS_FIELDS(FlowLimits);
VIRGA_HAS_FIELDS(Heard);
VIRGA_HAS_FIELDS(Settings);
VIRGA_HAS_FIELDS(Project);
#undef VIRGA_HAS_FIELDS

template <typename V, Is<Crop> T> void fieldsOf(V& v, T& c) {
    for (auto [name, side] : {std::pair("left", &c.left), {"top", &c.top}, {"right", &c.right}, {"bottom", &c.bottom}})
        v(Field{name, 0, 0.95, "its crop"}, *side);
}

template <typename V, Is<Shutter> T> void fieldsOf(V& v, T& s) {
    v(Field{"angle", 0, 720, "the shutter's angle"}, s.angle);
    v(Field{"phase", -720, 720, "the shutter's phase"}, s.phase);
    v(Field{"samples", 0, 1024, "the shutter's samples"}, s.samples);
}

template <typename V, Is<Placement> T> void fieldsOf(V& v, T& p) {
    v(Field{"scale", 0.001, 1000, "its scale"}, p.scale);
    v(Field{"angle", -36000, 36000, "its angle", "degrees, clockwise"}, p.angle);
    v(Field{"position", -farthestPlace, farthestPlace, "its place"}, p.position);
    v(Field{"anchor", -farthestPlace, farthestPlace, "its anchor"}, p.anchor);
}

template <typename V, Is<SubjectSpot> T> void fieldsOf(V& v, T& s) {
    v(needed({"time", -longestSource, longestSource, "a subject's time", "seconds of the source"}), s.time);
    v(needed({"at", -farthestPlace, farthestPlace, "its subject"}), s.at);
    v(Field{"size", 0.001, 100, "its subject's size"}, s.size);
    v(Field{"angle", -36000, 36000, "its subject's angle", "degrees, clockwise"}, s.angle);
    v(Field{.name = "byHand", .told = "set by hand; else it was followed there"}, s.byHand);
}

template <typename V, Is<Subject> T> void fieldsOf(V& v, T& s) {
    v(Field{"at", -farthestPlace, farthestPlace, "its subject"}, s.at);
    v(Field{"size", 0.001, 100, "its subject's size"}, s.size);
    v(Field{"angle", -36000, 36000, "its subject's angle", "degrees, clockwise"}, s.angle);
    v(Field{.name = "path", .told = "where it was followed to, in the order of times; empty: it stays"}, s.path);
}

template <typename V, Is<Colour> T> void fieldsOf(V& v, T& c) {
    v(Field{"r", 0, 1, "a colour"}, c.r);
    v(Field{"g", 0, 1, "a colour"}, c.g);
    v(Field{"b", 0, 1, "a colour"}, c.b);
}

template <typename V, Is<Overlap> T> void fieldsOf(V& v, T& o) {
    v(Field{"before", 0, longestOverlap, "its overlap"}, o.before);
    v(Field{"after", 0, longestOverlap, "its overlap"}, o.after);
}

template <typename V, Is<Handle> T> void fieldsOf(V& v, T& h) {
    v(Field{"reach", 0, 1, "a handle's reach"}, h.reach);
    v(Field{"rise", -largestValue, largestValue, "a handle's rise"}, h.rise);
}

template <typename V, Is<Key> T> void fieldsOf(V& v, T& k) {
    v(needed({"time", -farthestKey, farthestKey, "a key's time"}), k.time);
    v(needed({"value", -largestValue, largestValue, "a key's value"}), k.value);
    v(Field{"next"}, k.next);
    v(Field{"leave"}, k.leave);
    v(Field{"arrive"}, k.arrive);
}

/// As it stands alone: a clip's speed.
template <typename V, Is<Channel> T> void fieldsOf(V& v, T& c) {
    v(Field{"incoming"}, c.incoming.keys);
    v(Field{"outgoing"}, c.outgoing.keys);
}

/// But for its channels and parameters, which its kind's table lists.
template <typename V, Is<Move> T> void fieldsOf(V& v, T& m) {
    v(needed({"id"}), m.id);
    v(needed({"kind"}), m.kindName);
    v(Field{"enabled"}, m.enabled);
    v(Field{.name = "solo", .told = "while any move of a stack is soloed, only those that are count"}, m.solo);
    v(Field{.name = "even", .told = "its channels are interpolated in their own space, else plainly"}, m.even);
    v(Field{.name = "holds", .told = "its curves hold at their ends, and do not run on through a frame's exposure"},
      m.holds);
    v(Field{.name = "recipeMove", .told = "the move of the linked recipe that it follows; empty: none"}, m.recipeMove);
    v(Field{"clock", -farthestKey, farthestKey, "a move's clock", "frames added to the time of a shake"}, m.clock);
    v(Field{"anchor", -farthestPlace, farthestPlace, "an anchor"}, m.anchor);
}

template <typename V, Is<Ramp> T> void fieldsOf(V& v, T& r) {
    v(Field{"from", -fastestPercent, fastestPercent, "a ramp's start", "in % of the speed it was shot at"}, r.from);
    v(Field{"to", -fastestPercent, fastestPercent, "a ramp's speed at the cut", "likewise"}, r.to);
    v(Field{"frames", 1, longestRecipe, "a ramp's frames"}, r.frames);
}

template <typename V, Is<RecipeUse> T> void fieldsOf(V& v, T& u) {
    v(Field{"strength", weakestUse, strongestUse, "a recipe's strength", "its ways are scaled by it"}, u.strength);
    v(Field{"length", shortestUse, longestUse, "a recipe's length", "its frames are scaled by it"}, u.length);
    v(Field{"framesOut", 0, longestRecipe, "a recipe's frames", "in place of its own; 0: those"}, u.framesOut);
    v(Field{"framesIn", 0, longestRecipe, "a recipe's frames", "in place of its own; 0: those"}, u.framesIn);
    v(Field{"heading"}, u.heading);
    v(Field{.name = "mirrored", .told = "left and right exchanged"}, u.mirrored);
    v(Field{.name = "reversed", .told = "its time runs backwards: what departed arrives"}, u.reversed);
    v(Field{.name = "byTime", .told = "at another frame rate it takes as long; else as many frames"}, u.byTime);
    v(Field{"wholeFrames", 0, 100, "a recipe's whole frames", "in place of its own; 0: those"}, u.wholeFrames);
    v(Field{"step", 0, longestRecipe, "a recipe's step", "frames, in place of its own; 0: those"}, u.step);
}

template <typename V, Is<RecipeLink> T> void fieldsOf(V& v, T& l) {
    v(needed({.name = "recipe", .told = "the id of one of the project's recipes"}), l.recipe);
    v(Field{"use"}, l.use);
    v(Field{.name = "own", .told = "parts that were changed at this cut and do not follow the recipe"}, l.own);
}

template <typename V, Is<Transition> T> void fieldsOf(V& v, T& t) {
    v(Field{.name = "moves", .called = "its moves"}, t.moves);
    v(Field{"overlap"}, t.overlap);
    v(Field{"top"}, t.top);
    v(Field{.name = "alone", .told = "the shot on top has no copies at its edges while both are seen"}, t.alone);
    v(Field{"shutter"}, t.shutter);
    v(Field{.name = "ignored", .told = "names of findings that are not reported"}, t.ignored);
    v(Field{.name = "link", .told = "the recipe that it follows; null: none"}, t.link);
}

/// Frames count at its own rate, key times from the cut.
template <typename V, Is<Recipe> T> void fieldsOf(V& v, T& r) {
    v(needed({.name = "id", .called = "its id"}), r.id);
    v(needed({.name = "name", .called = "its name"}), r.name);
    v(Field{.name = "note", .called = "its note"}, r.note);
    v(Field{.name = "group", .told = "by its movement"}, r.group);
    v(Field{.name = "tags", .called = "a tag"}, r.tags);
    v(Field{.name = "place", .told = "what it is for: a cut, an overlay, or the drift of one shot"}, r.place);
    v(Field{.name = "headings", .told = "where its movement can go; the first is as it was made"}, r.headings);
    v.rate(Field{.name = "rate", .called = "its frame rate"}, r.rate);
    v(Field{"framesOut", 0, longestRecipe, "its frames", "its usual length on the outgoing side"}, r.framesOut);
    v(Field{"framesIn", 0, longestRecipe, "its frames", "its usual length on the incoming side"}, r.framesIn);
    v(Field{"wholeFrames", 0, 100, "its whole frames", "frames' widths or heights that it passes; 0: none"},
      r.wholeFrames);
    v(Field{"step", 0, longestRecipe, "its step", "frames from shot to shot that it stacks; 0: it stacks none"},
      r.step);
    v(needed({"transition"}), r.transition);
    v(Field{.name = "edges", .told = "of both shots; null: as they are"}, r.edges);
    v(Field{.name = "rampOut", .told = "of the outgoing shot's own speed; null: none"}, r.rampOut);
    v(Field{.name = "rampIn", .told = "of the incoming shot's own speed; null: none"}, r.rampIn);
}

template <typename V, Is<Guess> T> void fieldsOf(V& v, T& g) {
    v(Field{"share", 0, 1, "a share of guessed pictures"}, g.share);
    v(Field{"frame", 0, longestClip, "a guessed picture's frame"}, g.frame);
}

template <typename V, Is<FoundShot> T> void fieldsOf(V& v, T& s) {
    v(Field{"from", -longestSource, longestSource, "a shot's start", "seconds of the source; null: not near"}, s.from);
    v(Field{"to", -longestSource, longestSource, "a shot's end", "the start of the next one"}, s.to);
}

template <typename V, Is<Pin> T> void fieldsOf(V& v, T& p) {
    v(needed({"source", -longestSource, longestSource, "a pinned moment", "seconds of the source"}), p.source);
    v(needed({"frame", -longestClip, longestClip, "a pinned frame", "from the clip's first"}), p.frame);
}

template <typename V, Is<Clip> T> void fieldsOf(V& v, T& c) {
    v(needed({"id"}), c.id);
    v(needed({.name = "media", .told = "the id of a media; empty for a gap"}), c.mediaId);
    v(Field{.name = "name", .called = "its name"}, c.name);
    v(Field{"sourceIn", -longestSource, longestSource, "its in-point"}, c.sourceIn);
    v(needed({"length", 1, longestClip, "its length"}), c.length);
    v.ratio(Field{.name = "speed", .called = "its speed"}, c.speed, Rational(0) - fastestSpeed, fastestSpeed);
    v(Field{.name = "speedCurve",
            .told = "keys in % of the speed it was shot at, counted from the first frame (incoming) and from the end "
                    "(outgoing); where there are some, they count and not the constant speed"},
      c.speedCurve);
    v(Field{.name = "inBetween", .told = "where a slow shot's pictures between those that were filmed come from"},
      c.inBetween);
    v(Field{"shotBlur", 0, 4, "its own blur", "of what moves in the shot, as a factor of the shutter; 0: off"},
      c.shotBlur);
    v(Field{.name = "speedSound", .told = "its sound at another speed"}, c.speedSound);
    v(Field{.name = "pins", .told = "moments of the source that are to be seen on frames, in their order"}, c.pins);
    v(Field{.name = "guess", .told = "found of its made-up pictures; null: not looked for"}, c.guess);
    v(Field{.name = "shot", .told = "found of the shot in its source; null: not looked for, or it is all one"}, c.shot);
    v(Field{"fit"}, c.fit);
    v(Field{"crop"}, c.crop);
    v(Field{"placement"}, c.placement);
    v(Field{"edges"}, c.edges);
    v(Field{"shutter"}, c.shutter);
    v(Field{.name = "subjectIn", .told = "what the shot is about at its first frame; null: not set"}, c.subjectIn);
    v(Field{.name = "subjectOut", .told = "the same at its last frame"}, c.subjectOut);
    v(Field{"gain", 0, loudestGain, "its volume"}, c.gain);
    v(Field{"muted"}, c.muted);
    v(Field{.name = "deinterlace", .told = "where the media is interlaced"}, c.deinterlace);
    v(Field{.name = "drift", .called = "its drift"}, c.drift);
    v(Field{.name = "transition",
            .told = "What happens at the cut before this clip; kept, though unused, while the clip is the first."},
      c.transition);
    v(Field{.name = "ignored", .told = "names of findings that are not reported"}, c.ignored);
}

template <typename V, Is<Overlay> T> void fieldsOf(V& v, T& o) {
    fieldsOf(v, o.clip);
    v(Field{"start", 0, latestFrame, "its start"}, o.start);
    v(Field{"row", 0, highestRow, "its row"}, o.row);
}

template <typename V, Is<Adjustment> T> void fieldsOf(V& v, T& a) {
    v(needed({"id"}), a.id);
    v(Field{.name = "name", .called = "its name"}, a.name);
    v(Field{"start", 0, latestFrame, "its start"}, a.start);
    v(needed({"length", 1, longestClip, "its length"}), a.length);
    v(Field{"bars", 0.1, 20, "its bars"}, a.bars);
    v(Field{.name = "moves", .called = "its moves"}, a.moves);
}

template <typename V, Is<Marker> T> void fieldsOf(V& v, T& m) {
    v(needed({"id"}), m.id);
    v(needed({"frame", 0, latestFrame, "its frame"}), m.frame);
    v(Field{.name = "name", .called = "its name"}, m.name);
}

template <typename V, Is<Tempo> T> void fieldsOf(V& v, T& t) {
    v(Field{"beatsPerMinute", 10, 1000, "the tempo"}, t.beatsPerMinute);
    v(Field{"firstBeat", -longestSource, longestSource, "the first beat"}, t.firstBeat);
    v(Field{"beatsPerBar", 1, 32, "the beats of a bar"}, t.beatsPerBar);
    v(Field{.name = "placed", .told = "beats that lie elsewhere than the grid says"}, t.placed);
}

template <typename V, Is<Music> T> void fieldsOf(V& v, T& m) {
    v(needed({"id"}), m.id);
    v(needed({"media"}), m.mediaId);
    v(Field{"start", -longestClip, longestClip, "its start"}, m.start);
    v(Field{"sourceIn", -longestSource, longestSource, "its in-point"}, m.sourceIn);
    v(Field{"length", 0, longestClip, "its length"}, m.length);
    v(Field{"gain", 0, loudestGain, "its volume"}, m.gain);
    v(Field{"fadeIn", 0, longestClip, "its fade"}, m.fadeIn);
    v(Field{"fadeOut", 0, longestClip, "its fade"}, m.fadeOut);
    v(Field{"tempo"}, m.tempo);
}

template <typename V, Is<Media> T> void fieldsOf(V& v, T& m) {
    v(needed({"id"}), m.id);
    v(needed({.name = "path", .told = "relative to the project's folder, or absolute"}), m.path);
    v(Field{"width", 0, largestSide, "its width"}, m.size.width);
    v(Field{"height", 0, largestSide, "its height"}, m.size.height);
    v.ratio(Field{.name = "pixelAspect", .called = "its pixels' aspect"}, m.pixelAspect, Rational(1, 100),
            Rational(100));
    v.rate(Field{.name = "rate", .called = "its rate"}, m.rate);
    v(Field{"duration", 0, longestSource, "its length", "seconds; 0 for a still"}, m.duration);
    v(Field{"still"}, m.still);
    v(Field{"sound"}, m.sound);
    v(Field{"interlaced"}, m.interlaced);
    v(Field{.name = "colour", .told = "what it is converted from; empty for ordinary pictures"}, m.colour);
    v(Field{"fingerprint"}, m.fingerprint);
    v(Field{"timecode", -longestSource, longestSource, "its timecode"}, m.timecode);
    v(Field{.name = "bars", .told = "black bars found burnt into the picture; null: not looked for"}, m.bars);
}

template <typename V, Is<FlowLimits> T> void fieldsOf(V& v, T& l) {
    v(Field{"still", 0, 10, "standing still", "a seen speed below it, in % of the frame's width per frame"}, l.still);
    v(Field{"stillFrames", 1, 10000, "a still stretch", "so many frames that stand still, or more"}, l.stillFrames);
    v(Field{"step", 1, 100, "a step in speed", "a larger ratio of the seen speeds beside the cut"}, l.step);
    v(Field{"graveStep", 1, 100, "a grave step", "a larger ratio, which breaks the illusion"}, l.graveStep);
    v(Field{"turn", 0, 2, "a change of direction", "a difference of velocities beside the cut, of the faster one"},
      l.turn);
    v(Field{"fast", 0, 1000, "a fast frame", "in % a frame: only faster ones can fall away, jump in or hitch"}, l.fast);
    v(Field{"fall", 0, 1, "falling away", "a share of the fast neighbour's seen speed"}, l.fall);
    v(Field{"copies", 0, 1, "copies", "a share of the picture that is filled by them"}, l.copies);
    v(Field{"copyBlur", 0.1, 1000, "blur over copies",
            "in % of the width: motion blur of this length nearly hides them"},
      l.copyBlur);
    v(Field{"copiesSeen", 0, 10000, "copies seen",
            "in frames that show all of the picture twice, or more that show less"},
      l.copiesSeen);
    v(Field{"magnified", 1, 100, "too large", "screen pixels for one of the source"}, l.magnified);
    v(Field{"magnifiedSpeed", 0, 1000, "too large while slow", "in % a frame: faster ones are not noticed"},
      l.magnifiedSpeed);
    v(Field{"magnifiedFrames", 0, 10000, "too large, frames", "it may be seen for so many"}, l.magnifiedFrames);
    v(Field{"strobe", 0, 1000, "strobing", "in % a frame: only faster ones strobe"}, l.strobe);
    v(Field{"strobeOpen", 0, 2, "strobing, shutter", "a share of the frame that the shutter is open for less than"},
      l.strobeOpen);
    v(Field{"tilt", 0, 180, "a tilt left over", "degrees between neighbours"}, l.tilt);
    v(Field{"scale", 1, 100, "a scale left over", "a ratio between neighbours"}, l.scale);
    v(Field{"overshoot", 0, 100, "overshoot", "a share of the way between two keys"}, l.overshoot);
    v(Field{"reached", 0, 1, "a value reached", "a share of the way, by the last frame before the cut"}, l.reached);
    v(Field{"beat", 0, 1000, "off the beat", "frames: farther off was not meant"}, l.beat);
    v(Field{"little", 0, 1000, "little movement", "in % a frame, at the fastest"}, l.little);
    v(Field{"much", 0, 1000, "fast neighbours", "in % a frame, at the fastest"}, l.much);
    v(Field{"guessed", 0, 1, "guessed pictures", "a share of a made-up picture that is not to be trusted"}, l.guessed);
    v(Field{"ramp", 1, 100, "a ramp's step", "a larger ratio of the shots' own speeds at a cut where one is ramped"},
      l.ramp);
    v(Field{"racing", 1, 10, "a racing shot", "times the speed it was shot at: only faster ones strobe by themselves"},
      l.racing);
    v(Field{"pan", 0, 100, "a shot's own pan", "in % a frame: what moves slower by itself has no direction"}, l.pan);
    v(Field{"panShare", 0, 10, "a pan beside moves", "a share of the moves' seen speed: slower pans are not seen"},
      l.panShare);
    v(Field{"foreignFrames", 0, 1000, "frames of another shot", "at a clip's ends: more are meant"}, l.foreignFrames);
}

template <typename V, Is<Heard> T> void fieldsOf(V& v, T& h) {
    v(Field{.name = "on", .called = "movement heard"}, h.on);
    v(Field{"level", 0, 1, "the level", "at the fastest movement, of full scale"}, h.level);
    v(Field{"body", 0, 1, "the body", "how much of it is low"}, h.body);
    v(Field{"air", 0, 1, "the air", "how much of it is high"}, h.air);
    v(Field{"length", 0, 2, "the length", "seconds that it swells before and fades behind the movement"}, h.length);
    v(Field{"thud", 0, 1, "the thud", "a low beat where the speed peaks"}, h.thud);
}

template <typename V, Is<Settings> T> void fieldsOf(V& v, T& s) {
    v(needed({"width", smallestSide, largestSide, "the frame's width"}), s.size.width);
    v(needed({"height", smallestSide, largestSide, "the frame's height"}), s.size.height);
    v.rate(needed({.name = "rate", .called = "the frame rate"}), s.rate);
    v(Field{"shutter"}, s.shutter);
    v(Field{"edges"}, s.edges);
    v(Field{"copies", 0, mostCopies, "the limit on copies"}, s.copies);
    v(Field{.name = "background", .told = "beneath everything; code values by the sRGB curve, 0 to 1"}, s.background);
    v(Field{"startFrame", 0, latestFrame, "the start's timecode", "the reel's first frame by the piece's own timecode"},
      s.startFrame);
    v(Field{.name = "flow", .told = "limits of the flow check"}, s.flow);
    v(Field{.name = "withShots", .told = "speeds at cuts are judged with what the shots' own pictures do"},
      s.withShots);
    v(Field{.name = "heard", .told = "a sound made of the movement"}, s.heard);
    v(Field{.name = "ignored", .told = "kinds of findings that are not reported anywhere"}, s.ignored);
}

template <typename V, Is<Project> T> void fieldsOf(V& v, T& p) {
    v(Field{.name = "name", .called = "the name"}, p.name);
    v(needed({"settings"}), p.settings);
    v(needed({"media"}), p.media);
    v(needed({"reel"}), p.reel);
    v(Field{"overlays"}, p.overlays);
    v(Field{"adjustments"}, p.adjustments);
    v(Field{"music"}, p.music);
    v(Field{"markers"}, p.markers);
    v(Field{.name = "recipes", .told = "those that its cuts follow"}, p.recipes);
    v(Field{.name = "notes", .called = "a note"}, p.notes);
}

} // namespace virga
