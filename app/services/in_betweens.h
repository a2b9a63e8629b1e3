#pragma once
// Pictures in between, made ready in the background: the flow of shots whose pictures are made up or smeared is found
// pair by pair, nearest to the playhead first, and kept on disk beside the light copies; playing and exporting find it
// there. Interface thread only.
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <map>

#include "app/services/frame_service.h"

namespace virga {

class InBetweens : public QObject {
    Q_OBJECT
public:
    InBetweens(Document* document, FrameService* frames, QObject* parent = nullptr);
    ~InBetweens() override;

    /// How many pairs of pictures are still to be done, and how many were; both 0 where nothing is.
    int left() const { return m_left; }
    int done() const { return m_done; }
    /// "pictures in between: 12 of 80"; empty where nothing is to be done.
    QString progressText() const;
    bool isIdle() const { return !m_busy && !m_wait.isActive(); }
    /// Stops what is being done until the project changes or it is asked for again.
    void stop();
    void start();
    bool isStopped() const { return m_stopped; }

    static QString folder();
    /// Most bytes on disk.
    static constexpr qint64 mostOnDisk = qint64(8) << 30;

signals:
    void changed();

private:
    void look();
    void work();
    void learn(const std::map<std::string, Guess>& guesses);

    Document* m_document;
    FrameService* m_frames;
    std::shared_ptr<SourcePool> m_pool; // its own: the Picture's decoders stay where they are
    QTimer m_wait;                      // an edit is followed once it rests
    bool m_busy = false, m_again = false, m_stopped = false;
    int m_left = 0, m_done = 0;
    int m_generation = 0;
    Cancel m_cancel;
    QThreadPool m_thread;
};

} // namespace virga
