#include "app/trace/trace_dialog.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/commands/recipe_commands.h"
#include "app/document/words.h"
#include "app/services/frame_service.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "app/style/progress_line.h"
#include "app/trace/trace_chart.h"
#include "app/trace/trace_compare.h"
#include "core/base/sequence_path.h"
#include "core/recipe/recipe.h"
#include "core/render/render_frame.h"
#include "core/render/thumbnail.h"

namespace virga {
namespace {

struct Traced {
    std::shared_ptr<Trace> trace;
    std::optional<Error> error;
    QMap<std::int64_t, QImage> pictures;
};

// The movement, and the frames that are shown with it.
Traced traceIn(const Media& media, std::int64_t picture, const TraceOptions& options,
               const std::function<void(double)>& report, const Cancel& cancel) {
    Traced traced;
    auto trace = traceTransition(
        media.path, picture, options, [&](double part) { report(part * 0.85); }, cancel);
    if (!trace) {
        traced.error = trace.error();
        return traced;
    }
    traced.trace = std::make_shared<Trace>(std::move(*trace));
    auto reader = VideoReader::open(media.path, cancel);
    if (!reader) return traced;
    SourcePool pool(std::size_t(96) << 20);
    const auto frames = [&](const TracedSide& side) {
        for (const TracedFrame& f : side.frames) {
            if (cancel.requested() || std::abs(f.frame) > 31) continue;
            const Rational at = (*reader)->timeOf(picture + f.frame);
            if (const auto image = thumbnail(pool, media.path, at, 1, {256, 144}))
                traced.pictures[f.frame] = toImage(*image);
        }
    };
    frames(traced.trace->out);
    report(0.93);
    frames(traced.trace->in);
    return traced;
}

} // namespace

TraceDialog::TraceDialog(Document* document, RecipeShelf* shelf, const std::string& mediaId, std::int64_t picture,
                         QWidget* parent)
    : QDialog(parent), m_document(document), m_shelf(shelf), m_media(*findMedia(*document->project(), mediaId)),
      m_chart(new TraceChart(this)), m_compare(new TraceCompare(this)) {
    setWindowTitle(tr("Trace a transition"));
    setObjectName("traceDialog");
    resize(1000, 700);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    column->setSpacing(10);
    auto* head = new QHBoxLayout;
    head->setSpacing(8);
    auto* title = new ElidedLabel(this);
    title->setObjectName("title");
    title->setFullText(tr("The movement in %1").arg(QString::fromStdString(mediaName(m_media.path))));
    head->addWidget(title, 1);
    head->addWidget(label(tr("cut"), "caption", this));
    m_cuts = new QComboBox(this);
    m_cuts->setAccessibleName(tr("Cut of the video"));
    m_cuts->setMinimumWidth(180);
    head->addWidget(m_cuts);
    head->addWidget(label(tr("at picture"), "caption", this));
    m_picture = new NumberField(this);
    m_picture->setUnit({}, 0, 1);
    m_picture->setRange(1, 1e7);
    m_picture->setFixedWidth(74);
    m_picture->setAccessibleName(tr("First picture behind the cut"));
    m_picture->clearValue();
    head->addWidget(m_picture);
    head->addWidget(label(tr("keys a curve"), "caption", this));
    m_keys = new NumberField(this);
    m_keys->setUnit({}, 0, 1);
    m_keys->setRange(2, 20);
    m_keys->setFixedWidth(46);
    m_keys->setValue(TraceOptions().mostKeys);
    m_keys->setAccessibleName(tr("Most keys of a curve"));
    setTip(m_keys, tr("Fewer are easier to change, more follow what was read more closely"));
    head->addWidget(m_keys);
    column->addLayout(head);
    m_state = label({}, "caption", this);
    m_state->setWordWrap(true);
    column->addWidget(m_state);
    m_progress = progressLine(this);
    column->addWidget(m_progress);
    column->addWidget(m_chart, 1);
    auto* low = new QHBoxLayout;
    low->setSpacing(16);
    m_compare->setFixedSize(560, 178);
    low->addWidget(m_compare);
    m_told = label({}, "caption", this);
    m_told->setWordWrap(true);
    m_told->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    m_told->setTextInteractionFlags(Qt::TextSelectableByMouse);
    low->addWidget(m_told, 1);
    column->addLayout(low);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(label(tr("name"), "caption", this));
    m_name = new QLineEdit(this);
    m_name->setFixedWidth(220);
    m_name->setAccessibleName(tr("Name of the recipe"));
    row->addWidget(m_name);
    row->addStretch(1);
    auto* close = new QPushButton(tr("Close"), this);
    close->setAutoDefault(false);
    m_keep = new QPushButton(tr("Keep as recipe"), this);
    m_keep->setAutoDefault(false);
    m_use = new QPushButton(tr("Use at this cut"), this);
    m_use->setObjectName("primary");
    m_use->setAutoDefault(false);
    row->addWidget(close);
    row->addWidget(m_keep);
    row->addWidget(m_use);
    column->addLayout(row);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(m_use, &QPushButton::clicked, this, &TraceDialog::useHere);
    connect(m_keep, &QPushButton::clicked, this, &TraceDialog::keep);
    connect(m_cuts, &QComboBox::activated, this, [this](int i) { traceAt(m_cuts->itemData(i).toLongLong()); });
    connect(m_picture, &NumberField::edited, this, [this](double at) { traceAt(std::int64_t(at)); });
    connect(m_keys, &NumberField::edited, this, [this](double most) {
        if (!m_trace) return;
        // Quick enough for here: no picture is read.
        auto anew = std::make_shared<Trace>(*m_trace);
        fitTrace(*anew, {TraceOptions().most, int(most)});
        traced(anew);
    });
    connect(m_chart, &TraceChart::frameChosen, m_compare, [this](qint64 frame) {
        m_compare->setPlaying(false);
        m_compare->setFrame(frame);
    });
    connect(m_compare, &TraceCompare::frameChanged, m_chart, &TraceChart::setPlayed);
    for (Job* job : {&m_finding, &m_tracing, &m_rendering}) {
        connect(job, &Job::progress, this, [this, job](double part) {
            if (job != &m_rendering) m_progress->setValue(int(part * 1000));
        });
        connect(job, &Job::runningChanged, this, &TraceDialog::refresh);
    }
    m_name->setText(tr("From %1").arg(QString::fromStdString(m_media.path.stem().string())));
    if (picture > 0)
        traceAt(picture);
    else
        findCutsFirst();
    refresh();
}

TraceDialog::~TraceDialog() = default;

void TraceDialog::findCutsFirst() {
    m_finding.start(
        [path = m_media.path](auto report, const Cancel& cancel) { return findCuts(path, report, cancel); },
        [this](const Expected<CutList>& list) {
            if (!list) return fail(list.error());
            int first = -1; // that is sure
            for (const FoundCut& cut : list->cuts) {
                if (first < 0 && cut.confidence >= surely) first = m_cuts->count();
                const QString text =
                    cut.confidence >= surely ? tr("%1: %2 s, picture %3") : tr("%1: %2 s, picture %3 (unsure)");
                m_cuts->addItem(text.arg(m_cuts->count() + 1).arg(cut.seconds.toDouble(), 0, 'f', 2).arg(cut.picture),
                                qlonglong(cut.picture));
            }
            if (first >= 0) {
                m_cuts->setCurrentIndex(first);
                traceAt(m_cuts->itemData(first).toLongLong());
            } else
                m_problem = tr("No cut was found in this video. Name the first picture of a shot instead.");
            refresh();
        });
}

void TraceDialog::traceAt(std::int64_t picture) {
    m_problem.clear();
    m_trace.reset();
    m_rendering.stop();
    m_picture->setValue(double(picture));
    m_compare->setPlaying(false);
    m_compare->setOriginal({});
    m_compare->setOwn({});
    TraceOptions options;
    options.mostKeys = int(m_keys->value());
    m_tracing.start([media = m_media, picture, options](
                        auto report, const Cancel& cancel) { return traceIn(media, picture, options, report, cancel); },
                    [this](Traced done) {
                        if (done.error) return fail(*done.error);
                        m_pictures = done.pictures;
                        traced(done.trace);
                    });
    refresh();
}

void TraceDialog::fail(const Error& error) {
    if (error.code == ErrorCode::Cancelled) return;
    m_problem = QString::fromStdString(describe(error));
    refresh();
}

void TraceDialog::traced(std::shared_ptr<Trace> trace) {
    m_trace = std::move(trace);
    m_chart->setTrace(m_trace, m_pictures,
                      m_trace->moves() ? QString() : tr("Nothing moves here but what the shots do by themselves."));
    const auto [first, last] = m_chart->span();
    m_compare->setSpan(first, last, m_trace->rate.toDouble());
    m_compare->setOriginal(m_pictures);
    m_compare->setFrame(first);
    m_compare->setPlaying(true);
    renderOwn();
    refresh();
}

Expected<Recipe> TraceDialog::recipe() const {
    const std::string name = m_name->text().trimmed().toStdString();
    auto made = recipeOf(*m_trace, name.empty() ? "Traced" : name);
    if (made) made->id = idFor(made->name, m_shelf->recipes());
    return made;
}

int TraceDialog::cutToUse() const {
    return m_document->cut();
}

// The editor's own two shots with this movement at their cut.
void TraceDialog::renderOwn() {
    const int cut = cutToUse();
    const auto made = m_trace->moves() ? recipe() : Expected<Recipe>(tl::unexpected(Error()));
    if (cut < 0 || !made) {
        m_compare->setOwn({}, cut < 0 ? tr("Two shots in the reel show it here.") : QString());
        return;
    }
    const auto project = std::make_shared<const Project>(withRecipe(*m_document->project(), StackPlace(cut), *made));
    const auto [first, last] = m_chart->span();
    m_rendering.start(
        [project, cut, first = first, last = last](auto, const Cancel& cancel) {
            QMap<std::int64_t, QImage> pictures;
            SourcePool pool(std::size_t(128) << 20);
            const std::int64_t at = cutFrame(*project, cut);
            for (std::int64_t n = first; n <= last && !cancel.requested(); ++n)
                if (const auto image = renderFrame(*project, at + n, {256, 144}, quickQuality, pool, cancel))
                    pictures[n] = toImage(*image);
            return pictures;
        },
        [this](const QMap<std::int64_t, QImage>& pictures) {
            m_compare->setOwn(pictures);
            refresh();
        });
}

void TraceDialog::refresh() {
    const bool reading = m_finding.isRunning() || m_tracing.isRunning();
    m_progress->setVisible(reading);
    m_state->setText(m_finding.isRunning()   ? tr("Looking for the video's cuts.")
                     : m_tracing.isRunning() ? tr("Reading the movement of its pictures.")
                     : !m_problem.isEmpty()  ? m_problem
                     : m_trace ? tr("Dots are what was read, with how far it may be off; squares are the keys of the "
                                    "curves through them; a red ring marks what they miss.")
                               : QString());
    m_state->setProperty("problem", !m_problem.isEmpty());
    m_cuts->setEnabled(m_cuts->count() > 0);
    if (m_trace)
        for (int i = 0; i < m_cuts->count(); ++i)
            if (m_cuts->itemData(i).toLongLong() == m_trace->picture) m_cuts->setCurrentIndex(i);
    if (!m_trace) m_chart->setTrace(nullptr, {}, reading ? QString() : m_problem);
    const bool usable = m_trace && m_trace->moves() && !reading;
    m_keep->setEnabled(usable);
    m_use->setEnabled(usable && cutToUse() >= 0);
    setTip(m_use,
           cutToUse() >= 0 ? tr("Cut %1 of the reel").arg(cutToUse() + 1) : tr("The reel has no cut to use it at"));
    QStringList lines;
    if (m_trace) {
        const auto side = [&](Side s) {
            return QString::fromStdString(textOf(*m_trace, s)).replace(" -", QStringLiteral(" ") + QChar(0x2212));
        };
        lines << tr("<b>Before</b> %1").arg(side(Side::Outgoing)) << tr("<b>After</b> %1").arg(side(Side::Incoming));
        if (m_trace->moves())
            lines << tr("The curves explain %1 % of the way, and miss it by %2 % of the width before the cut and %3 % "
                        "after it.")
                         .arg(m_trace->explained * 100, 0, 'f', 1)
                         .arg(m_trace->out.misfit, 0, 'f', 2)
                         .arg(m_trace->in.misfit, 0, 'f', 2);
        if (m_trace->shutterAngle >= 0)
            lines << tr("Shutter, by the blur: about %1°").arg(m_trace->shutterAngle, 0, 'f', 0);
        for (const std::string& note : m_trace->notes) lines << shown(note).toHtmlEscaped();
    }
    showOwnMarkup(m_told, lines.join("<br>"));
}

void TraceDialog::useHere() {
    const auto made = recipe();
    if (!made) return fail(made.error());
    applyRecipe(*m_document, *made, {}, false);
    m_use->setText(tr("Used at cut %1").arg(cutToUse() + 1));
}

void TraceDialog::keep() {
    const auto made = recipe();
    if (!made) return fail(made.error());
    if (const auto kept = m_shelf->add(*made); !kept) return fail(kept.error());
    m_keep->setText(tr("Kept"));
    m_keep->setEnabled(false);
}

} // namespace virga
