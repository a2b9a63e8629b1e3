#include "app/document/edit_focus.h"

#include <algorithm>

#include "app/document/document.h"

namespace virga {

EditFocus::EditFocus(Document* document) : QObject(document), m_document(document) {
    connect(document, &Document::projectChanged, this, [this] {
        findPlace();
        dropStale();
    });
    connect(document, &Document::selectionChanged, this, &EditFocus::findPlace);
}

const Stack* EditFocus::stack() const {
    return stackAt(*m_document->project(), m_place);
}

double EditFocus::playhead() const {
    return double(m_document->playhead() - originOf(*m_document->project(), m_place));
}

void EditFocus::findPlace() {
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
    emit changed();
}

void EditFocus::dropStale() {
    const auto project = m_document->project();
    const auto gone = std::erase_if(m_keys, [&](const KeyAddress& k) {
        return !hasCurve(*project, k.curve) || k.key >= int(curveAt(*project, k.curve).keys.size());
    });
    if (gone > 0) emit keysSelected();
}

Side EditFocus::sideAt(double frame) const {
    if (m_place.kind == StackPlace::Cut) return frame < 0 ? Side::Outgoing : Side::Incoming;
    if (m_place.kind == StackPlace::Drift) return Side::Incoming;
    const double end = sideOrigin(*m_document->project(), m_place, Side::Outgoing);
    return frame > end / 2 ? Side::Outgoing : Side::Incoming;
}

void EditFocus::select(KeySet keys) {
    if (keys == m_keys) return;
    m_keys = std::move(keys);
    if (!m_keys.empty()) setCurrent(m_keys.back().curve);
    emit changed();
    emit keysSelected();
}

void EditFocus::toggle(const KeyAddress& key) {
    KeySet next = m_keys;
    if (std::erase(next, key) == 0) next.push_back(key);
    select(std::move(next));
}

CurveAddress EditFocus::current() const {
    CurveAddress at = m_current;
    at.place = m_place;
    return at;
}

void EditFocus::setCurrent(const CurveAddress& curve) {
    const bool same = curve == m_current && m_pointedAt;
    m_current = curve;
    m_pointedAt = true;
    if (!same) emit changed();
}

} // namespace virga
