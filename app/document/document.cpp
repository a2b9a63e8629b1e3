#include "app/document/document.h"

#include "app/document/edit_focus.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QPointer>
#include <QUndoCommand>
#include <algorithm>

#include "app/document/autosave.h"
#include "core/base/file.h"
#include "core/base/guard.h"
#include "core/base/printable.h"
#include "core/edit/project_patch.h"
#include "core/project/project_file.h"
#include "core/recipe/link.h"

namespace virga {

std::vector<int> Selection::all() const {
    if (kind == Nothing || index < 0) return {};
    std::vector<int> out = others;
    out.push_back(index);
    std::sort(out.begin(), out.end());
    return out;
}

bool Selection::contains(Kind k, int i) const {
    return k == kind && (i == index || std::find(others.begin(), others.end(), i) != others.end());
}

// The last step holds the project before and after; once another follows, only what lies between them.
class Document::Step : public QUndoCommand {
public:
    Step(Document& document, const QString& name, Snapshot before, Snapshot after, const QString& mergeKey)
        : QUndoCommand(name), m_document(document), m_before(std::move(before)), m_after(std::move(after)),
          m_key(mergeKey) {}
    void undo() override {
        if (m_before)
            m_document.setProject(m_before);
        else if (m_patch)
            m_document.setProject(std::make_shared<const Project>(m_patch->back(*m_document.project())));
    }
    void redo() override {
        if (m_after)
            m_document.setProject(m_after);
        else if (m_patch)
            m_document.setProject(std::make_shared<const Project>(m_patch->forth(*m_document.project())));
    }
    int id() const override { return m_key.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand* other) override {
        const auto* next = static_cast<const Step*>(other);
        if (next->m_key != m_key || !m_before) return false;
        m_after = next->m_after;
        if (*m_before == *m_after) setObsolete(true);
        return true;
    }
    bool isLoose() const { return m_before != nullptr; }
    /// Keeps what lies between the two projects in place of them.
    void pack() {
        m_patch.emplace(*m_before, *m_after);
        m_before = m_after = nullptr;
    }
    std::size_t bytes() const { return m_patch ? m_patch->bytes() : 0; }
    /// Forgets what it did: there were too many after it.
    void empty() {
        m_patch.reset();
        setText(QCoreApplication::translate("virga::Document", "nothing: it is too long ago"));
        setObsolete(true);
    }

private:
    Document& m_document;
    Snapshot m_before, m_after;
    std::optional<ProjectPatch> m_patch;
    QString m_key;
};

Document::Document(QObject* parent) : QObject(parent), m_project(std::make_shared<const Project>()) {
    m_writer.setMaxThreadCount(1);
    connect(&m_undo, &QUndoStack::cleanChanged, this, &Document::fileChanged);
    m_focus = new EditFocus(this);
}

void Document::setProject(Snapshot project) {
    m_project = std::move(project);
    m_trial = nullptr;
    keepSelectionValid();
    emit projectChanged();
    emit shownChanged();
    setPlayhead(m_playhead);
}

void Document::setShots(std::shared_ptr<const ShotMovements> shots) {
    if (m_shots == shots) return;
    m_shots = std::move(shots);
    emit shotsChanged();
}

void Document::tryOut(Snapshot trial) {
    if (trial == m_trial || (trial && isDragging())) return;
    m_trial = std::move(trial);
    emit shownChanged();
}

void Document::setEditsRecipe(bool on) {
    if (on == m_editsRecipe) return;
    m_editsRecipe = on;
    emit editsRecipeChanged();
}

// Every edit comes through here: what it did at a linked cut is noted as the cut's own, or given to the recipe.
Project Document::linked(const Project& before, Project next) const {
    if (next.recipes.empty()) return next;
    return m_editsRecipe ? withEditFolded(before, next) : withOwnNoted(before, std::move(next));
}

void Document::apply(const QString& name, Project next, const QString& mergeKey) {
    cancelDrag();
    if (next == *m_project) return;
    next = linked(*m_project, std::move(next));
    push(new Step(*this, name, m_project, std::make_shared<const Project>(std::move(next)), mergeKey));
}

void Document::push(Step* step) {
    const Step* before = m_undo.index() > 0 ? static_cast<const Step*>(m_undo.command(m_undo.index() - 1)) : nullptr;
    m_undo.push(step);
    // Packed once another has come after it; until then steps of one kind may still grow together.
    const int top = m_undo.index() - 1;
    if (!before || top < 1 || m_undo.command(top - 1) != before) return;
    const auto stepAt = [this](int i) { return static_cast<Step*>(const_cast<QUndoCommand*>(m_undo.command(i))); };
    if (Step* last = stepAt(top - 1); last->isLoose()) last->pack();
    std::size_t all = 0;
    int first = top - 1;
    for (; first >= 0 && all <= m_mostUndoBytes; --first) all += stepAt(first)->bytes();
    if (first < 0 || stepAt(first)->bytes() == 0) return;
    // What was saved before that can be reached no more: undone as far as it goes, it is another piece than the file's.
    if (m_undo.cleanIndex() >= 0 && m_undo.cleanIndex() <= first) m_undo.resetClean();
    for (; first >= 0 && stepAt(first)->bytes() > 0; --first) stepAt(first)->empty();
}

std::size_t Document::undoBytes() const {
    std::size_t all = 0;
    for (int i = 0; i < m_undo.count(); ++i) all += static_cast<const Step*>(m_undo.command(i))->bytes();
    return all;
}

void Document::learn(Project same) {
    if (isDragging() || same == *m_project) return;
    Snapshot trial = m_trial; // what is tried out goes on, with the facts
    if (trial) {
        Project knowing = *trial;
        knowing.media = same.media;
        trial = std::make_shared<const Project>(std::move(knowing));
    }
    setProject(std::make_shared<const Project>(std::move(same)));
    tryOut(std::move(trial));
}

void Document::drag(Project next) {
    if (!m_beforeDrag) m_beforeDrag = m_project;
    next = linked(*m_beforeDrag, std::move(next));
    if (next == *m_project) return;
    setProject(std::make_shared<const Project>(std::move(next)));
}

void Document::endDrag(const QString& name) {
    if (!m_beforeDrag) return;
    const Snapshot before = std::exchange(m_beforeDrag, nullptr);
    if (*before == *m_project) return;
    push(new Step(*this, name, before, m_project, {}));
}

void Document::cancelDrag() {
    if (!m_beforeDrag) return;
    setProject(std::exchange(m_beforeDrag, nullptr));
}

void Document::keepSelectionValid() {
    const int clips = int(m_project->reel.size()), cuts = cutCount(*m_project);
    Selection s = m_selection;
    if (s.kind == Selection::CutSelected && s.index >= cuts)
        s = cuts > 0 ? Selection{Selection::CutSelected, cuts - 1} : Selection{};
    if (s.kind == Selection::ClipSelected && s.index >= clips)
        s = clips > 0 ? Selection{Selection::ClipSelected, clips - 1} : Selection{};
    std::erase_if(s.others, [&](int i) { return i >= clips || i == s.index; });
    const auto keep = [&](Selection::Kind kind, std::size_t count) {
        if (s.kind == kind && s.index >= int(count)) s = {};
    };
    keep(Selection::OverlaySelected, m_project->overlays.size());
    keep(Selection::AdjustmentSelected, m_project->adjustments.size());
    keep(Selection::MusicSelected, m_project->music.size());
    keep(Selection::MarkerSelected, m_project->markers.size());
    const int cut = std::min(m_cut, cuts - 1);
    const bool changed = !(s == m_selection) || cut != m_cut;
    m_selection = s;
    m_cut = cut < 0 && cuts > 0 ? 0 : cut;
    if (changed || m_cut != cut) emit selectionChanged();
}

void Document::select(const Selection& selection) {
    if (selection == m_selection) return;
    const int cuts = cutCount(*m_project);
    m_selection = selection;
    if (selection.kind == Selection::CutSelected) {
        m_cut = std::clamp(selection.index, -1, cuts - 1);
    } else if (selection.kind == Selection::ClipSelected && cuts > 0) {
        const int clip = selection.index;
        if (m_cut != clip && m_cut != clip - 1) m_cut = std::clamp(clip - 1, 0, cuts - 1);
    }
    emit selectionChanged();
}

void Document::setPlayhead(std::int64_t frame) {
    frame = std::clamp<std::int64_t>(frame, 0, std::max<std::int64_t>(0, reelLength(*m_project) - 1));
    if (frame == m_playhead) return;
    m_playhead = frame;
    emit playheadChanged();
}

void Document::mark(std::optional<std::pair<std::int64_t, std::int64_t>> span) {
    if (span && span->second <= span->first) span.reset();
    if (span == m_marked) return;
    m_marked = span;
    emit markedChanged();
}

QString Document::title() const {
    if (!m_project->name.empty()) return QString::fromStdString(printable(m_project->name));
    return m_path.isEmpty() ? tr("Untitled")
                            : QString::fromStdString(printable(QFileInfo(m_path).completeBaseName().toStdString()));
}

void Document::replace(Project project, const QString& path) {
    ++m_piece;
    m_beforeDrag = nullptr;
    m_undo.clear();
    m_path = path;
    m_readOnly = false;
    m_content = std::make_shared<std::string>();
    m_selection = {};
    m_cut = -1;
    m_playhead = 0;
    setEditsRecipe(false);
    mark(std::nullopt);
    setProject(std::make_shared<const Project>(std::move(project)));
    if (cutCount(*m_project) > 0) select({Selection::CutSelected, 0});
    emit playheadChanged();
    emit opened();
    emit fileChanged();
}

void Document::startNew() {
    m_missing.clear();
    replace(Project(), {});
}

Expected<Document::Opened> Document::read(const QString& path) {
    std::vector<std::string> missing;
    std::string content = contentOf(path.toStdString());
    auto project = loadProject(path.toStdString(), &missing);
    if (!project) return tl::unexpected(project.error());
    return Opened{std::move(*project), std::move(missing), std::move(content)};
}

void Document::take(Opened opened, const QString& path, bool unsaved) {
    m_missing = std::move(opened.missing);
    if (!path.isEmpty()) {
        removeLeftovers(path.toStdString());
        removeLeftovers(Autosave::placeFor(path).toStdString());
    }
    replace(std::move(opened.project), path.isEmpty() ? path : QFileInfo(path).absoluteFilePath());
    *m_content = std::move(opened.content); // a fresh one: no writer has it yet
    if (!unsaved) return;
    m_undo.resetClean(); // it differs from what is on disk
    emit fileChanged();
}

Expected<void> Document::open(const QString& path) {
    auto opened = read(path);
    if (!opened) return tl::unexpected(opened.error());
    take(std::move(*opened), path);
    return {};
}

namespace {

// `content` is what the file held when it was read or saved last; it is kept up.
Expected<void> write(const Project& project, const QString& path, bool own, bool replace, std::string& content,
                     ProjectText& texts) {
    // A link is followed to the file that it stands for.
    std::error_code ec;
    std::filesystem::path target = path.toStdString();
    if (const auto real = std::filesystem::canonical(target, ec); !ec) target = real;
    Output output = projectOutput(project, true);      // the dialog has asked
    if (own) output.kinds.push_back(endingOf(target)); // however it is called, it is the one that was opened
    if (auto may = mayWrite(target, output); !may) return may;
    if (const std::string now = contentOf(target);
        own && !replace && !content.empty() && !now.empty() && now != content)
        return fail(ErrorCode::Changed, "somebody else has saved this file since it was opened here", target.string(),
                    "save under another name, or replace what is there");
    auto saved = saveProject(project, target, &texts);
    if (saved) content = contentOf(target);
    return saved;
}

} // namespace

void Document::setReadOnly(bool on) {
    if (on == m_readOnly) return;
    m_readOnly = on;
    emit fileChanged();
}

Expected<void> Document::save(const QString& path, bool replace) {
    m_writer.waitForDone(); // what was asked for before
    auto saved = write(*m_project, path, path == m_path, replace, *m_content, *m_texts);
    if (!saved) return saved;
    m_path = QFileInfo(path).absoluteFilePath();
    m_readOnly = false;
    m_undo.setClean();
    emit fileChanged();
    return {};
}

void Document::saveSoon(const QString& path, std::function<void(const Expected<void>&)> done, bool replace) {
    ++m_saving;
    m_undo.setClean(); // undone to here, it is what the file will hold
    m_writer.start([this, alive = QPointer<Document>(this), project = m_project, path, own = path == m_path,
                    piece = m_piece, texts = m_texts, content = m_content, replace, done = std::move(done)] {
        const auto saved =
            guarded(path.toStdString(), [&] { return write(*project, path, own, replace, *content, *texts); });
        QMetaObject::invokeMethod(qApp, [this, alive, path, saved, piece, done] {
            if (!alive) return;
            --m_saving;
            if (piece != m_piece) { // another project is open by now: it is not what was saved
                emit fileChanged();
                return done(saved);
            }
            if (saved)
                m_path = QFileInfo(path).absoluteFilePath(), m_readOnly = false;
            else
                m_undo.resetClean();
            emit fileChanged();
            done(saved);
        });
    });
}

Document::~Document() {
    m_writer.waitForDone();
}

} // namespace virga
