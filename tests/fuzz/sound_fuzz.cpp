// Sound of any kind, WAV above all: read from its beginning, over its end and backwards, at its own speed and another.
#include <cmath>

#include "core/audio/audio_reader.h"
#include "tests/fuzz/fuzz.h"

using namespace virga;

extern "C" int LLVMFuzzerInitialize(int*, char***) {
    return fuzz::quietMedia();
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const fuzz::MemoryFile file(data, size);
    for (const Rational speed : {Rational(1), Rational(3, 2)}) {
        auto reader = AudioReader::open(file.path(), speed);
        if (!reader) return fuzz::requireTold(reader.error()), 0;
        for (const Rational from : {Rational(0), Rational(1, 10), Rational(1000), Rational(-1, 100)}) {
            const auto sound = (*reader)->read(from, 1024);
            if (!sound) {
                fuzz::requireTold(sound.error());
                continue;
            }
            fuzz::require(sound->size() == 2048, "as many samples as were asked for");
            for (const float sample : *sound) fuzz::require(std::isfinite(sample), "every sample is a number");
        }
    }
    return 0;
}
