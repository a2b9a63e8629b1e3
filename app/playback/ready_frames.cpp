#include "app/playback/ready_frames.h"

#include "app/services/in_background.h"

namespace virga {

ReadyFrames::ReadyFrames(Document* document, FrameService* frames, Player* player, QObject* parent)
    : QObject(parent), m_document(document), m_frames(frames), m_player(player) {
    m_look.setSingleShot(true);
    m_look.setInterval(250);
    connect(&m_look, &QTimer::timeout, this, &ReadyFrames::look);
    m_tell.setSingleShot(true);
    m_tell.setInterval(60);
    connect(&m_tell, &QTimer::timeout, this, [this] {
        Spans spans;
        for (std::size_t i = 0; i < m_ready.size(); ++i) {
            if (!m_ready[i]) continue;
            if (spans.empty() || spans.back().second != std::int64_t(i))
                spans.emplace_back(std::int64_t(i), std::int64_t(i) + 1);
            else
                ++spans.back().second;
        }
        if (spans == m_spans) return;
        m_spans = std::move(spans);
        emit changed();
    });
    connect(document, &Document::projectChanged, this, &ReadyFrames::lookSoon);
    connect(player, &Player::loopChanged, this, &ReadyFrames::lookSoon);
    connect(player, &Player::partsChanged, this, &ReadyFrames::lookSoon);
    connect(player, &Player::sizeChanged, this, &ReadyFrames::lookSoon);
    connect(frames, &FrameService::ready, this, [this](const QString&, const FrameResult& result) {
        if (result.image.isNull() || result.image.size() != m_player->size() ||
            !(result.quality == m_player->quality()) || m_document->isDragging() || m_look.isActive())
            return;
        const auto frame = std::size_t(result.frame);
        if (frame >= m_ready.size() || m_ready[frame]) return;
        m_ready[frame] = true;
        if (!m_tell.isActive()) m_tell.start();
    });
    connect(frames, &FrameService::idle, this, &ReadyFrames::lookSoon); // what was forgotten meanwhile
}

bool ReadyFrames::isReady(std::int64_t frame) const {
    return frame >= 0 && frame < std::int64_t(m_ready.size()) && m_ready[std::size_t(frame)];
}

void ReadyFrames::lookSoon() {
    if (!m_document->isDragging()) m_look.start();
}

void ReadyFrames::look() {
    if (m_looking) {
        m_again = true;
        return;
    }
    m_looking = true;
    const FrameRequest request{m_document->project(), 0, m_player->size(), m_player->quality(), Urgency::Ahead};
    inBackground(
        this, [frames = m_frames, request] { return frames->allKept(request); },
        [this, request](std::vector<bool> ready) {
            m_looking = false;
            if (std::exchange(m_again, false) || request.project != m_document->project()) return lookSoon();
            m_ready = std::move(ready);
            if (!m_tell.isActive()) m_tell.start();
        });
}

} // namespace virga
