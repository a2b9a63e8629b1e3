#pragma once
// What all lanes share: the document, the frame axis and the selected key.
#include <QObject>
#include <optional>

#include "app/document/document.h"
#include "app/lanes/lane_scale.h"
#include "core/project/move_edits.h"

namespace virga {

inline constexpr int laneHeaderWidth = 236;

class LaneContext : public QObject {
    Q_OBJECT
public:
    explicit LaneContext(Document* document, QObject* parent = nullptr);

    Document* document() const { return m_document; }
    const FrameScale& frames() const { return m_frames; }
    void setFrames(const FrameScale& frames);
    /// Centres the cut in a chart of that width and shows all keys of its moves, at least 14 frames a side.
    void fit(double chartWidth);

    struct KeyAddress {
        CurveAddress curve;
        int key = -1;
        bool operator==(const KeyAddress&) const = default;
    };
    const std::optional<KeyAddress>& selectedKey() const { return m_selected; }
    void selectKey(std::optional<KeyAddress> key);

    double playheadFromCut() const;

signals:
    void changed(); // axis or selection: repaint
    void problem(const QString& text);

private:
    Document* m_document;
    FrameScale m_frames;
    std::optional<KeyAddress> m_selected;
};

} // namespace virga
