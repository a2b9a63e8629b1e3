#pragma once
// How loud the movement is heard, frame by frame, for the Reel's row: worked out in the background for the frames that
// are looked at, anew when the moves change. Interface thread only.
#include <QObject>
#include <QTimer>
#include <map>
#include <memory>
#include <vector>

#include "app/document/document.h"
#include "core/base/cancel.h"

namespace virga {

class HeardWatch : public QObject {
    Q_OBJECT
public:
    /// More frames than that are not looked at.
    static constexpr std::int64_t mostFrames = 20000;

    explicit HeardWatch(Document* document, QObject* parent = nullptr);
    ~HeardWatch() override;

    /// The frames [from, to) are looked at: what is not known of them is found, if the movement is heard at all.
    void want(std::int64_t from, std::int64_t to);
    /// As HeardCourse::strengthAt; what it was before a change until it is found anew, 0 where nothing is known.
    double strengthAt(std::int64_t frame) const;
    bool isIdle() const { return !m_busy && !m_next.isActive(); }

signals:
    void changed();

private:
    struct Piece {
        Snapshot of; // the project that it belongs to
        std::vector<float> strengths;
    };
    void findNext();

    Document* m_document;
    std::map<std::int64_t, Piece> m_pieces; // by number
    std::int64_t m_from = 0, m_to = 0;
    bool m_busy = false;
    QTimer m_next;
    Cancel m_cancel;
};

} // namespace virga
