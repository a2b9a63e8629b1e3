#include "app/lanes/lane_context.h"

#include <algorithm>
#include <cmath>

namespace virga {

LaneContext::LaneContext(Document* document, QObject* parent) : QObject(parent), m_document(document) {
    connect(document, &Document::projectChanged, this, [this] {
        findPlace();
        dropStale();
        emit changed();
    });
    connect(document, &Document::playheadChanged, this, &LaneContext::changed);
    connect(document, &Document::selectionChanged, this, [this] {
        findPlace();
        emit changed();
    });
    findPlace();
}

void LaneContext::findPlace() {
    const Selection s = m_document->selection();
    StackPlace place(m_document->cut());
    if (s.kind == Selection::ClipSelected) place = {StackPlace::Drift, s.index};
    if (s.kind == Selection::OverlaySelected) place = {StackPlace::Overlay, s.index};
    if (s.kind == Selection::AdjustmentSelected) place = {StackPlace::Adjustment, s.index};
    if (place == m_place) return;
    m_place = place;
    m_current = {place, 0, 0, hasSide(place, Side::Outgoing) ? Side::Outgoing : Side::Incoming};
    m_pointedAt = false;
    select({});
}

void LaneContext::dropStale() {
    const auto project = m_document->project();
    const auto gone = std::erase_if(m_selected, [&](const KeyAddress& k) {
        return !hasCurve(*project, k.curve) || k.key >= int(curveAt(*project, k.curve).keys.size());
    });
    if (gone > 0) emit keysSelected();
}

void LaneContext::setFrames(const FrameScale& frames) {
    m_frames = frames;
    emit changed();
}

namespace {

// From the earliest to the latest of these keys, on the place's axis.
std::optional<std::pair<double, double>> spanOf(const Project& project, const KeySet& keys) {
    std::optional<std::pair<double, double>> span;
    for (const KeyAddress& k : keys) {
        const double t =
            curveAt(project, k.curve).keys[std::size_t(k.key)].time + sideOrigin(project, k.curve.place, k.curve.side);
        span = span ? std::pair(std::min(span->first, t), std::max(span->second, t)) : std::pair(t, t);
    }
    return span;
}

} // namespace

void LaneContext::fit(double chartWidth) {
    const auto project = m_document->project();
    const auto span = spanOf(*project, keysOfStack(*project, m_place));
    if (m_place.kind == StackPlace::Cut) {
        double reach = 14;
        if (span) reach = std::max({reach, std::abs(span->first) + 1, std::abs(span->second) + 1});
        setFrames({std::floor(chartWidth / 2), std::max(leastPerFrame, chartWidth / 2 / (reach + 0.5))});
        return;
    }
    const SideSpan whole = sideSpan(*project, m_place, Side::Incoming);
    double from = std::min(0.0, span ? span->first : 0.0), to = std::max(whole.to, span ? span->second : 0.0);
    const double room = std::max(0.5, (to - from) * 0.03);
    from -= room, to += room;
    const double perFrame = std::max(leastPerFrame, std::min(mostPerFrame, chartWidth / std::max(1.0, to - from)));
    setFrames({-from * perFrame, perFrame});
}

void LaneContext::fitSelection(double chartWidth) {
    const auto span = spanOf(*m_document->project(), m_selected);
    if (!span) return fit(chartWidth);
    const double from = span->first - 1, to = span->second + 1;
    const double perFrame = std::clamp(chartWidth / (to - from), leastPerFrame, mostPerFrame);
    setFrames({chartWidth / 2 - (from + to) / 2 * perFrame, perFrame});
}

void LaneContext::setPlayhead(double frame) {
    if (stack()) m_document->setPlayhead(originOf(*m_document->project(), m_place) + std::llround(frame));
}

Side LaneContext::sideAt(double frame) const {
    if (m_place.kind == StackPlace::Cut) return frame < 0 ? Side::Outgoing : Side::Incoming;
    if (m_place.kind == StackPlace::Drift) return Side::Incoming;
    const double end = sideOrigin(*m_document->project(), m_place, Side::Outgoing);
    return frame > end / 2 ? Side::Outgoing : Side::Incoming;
}

std::optional<KeyAddress> LaneContext::active() const {
    return m_selected.empty() ? std::nullopt : std::optional(m_selected.back());
}

bool LaneContext::isSelected(const KeyAddress& key) const {
    return std::find(m_selected.begin(), m_selected.end(), key) != m_selected.end();
}

KeyGroup LaneContext::selectedIn(const CurveAddress& curve) const {
    KeyGroup group;
    for (const KeyAddress& k : m_selected)
        if (k.curve == curve) group.push_back(k.key);
    std::sort(group.begin(), group.end());
    return group;
}

void LaneContext::select(KeySet keys) {
    if (keys == m_selected) return;
    m_selected = std::move(keys);
    if (!m_selected.empty()) setCurrent(m_selected.back().curve);
    emit changed();
    emit keysSelected();
}

void LaneContext::toggle(const KeyAddress& key) {
    KeySet next = m_selected;
    if (std::erase(next, key) == 0) next.push_back(key);
    select(std::move(next));
}

CurveAddress LaneContext::current() const {
    CurveAddress at = m_current;
    at.place = m_place;
    return at;
}

void LaneContext::setCurrent(const CurveAddress& curve) {
    m_current = curve;
    m_pointedAt = true;
}

QString LaneContext::lookKey(int move, int channel) const {
    const Stack* moves = stack();
    if (!moves || move < 0 || move >= int(moves->size())) return {};
    return QString::fromStdString((*moves)[std::size_t(move)].id) + QStringLiteral("/%1").arg(channel);
}

LaneLook LaneContext::look(int move, int channel) const {
    const auto at = m_looks.find(lookKey(move, channel));
    return at == m_looks.end() ? LaneLook{} : at->second;
}

void LaneContext::setLook(int move, int channel, const LaneLook& look) {
    const QString key = lookKey(move, channel);
    if (key.isEmpty() || this->look(move, channel) == look) return;
    m_looks[key] = look;
    emit looksChanged();
    emit changed();
}

void LaneContext::setBox(const QRect& box) {
    if (box == m_box) return;
    m_box = box;
    emit changed();
}

void LaneContext::setGuide(std::optional<double> frame) {
    if (frame == m_guide) return;
    m_guide = frame;
    emit changed();
}

} // namespace virga
