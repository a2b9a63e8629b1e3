#pragma once
// The open project around which the window is built: an immutable snapshot, the undo stack, what is selected, and where
// the playhead is. Views read it, change it through app/commands, and talk to each other only by its signals. Interface
// thread only; snapshots may be handed to any thread.
#include <QObject>
#include <QString>
#include <QThreadPool>
#include <QUndoStack>
#include <functional>
#include <memory>
#include <optional>

#include "core/base/error.h"
#include "core/plan/shot_movement.h"
#include "core/project/project.h"
#include "core/project/project_text.h"

namespace virga {

class EditFocus;

using Snapshot = std::shared_ptr<const Project>;

struct Selection {
    enum Kind {
        Nothing,
        ClipSelected,
        CutSelected,
        OverlaySelected,
        AdjustmentSelected,
        MusicSelected,
        MarkerSelected
    };
    Kind kind = Nothing;
    int index = -1;          // the one that was chosen last
    std::vector<int> others; // more clips of the reel, ascending, without the index
    /// The index and the others, ascending; empty for nothing.
    std::vector<int> all() const;
    bool contains(Kind k, int i) const;
    bool operator==(const Selection&) const = default;
};

class Document : public QObject {
    Q_OBJECT
public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    Snapshot project() const { return m_project; }
    /// Facts found out about files in the background: no step, and no reason to ask for saving. Not while dragging.
    void learn(Project same);
    QUndoStack* undoStack() { return &m_undo; }
    /// What is known of how its shots move by themselves; null where nothing is, or nobody asks. Found in the
    /// background (app/services/shots_watch.h), and no part of the project.
    std::shared_ptr<const ShotMovements> shots() const { return m_shots; }
    void setShots(std::shared_ptr<const ShotMovements> shots);
    /// The same where the project is judged with it, else null: what whoever measures or mends a cut goes by.
    std::shared_ptr<const ShotMovements> judgedShots() const {
        return m_project->settings.withShots ? m_shots : nullptr;
    }

    /// One undoable step, "Undo NAME". Steps with the same merge key that follow each other directly become one. A
    /// project equal to the present one is no step.
    void apply(const QString& name, Project next, const QString& mergeKey = {});

    /// While something is dragged: shows a project without making a step; endDrag makes one step of it all, or none
    /// where it came back to where it began.
    void drag(Project next);
    void endDrag(const QString& name);
    void cancelDrag();
    bool isDragging() const { return m_beforeDrag != nullptr; }
    /// Whether an edit at a cut that follows a recipe changes the recipe, and so every cut that follows it; else it
    /// becomes the cut's own.
    bool editsRecipe() const { return m_editsRecipe; }
    void setEditsRecipe(bool on);
    /// While a fix is pointed at: a project shown in place of the present one, which nothing is changed by. Null ends
    /// it, as does any change.
    void tryOut(Snapshot trial);
    bool isTrying() const { return m_trial != nullptr; }
    /// What is to be looked at: the project, or what is tried in its place.
    Snapshot shown() const { return m_trial ? m_trial : m_project; }

    /// The project as it was when the drag began; the present one outside a drag.
    Snapshot dragOrigin() const { return m_beforeDrag ? m_beforeDrag : m_project; }

    Selection selection() const { return m_selection; }
    void select(const Selection& selection);
    /// The cut that the lanes, the ladder and the flow panel are about: the selected one, or one of the selected
    /// clip's; -1 where the reel has none.
    int cut() const { return m_cut; }

    std::int64_t playhead() const { return m_playhead; }
    /// Kept within the reel.
    void setPlayhead(std::int64_t frame);

    /// What is edited: shared by Lanes and Picture.
    EditFocus* focus() const { return m_focus; }

    /// A span of the reel marked for playing, [first, second); not part of the project.
    std::optional<std::pair<std::int64_t, std::int64_t>> marked() const { return m_marked; }
    void mark(std::optional<std::pair<std::int64_t, std::int64_t>> span);

    QString path() const { return m_path; }
    /// True where the file is another window's: it is saved under another name only.
    bool isReadOnly() const { return m_readOnly; }
    void setReadOnly(bool on);
    QString title() const;
    /// What the undo steps take in memory, about; beyond the most of it the oldest are forgotten.
    std::size_t undoBytes() const;
    void setMostUndoBytes(std::size_t bytes) { m_mostUndoBytes = bytes; }
    bool isModified() const { return !m_undo.isClean() || m_saving > 0; }
    const std::vector<std::string>& missingMedia() const { return m_missing; }

    void startNew();
    /// A project as it was read, with the media that were not found.
    struct Opened {
        Project project;
        std::vector<std::string> missing;
        std::string content; // of the file (contentOf)
    };
    /// Reads a project for `take`; errors as loadProject. On any thread.
    static Expected<Opened> read(const QString& path);
    /// Opens what was read as the project at `path`; with `unsaved` it counts as changed (a copy that was kept).
    void take(Opened opened, const QString& path, bool unsaved = false);
    /// Both at once; the open project stays where it cannot be read.
    Expected<void> open(const QString& path);
    /// Errors: as writing a file; Changed where the file is not the one any more that was read or saved last, which
    /// `replace` allows to lose.
    Expected<void> save(const QString& path, bool replace = false);
    /// The same in the background: what it is now is written, whatever is edited meanwhile; `done` is told on this
    /// thread. Until then it counts as modified.
    void saveSoon(const QString& path, std::function<void(const Expected<void>&)> done, bool replace = false);

signals:
    void projectChanged();
    void shownChanged(); // follows projectChanged, and what is tried out
    void shotsChanged();
    void selectionChanged();
    void playheadChanged();
    void markedChanged();
    void editsRecipeChanged();
    void fileChanged(); // path, title or modified state
    void opened();      // another project altogether

private:
    class Step;
    void push(Step* step);
    void setProject(Snapshot project);
    void keepSelectionValid();
    void replace(Project project, const QString& path);

    Snapshot m_project;
    Project linked(const Project& before, Project next) const;

    Snapshot m_beforeDrag, m_trial;
    bool m_editsRecipe = false;
    std::shared_ptr<const ShotMovements> m_shots;
    QUndoStack m_undo;
    std::size_t m_mostUndoBytes = std::size_t(64) << 20;
    std::shared_ptr<ProjectText> m_texts = std::make_shared<ProjectText>(); // the writer's
    QThreadPool m_writer; // one thread: files are written in the order that was asked for
    int m_saving = 0;
    int m_piece = 0; // counts the projects that were opened
    EditFocus* m_focus;
    Selection m_selection;
    int m_cut = -1;
    std::int64_t m_playhead = 0;
    std::optional<std::pair<std::int64_t, std::int64_t>> m_marked;
    QString m_path;
    bool m_readOnly = false;
    std::shared_ptr<std::string> m_content =
        std::make_shared<std::string>(); // of the file as it was read or saved; the writer's
    std::vector<std::string> m_missing;
};

} // namespace virga
