#include "app/playback/player.h"

#include <QSettings>
#include <algorithm>
#include <cmath>

#include "app/playback/sound_ahead.h"
#include "app/playback/sound_out.h"
#include "core/audio/audio_reader.h"

namespace virga {
namespace {

// What is waited for before the clock starts, and how long at most. Opening a large file takes about that long.
constexpr int firstFrames = 4;
constexpr qint64 longestWait = 330; // ms

} // namespace

Player::Player(Document* document, FrameService* frames, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames), m_sounds(std::make_shared<SoundPool>()) {
    const QSettings kept;
    m_blur = Blur(std::clamp(kept.value("playing/blur", int(DraftBlur)).toInt(), int(NoBlur), int(FullBlur)));
    m_finishes = kept.value("playing/finishing", true).toBool();
    m_overlays = kept.value("playing/overlays", true).toBool();
    m_timer.setTimerType(Qt::PreciseTimer);
    connect(&m_timer, &QTimer::timeout, this, &Player::tick);
    m_prepare.setSingleShot(true);
    m_prepare.setInterval(700);
    connect(&m_prepare, &QTimer::timeout, this, &Player::prepare);
    m_soundAgain.setSingleShot(true);
    m_soundAgain.setInterval(250);
    connect(&m_soundAgain, &QTimer::timeout, this, [this] {
        if (isPlaying()) startSound();
    });
    connect(document, &Document::projectChanged, this, [this] {
        m_frames->drop("ahead-");
        m_prepare.start();
        if (isPlaying()) goOn();
    });
    connect(document, &Document::selectionChanged, this, [this] {
        m_prepare.start();
        if (isPlaying() && (m_span == CutSpan || m_span == ClipSpan)) goOn();
    });
    connect(document, &Document::markedChanged, this, [this] {
        if (isPlaying() && m_span == MarkedSpan) goOn();
    });
    connect(document, &Document::opened, this, &Player::stop);
}

Player::~Player() {
    stopSound();
}

void Player::setSpan(Span span) {
    if (span == m_span) return;
    m_span = span;
    if (isPlaying()) goOn();
    emit loopChanged();
}

void Player::setAround(double seconds) {
    m_around = std::clamp(seconds, 0.1, 60.0);
    if (isPlaying()) goOn();
    emit loopChanged();
}

void Player::setSpeed(double speed) {
    if (speed == m_speed) return;
    const double at = position();
    m_speed = std::clamp(speed, 0.05, 1.0);
    if (isPlaying()) begin(at);
    emit loopChanged();
}

std::pair<std::int64_t, std::int64_t> Player::range() const {
    const Snapshot project = m_document->project();
    const auto length = reelLength(*project);
    const int cut = m_document->cut();
    switch (m_span) {
    case CutSpan: {
        if (cut < 0) break;
        const auto reach = std::max<std::int64_t>(
                       1, std::int64_t(std::lround(m_around * project->settings.rate.toDouble()))),
                   at = cutFrame(*project, cut);
        return {std::max<std::int64_t>(0, at - reach), std::min(length, at + reach)};
    }
    case ClipSpan: {
        const Selection s = m_document->selection();
        const int clip = s.kind == Selection::ClipSelected ? s.index : clipAt(*project, m_document->playhead());
        if (clip >= 0) return {clipStart(*project, clip), clipStart(*project, clip + 1)};
        break;
    }
    case MarkedSpan:
        if (const auto marked = m_document->marked())
            return {std::clamp<std::int64_t>(marked->first, 0, std::max<std::int64_t>(0, length - 1)),
                    std::clamp<std::int64_t>(marked->second, 1, length)};
        break;
    case ReelSpan:
        break;
    }
    return {0, length};
}

Quality Player::quality() const {
    Quality quality = quickQuality;
    if (m_blur == FullBlur) {
        quality.pixelsPerSample = exactQuality.pixelsPerSample;
        quality.mostSamples = exactQuality.mostSamples;
        quality.mostPictures = exactQuality.mostPictures;
    }
    quality.blur = m_blur != NoBlur;
    quality.finishing = m_finishes;
    quality.overlays = m_overlays;
    return quality;
}

void Player::setSize(QSize size) {
    if (size == m_size) return;
    m_size = size;
    emit sizeChanged();
}

void Player::setBlur(Blur blur) {
    if (std::exchange(m_blur, blur) != blur) partChanged("blur", int(blur));
}

void Player::setFinishes(bool on) {
    if (std::exchange(m_finishes, on) != on) partChanged("finishing", on);
}

void Player::setShowsOverlays(bool on) {
    if (std::exchange(m_overlays, on) != on) partChanged("overlays", on);
}

// What comes next is shown so; nothing of the project changes.
void Player::partChanged(const char* setting, const QVariant& value) {
    QSettings().setValue(QStringLiteral("playing/") + setting, value);
    m_frames->drop("ahead-");
    if (isPlaying())
        ahead(m_document->playhead());
    else
        m_prepare.start();
    emit partsChanged();
}

void Player::toggle() {
    isPlaying() ? stop() : play();
}

// From where it is where that lies in the span, but a cut is always seen from its beginning.
void Player::play() {
    std::tie(m_from, m_to) = range();
    if (m_to <= m_from) return;
    const auto at = m_document->playhead();
    m_passed = m_shown = 0, m_lastShown = -1;
    begin(double(at >= m_from && at < m_to - 1 && m_span != CutSpan ? at : m_from));
    m_timer.start(std::clamp(int(500 / m_document->project()->settings.rate.toDouble()), 4, 20));
    emit playingChanged(true);
    emit droppedChanged();
}

void Player::begin(double at) {
    m_start = std::clamp(at, double(m_from), double(std::max(m_from, m_to - 1)) + 0.999);
    m_document->setPlayhead(std::int64_t(std::floor(m_start)));
    m_frames->drop("ahead-");
    ahead(m_document->playhead());
    stopSound();
    m_clock.start();
    m_shift = 0;
    m_starting = true;
    startSound();
    if (isReadyToStart()) startClock();
}

bool Player::isReadyToStart() {
    if (m_clock.elapsed() >= longestWait) return true;
    if (m_sound && !m_soundReady) return false;
    const auto at = m_document->playhead(), last = std::min(m_to, at + firstFrames);
    for (auto frame = at; frame < last; ++frame)
        if (m_frames->kept({m_document->project(), frame, m_size, quality(), Urgency::Soon}).isNull()) return false;
    return true;
}

void Player::startClock() {
    m_starting = false;
    m_clock.start();
    if (m_soundReady) hear();
}

// Something has changed while playing: it goes on from where it is, or from the beginning of another span. What is
// heard follows once the changes pause.
void Player::goOn() {
    const double at = position();
    const std::pair before(m_from, m_to);
    std::tie(m_from, m_to) = range();
    if (m_to <= m_from) return stop();
    if (before == std::pair(m_from, m_to)) {
        ahead(m_document->playhead());
        return m_soundAgain.start();
    }
    begin(at >= double(m_from) && at < double(m_to) ? at : double(m_from));
}

void Player::stop() {
    stopSound();
    m_starting = false;
    if (!m_timer.isActive()) return;
    m_timer.stop();
    emit playingChanged(false);
}

double Player::clock() const {
    if (m_starting) return m_shift;
    if (m_heard && m_out) return m_soundFrom + m_out->seconds();
    return double(m_clock.nsecsElapsed()) * 1e-9 * m_speed + m_shift;
}

double Player::takenTo() const {
    return m_soundFirst + (m_sound ? double(m_sound->taken()) / audioRate : 0);
}

double Player::position() const {
    if (!isPlaying()) return double(m_document->playhead());
    const double gone = clock() * m_document->project()->settings.rate.toDouble();
    return double(m_from) +
           std::fmod(m_start - double(m_from) + gone, double(std::max<std::int64_t>(1, m_to - m_from)));
}

double Player::sinceFrame() const {
    if (!isPlaying()) return 0;
    const double at = position();
    return at - std::floor(at);
}

void Player::tick() {
    if (m_starting && isReadyToStart()) startClock();
    const auto frame = std::int64_t(std::floor(position() + 1e-9));
    const auto before = m_document->playhead();
    if (frame == before) return;
    const auto span = std::max<std::int64_t>(1, m_to - m_from);
    const int lost = dropped();
    m_passed += ((frame - before) % span + span) % span;
    m_document->setPlayhead(frame);
    ahead(frame);
    if (dropped() != lost) emit droppedChanged();
}

void Player::tellShown(std::int64_t frame) {
    if (!isPlaying() || frame == m_lastShown) return;
    m_lastShown = frame;
    ++m_shown;
}

// The frame that is being made ready now is not lost yet.
int Player::dropped() const {
    return int(std::max<std::int64_t>(0, m_passed - m_shown - 1));
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
    if (isPlaying() || m_document->isDragging() || m_span != CutSpan || m_document->cut() < 0) return;
    const auto [from, to] = range();
    for (auto frame = from; frame < to; ++frame) {
        const FrameRequest request{m_document->project(), frame, m_size, quality(), Urgency::Ahead};
        if (m_frames->kept(request).isNull()) m_frames->request(QStringLiteral("ahead-p%1").arg(frame), request);
    }
}

void Player::forget(const std::filesystem::path& file) {
    m_sounds->forget(file);
}

// Until there is something to hear the machine's clock is taken; the sound goes on from there.
void Player::startSound() {
    stopSound();
    if (m_speed != 1) return;
    const double rate = m_document->project()->settings.rate.toDouble(), at = position(), whole = std::floor(at);
    m_soundFirst = clock() - (at - whole) / rate;
    m_sound = std::make_unique<SoundAhead>(m_document->project(), m_from, m_to, std::int64_t(whole), m_sounds);
    connect(m_sound.get(), &SoundAhead::ready, this, [this] {
        m_soundReady = true;
        if (!m_starting) hear();
    });
}

void Player::hear() {
    if (!m_sound || m_heard) return;
    const double now = clock();
    m_sound->skip(now - m_soundFirst); // what the clock has run ahead
    m_out = makeSoundOut(m_standIn);
    m_out->start(m_sound.get());
    m_soundFrom = now;
    m_heard = true;
}

void Player::stopSound() {
    m_soundAgain.stop();
    if (m_heard) { // the machine's clock goes on where the sound was
        const double heard = clock();
        m_heard = false;
        m_shift += heard - clock();
    }
    if (m_out) m_out->stop();
    m_out.reset();
    m_sound.reset();
    m_soundReady = false;
}

} // namespace virga
