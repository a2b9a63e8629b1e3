#include "app/background/player.h"

#include <QAudioFormat>
#include <QAudioSink>
#include <QIODevice>
#include <QMediaDevices>
#include <algorithm>
#include <cmath>
#include <cstring>

#include "app/background/in_background.h"
#include "core/media/audio_reader.h"
#include "core/render/audio_mix.h"

namespace virga {

// Gives the sound of the range again and again, from any place in it.
class Player::LoopDevice : public QIODevice {
public:
    LoopDevice(std::vector<float> samples, std::size_t from)
        : m_samples(std::move(samples)), m_at(from * audioChannels * sizeof(float)) {
        open(QIODevice::ReadOnly);
    }
    bool isSequential() const override { return true; }
    qint64 bytesAvailable() const override {
        return qint64(m_samples.size() * sizeof(float)) + QIODevice::bytesAvailable();
    }

protected:
    qint64 readData(char* data, qint64 most) override {
        const std::size_t all = m_samples.size() * sizeof(float);
        if (all == 0) return 0;
        qint64 done = 0;
        while (done < most) {
            m_at %= all;
            const auto n = std::min<std::size_t>(std::size_t(most - done), all - m_at);
            std::memcpy(data + done, reinterpret_cast<const char*>(m_samples.data()) + m_at, n);
            m_at += n;
            done += qint64(n);
        }
        return done;
    }
    qint64 writeData(const char*, qint64) override { return -1; }

private:
    std::vector<float> m_samples;
    std::size_t m_at;
};

Player::Player(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames), m_sounds(std::make_shared<SoundPool>()) {
    m_timer.setTimerType(Qt::PreciseTimer);
    connect(&m_timer, &QTimer::timeout, this, &Player::tick);
    m_prepare.setSingleShot(true);
    m_prepare.setInterval(700);
    connect(&m_prepare, &QTimer::timeout, this, &Player::prepare);
    connect(document, &Document::projectChanged, this, [this] {
        m_frames->drop("ahead-");
        m_prepare.start();
    });
    connect(document, &Document::selectionChanged, this, [this] { m_prepare.start(); });
    connect(document, &Document::opened, this, &Player::stop);
}

Player::~Player() = default;

void Player::setLoopCut(bool cut) {
    if (cut == m_loopCut) return;
    m_loopCut = cut;
    if (isPlaying()) play();
    emit loopChanged();
}

std::pair<std::int64_t, std::int64_t> Player::range() const {
    const Snapshot project = m_document->project();
    const auto length = reelLength(*project);
    const int cut = m_document->cut();
    if (!m_loopCut || cut < 0) return {0, length};
    const auto second = std::max<std::int64_t>(1, roundToInteger(project->settings.rate)), at = cutFrame(*project, cut);
    return {std::max<std::int64_t>(0, at - second), std::min(length, at + second)};
}

Quality Player::quality() const {
    Quality quality = quickQuality;
    quality.finishing = m_finishes;
    return quality;
}

void Player::setFinishes(bool on) {
    if (on == m_finishes) return;
    m_finishes = on;
    prepare();
}

void Player::toggle() {
    isPlaying() ? stop() : play();
}

void Player::play() {
    std::tie(m_from, m_to) = range();
    if (m_to <= m_from) return;
    const auto at = m_document->playhead();
    m_start = at >= m_from && at < m_to - 1 && !m_loopCut ? at : m_from;
    m_document->setPlayhead(m_start);
    m_frames->drop("ahead-");
    ahead(m_start);
    m_clock.start();
    startSound();
    m_timer.start(std::clamp(int(500 / m_document->project()->settings.rate.toDouble()), 4, 20));
    emit playingChanged(true);
}

void Player::stop() {
    ++m_generation;
    stopSound();
    if (!m_timer.isActive()) return;
    m_timer.stop();
    emit playingChanged(false);
}

double Player::sinceFrame() const {
    if (!isPlaying()) return 0;
    const double gone = double(m_clock.nsecsElapsed()) * 1e-9 * m_document->project()->settings.rate.toDouble();
    return gone - std::floor(gone);
}

void Player::tick() {
    const auto gone = std::int64_t(
        std::floor(double(m_clock.nsecsElapsed()) * 1e-9 * m_document->project()->settings.rate.toDouble()));
    const auto span = std::max<std::int64_t>(1, m_to - m_from);
    const auto frame = m_from + (m_start - m_from + gone) % span;
    if (frame == m_document->playhead()) return;
    m_document->setPlayhead(frame);
    ahead(frame);
}

void Player::ahead(std::int64_t from) {
    const auto span = std::max<std::int64_t>(1, m_to - m_from);
    for (int i = 1; i <= int(std::min<std::int64_t>(6, span)); ++i) {
        const auto frame = m_from + (from - m_from + i) % span;
        const FrameRequest request{m_document->project(), frame, m_size, quality(), Urgency::Soon};
        if (m_frames->kept(request).isNull()) m_frames->request(QStringLiteral("ahead-%1").arg(i), request);
    }
}

void Player::prepare() {
    if (isPlaying() || m_document->isDragging() || !m_loopCut || m_document->cut() < 0) return;
    const auto [from, to] = range();
    for (auto frame = from; frame < to; ++frame) {
        const FrameRequest request{m_document->project(), frame, m_size, quality(), Urgency::Ahead};
        if (m_frames->kept(request).isNull()) m_frames->request(QStringLiteral("ahead-p%1").arg(frame), request);
    }
}

void Player::forget(const std::filesystem::path& file) {
    m_sounds->forget(file);
}

void Player::startSound() {
    stopSound();
    if (QMediaDevices::defaultAudioOutput().isNull()) return; // no sound device: the clock alone
    const int generation = ++m_generation;
    inBackground(
        this,
        [project = m_document->project(), from = m_from, to = m_to, sounds = m_sounds] {
            return mixSound(*project, from, to, *sounds).stereo;
        },
        [this, generation](std::vector<float> samples) {
            if (generation != m_generation || !isPlaying()) return;
            QAudioFormat format;
            format.setSampleRate(audioRate);
            format.setChannelCount(audioChannels);
            format.setSampleFormat(QAudioFormat::Float);
            const auto rate = m_document->project()->settings.rate;
            const auto offset = sampleOfFrame(m_start, rate) - sampleOfFrame(m_from, rate) +
                                std::int64_t(double(m_clock.nsecsElapsed()) * 1e-9 * audioRate);
            m_sound = std::make_unique<LoopDevice>(std::move(samples), std::size_t(std::max<std::int64_t>(0, offset)));
            m_sink = std::make_unique<QAudioSink>(QMediaDevices::defaultAudioOutput(), format);
            m_sink->start(m_sound.get());
        });
}

void Player::stopSound() {
    if (m_sink) m_sink->stop();
    m_sink.reset();
    m_sound.reset();
}

} // namespace virga
