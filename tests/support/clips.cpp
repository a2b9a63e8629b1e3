#include "tests/support/clips.h"

#include <cmath>
#include <gtest/gtest.h>
#include <map>
#include <mutex>
#include <vector>

#include "core/audio/audio_mix.h"
#include "core/audio/audio_reader.h"
#include "core/audio/sound_pool.h"
#include "core/encode/encoder.h"
#include "core/raster/kept_light.h"
#include "core/raster/transfer.h"
#include "tests/support/pictures.h"

namespace virga::test {

void writeClip(const fs::path& path, Size size, FrameRate rate, int frames,
               const std::function<Image<Rgba8>(int)>& draw, int keyInterval, bool tone) {
    EncoderSettings settings;
    settings.size = size;
    settings.rate = rate;
    settings.quality = 8;
    settings.preset = "ultrafast";
    settings.keyInterval = keyInterval;
    settings.sound = tone;
    auto encoder = Encoder::open(path, settings);
    ASSERT_TRUE(encoder) << describe(encoder.error());
    for (int i = 0; i < frames; ++i) {
        const Image<Rgba8> picture = draw(i);
        ASSERT_TRUE((*encoder)->addFrame(picture.view()));
    }
    if (tone) {
        std::vector<float> sound(std::size_t(double(frames) / rate.toDouble() * audioRate) * 2);
        for (std::size_t i = 0; i < sound.size() / 2; ++i)
            sound[2 * i] = sound[2 * i + 1] = float(0.4 * std::sin(6.283185307 * 440 * double(i) / audioRate));
        ASSERT_TRUE((*encoder)->addSound(sound));
    }
    const auto done = (*encoder)->finish();
    ASSERT_TRUE(done) << describe(done.error());
}

Image<Rgba8> numberedFrame(Size size, int number) {
    static std::map<std::pair<int, int>, Image<Rgba8>> grounds; // drawing one takes longer than encoding it
    static std::mutex mutex;
    const std::lock_guard lock(mutex);
    Image<Rgba8>& ground = grounds[{size.width, size.height}];
    if (ground.isEmpty()) ground = texturedPicture(size, 3);
    Image<Rgba8> picture = copyOf(ground);
    const int block = size.width / 8;
    for (int bit = 0; bit < 8; ++bit)
        for (int y = 0; y < size.height / 3; ++y)
            for (int x = bit * block; x < (bit + 1) * block; ++x) {
                const std::uint8_t v = number >> bit & 1 ? 230 : 20;
                picture.at(x, y) = {v, v, v, 255};
            }
    return picture;
}

void writeNumberedClip(const fs::path& path, Size size, FrameRate rate, int frames, int keyInterval, bool tone) {
    writeClip(
        path, size, rate, frames, [size](int i) { return numberedFrame(size, i); }, keyInterval, tone);
}

int numberIn(const Image<Linear16>& picture) {
    int number = 0;
    for (int bit = 0; bit < 8; ++bit)
        number |= (picture.at(picture.width() * (2 * bit + 1) / 16, picture.height() / 6).g > keptOf(0.2)) << bit;
    return number;
}

int numberIn(ImageView<const Rgba8> picture) {
    int number = 0;
    for (int bit = 0; bit < 8; ++bit)
        number |= (picture.at(picture.width * (2 * bit + 1) / 16, picture.height / 6).g > 125) << bit;
    return number;
}

std::vector<float> mixed(const Project& project, std::int64_t from, std::int64_t to) {
    SoundPool sounds;
    return mixSound(project, from, to, sounds).stereo;
}

Expected<std::vector<float>> readAudio(const fs::path& path, Rational from, std::int64_t count, const Cancel& cancel,
                                       Rational speed) {
    auto reader = AudioReader::open(path, speed, cancel);
    if (!reader) return tl::unexpected(reader.error());
    return (*reader)->read(from, count, cancel);
}

} // namespace virga::test
