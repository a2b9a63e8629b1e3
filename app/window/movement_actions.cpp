#include "app/window/movement_actions.h"

#include <QFileDialog>

#include "app/commands/movement_commands.h"
#include "app/commands/reel_commands.h"
#include "app/cut/carrying_cuts_dialog.h"
#include "app/document/edit_focus.h"
#include "app/document/words.h"
#include "app/find_cuts/find_cuts_dialog.h"
#include "app/reel/reel_view.h"
#include "app/trace/trace_dialog.h"
#include "app/window/notice_bar.h"
#include "app/window/services.h"
#include "core/analysis/measure_movement.h"
#include "core/audio/audio_mix.h"
#include "core/edit/move_edits.h"

namespace virga {

MovementActions::MovementActions(Services& services, ReelView* reel, NoticeBar* notice, QWidget* window)
    : QObject(window), m_services(services), m_reel(reel), m_notice(notice), m_window(window) {
    connect(&services.shots, &ShotsWatch::changed, this,
            [this] { m_reel->setBusyText(m_services.shots.progressText()); });
}

void MovementActions::findCuts(const QString& mediaId) {
    if (!findMedia(*m_services.document.project(), mediaId.toStdString())) return;
    m_services.player.stop();
    qint64 toTrace = -1;
    FindCutsDialog dialog(&m_services.document, &m_services.thumbnails, mediaId.toStdString(), m_window);
    connect(&dialog, &FindCutsDialog::traceWanted, this, [&toTrace](qint64 picture) { toTrace = picture; });
    dialog.exec();
    if (toTrace >= 0) traceTransition(mediaId, toTrace);
}

void MovementActions::traceTransition(const QString& mediaId, qint64 picture) {
    const Media* media = findMedia(*m_services.document.project(), mediaId.toStdString());
    if (!media || media->still || !media->hasPicture()) return;
    m_services.player.stop();
    TraceDialog dialog(&m_services.document, &m_services.recipes, mediaId.toStdString(), picture, m_window);
    dialog.exec();
}

void MovementActions::findCarryingCut() {
    if (m_services.document.cut() < 0) return;
    m_services.player.stop();
    CarryingCutsDialog dialog(&m_services.document, m_services.document.cut(), ShotsWatch::folder(), m_window);
    dialog.exec();
}

void MovementActions::steadyShot() {
    const auto chosen = chosenClips(m_services.document);
    if (chosen.empty()) return;
    const auto project = m_services.document.project();
    const Clip clip = project->reel[std::size_t(chosen.back())];
    if (isSteadied(clip)) return dropSteadying(m_services.document, chosen.back());
    const Media* media = findMedia(*project, clip.mediaId);
    if (!media || media->still) return m_notice->tell(tr("This shot does not move by itself."), {});
    m_reel->setBusyText(tr("reading the shot's movement"));
    m_steadying.start(
        [project, index = chosen.back(), path = media->path,
         folder = ShotsWatch::folder().toStdString()](auto report, const Cancel& cancel) -> Expected<Stack> {
            const auto movement = keptMovement(path, folder, report, cancel);
            if (!movement) return tl::unexpected(movement.error());
            return steadyingMoves(*project, index, *movement);
        },
        [this, clip](const Expected<Stack>& moves) {
            m_reel->setBusyText({});
            if (!moves)
                return m_notice->tell(tr("The shake could not be taken off."),
                                      QString::fromStdString(describe(moves.error())));
            // What was edited meanwhile may not be what was steadied.
            const auto now = m_services.document.project();
            for (int i = 0; i < int(now->reel.size()); ++i) {
                const Clip& is = now->reel[std::size_t(i)];
                if (is.id != clip.id) continue;
                if (is.sourceIn == clip.sourceIn && is.length == clip.length && is.speed == clip.speed &&
                    is.speedCurve == clip.speedCurve && is.mediaId == clip.mediaId)
                    return takeShakeOff(m_services.document, i, *moves);
            }
            m_notice->tell(tr("The shot was changed meanwhile; its shake was left on."), {});
        });
}

void MovementActions::chooseStems() {
    const QString start =
        m_services.document.path().isEmpty() ? QStringLiteral("piece.wav") : m_services.document.path();
    const QString file = QFileDialog::getSaveFileName(m_window, tr("Write stems"), start, tr("Sound (*.wav)"));
    if (!file.isEmpty()) writeStemsBeside(file);
}

void MovementActions::writeStemsBeside(const QString& file) {
    m_reel->setBusyText(tr("writing stems"));
    m_stems.start(
        [project = m_services.document.project(), file = file.toStdString()](auto report, const Cancel& cancel) {
            SoundPool pool;
            return writeStems(*project, file, pool, report, cancel);
        },
        [this](const Expected<int>& written) {
            m_reel->setBusyText({});
            if (!written)
                m_notice->tell(tr("The stems could not be written."),
                               QString::fromStdString(describe(written.error())));
            else
                m_notice->tell(*written == 0 ? tr("Nothing of this piece is heard.")
                                             : tr("%1 written.").arg(counted(*written, "stem was", "stems were")),
                               {});
        });
}

// Before and after: the picture without the move whose lane was pointed at, or the last one, until it is asked again.
void MovementActions::toggleWithout() {
    if (m_services.document.isTrying()) return m_services.document.tryOut(nullptr);
    const EditFocus* focus = m_services.document.focus();
    const Stack* stack = focus->stack();
    if (!stack || stack->empty()) return;
    const int move = focus->wasPointedAt() ? focus->current().move : int(stack->size()) - 1;
    if (move < 0 || move >= int(stack->size())) return;
    Move off = (*stack)[std::size_t(move)];
    off.enabled = false;
    m_services.document.tryOut(
        std::make_shared<const Project>(withMoveChanged(*m_services.document.project(), focus->place(), move, off)));
}

// The piece with made-up pictures mixed instead, until it is asked again: to compare.
void MovementActions::toggleMixed() {
    if (m_services.document.isTrying()) return m_services.document.tryOut(nullptr);
    Project mixed = *m_services.document.project();
    const auto change = [](Clip& clip) {
        if (clip.inBetween == InBetween::MadeUp) clip.inBetween = InBetween::Mix;
    };
    for (Clip& clip : mixed.reel) change(clip);
    for (Overlay& overlay : mixed.overlays) change(overlay.clip);
    if (mixed == *m_services.document.project())
        return m_notice->tell(tr("Nothing to compare"), tr("No shot has made-up pictures."));
    m_services.document.tryOut(std::make_shared<const Project>(std::move(mixed)));
}

} // namespace virga
