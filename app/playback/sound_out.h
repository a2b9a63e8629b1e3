#pragma once
// Where sound goes while playing, and the clock that it gives: the default output, or, where there is none, a stand-in
// that takes sound at its own pace and lets nothing be heard. Interface thread only.
#include <memory>

class QIODevice;

namespace virga {

class SoundOut {
public:
    virtual ~SoundOut() = default;
    /// Takes interleaved stereo floats at audioRate from a device that never blocks. The device outlives it.
    virtual void start(QIODevice* from) = 0;
    virtual void stop() = 0;
    /// How much has been heard since it was started.
    virtual double seconds() const = 0;
};

/// The default output; the stand-in where there is none, or where that is asked for.
std::unique_ptr<SoundOut> makeSoundOut(bool standIn = false);

} // namespace virga
