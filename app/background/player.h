#pragma once
// Plays the cut over and over, or the whole reel, in real time: frames that are not ready in time are left out, never
// shown late. Sound goes to the default output; without one the picture plays by the clock alone.
#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <memory>

#include "app/background/frame_service.h"

class QAudioSink;

namespace virga {

class SoundPool;

class Player : public QObject {
    Q_OBJECT
public:
    Player(Document* document, FrameService* frames, QObject* parent = nullptr);
    ~Player() override;

    bool isPlaying() const { return m_timer.isActive(); }
    /// Frames since the playhead reached its frame, by the clock; 0 at rest.
    double sinceFrame() const;
    bool loopsCut() const { return m_loopCut; }
    void setLoopCut(bool cut);
    /// The size at which frames are shown; they are rendered ahead at it.
    void setSize(QSize size) { m_size = size; }
    QSize size() const { return m_size; }

    /// How well frames are rendered while playing, with or without finishing.
    Quality quality() const;
    bool finishes() const { return m_finishes; }
    void setFinishes(bool on);

    /// What playing would show: two seconds around the cut, or the whole reel.
    std::pair<std::int64_t, std::int64_t> range() const;

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

private:
    class LoopDevice;
    void tick();
    void ahead(std::int64_t from);
    void startSound();
    void stopSound();

    Document* m_document;
    FrameService* m_frames;
    QTimer m_timer, m_prepare;
    QElapsedTimer m_clock;
    QSize m_size{640, 360};
    bool m_loopCut = true, m_finishes = true;
    std::int64_t m_from = 0, m_to = 0, m_start = 0;
    std::shared_ptr<SoundPool> m_sounds;
    std::unique_ptr<LoopDevice> m_sound;
    std::unique_ptr<QAudioSink> m_sink; // reads from m_sound: it goes first
    int m_generation = 0;
};

} // namespace virga
