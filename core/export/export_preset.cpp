#include "core/export/export_preset.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/base/file.h"
#include "core/base/json.h"

namespace virga {

using nlohmann::json;
namespace fs = std::filesystem;

namespace {

std::vector<ExportPreset> made() {
    using F = DeliveryFormat;
    return {
        {.name = "Upload",
         .note = "H.264, very good",
         .delivery = {.format = F::H264, .quality = 16, .depth = 8},
         .builtIn = true},
        {.name = "Hand-over",
         .note = "ProRes 422 HQ with PCM, for editing on",
         .delivery = {.format = F::ProRes, .quality = 3, .depth = 10, .soundCodec = SoundCodec::Pcm24},
         .builtIn = true},
        {.name = "Master",
         .note = "FFV1 with 16 bits and FLAC, lossless",
         .delivery = {.format = F::Ffv1, .quality = 0, .depth = 16, .soundCodec = SoundCodec::Flac},
         .builtIn = true},
        {.name = "Draft",
         .note = "H.264 at half the size, small",
         .delivery = {.format = F::H264, .quality = 27, .depth = 8},
         .scale = 0.5,
         .builtIn = true},
    };
}

constexpr const char* enlargingNames[] = {"soft", "sharp", "sharper"};

std::string fileName(const std::string& name) {
    std::string file;
    for (const char c :
         name) { // others by their bytes, as in addresses (RFC 3986, 2.1): names and files are one to one
        const bool plain =
            (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '-' || c == ' ';
        file += plain ? std::string(1, c) : fmt::format("%{:02X}", unsigned(static_cast<unsigned char>(c)));
    }
    return file + std::string(presetSuffix);
}

const QualityLevel* levelOf(const FormatInfo& info, int value) {
    for (const QualityLevel& q : info.qualities)
        if (q.value == value) return &q;
    return nullptr;
}

// Reads fields of an object, and remembers the first that is not as it should be.
class Fields {
public:
    explicit Fields(const json& object) : m_object(object) {}
    template <typename T> void read(const char* name, T& to, bool (json::*is)() const noexcept) {
        const auto found = m_object.find(name);
        if (found == m_object.end()) return;
        if (((*found).*is)())
            to = found->template get<T>();
        else
            wrong(name, "is of another kind");
    }
    void wrong(const std::string& name, const std::string& what) {
        if (m_problem.empty()) m_problem = fmt::format("\"{}\" {}", name, what);
    }
    const std::string& problem() const { return m_problem; }

private:
    const json& m_object;
    std::string m_problem;
};

} // namespace

const std::vector<ExportPreset>& builtInPresets() {
    static const auto presets = made();
    return presets;
}

Size sizeOf(const ExportPreset& preset, Size piece) {
    const double scale =
        preset.shortSide > 0 ? double(preset.shortSide) / std::min(piece.width, piece.height) : preset.scale;
    if (scale == 1) return nearestSize(piece, preset.delivery.format);
    return nearestSize({int(std::lround(piece.width * scale)), int(std::lround(piece.height * scale))},
                       preset.delivery.format);
}

ExportSettings settingsOf(const ExportPreset& preset, const Project& project) {
    ExportSettings settings;
    static_cast<DeliverySettings&>(settings) = preset.delivery;
    settings.size = sizeOf(preset, project.settings.size);
    settings.rate = preset.rate;
    settings.sound = preset.sound;
    settings.render.enlarging = preset.enlarging;
    return settings;
}

const char* nameOf(Enlarging enlarging) {
    return enlargingNames[std::size_t(enlarging)];
}
std::optional<Enlarging> enlargingByName(std::string_view name) {
    for (std::size_t i = 0; i < std::size(enlargingNames); ++i)
        if (name == enlargingNames[i]) return Enlarging(i);
    return {};
}

std::string presetText(const ExportPreset& preset) {
    const FormatInfo& info = infoOf(preset.delivery.format);
    json out = {{"virga", "export"},
                {"version", 1},
                {"name", preset.name},
                {"note", preset.note},
                {"format", info.id},
                {"depth", preset.delivery.depth},
                {"alpha", preset.delivery.alpha},
                {"sound", preset.sound ? idOf(preset.delivery.soundCodec) : "none"},
                {"rate", preset.rate == FrameRate(0) ? std::string("piece") : toText(preset.rate)},
                {"enlarging", nameOf(preset.enlarging)}};
    if (preset.shortSide > 0)
        out["shortSide"] = preset.shortSide;
    else
        out["scale"] = preset.scale;
    if (const QualityLevel* level = levelOf(info, preset.delivery.quality))
        out["quality"] = level->id;
    else
        out["quality"] = preset.delivery.quality;
    return jsonText(out, 2) + "\n";
}

Expected<ExportPreset> presetFromText(std::string_view text, const std::string& file) {
    const auto parsed = parseJson(text, "an export preset", file);
    if (!parsed) return tl::unexpected(parsed.error());
    const json& o = *parsed;
    const auto unreadable = [&](const std::string& what) {
        return fail(ErrorCode::Unreadable, what, file, "correct the file, or make the preset anew");
    };
    if (!o.is_object() || o.value("virga", json()) != "export") return unreadable("this is no export preset");
    if (const json version = o.value("version", json(1)); !version.is_number_integer() || version.get<int>() > 1)
        return fail(ErrorCode::Unsupported, "this preset was made by a newer version", file);
    ExportPreset p;
    Fields f(o);
    std::string format = "h264", sound = "none", rate = "piece", enlarging = "soft", quality;
    f.read("name", p.name, &json::is_string);
    f.read("note", p.note, &json::is_string);
    f.read("format", format, &json::is_string);
    f.read("depth", p.delivery.depth, &json::is_number_integer);
    f.read("alpha", p.delivery.alpha, &json::is_boolean);
    f.read("sound", sound, &json::is_string);
    f.read("rate", rate, &json::is_string);
    f.read("enlarging", enlarging, &json::is_string);
    f.read("scale", p.scale, &json::is_number);
    f.read("shortSide", p.shortSide, &json::is_number_integer);
    const FormatInfo* info = formatById(format);
    if (!info) return unreadable(fmt::format("\"format\" is not one that Virga writes: {}", format));
    p.delivery.format = info->format;
    if (const auto q = o.find("quality"); q != o.end()) {
        if (q->is_number_integer()) {
            p.delivery.quality = q->get<int>();
        } else if (q->is_string()) {
            const auto level = std::find_if(info->qualities.begin(), info->qualities.end(),
                                            [&](const QualityLevel& l) { return q->get<std::string>() == l.id; });
            if (level == info->qualities.end())
                f.wrong("quality", "is none of " + std::string(info->name));
            else
                p.delivery.quality = level->value;
        } else {
            f.wrong("quality", "is of another kind");
        }
    }
    if (p.delivery.quality < -1 || p.delivery.quality > 256) f.wrong("quality", "is out of range");
    if (!(p.scale >= 0.01 && p.scale <= 16)) f.wrong("scale", "is not between 0.01 and 16");
    if (p.shortSide < 0 || p.shortSide > 16384) f.wrong("shortSide", "is not between 0 and 16384");
    p.sound = sound != "none";
    if (p.sound) {
        if (const auto codec = soundById(sound))
            p.delivery.soundCodec = *codec;
        else
            f.wrong("sound", "is not a kind of sound");
    }
    if (const auto e = enlargingByName(enlarging))
        p.enlarging = *e;
    else
        f.wrong("enlarging", "is neither soft, sharp nor sharper");
    if (rate != "piece") {
        const auto r = rationalFromText(rate);
        if (r && isUsableRate(*r))
            p.rate = *r;
        else
            f.wrong("rate", "is no frame rate");
    }
    if (p.name.empty()) f.wrong("name", "is missing");
    if (!f.problem().empty()) return unreadable(f.problem());
    if (auto decided = settled(p.delivery, file); !decided) return tl::unexpected(decided.error());
    return p;
}

fs::path presetFolder() {
    const fs::path config = userFolder("XDG_CONFIG_HOME", ".config");
    return config.empty() ? fs::path() : config / "virga/exports";
}

std::vector<ExportPreset> presetsIn(const fs::path& folder, std::vector<std::string>* problems) {
    std::vector<ExportPreset> presets;
    std::error_code ec;
    for (auto it = fs::directory_iterator(folder, ec); !ec && it != fs::directory_iterator(); it.increment(ec)) {
        if (it->path().extension() != presetSuffix) continue;
        const auto text = readFile(it->path(), 1 << 20);
        auto preset = text ? presetFromText(*text, it->path().string()) : tl::unexpected(text.error());
        if (preset)
            presets.push_back(std::move(*preset));
        else if (problems)
            problems->push_back(describe(preset.error()));
    }
    std::sort(presets.begin(), presets.end(), [](const auto& a, const auto& b) { return a.name < b.name; });
    return presets;
}

namespace {

// The file of a folder that holds the preset of this very name; empty where none does.
fs::path fileWith(const std::string& name, const fs::path& folder) {
    std::error_code ec;
    for (auto it = fs::directory_iterator(folder, ec); !ec && it != fs::directory_iterator(); it.increment(ec)) {
        if (it->path().extension() != presetSuffix) continue;
        const auto text = readFile(it->path(), 1 << 20);
        const auto preset = text ? presetFromText(*text, it->path().string()) : tl::unexpected(text.error());
        if (preset && preset->name == name) return it->path();
    }
    return {};
}

} // namespace

Expected<void> keepPreset(const ExportPreset& preset, const fs::path& folder) {
    if (preset.name.find_first_not_of(" ") == std::string::npos)
        return fail(ErrorCode::BadInput, "a preset needs a name", {}, "type one");
    for (const ExportPreset& b : builtInPresets())
        if (b.name == preset.name)
            return fail(ErrorCode::BadInput, fmt::format("{} is a preset of Virga's own", preset.name), {},
                        "choose another name");
    constexpr std::size_t longestName = 72; // bytes: escaped and with the ending it is still a file's name
    if (preset.name.size() > longestName)
        return fail(ErrorCode::BadInput, "a preset's name cannot be so long", preset.name.substr(0, longestName) + "…",
                    fmt::format("use {} bytes at most", longestName));
    if (folder.empty())
        return fail(ErrorCode::WriteFailed, "there is no home folder to keep presets in", {},
                    "set HOME or XDG_CONFIG_HOME");
    std::error_code ec;
    fs::create_directories(folder, ec);
    const fs::path own = fileWith(preset.name, folder);
    if (!own.empty()) return writeFileAtomically(own, presetText(preset));
    const fs::path file = folder / fileName(preset.name);
    const auto created = createFileAtomically(file, presetText(preset));
    if (!created) return tl::unexpected(created.error());
    if (!*created)
        return fail(ErrorCode::BadInput, "a file by this name cannot be read as this preset and was left as it is",
                    file.string(), "move it away, or choose another name");
    return {};
}

Expected<void> removePreset(const std::string& name, const fs::path& folder) {
    std::error_code ec;
    const fs::path file = fileWith(name, folder);
    if (file.empty() || !fs::remove(file, ec))
        return fail(ErrorCode::NotFound, fmt::format("there is no preset {}", name), folder.string());
    return {};
}

std::vector<ExportPreset> allPresets(const fs::path& folder, std::vector<std::string>* problems) {
    auto all = builtInPresets();
    const auto own = presetsIn(folder, problems);
    all.insert(all.end(), own.begin(), own.end());
    return all;
}

Expected<ExportPreset> findPreset(const std::string& nameOrFile, const fs::path& folder) {
    if (fs::path(nameOrFile).extension() == presetSuffix || nameOrFile.find('/') != std::string::npos) {
        const auto text = readFile(nameOrFile, 1 << 20);
        return text ? presetFromText(*text, nameOrFile) : tl::unexpected(text.error());
    }
    const auto lower = [](std::string s) {
        std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return char(std::tolower(c)); });
        return s;
    };
    std::string names;
    const auto all = allPresets(folder);
    for (const ExportPreset& p : all)
        if (p.name == nameOrFile) return p;
    for (const ExportPreset& p : all) {
        if (lower(p.name) == lower(nameOrFile)) return p;
        names += (names.empty() ? "" : ", ") + p.name;
    }
    return fail(ErrorCode::NotFound, fmt::format("there is no preset {}", nameOrFile), {},
                fmt::format("there are {}", names));
}

} // namespace virga
