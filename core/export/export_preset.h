#pragma once
// Named ways of exporting, kept as small JSON files (export-preset.schema.json) that people can hand to each other.
#include <filesystem>
#include <string>
#include <vector>

#include "core/export/export_plan.h"

namespace virga {

inline constexpr std::string_view presetSuffix = ".virga-export";

struct ExportPreset {
    std::string name, note;
    DeliverySettings delivery;
    double scale = 1;   // of the piece's size
    int shortSide = 0;  // pixels of the shorter side in place of a scale; 0: by the scale
    FrameRate rate = 0; // 0: the piece's
    bool sound = true;
    Enlarging enlarging = Enlarging::Bilinear;
    bool builtIn = false;
    bool operator==(const ExportPreset&) const = default;
};

/// For upload, hand-over, master and draft.
const std::vector<ExportPreset>& builtInPresets();

/// The size that a piece of another size gets, with its shape, as the format has it.
Size sizeOf(const ExportPreset& preset, Size piece);

/// The whole reel, without a path.
ExportSettings settingsOf(const ExportPreset& preset, const Project& project);

/// "soft", "sharp", "sharper"
const char* nameOf(Enlarging enlarging);
std::optional<Enlarging> enlargingByName(std::string_view name);

std::string presetText(const ExportPreset& preset);
/// Errors: Unreadable with the field for what is against the schema; BadInput as settled().
Expected<ExportPreset> presetFromText(std::string_view text, const std::string& file);

/// $XDG_CONFIG_HOME/virga/exports, by the XDG Base Directory Specification.
std::filesystem::path presetFolder();
/// All of a folder by name; what cannot be read is told in `problems`.
std::vector<ExportPreset> presetsIn(const std::filesystem::path& folder, std::vector<std::string>* problems = nullptr);
/// The built-in ones, then those of a folder.
std::vector<ExportPreset> allPresets(const std::filesystem::path& folder, std::vector<std::string>* problems = nullptr);
/// Errors: BadInput for a name that a built-in one has, or an empty one; as writing a file.
Expected<void> keepPreset(const ExportPreset& preset, const std::filesystem::path& folder);
Expected<void> removePreset(const std::string& name, const std::filesystem::path& folder);
/// By name, built in or kept, or a preset's file. Errors: NotFound with the names that there are.
Expected<ExportPreset> findPreset(const std::string& nameOrFile, const std::filesystem::path& folder);

} // namespace virga
