#include "core/encode/picture_files.h"

#include <algorithm>
#include <cstring>
#include <fmt/format.h>
#include <string_view>

#include "core/base/file.h"
#include "core/base/json.h"
#include "core/base/output.h"
#include "core/base/sequence_path.h"
#include "core/encode/movie_writer.h"
#include "core/raster/transfer.h"

namespace virga {

namespace {

// Where a number stands in a name such as "heat_%04d.png": its place, its length and the digits; empty without one.
struct NumberPlace {
    std::size_t at, length;
    int digits;
};
std::optional<NumberPlace> numberPlaceIn(const std::string& name) {
    std::optional<NumberPlace> found;
    for (std::size_t at = name.find('%'); at != name.npos; at = name.find('%', at + 1)) {
        std::size_t end = at + 1;
        while (end < name.size() && name[end] >= '0' && name[end] <= '9') ++end;
        if (end - at > 3 || end == name.size() || name[end] != 'd') continue;
        if (found) return {}; // two are none
        const std::string digits = name.substr(at + 1, end - at - 1);
        found = NumberPlace{at, end + 1 - at, digits.empty() ? 1 : std::clamp(std::stoi(digits), 1, 9)};
    }
    return found;
}

SequencePath sequenceFor(const std::filesystem::path& target, long first, long last) {
    SequencePath s;
    s.folder = target.parent_path();
    s.first = first, s.last = last;
    const std::string name = target.filename().string();
    if (const auto place = numberPlaceIn(name)) {
        s.before = name.substr(0, place->at);
        s.after = name.substr(place->at + place->length);
        s.digits = place->digits;
    } else {
        s.before = target.stem().string() + "_";
        s.after = target.extension().string();
        s.digits = 4;
    }
    return s;
}

} // namespace

std::filesystem::path picturePath(const std::filesystem::path& target, long number) {
    return sequenceFor(target, number, number).picture(number);
}
std::filesystem::path sequencePath(const std::filesystem::path& target, long first, long last) {
    return sequenceFor(target, first, last).path();
}
std::optional<long> pictureNumber(const std::filesystem::path& target, const std::filesystem::path& file) {
    const SequencePath s = sequenceFor(target, 0, 0);
    const std::string name = file.filename().string();
    if (name.size() <= s.before.size() + s.after.size() || !name.starts_with(s.before) || !name.ends_with(s.after))
        return {};
    const std::string digits = name.substr(s.before.size(), name.size() - s.before.size() - s.after.size());
    if (digits.size() > 9 || digits.find_first_not_of("0123456789") != digits.npos) return {};
    const long number = std::stol(digits);
    return s.picture(number).filename() == file.filename() ? std::optional(number) : std::nullopt;
}
std::filesystem::path soundBeside(const std::filesystem::path& target) {
    std::string stem = target.stem().string();
    if (const auto place = numberPlaceIn(stem)) {
        stem.erase(place->at, place->length);
        while (!stem.empty() && std::string_view("_-. ").find(stem.back()) != std::string_view::npos) stem.pop_back();
        if (stem.empty()) stem = "sound";
    }
    return target.parent_path() / (stem + ".wav");
}

namespace av {
namespace {

template <typename Pixel> Image<LinearF> lightIn(ImageView<const Pixel> picture) {
    Image<LinearF> light(picture.size());
    const bool deep = std::same_as<Pixel, Deep16>;
    const double base = deep ? deepBlack : 0, span = deep ? deepWhite - deepBlack : 255, full = deep ? 65535 : 255;
    const auto of = [&](int v) { return float(linearFromCode((v - base) / span)); };
    for (int y = 0; y < picture.height; ++y)
        for (int x = 0; x < picture.width; ++x) {
            const Pixel& p = picture.at(x, y);
            const auto a = float(p.a / full);
            light.at(x, y) = {of(p.r) * a, of(p.g) * a, of(p.b) * a, a};
        }
    return light;
}

class PictureFiles : public Encoder {
public:
    PictureFiles(std::filesystem::path target, const EncoderSettings& settings)
        : m_target(std::move(target)), m_settings(settings), m_number(settings.firstNumber) {}

    Expected<void> start() {
        // A whole one is opened once, so that what does not work is said before anything is rendered.
        if (m_settings.format != DeliveryFormat::Exr)
            if (auto stage = VideoStage::open(m_settings, m_target.string()); !stage)
                return tl::unexpected(stage.error());
        // Until all are there they lie in a hidden folder: an earlier export stays whole until this one is.
        m_folder = std::make_unique<PartFolder>(m_target);
        if (!m_folder->isMade())
            return fail(ErrorCode::WriteFailed,
                        fmt::format("cannot write here ({})", std::strerror(m_folder->whyNot())), m_target.string(),
                        "choose another folder");
        if (!m_settings.sound) return {};
        EncoderSettings sound = m_settings;
        sound.format = DeliveryFormat::Wav;
        auto writer = MovieWriter::open(soundBeside(m_target), muxerOf(sound.format), sound, nullptr);
        if (!writer) return tl::unexpected(writer.error());
        m_sound = std::move(*writer);
        return {};
    }

    Expected<void> addFrame(ImageView<const Rgba8> picture) override { return add(picture); }
    Expected<void> addFrame(ImageView<const Deep16> picture) override { return add(picture); }
    Expected<void> addFrame(ImageView<const LinearF> light) override { return add(light); }
    Expected<void> addFrame(const CodedPicture&) override {
        return fail(ErrorCode::Internal, "picture files have no Y'CbCr", m_target.string());
    }
    Expected<void> addSound(std::span<const float> stereo) override { return m_sound->addSound(stereo); }

    Expected<void> addChunk(const std::filesystem::path& chunk, std::int64_t frames) override {
        const auto count = readPictureList(chunk);
        if (!count) return tl::unexpected(count.error());
        if (*count != frames)
            return fail(ErrorCode::BadInput, fmt::format("it has {} pictures in place of {}", *count, frames),
                        chunk.string(), "remove it, and render it again");
        for (std::int64_t i = 0; i < frames; ++i) {
            const auto picture = picturePath(m_target, m_settings.firstNumber + long(m_done++));
            if (auto may = mayRead(picture); !may) return may;
        }
        return {};
    }

    Expected<void> finish() override {
        if (m_sound)
            if (auto done = m_sound->finish(); !done) return done;
        for (long n = m_settings.firstNumber; n < m_number; ++n) {
            std::error_code ec;
            std::filesystem::rename(hidden(n), picturePath(m_target, n), ec);
            if (ec)
                return fail(ErrorCode::WriteFailed, "could not be put in place (" + ec.message() + ")",
                            picturePath(m_target, n).string(), "check the permissions of the folder");
        }
        return {};
    }

private:
    template <typename Pixel> Expected<void> add(ImageView<const Pixel> picture) {
        assert(picture.size() == m_settings.size);
        const auto path = hidden(m_number);
        auto done = m_settings.format == DeliveryFormat::Exr ? addLight(path, picture) : addCoded(path, picture);
        if (!done) {
            Error error = done.error();
            error.place = picturePath(m_target, m_number).string(); // by the name that it was to have
            return tl::unexpected(std::move(error));
        }
        ++m_number;
        return {};
    }
    std::filesystem::path hidden(long number) const {
        return m_folder->path() / picturePath(m_target, number).filename();
    }
    Expected<void> addLight(const std::filesystem::path& path, ImageView<const LinearF> light) {
        return writeExr(path, light, m_settings.alpha, m_settings.rate);
    }
    template <typename Pixel> Expected<void> addLight(const std::filesystem::path& path, ImageView<const Pixel> coded) {
        return addLight(path, lightIn(coded).view());
    }
    template <typename Pixel>
    Expected<void> addCoded(const std::filesystem::path& path, ImageView<const Pixel> picture) {
        auto stage = VideoStage::open(m_settings, path.string());
        if (!stage) return tl::unexpected(stage.error());
        std::string bytes;
        const auto sink = [&](AVPacket& packet) -> Expected<void> {
            bytes.append(reinterpret_cast<const char*>(packet.data), std::size_t(packet.size));
            return {};
        };
        if (auto done = (*stage)->add(picture, sink); !done) return done;
        if (auto done = (*stage)->finish(sink); !done) return done;
        return writeFileAtomically(path, bytes);
    }

    std::filesystem::path m_target;
    EncoderSettings m_settings;
    long m_number;
    std::int64_t m_done = 0;
    std::unique_ptr<MovieWriter> m_sound;
    std::unique_ptr<PartFolder> m_folder;
};

} // namespace

Expected<std::unique_ptr<Encoder>> openPictureFiles(const std::filesystem::path& target,
                                                    const EncoderSettings& settings) {
    auto files = std::make_unique<PictureFiles>(target, settings);
    if (auto done = files->start(); !done) return tl::unexpected(done.error());
    return std::unique_ptr<Encoder>(std::move(files));
}

Expected<void> writePictureList(const std::filesystem::path& chunk, std::int64_t count) {
    return writeFileAtomically(chunk, jsonText({{"pictures", count}}, 2) + "\n");
}

Expected<std::int64_t> readPictureList(const std::filesystem::path& chunk) {
    auto text = readFile(chunk);
    if (!text) return tl::unexpected(text.error());
    auto json = parseJson(*text, "a chunk's list of pictures", chunk.string());
    if (!json) return tl::unexpected(json.error());
    const auto count = json->is_object() ? json->value("pictures", nlohmann::json()) : nlohmann::json();
    if (!count.is_number_integer())
        return fail(ErrorCode::Unreadable, "this is no chunk's list of pictures", chunk.string(),
                    "remove it, and render it again");
    return count.get<std::int64_t>();
}

} // namespace av
} // namespace virga
