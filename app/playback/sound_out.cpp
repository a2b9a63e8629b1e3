#include "app/playback/sound_out.h"

#include <QAudioFormat>
#include <QAudioSink>
#include <QElapsedTimer>
#include <QIODevice>
#include <QMediaDevices>
#include <QTimer>
#include <algorithm>
#include <vector>

#include "app/playback/device_clock.h"
#include "core/audio/audio_reader.h"

namespace virga {
namespace {

constexpr double bytesPerSecond = double(audioRate) * audioChannels * sizeof(float);

class Output : public SoundOut {
public:
    void start(QIODevice* from) override {
        QAudioFormat format;
        format.setSampleRate(audioRate);
        format.setChannelCount(audioChannels);
        format.setSampleFormat(QAudioFormat::Float);
        m_sink = std::make_unique<QAudioSink>(QMediaDevices::defaultAudioOutput(), format);
        m_sink->setBufferSize(qsizetype(bytesPerSecond / 8));
        m_sink->start(from);
        m_clock.start();
        m_heard = {};
    }
    void stop() override {
        if (m_sink) m_sink->stop();
        m_sink.reset();
    }
    double seconds() const override {
        return m_sink ? m_heard.seconds(device(), double(m_clock.nsecsElapsed()) * 1e-9) : 0;
    }

private:
    // What was handed over but for what still waits in the buffer.
    double device() const {
        const double waits =
            double(std::max<qsizetype>(0, m_sink->bufferSize() - m_sink->bytesFree())) / bytesPerSecond;
        return std::max(0.0, double(m_sink->processedUSecs()) * 1e-6 - waits);
    }

    std::unique_ptr<QAudioSink> m_sink;
    QElapsedTimer m_clock;
    mutable DeviceClock m_heard;
};

class StandIn : public SoundOut {
public:
    StandIn() {
        m_timer.setTimerType(Qt::PreciseTimer);
        m_timer.setInterval(10);
        QObject::connect(&m_timer, &QTimer::timeout, &m_timer, [this] { take(); });
    }
    void start(QIODevice* from) override {
        m_from = from;
        m_taken = 0;
        m_clock.start();
        m_timer.start();
    }
    void stop() override {
        m_timer.stop();
        m_from = nullptr;
    }
    double seconds() const override { return m_from ? double(m_clock.nsecsElapsed()) * 1e-9 : 0; }

private:
    // A device of its own would have taken so much by now.
    void take() {
        const auto frame = qint64(audioChannels * sizeof(float));
        const qint64 wanted = qint64(seconds() * audioRate) * frame - m_taken;
        if (wanted <= 0 || !m_from) return;
        m_buffer.resize(std::size_t(wanted));
        m_taken += std::max<qint64>(0, m_from->read(m_buffer.data(), wanted));
    }
    QTimer m_timer;
    QElapsedTimer m_clock;
    QIODevice* m_from = nullptr;
    std::vector<char> m_buffer;
    qint64 m_taken = 0;
};

} // namespace

std::unique_ptr<SoundOut> makeSoundOut(bool standIn) {
    if (standIn || QMediaDevices::defaultAudioOutput().isNull()) return std::make_unique<StandIn>();
    return std::make_unique<Output>();
}

} // namespace virga
