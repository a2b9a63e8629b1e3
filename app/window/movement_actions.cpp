// What is done with movement that is read from pictures, and with the movement's sound.
#include <QFileDialog>

#include "app/commands/movement_commands.h"
#include "app/commands/reel_commands.h"
#include "app/cut/carrying_cuts_dialog.h"
#include "app/document/words.h"
#include "app/reel/reel_view.h"
#include "app/trace/trace_dialog.h"
#include "app/tray/tray_view.h"
#include "app/window/main_window.h"
#include "app/window/notice_bar.h"
#include "core/analysis/measure_movement.h"
#include "core/audio/audio_mix.h"

namespace virga {

void MainWindow::traceTransition(const QString& mediaId, qint64 picture) {
    const Media* media = findMedia(*m_document.project(), mediaId.toStdString());
    if (!media || media->still || !media->hasPicture()) return;
    m_player->stop();
    TraceDialog dialog(&m_document, &m_recipeShelf, mediaId.toStdString(), picture, this);
    dialog.exec();
}

void MainWindow::findCarryingCut() {
    if (m_document.cut() < 0) return;
    m_player->stop();
    CarryingCutsDialog dialog(&m_document, m_document.cut(), ShotsWatch::folder(), this);
    dialog.exec();
}

void MainWindow::steadyShot() {
    const auto chosen = chosenClips(m_document);
    if (chosen.empty()) return;
    const auto project = m_document.project();
    const Clip clip = project->reel[std::size_t(chosen.back())];
    if (isSteadied(clip)) return dropSteadying(m_document, chosen.back());
    const Media* media = findMedia(*project, clip.mediaId);
    if (!media || media->still) return m_notice->tell(tr("This shot does not move by itself."), {});
    m_reel->setBusyText(tr("reading the shot's movement"));
    m_steadying.start(
        [project, index = chosen.back(), path = media->path,
         folder = ShotsWatch::folder().toStdString()](auto report, Cancel cancel) -> Expected<Stack> {
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
            const auto now = m_document.project();
            for (int i = 0; i < int(now->reel.size()); ++i) {
                const Clip& is = now->reel[std::size_t(i)];
                if (is.id != clip.id) continue;
                if (is.sourceIn == clip.sourceIn && is.length == clip.length && is.speed == clip.speed &&
                    is.speedCurve == clip.speedCurve && is.mediaId == clip.mediaId)
                    return takeShakeOff(m_document, i, *moves);
            }
            m_notice->tell(tr("The shot was changed meanwhile; its shake was left on."), {});
        });
}

void MainWindow::chooseStems() {
    const QString start = m_document.path().isEmpty() ? QStringLiteral("piece.wav") : m_document.path();
    const QString file = QFileDialog::getSaveFileName(this, tr("Write stems"), start, tr("Sound (*.wav)"));
    if (!file.isEmpty()) writeStemsBeside(file);
}

void MainWindow::writeStemsBeside(const QString& file) {
    m_reel->setBusyText(tr("writing stems"));
    m_stems.start(
        [project = m_document.project(), file = file.toStdString()](auto report, Cancel cancel) {
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

void MainWindow::buildMovementActions() {
    connect(m_tray, &TrayView::traceWanted, this, [this](const QString& id) { traceTransition(id); });
    connect(&m_shots, &ShotsWatch::changed, this, [this] { m_reel->setBusyText(m_shots.progressText()); });
}

} // namespace virga
