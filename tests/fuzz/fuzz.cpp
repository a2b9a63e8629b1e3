#include "tests/fuzz/fuzz.h"

extern "C" {
#include <libavutil/log.h>
}

#include <cstdio>
#include <cstdlib>
#include <sys/mman.h>
#include <unistd.h>

#include "core/base/json.h"
#include "core/check/flow.h"
#include "core/edit/reel_edits.h"
#include "core/plan/plan.h"
#include "core/project/limits.h"
#include "core/project/project_json.h"

namespace virga::fuzz {

void require(bool holds, const char* what, const std::string& detail) {
    if (holds) return;
    std::fprintf(stderr, "not so: %s\n%s\n", what, detail.c_str());
    std::abort();
}

void requireTold(const Error& error) {
    const std::string words = describe(error);
    require(!words.empty(), "an error says something");
    for (const unsigned char c : words) require(c >= 0x20, "an error has no control characters", words);
}

void requireSound(const Project& project) {
    require(withinLimits(project) == project, "what a gate lets in lies within the limits");
    const std::string written = jsonText(toJson(project, "/nowhere"), 1);
    auto document = parseJson(written, "a project", "again");
    require(document.has_value(), "what was read can be written as JSON");
    const auto again = fromJson(std::move(*document), "/nowhere", "again");
    require(again.has_value(), "and read again", again ? "" : describe(again.error()));
    require(jsonText(toJson(*again, "/nowhere"), 1) == written, "and is the same then");
    const std::int64_t frames = reelLength(project);
    for (const std::int64_t frame : {std::int64_t(0), frames / 2, frames - 1})
        if (frame >= 0 && frame < frames) planFrame(project, frame);
    if (frames > 1) withSplit(project, frames / 2);
    if (project.reel.size() <= 4 && frames <= 120) flowOfReel(project);
}

int quietMedia() {
    av_log_set_level(AV_LOG_QUIET);
    return 0;
}

MemoryFile::MemoryFile(const std::uint8_t* data, std::size_t size) : m_descriptor(memfd_create("fuzz", 0)) {
    require(m_descriptor >= 0, "a file in memory can be made");
    for (std::size_t done = 0; done < size;) {
        const ssize_t n = write(m_descriptor, data + done, size - done);
        require(n > 0, "and written");
        done += std::size_t(n);
    }
}

MemoryFile::~MemoryFile() {
    close(m_descriptor);
}

std::filesystem::path MemoryFile::path() const {
    return "/proc/self/fd/" + std::to_string(m_descriptor);
}

} // namespace virga::fuzz
