#pragma once
// Which frames of the reel are ready to be played: rendered already as playing shows them. Looked up anew in the
// background after edits; frames that come are added at once. Interface thread only.
#include <QObject>
#include <QTimer>
#include <vector>

#include "app/playback/player.h"

namespace virga {

class ReadyFrames : public QObject {
    Q_OBJECT
public:
    ReadyFrames(Document* document, FrameService* frames, Player* player, QObject* parent = nullptr);

    /// Spans of frames, each from the first to behind the last, ascending.
    using Spans = std::vector<std::pair<std::int64_t, std::int64_t>>;
    const Spans& spans() const { return m_spans; }
    bool isReady(std::int64_t frame) const;

signals:
    void changed();

private:
    void lookSoon();
    void look();

    Document* m_document;
    FrameService* m_frames;
    Player* m_player;
    QTimer m_look, m_tell;
    std::vector<bool> m_ready;
    Spans m_spans;
    bool m_looking = false, m_again = false;
};

} // namespace virga
