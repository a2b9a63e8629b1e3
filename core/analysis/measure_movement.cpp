#include "core/analysis/measure_movement.h"

#include <algorithm>

#include "core/analysis/step_finder.h"
#include "core/base/file.h"
#include "core/base/fingerprint.h"
#include "core/base/json.h"
#include "core/base/one_thread.h"
#include "core/decode/video_reader.h"

namespace virga {
namespace {

constexpr int fileVersion = 2; // 2: tells what may be a subject's
constexpr std::int64_t mostPictures = 2000000;

} // namespace

Expected<ShotMovement> measureMovement(const std::filesystem::path& path, const std::function<void(double)>& report,
                                       const Cancel& cancel) {
    const OneThread alone;
    auto reader = VideoReader::open(path, cancel);
    if (!reader) return tl::unexpected(reader.error());
    const VideoInfo& video = *(*reader)->info().video;
    ShotMovement movement;
    movement.size = video.size;
    const std::int64_t count =
        video.still ? 1 : std::min(mostPictures, (*reader)->indexAt(Rational(std::int64_t(1) << 40)) + 1);
    StepFinder finder;
    for (std::int64_t i = 0; i < count; ++i) {
        if (cancel.requested()) return fail(ErrorCode::Cancelled, "stopped");
        auto picture = (*reader)->readGrey(i, measuredSide);
        FoundStep found;
        if (picture)
            found = finder.next(std::move(*picture));
        else if (i == 0)
            return tl::unexpected(picture.error());
        // A picture that cannot be read is one that nothing is known of.
        movement.times.push_back((*reader)->timeOf(i));
        if (i > 0) movement.steps.push_back(found.step);
        if (report) report(double(i + 1) / double(count));
    }
    bridge(movement.steps);
    return movement;
}

std::filesystem::path movementFile(const std::filesystem::path& folder, const std::string& fingerprint) {
    return folder / (fingerprint + ".json");
}

std::string movementText(const ShotMovement& movement, int indent) {
    nlohmann::json all = {{"format", "virga-movement"},
                          {"version", fileVersion},
                          {"width", movement.size.width},
                          {"height", movement.size.height}};
    auto& pictures = all["pictures"] = nlohmann::json::array();
    for (std::size_t i = 0; i < movement.times.size(); ++i) {
        nlohmann::json picture = {{"time", toText(movement.times[i])}};
        if (i < movement.steps.size()) {
            const PictureStep& s = movement.steps[i];
            const TurnZoomSlide parts = partsOf(s.map);
            picture["zoom"] = parts.zoom;
            picture["turn"] = parts.degrees;
            picture["slide"] = {parts.slide.x, parts.slide.y};
            picture["trust"] = s.trust;
            picture["error"] = s.error;
            picture["agreeing"] = s.agreeing;
            picture["seen"] = s.seen;
            if (s.ofSubject) picture["ofSubject"] = true;
            if (s.perspective) {
                auto& rows = picture["matrix"] = nlohmann::json::array();
                for (int r = 0; r < 3; ++r)
                    for (int c = 0; c < 3; ++c) rows.push_back(s.map[r][c]);
            }
        }
        pictures.push_back(std::move(picture));
    }
    return jsonText(all, indent);
}

Expected<void> writeMovement(const std::filesystem::path& path, const ShotMovement& movement) {
    std::error_code ignored;
    std::filesystem::create_directories(path.parent_path(), ignored);
    return writeFileAtomically(path, movementText(movement));
}

Expected<ShotMovement> readMovement(const std::filesystem::path& path) {
    const auto text = readFile(path, std::size_t(1) << 30);
    if (!text) return tl::unexpected(text.error());
    const auto json = parseJson(*text, "a measured movement", path.string());
    if (!json) return tl::unexpected(json.error());
    const auto damaged = [&] {
        return fail(ErrorCode::Unreadable, "this is no measured movement, or one of another version", path.string(),
                    "remove the file; it is made anew");
    };
    try {
        if (json->at("format") != "virga-movement" || json->at("version") != fileVersion) return damaged();
        ShotMovement movement;
        movement.size = {json->at("width").get<int>(), json->at("height").get<int>()};
        const auto& pictures = json->at("pictures");
        for (std::size_t i = 0; i < pictures.size(); ++i) {
            const auto& p = pictures[i];
            const auto time = rationalFromText(p.at("time").get<std::string>());
            if (!time || (i > 0 && *time <= movement.times.back())) return damaged();
            movement.times.push_back(*time);
            if (i + 1 == pictures.size()) break;
            PictureStep s;
            const auto& slide = p.at("slide");
            s.map = matrixOf({p.at("zoom").get<double>(),
                              p.at("turn").get<double>(),
                              {slide.at(0).get<double>(), slide.at(1).get<double>()}});
            if (const auto matrix = p.find("matrix"); matrix != p.end()) {
                s.perspective = true;
                for (std::size_t k = 0; k < 9; ++k) s.map[int(k / 3)][int(k % 3)] = matrix->at(k).get<double>();
            }
            s.trust = std::clamp(p.at("trust").get<double>(), 0.0, 1.0);
            s.error = p.at("error").get<double>();
            s.agreeing = p.at("agreeing").get<int>();
            s.seen = p.at("seen").get<int>();
            s.ofSubject = p.value("ofSubject", false);
            if (!inverseOf(s.map)) return damaged();
            movement.steps.push_back(s);
        }
        return movement;
    } catch (const nlohmann::json::exception&) {
        return damaged();
    }
}

Expected<ShotMovement> keptMovement(const std::filesystem::path& path, const std::filesystem::path& folder,
                                    const std::function<void(double)>& report, const Cancel& cancel) {
    const std::string fingerprint = fingerprintOf(path);
    if (!fingerprint.empty())
        if (auto kept = readMovement(movementFile(folder, fingerprint))) return kept;
    auto measured = measureMovement(path, report, cancel);
    if (measured && !fingerprint.empty()) (void)writeMovement(movementFile(folder, fingerprint), *measured);
    return measured;
}

} // namespace virga
