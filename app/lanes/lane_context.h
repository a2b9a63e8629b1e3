#pragma once
// What all lanes share: the document and what of it is edited (app/document/edit_focus.h), the frame axis, how lanes
// look, and what is dragged across several of them.
#include <QObject>
#include <QRect>
#include <map>
#include <optional>

#include "app/document/document.h"
#include "app/document/edit_focus.h"
#include "app/lanes/lane_scale.h"
#include "core/edit/key_edits.h"

namespace virga {

inline constexpr int laneHeaderWidth = 236;
inline constexpr int laneHeight = 86, foldedHeight = 24;

/// How a lane is shown; kept while the program runs, not in the project.
struct LaneLook {
    bool folded = false;
    bool parameters = false; // the rows of what does not change over time are shown
    int height = 0;          // 0: shares what room there is
    std::optional<ValueRange> held;
    bool operator==(const LaneLook&) const = default;
};

class LaneContext : public QObject {
    Q_OBJECT
public:
    explicit LaneContext(Document* document, QObject* parent = nullptr);

    Document* document() const { return m_document; }
    /// What the shots do by themselves, where the project judges with it; else null.
    const ShotMovements* shots() const;
    /// The cut, or the selected clip's drift, overlay or adjustment.
    StackPlace place() const { return m_focus->place(); }
    /// Its moves, or null where there is nothing to show.
    const Stack* stack() const { return m_focus->stack(); }

    /// The move of a lane, or what stands for the shots' own speed; null where it is not there.
    const Move* moveAt(int move) const;
    /// Whether the shots' own speed has a lane: where it has keys, or somebody wants to give it some.
    bool showsSpeed() const;
    void wantSpeed();

    const FrameScale& frames() const { return m_frames; }
    /// For a side's own times.
    FrameScale frames(Side side) const { return m_frames.from(sideOrigin(*m_document->project(), place(), side)); }
    void setFrames(const FrameScale& frames);
    /// All keys of the moves, at least 14 frames a side at a cut, or the whole clip.
    void fit(double chartWidth);
    void fitSelection(double chartWidth);
    /// Times of the place's axis to and from the reel's.
    double playhead() const { return m_focus->playhead(); }
    void setPlayhead(double frame);
    /// The side that a frame of the axis belongs to: before or from the cut on, or the half with the entrance or the
    /// exit.
    Side sideAt(double frame) const { return m_focus->sideAt(frame); }

    const KeySet& selected() const { return m_focus->keys(); }
    /// The one that was selected last, which the others follow.
    std::optional<KeyAddress> active() const;
    bool isSelected(const KeyAddress& key) const;
    KeyGroup selectedIn(const CurveAddress& curve) const;
    void select(KeySet keys) { m_focus->select(std::move(keys)); }
    void toggle(const KeyAddress& key) { m_focus->toggle(key); }

    /// Where pasted keys go and keys are added: the curve that was clicked or selected last.
    CurveAddress current() const { return m_focus->current(); }
    void setCurrent(const CurveAddress& curve) { m_focus->setCurrent(curve); }
    /// False while nothing was clicked since the place was chosen: pasted keys then find their lanes by name.
    bool wasPointedAt() const { return m_focus->wasPointedAt(); }

    LaneLook look(int move, int channel) const;
    void setLook(int move, int channel, const LaneLook& look);

    /// A box being dragged over the lanes, in global pixels; null outside that.
    QRect box() const { return m_box; }
    void setBox(const QRect& box);
    /// A frame of the axis that something being dragged clings to.
    std::optional<double> guide() const { return m_guide; }
    void setGuide(std::optional<double> frame);

signals:
    void changed();      // axis, keys or selection: look whether to repaint
    void keysSelected(); // for the menus
    void looksChanged();
    void boxDragged(const QRect& global);
    void laneWanted(int move, int channel, int by); // the lane that many below one gets the focus
    void problem(const QString& text);

private:
    QString lookKey(int move, int channel) const;

    Document* m_document;
    EditFocus* m_focus;
    FrameScale m_frames;
    std::map<QString, LaneLook> m_looks;
    mutable Move m_speed = makeMove(MoveKind::ShotSpeed, "shot-speed");
    std::optional<StackPlace> m_speedWanted;
    QRect m_box;
    std::optional<double> m_guide;
};

} // namespace virga
