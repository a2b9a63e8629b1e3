#pragma once
// The one table of formats that results are written in: what each may hold, and how it is called. Dialogs, the command
// line, presets and encoders ask it.
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/error.h"
#include "core/geom/screen_map.h"

namespace virga {

enum class DeliveryFormat { H264, H265, Vp9, Av1, ProRes, Dnxhr, Ffv1, Png, Tiff, Exr, Gif, Webp, Wav };
enum class SoundCodec { Aac, Opus, Pcm16, Pcm24, Flac };

struct QualityLevel {
    const char* id;
    const char* name; // for people
    int value;        // as the encoder wants it: a rate factor, a profile, a quality
    int depth = 0;    // bits that it goes with; 0 is any of the format's
};

struct FormatInfo {
    DeliveryFormat format;
    const char* id;
    const char* name;                      // for people: "H.264 in MP4"
    const char* ending;                    // ".mp4"
    const char* told;                      // what it is good for, one sentence without a full stop
    std::vector<int> depths;               // bits a channel; the usual one first; 16 of EXR are half floats
    std::vector<int> alphaDepths;          // of them, those that it can be seen through with
    std::vector<QualityLevel> qualities;   // best first; empty: lossless
    int leastQuality = 0, mostQuality = 0; // of a scale that takes numbers between its levels, too; 0 and 0: none does
    std::vector<SoundCodec> sounds;        // the usual one first; empty: none
    int least = 16, most = 16384;          // pixels of a side
    int leastHeight = 0;                   // where it is less
    int multiple = 1;                      // that sides must have
    bool sequence = false;                 // a file a picture; the sound is a WAV beside them
    bool chunked = true;                   // can be encoded in parts that are joined afterwards
    bool reorders = false;                 // pictures are stored in another order than they are shown in

    bool hasPictures() const { return !depths.empty(); }
};

const std::vector<FormatInfo>& deliveryFormats();
const FormatInfo& infoOf(DeliveryFormat format);
/// Null where there is none of that id.
const FormatInfo* formatById(std::string_view id);
/// The first format with a file's ending, or null.
const FormatInfo* formatByEnding(std::string_view ending);

/// Whether a number is one of its levels or on its scale.
bool hasQuality(const FormatInfo& info, int value);
/// "use very-good, good or small, or a number from 0 to 51", for messages.
std::string qualitiesOf(const FormatInfo& info);

const char* idOf(SoundCodec codec);   // "aac"
const char* nameOf(SoundCodec codec); // "AAC"
std::optional<SoundCodec> soundById(std::string_view id);

/// How a result is written, whatever is in it.
struct DeliverySettings {
    DeliveryFormat format = DeliveryFormat::H264;
    int quality = -1;                        // as in QualityLevel::value; -1 is the format's best level
    int depth = 0;                           // bits; 0 is the format's usual
    bool alpha = false;                      // what can be seen through stays so; else it lies over black
    SoundCodec soundCodec = SoundCodec::Aac; // the format's usual one where the format has not that one
    bool operator==(const DeliverySettings&) const = default;
};

/// The same with everything decided: quality, depth and sound are such as the format has. Errors: BadInput, saying
/// what the format has, for an alpha, depth or quality that it has not.
Expected<DeliverySettings> settled(const DeliverySettings& settings, const std::string& place = {});

/// Errors: BadInput, with the nearest size that the format has.
Expected<void> fits(Size size, DeliveryFormat format, const std::string& place = {});
/// The nearest size that the format has.
Size nearestSize(Size size, DeliveryFormat format);

/// What its encoder is handed: code values of 8 or 16 bits, or light.
enum class PixelKind { Coded8, Coded16, Light };
/// REQUIRES: settled settings of a format with pictures.
PixelKind pixelsFor(const DeliverySettings& settings);

} // namespace virga
