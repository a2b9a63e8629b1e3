#include "app/lanes/lane_context.h"

#include <algorithm>
#include <cmath>

namespace virga {

LaneContext::LaneContext(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    connect(document, &Document::projectChanged, this, [this] {
        if (m_selected && (!hasCurve(*m_document->project(), m_selected->curve) ||
                           m_selected->key >= int(curveAt(*m_document->project(), m_selected->curve).keys.size())))
            m_selected.reset();
        emit changed();
    });
    connect(document, &Document::playheadChanged, this, &LaneContext::changed);
    connect(document, &Document::selectionChanged, this, [this] {
        if (m_selected && m_selected->curve.place != StackPlace(m_document->cut())) m_selected.reset();
        emit changed();
    });
}

void LaneContext::setFrames(const FrameScale& frames) {
    m_frames = frames;
    emit changed();
}

void LaneContext::fit(double chartWidth) {
    double reach = 14;
    const int cut = m_document->cut();
    if (cut >= 0)
        for (const Move& move : transitionAt(*m_document->project(), cut).moves)
            for (const Channel& channel : move.channels)
                for (const Curve* curve : {&channel.outgoing, &channel.incoming})
                    if (!curve->isEmpty())
                        reach = std::max(
                            {reach, std::abs(curve->keys.front().time) + 1, std::abs(curve->keys.back().time) + 1});
    setFrames({std::floor(chartWidth / 2), std::max(3.0, chartWidth / 2 / (reach + 0.5))});
}

void LaneContext::selectKey(std::optional<KeyAddress> key) {
    if (key == m_selected) return;
    m_selected = key;
    emit changed();
}

double LaneContext::playheadFromCut() const {
    return double(m_document->playhead() -
                  (m_document->cut() < 0 ? 0 : cutFrame(*m_document->project(), m_document->cut())));
}

} // namespace virga
