#pragma once
// What can be added to a stack: movement and finishing as two groups, each kind as a small picture made from what the
// stack moves, which plays while it is pointed at. A click adds what the picture shows, a click with Shift an empty
// lane.
#include <QFrame>
#include <vector>

#include "app/document/document.h"
#include "app/services/frame_service.h"
#include "core/project/stack_place.h"

class QLabel;
class QVBoxLayout;

namespace virga {

class MovingTile;

class MoveMenu : public QFrame {
    Q_OBJECT
public:
    MoveMenu(Document* document, FrameService* frames, StackPlace place, QWidget* parent = nullptr);
    ~MoveMenu() override;
    void showBelow(QWidget* button);
    MovingTile* tile(MoveKind kind) const;

signals:
    void speedWanted(); // a lane for the shots' own speed

protected:
    void keyPressEvent(QKeyEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    static constexpr int framesEach = 12, columns = 9;
    void addGroup(const QString& title, const std::vector<const MoveInfo*>& kinds, QVBoxLayout* column);
    void ask(std::size_t index, bool whole);
    std::int64_t frameAt(int i) const;
    void choose(MoveKind kind);
    void step(int across, int down);

    Document* m_document;
    FrameService* m_frames;
    StackPlace m_place;
    struct Entry {
        MoveKind kind;
        MovingTile* tile;
        Snapshot shown;
        int row, column;
    };
    std::vector<Entry> m_entries;
    QLabel* m_told;
    QString m_hint;
    int m_rows = 0;
};

} // namespace virga
