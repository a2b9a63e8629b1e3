#pragma once
// Plays the cut, the clip, a marked span or the reel over and over, in real time. It begins once the first pictures and
// the first of the sound are there, at most a third of a second later. The sound is the clock: frames that are not
// ready when it reaches them are left out and counted, never shown late. Slow motion is silent and goes by the clock of
// the machine. Edits while playing are heard and seen from where it is.
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>

#include "app/services/frame_service.h"

namespace virga {

class SoundAhead;
class SoundOut;
class SoundPool;

class Player : public QObject {
    Q_OBJECT
public:
    enum Span { CutSpan, ClipSpan, MarkedSpan, ReelSpan };

    Player(Document* document, FrameService* frames, QObject* parent = nullptr);
    ~Player() override;

    bool isPlaying() const { return m_timer.isActive(); }
    /// True while the first pictures and the first of the sound are waited for.
    bool isStarting() const { return m_starting; }
    /// Frames since the playhead reached its frame, by the clock; 0 at rest.
    double sinceFrame() const;
    /// True while a device's clock counts, which has begun to be heard; what the clock says, in seconds since playing
    /// began or was taken up anew.
    bool isHeard() const { return m_heard; }
    double seconds() const { return clock(); }
    /// What the clock will say once all that the device has taken so far has been heard; of no meaning in silence.
    double takenTo() const;
    /// Where playing is by its clock, in frames of the reel, with fractions; the playhead at rest.
    double position() const;

    Span span() const { return m_span; }
    void setSpan(Span span);
    /// How long before and after the cut is played, in seconds.
    double around() const { return m_around; }
    void setAround(double seconds);
    /// 1, or slower: 0.5, 0.25.
    double speed() const { return m_speed; }
    void setSpeed(double speed);

    /// The size at which frames are shown; they are rendered ahead at it.
    void setSize(QSize size);
    QSize size() const { return m_size; }
    /// How well frames are rendered while playing, by what is switched off for it. Remembered by the program.
    Quality quality() const;
    enum Blur { NoBlur, DraftBlur, FullBlur };
    Blur blur() const { return m_blur; }
    void setBlur(Blur blur);
    bool finishes() const { return m_finishes; }
    void setFinishes(bool on);
    bool showsOverlays() const { return m_overlays; }
    void setShowsOverlays(bool on);

    /// What playing would show.
    std::pair<std::int64_t, std::int64_t> range() const;

    /// A frame was shown while playing; how many were not since playing began.
    void tellShown(std::int64_t frame);
    int dropped() const;

    /// Plays into a stand-in instead of the default output, with a clock of its own; for tests.
    void useStandIn(bool on) { m_standIn = on; }
    /// What the sound played so far holds and lacked; null in silence.
    const SoundAhead* sound() const { return m_sound.get(); }

    /// A file was changed or relinked: its sound is read anew.
    void forget(const std::filesystem::path& file);

public slots:
    void toggle();
    void play();
    void stop();
    /// Renders the frames of the range that are not kept yet, least urgent of all.
    void prepare();

signals:
    void playingChanged(bool playing);
    void loopChanged();
    void sizeChanged();
    void partsChanged(); // blur, finishing or overlays while playing
    void droppedChanged();

private:
    double clock() const; // seconds of the piece since playing began or was taken up anew
    void partChanged(const char* setting, const QVariant& value);
    void begin(double at);
    bool isReadyToStart();
    void startClock();
    void goOn();
    void tick();
    void ahead(std::int64_t from);
    void startSound();
    void hear();
    void stopSound();

    Document* m_document;
    FrameService* m_frames;
    QTimer m_timer, m_prepare, m_soundAgain;
    QElapsedTimer m_clock;
    QSize m_size{640, 360};
    Span m_span = CutSpan;
    double m_around = 1, m_speed = 1;
    Blur m_blur = DraftBlur;
    bool m_finishes = true, m_overlays = true, m_standIn = false, m_heard = false, m_starting = false;
    bool m_soundReady = false; // it is mixed, but not heard yet
    std::int64_t m_from = 0, m_to = 0, m_passed = 0, m_shown = 0, m_lastShown = -1;
    double m_start = 0;      // where playing was when its clock began, in frames
    double m_soundFrom = 0;  // of the clock, when the sound began
    double m_soundFirst = 0; // of the clock, when its first sample is due
    double m_shift = 0;      // of the machine's clock, so that it goes on where the sound was
    std::shared_ptr<SoundPool> m_sounds;
    std::unique_ptr<SoundAhead> m_sound;
    std::unique_ptr<SoundOut> m_out; // reads from m_sound: it goes first
};

} // namespace virga
