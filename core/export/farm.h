#pragma once
// Handing a render to many machines: what they must be able to see, and the commands of a scheduler. A scheduler that
// Virga does not know is described by a small JSON file of the same commands (docs/farm.md).
#include <string>
#include <vector>

#include "core/export/export_plan.h"

namespace virga {

/// Commands for a shell, with places in braces: {name} of the work, {chunks} as "0-3,7", {command} quoted for the
/// shell, {log} a file, {options} the user's own, {job} that another command printed.
struct Scheduler {
    std::string name;
    std::string index;  // how the command of a chunk learns its number: "$SLURM_ARRAY_TASK_ID"
    std::string submit; // an array of chunks; prints the job's id
    std::string join;   // after {job} went well; prints its id
    std::string state;  // prints something while {job} waits or runs, nothing once it is over
    std::string cancel; // may be empty
};

/// Slurm's sbatch, squeue and scancel, as SchedMD's manual pages describe them.
Scheduler slurm();
/// Errors: as reading a file; Unreadable where a command is missing.
Expected<Scheduler> readScheduler(const std::filesystem::path& file);

/// The places filled in. {command} is quoted.
struct FarmWords {
    std::string name, chunks, command, log, options, job;
};
std::string filledIn(const std::string& text, const FarmWords& words);

/// A text as one word of a shell (POSIX single quotes).
std::string shellQuoted(const std::string& text);

/// "0-3,7" for 0, 1, 2, 3, 7. REQUIRES: ascending.
std::string rangesText(const std::vector<int>& numbers);

/// The folders under which the mounted file systems come from the network, by /proc/self/mounts.
std::vector<std::filesystem::path> networkFolders();

/// The project's file, its media and the result, as far as they are not there or not under a folder that all machines
/// see; each with the reason, as a sentence without a full stop.
std::vector<std::string> unseenElsewhere(const Project& project, const std::filesystem::path& projectFile,
                                         const std::filesystem::path& result,
                                         const std::vector<std::filesystem::path>& shared);

} // namespace virga
