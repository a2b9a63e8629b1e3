#include "app/lanes/lane_context.h"

#include <algorithm>
#include <cmath>

namespace virga {

LaneContext::LaneContext(Document* document, QObject* parent)
    : QObject(parent), m_document(document), m_focus(document->focus()) {
    connect(document, &Document::projectChanged, this, &LaneContext::changed);
    connect(document, &Document::playheadChanged, this, &LaneContext::changed);
    connect(document, &Document::selectionChanged, this, &LaneContext::changed);
    connect(m_focus, &EditFocus::changed, this, &LaneContext::changed);
    connect(m_focus, &EditFocus::keysSelected, this, &LaneContext::keysSelected);
    connect(document, &Document::shotsChanged, this, &LaneContext::changed);
}

const ShotMovements* LaneContext::shots() const {
    return m_document->judgedShots().get();
}

const Move* LaneContext::moveAt(int move) const {
    if (move == shotSpeed) {
        m_speed.channels.front() = channelAt(*m_document->project(), {place(), shotSpeed, 0, Side::Incoming});
        return &m_speed;
    }
    const Stack* moves = stack();
    return moves && move >= 0 && move < int(moves->size()) ? &(*moves)[std::size_t(move)] : nullptr;
}

bool LaneContext::showsSpeed() const {
    const auto project = m_document->project();
    bool any = false;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const CurveAddress at{place(), shotSpeed, 0, side};
        if (!hasCurve(*project, at)) continue;
        if (!curveAt(*project, at).isEmpty()) return true;
        any = true;
    }
    return any && m_speedWanted == place();
}

void LaneContext::wantSpeed() {
    m_speedWanted = place();
    emit looksChanged();
    emit changed();
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
    KeySet keys = keysOfStack(*project, place());
    const KeySet speeds = keysOfLane(*project, place(), shotSpeed, 0);
    keys.insert(keys.end(), speeds.begin(), speeds.end());
    const auto span = spanOf(*project, keys);
    if (place().kind == StackPlace::Cut) {
        double reach = 14;
        if (span) reach = std::max({reach, std::abs(span->first) + 1, std::abs(span->second) + 1});
        setFrames({std::floor(chartWidth / 2), std::max(leastPerFrame, chartWidth / 2 / (reach + 0.5))});
        return;
    }
    const SideSpan whole = sideSpan(*project, place(), Side::Incoming);
    double from = std::min(0.0, span ? span->first : 0.0), to = std::max(whole.to, span ? span->second : 0.0);
    const double room = std::max(0.5, (to - from) * 0.03);
    from -= room, to += room;
    const double perFrame = std::max(leastPerFrame, std::min(mostPerFrame, chartWidth / std::max(1.0, to - from)));
    setFrames({-from * perFrame, perFrame});
}

void LaneContext::fitSelection(double chartWidth) {
    const auto span = spanOf(*m_document->project(), selected());
    if (!span) return fit(chartWidth);
    const double from = span->first - 1, to = span->second + 1;
    const double perFrame = std::clamp(chartWidth / (to - from), leastPerFrame, mostPerFrame);
    setFrames({chartWidth / 2 - (from + to) / 2 * perFrame, perFrame});
}

void LaneContext::setPlayhead(double frame) {
    if (stack()) m_document->setPlayhead(originOf(*m_document->project(), place()) + std::llround(frame));
}

std::optional<KeyAddress> LaneContext::active() const {
    return selected().empty() ? std::nullopt : std::optional(selected().back());
}

bool LaneContext::isSelected(const KeyAddress& key) const {
    return std::find(selected().begin(), selected().end(), key) != selected().end();
}

KeyGroup LaneContext::selectedIn(const CurveAddress& curve) const {
    KeyGroup group;
    for (const KeyAddress& k : selected())
        if (k.curve == curve) group.push_back(k.key);
    std::sort(group.begin(), group.end());
    return group;
}

QString LaneContext::lookKey(int move, int channel) const {
    const Move* shown = moveAt(move);
    if (!shown) return {};
    return QString::fromStdString(shown->id) + QStringLiteral("/%1").arg(channel);
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
