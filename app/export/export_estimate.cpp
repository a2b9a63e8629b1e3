// What an export takes, and what its rate shows at the cuts: worked out in the background while the dialog is open.
#include <QLabel>
#include <QPushButton>
#include <algorithm>

#include "app/commands/cut_commands.h"
#include "app/document/words.h"
#include "app/export/export_dialog.h"
#include "app/services/in_betweens.h"
#include "core/base/timecode.h"
#include "core/check/at_rate.h"
#include "core/export/export_needs.h"
#include "core/render/optical_flow_needs.h"

namespace virga {

// What it takes, and how many pictures in between the files' indexes ask for: a moment in the background.
void ExportDialog::estimate() {
    struct Estimate {
        QString text;
        int missing = 0;
        std::vector<int> steps; // cuts, counted from 0
    };
    const auto project = m_document->project();
    const PartsSettings s = settings();
    m_counting.start(
        [project, s, kind = kind(), shots = m_document->judgedShots()](auto, const Cancel& cancel) {
            Estimate e;
            const auto to = s.to < 0 ? reelLength(*project) : s.to;
            if (kind == ExportKind::Movement) {
                e.text = tr("%1, as JSON or, where the file's name ends in .csv, as a table")
                             .arg(counted(to - s.from, "frame", "frames"));
                return e;
            }
            if (kind == ExportKind::Stills) {
                e.text = tr("%1, the first frame after each cut, numbered by its frame")
                             .arg(counted(cutCount(*project), "picture", "pictures"));
                return e;
            }
            if (kind == ExportKind::Parts) {
                const auto all = partsOf(*project, s);
                e.text = all ? tr("%1, with 12 frames beside the movement on each side; an OpenTimelineIO file and an "
                                  "edit list lay them over the clips")
                                   .arg(counted(qint64(all->size()), "part", "parts"))
                             : QString::fromStdString(describe(all.error()));
                return e;
            }
            const auto plan = planExport(*project, s);
            if (!plan) {
                e.text = QString::fromStdString(describe(plan.error()));
                return e;
            }
            e.text = tr("%1, %2, %3 at %4 frames/s; about %5 MB at most, needs %6 MB of memory")
                         .arg(counted(plan->frames(), "frame", "frames"),
                              QString::fromStdString(timecodeOfFrame(plan->frames(), plan->encoder.rate)),
                              tr(infoOf(plan->encoder.format).name))
                         .arg(plan->encoder.rate.toDouble(), 0, 'g', 5)
                         .arg((bytesExpected(*plan) >> 20) + 1)
                         .arg((exportNeeds(*plan).all() >> 20) + 1);
            SourcePool pool(std::size_t(16) << 20);
            pool.flow().keepIn(InBetweens::folder().toStdString(), InBetweens::mostOnDisk);
            e.missing = int(flowNeeds(*project, s.from, to, pool, cancel).size());
            for (const Finding& f : foundOnlyAt(*project, plan->encoder.rate, cancel, shots))
                if (const auto cut = indexOf(*project, f.place)) e.steps.push_back(*cut);
            std::sort(e.steps.begin(), e.steps.end());
            e.steps.erase(std::unique(e.steps.begin(), e.steps.end()), e.steps.end());
            return e;
        },
        [this](const Estimate& e) {
            m_summary->setText(e.missing > 0
                                   ? e.text + tr("; %1 to be prepared first")
                                                  .arg(counted(e.missing, "picture in between", "pictures in between"))
                                   : e.text);
            tellSteps(e.steps);
        });
}

void ExportDialog::tellSteps(const std::vector<int>& cuts) {
    constexpr std::size_t most = 8; // that are named
    QStringList names;
    for (std::size_t i = 0; i < std::min(most, cuts.size()); ++i) names << QString::number(cuts[i] + 1);
    if (cuts.size() > most) names << tr("%1 more").arg(cuts.size() - most);
    const QString all = names.join(QStringLiteral(", "));
    m_steps->setText(cuts.size() == 1
                         ? tr("At this rate the speed steps at cut %1; at the piece's own it is steady.").arg(all)
                         : tr("At this rate the speed steps at cuts %1; at the piece's own it is steady.").arg(all));
    m_steps->setVisible(!cuts.empty());
    m_matchCurves->setVisible(!cuts.empty());
}

void ExportDialog::matchCurves() {
    const auto project = m_document->project();
    const FrameRate rate = preset().rate;
    m_matchCurves->setEnabled(false);
    m_matching.start([project, rate, shots = m_document->judgedShots()](
                         auto, const Cancel&) { return withCurvesMatched(*project, rate, shots); },
                     [this, project](const CurvesMatched& matched) {
                         m_matchCurves->setEnabled(true);
                         if (m_document->project() != project) return refresh(); // it was edited meanwhile
                         if (!matched.done.empty()) putMatched(*m_document, matched);
                         tell(matched.left.empty()
                                  ? QString()
                                  : tr("%1 could not be matched without a new fault: make the incoming side longer, or "
                                       "export at the piece's rate.")
                                        .arg(counted(qint64(matched.left.size()), "cut", "cuts")));
                         refresh();
                     });
}

} // namespace virga
