// Every format written, and read back by ffprobe, ffmpeg, ImageMagick, OpenEXR's own tools and Virga's reader.
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "core/audio/audio_reader.h"
#include "core/base/file.h"
#include "core/base/sequence_path.h"
#include "core/decode/probe.h"
#include "core/decode/video_reader.h"
#include "core/encode/encoder.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/clips.h"
#include "tests/support/pictures.h"

namespace virga::delivery_test {
namespace {

using namespace test;
using nlohmann::json;

constexpr Size size{320, 180};
constexpr int frames = 12;

struct Case {
    const char* name; // of the test
    DeliveryFormat format;
    int quality, depth;
    bool alpha;
    const char *codec, *pixels; // as ffprobe names them
    double psnr;                // at least, of colours; 99: the same bits
};

std::ostream& operator<<(std::ostream& out, const Case& c) {
    return out << c.name;
}

const Case cases[] = {
    {"H264", DeliveryFormat::H264, 8, 8, false, "h264", "yuv420p", 34},
    {"H264Ten", DeliveryFormat::H264, 8, 10, false, "h264", "yuv420p10le", 34},
    {"H265", DeliveryFormat::H265, 8, 8, false, "hevc", "yuv420p", 34},
    {"H265Ten", DeliveryFormat::H265, 8, 10, false, "hevc", "yuv420p10le", 34},
    {"Vp9", DeliveryFormat::Vp9, 8, 8, false, "vp9", "yuv420p", 33},
    {"Vp9Ten", DeliveryFormat::Vp9, 8, 10, false, "vp9", "yuv420p10le", 33},
    {"Vp9Alpha", DeliveryFormat::Vp9, 8, 8, true, "vp9", "yuv420p", 33},
    {"Av1", DeliveryFormat::Av1, 8, 8, false, "av1", "yuv420p", 33},
    {"Av1Ten", DeliveryFormat::Av1, 8, 10, false, "av1", "yuv420p10le", 33},
    {"ProResLt", DeliveryFormat::ProRes, 1, 0, false, "prores", "yuv422p10le", 33},
    {"ProResHq", DeliveryFormat::ProRes, 3, 0, false, "prores", "yuv422p10le", 36},
    {"ProRes4444", DeliveryFormat::ProRes, 4, 0, false, "prores", "yuv444p12le", 40},
    {"ProRes4444Alpha", DeliveryFormat::ProRes, 4, 0, true, "prores", "yuva444p12le", 38}, // FFmpeg's decoder has 12
    {"DnxhrSq", DeliveryFormat::Dnxhr, 2, 0, false, "dnxhd", "yuv422p", 33},
    {"DnxhrHqx", DeliveryFormat::Dnxhr, 4, 0, false, "dnxhd", "yuv422p10le", 36},
    {"Dnxhr444", DeliveryFormat::Dnxhr, 5, 0, false, "dnxhd", "yuv444p10le", 40},
    {"Ffv1", DeliveryFormat::Ffv1, 0, 8, false, "ffv1", "bgr0", 99},
    {"Ffv1Alpha", DeliveryFormat::Ffv1, 0, 8, true, "ffv1", "bgra", 99},
    {"Ffv1Ten", DeliveryFormat::Ffv1, 0, 10, false, "ffv1", "gbrp10le", 99},
    {"Ffv1Twelve", DeliveryFormat::Ffv1, 0, 12, true, "ffv1", "gbrap12le", 60},
    {"Ffv1Sixteen", DeliveryFormat::Ffv1, 0, 16, false, "ffv1", "gbrp16le", 99},
    {"Png", DeliveryFormat::Png, 0, 8, false, "png", "rgb24", 99},
    {"PngAlpha", DeliveryFormat::Png, 0, 8, true, "png", "rgba", 99},
    {"PngSixteen", DeliveryFormat::Png, 0, 16, true, "png", "rgba64be", 99},
    {"Tiff", DeliveryFormat::Tiff, 0, 8, false, "tiff", "rgb24", 99},
    {"TiffSixteen", DeliveryFormat::Tiff, 0, 16, true, "tiff", "rgba64le", 99},
    {"Gif", DeliveryFormat::Gif, -1, 8, false, "gif", "bgra", 24},
};

// A picture with parts that can be seen through: a wedge from left to right, in whole code values.
Image<Rgba8> pictureOf(int number, bool alpha) {
    Image<Rgba8> p = numberedFrame(size, number);
    if (alpha)
        for (int y = 0; y < p.height(); ++y)
            for (int x = 0; x < p.width(); ++x) p.at(x, y).a = std::uint8_t(std::clamp(x - 30, 0, 255));
    return p;
}

// 440 Hz on the left, 660 on the right.
std::vector<float> toneOf(std::int64_t from, std::int64_t count) {
    std::vector<float> out;
    for (auto i = from; i < from + count; ++i) {
        const double t = 2 * M_PI * double(i) / audioRate;
        out.push_back(float(0.4 * std::sin(440 * t)));
        out.push_back(float(0.3 * std::sin(660 * t)));
    }
    return out;
}

class Delivery : public testing::TestWithParam<Case> {
protected:
    EncoderSettings settings() const {
        const Case& c = GetParam();
        EncoderSettings s;
        s.format = c.format, s.quality = c.quality, s.depth = c.depth, s.alpha = c.alpha;
        s.size = size;
        s.rate = 25;
        s.keyInterval = 4;
        s.chunk = 8;
        s.soundCodec = infoOf(c.format).sounds.empty() ? SoundCodec::Aac : infoOf(c.format).sounds.front();
        s.sound = !infoOf(c.format).sounds.empty();
        s.soundLength = std::int64_t(frames) * audioRate / 25;
        return s;
    }
    fs::path target() const { return m_folder / (std::string("out") + infoOf(GetParam().format).ending); }
    // Where the pictures can be read: the file, or the sequence.
    fs::path readable() const {
        return infoOf(GetParam().format).sequence ? sequencePath(target(), 0, frames - 1) : target();
    }
    template <typename To> void giveFrames(To& encoder, int from, int to) {
        for (int n = from; n < to; ++n) {
            const auto done = encoder.addFrame(pictureOf(n, GetParam().alpha).view());
            ASSERT_TRUE(done) << describe(done.error());
        }
    }
    void write() {
        auto encoder = Encoder::open(target(), settings());
        ASSERT_TRUE(encoder) << describe(encoder.error());
        if (settings().sound) {
            const auto tone = toneOf(0, settings().soundLength);
            ASSERT_TRUE((*encoder)->addSound(tone));
        }
        giveFrames(**encoder, 0, frames);
        const auto done = (*encoder)->finish();
        ASSERT_TRUE(done) << describe(done.error());
    }
    TemporaryFolder m_folder;
};

class LosslessDelivery : public Delivery {};
class DeliveryWithSound : public Delivery {};
class ChunkedDelivery : public Delivery {};

json ffprobe(const fs::path& file, const std::string& more) {
    const Ran ran = runProgram("ffprobe -v error -of json " + more + " '" + file.string() + "'");
    EXPECT_EQ(ran.code, 0) << ran.err;
    return json::parse(ran.out, nullptr, false);
}

TEST_P(Delivery, OtherProgramsAndWeReadWhatWasWritten) {
    const Case& c = GetParam();
    ASSERT_NO_FATAL_FAILURE(write());
    const bool sequence = infoOf(c.format).sequence;
    json told = ffprobe(sequence ? picturePath(target(), 5) : target(), "-count_frames -show_streams");
    json video = told["streams"][0];
    EXPECT_EQ(video["codec_name"], c.codec);
    EXPECT_EQ(video["pix_fmt"], c.pixels);
    EXPECT_EQ(video["width"], size.width);
    EXPECT_EQ(video["nb_read_frames"], std::to_string(sequence ? 1 : frames));
    if (!sequence && c.format != DeliveryFormat::Gif) EXPECT_EQ(video["r_frame_rate"], "25/1");
    if (pixelsFor(*settled(settings())) == PixelKind::Coded16 && infoOf(c.format).depths.size() < 4) { // Y'CbCr
        EXPECT_EQ(video["color_space"], "bt709");
        EXPECT_EQ(video["color_primaries"], "bt709");
        EXPECT_EQ(video["color_transfer"], "bt709");
        EXPECT_EQ(video.value("color_range", "tv"), "tv");
    }
    if (c.format == DeliveryFormat::Vp9 && c.alpha) EXPECT_EQ(video["tags"]["ALPHA_MODE"], "1");
    if (c.format == DeliveryFormat::H265) EXPECT_EQ(video["codec_tag_string"], "hvc1") << "players ask for it";

    const auto info = probe(readable());
    ASSERT_TRUE(info) << describe(info.error());
    EXPECT_EQ(info->video->frames, frames);
    EXPECT_EQ(info->video->size, size);
    EXPECT_EQ(info->video->duration, Rational(frames, 25));
    auto reader = VideoReader::open(readable());
    ASSERT_TRUE(reader);
    for (const int n : {0, 7, 8, 11}) { // both sides of where a chunk ends
        EXPECT_EQ((*reader)->timeOf(n), Rational(n, 25));
        const auto got = (*reader)->read(n);
        ASSERT_TRUE(got) << describe(got.error());
        if (c.format == DeliveryFormat::Vp9 && c.alpha) continue; // FFmpeg's own VP9 decoder leaves alpha away
        Image<Linear16> want = linearise(ImageView<const Rgba8>(pictureOf(n, c.alpha).view()));
        if (c.alpha && c.psnr < 99) { // colours beneath what is hardly there are anybody's
            double sum = 0;
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x) sum += std::abs(int(got->at(x, y).a) - int(want.at(x, y).a));
            EXPECT_LT(sum / size.width / size.height / linearOne, 0.004) << "alpha of frame " << n;
        }
        Image<Rgba8> a(size.width, size.height), b(size.width, size.height);
        for (int y = 0; y < size.height; ++y) {
            encodeRow(got->row(y), a.row(y), size.width);
            encodeRow(want.row(y), b.row(y), size.width);
        }
        EXPECT_GE(compare(a.view(), b.view()).psnr, c.psnr) << "frame " << n;
    }
}

// A channel of a raw picture as ffmpeg writes it, in the format's own bits.
int rawValue(const std::string& bytes, const std::string& pixels, std::size_t pixel, int channel) {
    const auto at = [&](std::size_t i) { return int(static_cast<unsigned char>(bytes.at(i))); };
    const std::size_t area = std::size_t(size.width) * size.height;
    if (pixels.starts_with("gbr")) { // planes G, B, R, A of two bytes
        constexpr int plane[] = {2, 0, 1, 3};
        const std::size_t i = 2 * (std::size_t(plane[channel]) * area + pixel);
        return at(i) | at(i + 1) << 8;
    }
    if (pixels.find("64") != pixels.npos || pixels.find("48") != pixels.npos) {
        const std::size_t i = 2 * ((pixels.starts_with("rgba") ? 4 : 3) * pixel + std::size_t(channel));
        return pixels.ends_with("be") ? at(i) << 8 | at(i + 1) : at(i) | at(i + 1) << 8;
    }
    if (pixels.starts_with("bgr")) return at(4 * pixel + std::size_t(channel < 3 ? 2 - channel : 3));
    return at((pixels == "rgba" ? 4 : 3) * pixel + std::size_t(channel));
}

TEST_P(LosslessDelivery, ReturnsTheBits) {
    const Case& c = GetParam();
    ASSERT_NO_FATAL_FAILURE(write());
    const fs::path raw = m_folder / "raw";
    const std::string from = infoOf(c.format).sequence ? picturePath(target(), 9).string()
                                                       : target().string() + " -vf 'select=eq(n\\,9)' -frames:v 1";
    ASSERT_TRUE(ffmpeg("-i " + from + " -f rawvideo -pix_fmt " + c.pixels + " " + raw.string()));
    const auto bytes = readFile(raw);
    ASSERT_TRUE(bytes);
    const Image<Rgba8> want = pictureOf(9, c.alpha);
    const int most = (1 << c.depth) - 1;
    for (std::size_t i = 0; i < std::size_t(size.width) * size.height; ++i) {
        const Rgba8& p = want.at(int(i) % size.width, int(i) / size.width);
        const int channels[] = {p.r, p.g, p.b, p.a};
        for (int k = 0; k < (c.alpha ? 4 : 3); ++k) {
            const int value = rawValue(*bytes, c.pixels, i, k);
            ASSERT_EQ(value, (channels[k] * most + 127) / 255) << "pixel " << i << ", channel " << k;
        }
    }
}

TEST_P(DeliveryWithSound, SoundIsWhereItBelongsToTheSample) {
    ASSERT_NO_FATAL_FAILURE(write());
    const fs::path file = infoOf(GetParam().format).sequence ? soundBeside(target()) : target();
    auto reader = AudioReader::open(file);
    ASSERT_TRUE(reader) << describe(reader.error());
    const auto length = settings().soundLength;
    const auto got = (*reader)->read(0, length);
    ASSERT_TRUE(got);
    const auto want = toneOf(0, length);
    ASSERT_EQ(got->size(), want.size());
    const SoundCodec codec = settings().soundCodec;
    const bool exact = codec == SoundCodec::Flac || codec == SoundCodec::Pcm24;
    // The shift at which both agree best is none; a coded one is noisy, a kept one is not.
    double best = 1e9;
    int at = -999;
    for (int shift = -40; shift <= 40; ++shift) {
        double sum = 0;
        for (std::int64_t i = 4800; i < length - 4800; ++i)
            sum += std::abs(double((*got)[std::size_t(2 * (i + shift))]) - double(want[std::size_t(2 * i)]));
        if (sum < best) best = sum, at = shift;
    }
    EXPECT_EQ(at, 0);
    EXPECT_LT(best / double(length - 9600), exact ? 1e-6 : 0.01);
    double worst = 0;
    for (std::size_t i = 0; exact && i < want.size(); ++i)
        worst = std::max(worst, double(std::abs((*got)[i] - want[i])));
    EXPECT_LE(worst, 1.0 / 8388607) << "every sample to 24 bits";
}

// The parts of it made one by one, and joined, are the file made at once, to the byte.
TEST_P(ChunkedDelivery, ChunksJoinToTheSameBytes) {
    ASSERT_NO_FATAL_FAILURE(write());
    std::vector<std::pair<fs::path, std::string>> whole; // with their bytes
    for (const fs::path& p : filesOf(readable())) whole.emplace_back(p, *readFile(p));
    for (const auto& [p, bytes] : whole) fs::remove(p);
    for (const int k : {1, 0}) { // in any order
        EncoderSettings s = settings();
        s.firstNumber = k * 8;
        auto chunk = ChunkEncoder::open(m_folder / ("chunk" + std::to_string(k)), target(), s);
        ASSERT_TRUE(chunk) << describe(chunk.error());
        giveFrames(**chunk, k * 8, std::min(frames, k * 8 + 8));
        const auto done = (*chunk)->finish();
        ASSERT_TRUE(done) << describe(done.error());
    }
    auto encoder = Encoder::open(target(), settings());
    ASSERT_TRUE(encoder);
    if (settings().sound) ASSERT_TRUE((*encoder)->addSound(toneOf(0, settings().soundLength)));
    const auto first = (*encoder)->addChunk(m_folder / "chunk0", 8),
               last = (*encoder)->addChunk(m_folder / "chunk1", 4);
    ASSERT_TRUE(first) << describe(first.error());
    ASSERT_TRUE(last) << describe(last.error());
    ASSERT_TRUE((*encoder)->finish());
    for (const auto& [p, bytes] : whole) EXPECT_TRUE(*readFile(p) == bytes) << p;
}

std::vector<Case> casesThat(bool (*have)(const FormatInfo&)) {
    std::vector<Case> out;
    std::copy_if(std::begin(cases), std::end(cases), std::back_inserter(out),
                 [&](const Case& c) { return have(infoOf(c.format)); });
    return out;
}
std::string nameOf(const testing::TestParamInfo<Case>& c) {
    return c.param.name;
}
INSTANTIATE_TEST_SUITE_P(All, Delivery, testing::ValuesIn(cases), nameOf);
INSTANTIATE_TEST_SUITE_P(All, LosslessDelivery,
                         testing::ValuesIn(casesThat([](const FormatInfo& f) { return f.qualities.empty(); })), nameOf);
INSTANTIATE_TEST_SUITE_P(All, DeliveryWithSound,
                         testing::ValuesIn(casesThat([](const FormatInfo& f) { return !f.sounds.empty(); })), nameOf);
INSTANTIATE_TEST_SUITE_P(All, ChunkedDelivery,
                         testing::ValuesIn(casesThat([](const FormatInfo& f) { return f.chunked; })), nameOf);

TEST(DeliveryExr, IsPremultipliedLinearLightForOpenExr) {
    TemporaryFolder folder;
    EncoderSettings s;
    s.format = DeliveryFormat::Exr, s.size = {64, 32}, s.alpha = true;
    Image<LinearF> light(64, 32);
    for (int y = 0; y < 32; ++y)
        for (int x = 0; x < 64; ++x) light.at(x, y) = {float(x) / 32, 0.25f, -0.004f, float(y) / 31};
    auto encoder = Encoder::open(folder / "a.exr", s);
    ASSERT_TRUE(encoder) << describe(encoder.error());
    ASSERT_TRUE((*encoder)->addFrame(light.view()));
    ASSERT_TRUE((*encoder)->finish());
    const fs::path file = picturePath(folder / "a.exr", 0);
    // OpenEXR's own tool tells the header.
    const Ran header = runProgram("exrheader " + file.string());
    ASSERT_EQ(header.code, 0) << header.err;
    for (const char* word :
         {"A, 16-bit floating-point", "R, 16-bit floating-point", "red   (0.64 0.33)", "white (0.3127 0.329)", "zip"})
        EXPECT_NE(header.out.find(word), std::string::npos) << word << "\n" << header.out;
    // FFmpeg's decoder gives the values as floats: planes G, B, R, A.
    const fs::path raw = folder / "raw";
    ASSERT_TRUE(ffmpeg("-i " + file.string() + " -pix_fmt gbrapf32le -f rawvideo " + raw.string()));
    const auto bytes = readFile(raw);
    ASSERT_TRUE(bytes);
    ASSERT_EQ(bytes->size(), std::size_t(64 * 32 * 4 * 4));
    const auto* v = reinterpret_cast<const float*>(bytes->data());
    for (int y = 0; y < 32; y += 5)
        for (int x = 0; x < 64; x += 7) {
            const auto at = [&](int plane) { return v[plane * 64 * 32 + y * 64 + x]; };
            EXPECT_NEAR(at(2), float(x) / 32, 1e-3) << "half floats have 11 bits; light above white stays";
            EXPECT_NEAR(at(0), 0.25, 1e-6);
            EXPECT_NEAR(at(1), -0.004, 1e-5);
            EXPECT_NEAR(at(3), float(y) / 31, 5e-4);
        }
}

TEST(DeliveryPictures, AreStraightForImageMagick) {
    TemporaryFolder folder;
    for (const auto format : {DeliveryFormat::Png, DeliveryFormat::Tiff})
        for (const int depth : {8, 16}) {
            EncoderSettings s;
            s.format = format, s.depth = depth, s.size = {16, 16}, s.alpha = true;
            // Half covered by a colour whose code is 200: over black it would be darker, straight it is 200.
            const auto c = float(linearFromCode(200 / 255.0));
            Image<LinearF> light(16, 16);
            for (int y = 0; y < 16; ++y)
                for (int x = 0; x < 16; ++x) light.at(x, y) = {c / 2, c / 2, c / 2, 0.5f};
            const fs::path target = folder / (std::to_string(depth) + infoOf(format).ending);
            auto encoder = Encoder::open(target, s);
            ASSERT_TRUE(encoder);
            ASSERT_TRUE((*encoder)->addFrame(light.view()));
            ASSERT_TRUE((*encoder)->finish());
            const Ran told = runProgram("convert " + picturePath(target, 0).string() + " -depth 16 -format " +
                                        "'%[fx:round(255*p{3,3}.r)] %[fx:round(255*p{3,3}.a)]' info:");
            EXPECT_EQ(told.code, 0) << told.err;
            EXPECT_EQ(told.out.substr(0, 7), "200 128") << target << told.out;
        }
}

TEST(DeliveryWebp, LoopsForImageMagick) {
    TemporaryFolder folder;
    EncoderSettings s;
    s.format = DeliveryFormat::Webp, s.size = size, s.rate = 25;
    auto encoder = Encoder::open(folder / "a.webp", s);
    ASSERT_TRUE(encoder) << describe(encoder.error());
    for (int n = 0; n < 5; ++n) ASSERT_TRUE((*encoder)->addFrame(numberedFrame(size, n * 9).view()));
    ASSERT_TRUE((*encoder)->finish());
    const Ran told = runProgram("identify -format '%wx%h\\n' " + (folder / "a.webp").string());
    ASSERT_EQ(told.code, 0) << told.err;
    EXPECT_EQ(std::count(told.out.begin(), told.out.end(), '\n'), 5) << told.out;
}

TEST(DeliveryFormats, SayWhatTheyHave) {
    const auto error = [](DeliverySettings s) {
        const auto r = settled(s, "x");
        return r ? std::string() : describe(r.error());
    };
    EXPECT_NE(error({.format = DeliveryFormat::H264, .alpha = true}).find("cannot be seen through"), std::string::npos);
    EXPECT_NE(error({.format = DeliveryFormat::H264, .depth = 12}).find("8, 10"), std::string::npos);
    EXPECT_NE(error({.format = DeliveryFormat::ProRes, .quality = 2, .alpha = true}).find("4444"), std::string::npos);
    EXPECT_NE(error({.format = DeliveryFormat::ProRes, .quality = 9}).find("no quality 9"), std::string::npos);
    EXPECT_NE(error({.format = DeliveryFormat::Vp9, .depth = 10, .alpha = true}).find("use 8"), std::string::npos);
    for (const FormatInfo& f : deliveryFormats()) {
        EXPECT_EQ(&infoOf(f.format), &f) << f.id << ": the table is in the order of the kinds";
        const auto usual = settled({.format = f.format});
        ASSERT_TRUE(usual) << f.id;
        EXPECT_EQ(*settled(*usual), *usual) << f.id << ": what is decided stays";
        if (!f.alphaDepths.empty()) EXPECT_TRUE(settled({.format = f.format, .alpha = true})) << f.id;
        EXPECT_TRUE(fits(nearestSize({641, 359}, f.format), f.format)) << f.id;
    }
}

TEST(DeliveryChunks, OfAnotherJobAreRefused) {
    TemporaryFolder folder;
    EncoderSettings s;
    s.size = {64, 64}, s.chunk = 4;
    auto chunk = ChunkEncoder::open(folder / "c", folder / "a.mp4", s);
    ASSERT_TRUE(chunk);
    for (int n = 0; n < 3; ++n) ASSERT_TRUE((*chunk)->addFrame(solidPicture({64, 64}, {9, 9, 9, 255}).view()));
    ASSERT_TRUE((*chunk)->finish());
    auto encoder = Encoder::open(folder / "a.mp4", s);
    ASSERT_TRUE(encoder);
    const auto few = (*encoder)->addChunk(folder / "c", 4);
    ASSERT_FALSE(few);
    EXPECT_NE(few.error().message.find("3 of the chunk's 4"), std::string::npos) << describe(few.error());
    s.size = {96, 64};
    auto other = Encoder::open(folder / "b.mp4", s);
    ASSERT_TRUE(other);
    EXPECT_NE(describe((*other)->addChunk(folder / "c", 3).error()).find("other settings"), std::string::npos);
    ASSERT_TRUE(writeFileAtomically(folder / "junk", "junk"));
    EXPECT_FALSE((*other)->addChunk(folder / "junk", 3));
}

} // namespace
} // namespace virga::delivery_test
