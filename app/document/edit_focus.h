#pragma once
// What is being edited: which stack of moves, which of its keys, and the curve that was pointed at last. Belongs to the
// document, so that Lanes and Picture steer the same thing. Interface thread only.
#include <QObject>
#include <optional>

#include "core/edit/key_edits.h"

namespace virga {

class Document;

class EditFocus : public QObject {
    Q_OBJECT
public:
    explicit EditFocus(Document* document);

    /// The cut, or the selected clip's drift, overlay or adjustment.
    StackPlace place() const { return m_place; }
    /// Its moves, or null where there is nothing.
    const Stack* stack() const;
    /// The playhead on the place's axis.
    double playhead() const;
    /// The side that a frame of the axis belongs to: before or from the cut on, or the half with the entrance or the
    /// exit.
    Side sideAt(double frame) const;

    const KeySet& keys() const { return m_keys; }
    void select(KeySet keys);
    void toggle(const KeyAddress& key);
    /// The curve that was clicked or selected last.
    CurveAddress current() const;
    void setCurrent(const CurveAddress& curve);
    /// False while nothing was clicked since the place was chosen.
    bool wasPointedAt() const { return m_pointedAt; }

signals:
    void changed();      // place, keys or the current curve
    void keysSelected(); // the keys

private:
    void findPlace();
    void dropStale();
    Document* m_document;
    StackPlace m_place;
    KeySet m_keys;
    CurveAddress m_current;
    bool m_pointedAt = false;
};

} // namespace virga
