#pragma once
// Which pictures in between a stretch of the reel needs that nobody has made the ground for yet: so that it can be done
// in the background, and be counted before an export.
#include <map>

#include "core/base/cancel.h"
#include "core/render/source_pool.h"

namespace virga {

/// A moment of a source whose flow to the next picture is to be found.
struct FlowNeed {
    std::filesystem::path path;
    Rational time;
    SourceLook look;
};

/// Of the frames from `from` to before `to`, in the order in which they are shown, each pair of pictures once; reads
/// files' indexes, not their pictures. What cannot be read needs nothing.
std::vector<FlowNeed> flowNeeds(const Project& project, std::int64_t from, std::int64_t to, SourcePool& pool,
                                const Cancel& cancel = {});

/// The worst made-up picture of each clip of the reel, by its id, as far as the pool knows their flow.
std::map<std::string, Guess> guessesOf(const Project& project, SourcePool& pool, const Cancel& cancel = {});

} // namespace virga
