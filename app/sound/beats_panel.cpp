#include "app/sound/beats_panel.h"
#include "app/document/words.h"

#include <QHBoxLayout>
#include <QProgressBar>
#include <QPushButton>
#include <cmath>

#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "core/analysis/find_beats.h"
#include "core/project/beats.h"
#include "core/project/field_range.h"

namespace virga {

QPushButton* BeatsPanel::button(const QString& text, const QString& tip, QWidget* parent) {
    auto* b = new QPushButton(text, parent);
    setTip(b, tip);
    b->setAccessibleDescription(tip);
    return b;
}

BeatsPanel::BeatsPanel(Document* document, Player* player, QWidget* parent)
    : QWidget(parent), m_document(document), m_player(player) {
    connect(document, &Document::opened, this, [this] { m_job.stop(); });
    FormRows rows(this);
    const auto row = [this](std::initializer_list<QWidget*> parts) {
        auto* w = new QWidget(this);
        auto* layout = new QHBoxLayout(w);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(4);
        for (QWidget* part : parts) layout->addWidget(part);
        layout->addStretch(1);
        return w;
    };
    const auto field = [this](const QString& name, const QString& unit, int decimals, double step, FieldRange range) {
        auto* f = new NumberField(this);
        f->setUnit(unit, decimals, step);
        f->setRange(range.least, range.most);
        f->setFixedWidth(82);
        f->setAccessibleName(name);
        return f;
    };
    m_find = button(tr("Find the beats"), tr("Listens to the music and sets tempo and beats"), this);
    m_tap = button(tr("Tap"), tr("Tap on every beat; from the fourth tap on they set the tempo (T)"), this);
    rows.add({}, row({m_find, m_tap}));
    m_progress = new QProgressBar(this);
    m_progress->setRange(0, 1000);
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(6);
    auto policy = m_progress->sizePolicy();
    policy.setRetainSizeWhenHidden(true);
    m_progress->setSizePolicy(policy);
    rows.add({}, m_progress);
    m_state = label({}, "caption", this);
    m_state->setWordWrap(true);
    m_state->setMinimumHeight(16); // words come and go without moving what lies below
    rows.add({}, m_state);
    m_tempo = field(tr("Beats per minute"), {}, 2, 0.1, rangeOf<Tempo>("beatsPerMinute"));
    auto* half = button(QStringLiteral("÷ 2"), tr("Half as many beats"), this);
    auto* twice = button(QStringLiteral("× 2"), tr("Twice as many beats"), this);
    rows.add(tr("beats/min"), row({m_tempo, half, twice}));
    m_first = field(tr("First beat, seconds into the music"), tr(" s"), 3, 0.01, rangeOf<Tempo>("firstBeat"));
    auto* here = button(tr("here"), tr("Puts the nearest beat at the playhead, all others with it"), this);
    auto* one = button(tr("bar here"), tr("Makes the beat nearest to the playhead the first of a bar"), this);
    rows.add(tr("first beat"), row({m_first, here, one}));
    m_perBar = field(tr("Beats per bar"), {}, 0, 1, rangeOf<Tempo>("beatsPerBar"));
    rows.add(tr("per bar"), m_perBar);
    m_every = field(tr("Cut to every so many beats"), {}, 0, 1, {1, 64});
    m_every->setValue(4);
    m_every->setFixedWidth(50);
    m_cut = button(tr("Cut to beats"), tr("Each chosen clip (or all) ends so many beats after it begins"), this);
    rows.add(tr("every"), row({m_every, m_cut}));
    auto* hint =
        label(tr("A single beat is moved by its triangle under the music, in the tall Reel."), "caption", this);
    hint->setWordWrap(true);
    rows.add({}, hint);
    rows.end();
    m_corrections = {half, twice, here, one};
    connect(m_find, &QPushButton::clicked, this, &BeatsPanel::findNow);
    connect(m_tap, &QPushButton::pressed, this, &BeatsPanel::tap); // on pressing: releasing comes late
    connect(half, &QPushButton::clicked, this, [this] { set(halved(*tempo()), tr("halve tempo")); });
    connect(twice, &QPushButton::clicked, this, [this] { set(doubled(*tempo()), tr("double tempo")); });
    const auto nearestBeat = [this] {
        const double seconds = musicSeconds(*m_document->project(), double(m_document->playhead()));
        const int before = beatBefore(*tempo(), seconds);
        return seconds - beatTime(*tempo(), before) < beatTime(*tempo(), before + 1) - seconds ? before : before + 1;
    };
    connect(here, &QPushButton::clicked, this, [this, nearestBeat] {
        const double seconds = musicSeconds(*m_document->project(), double(m_document->playhead()));
        set(shifted(*tempo(), seconds - beatTime(*tempo(), nearestBeat())), tr("shift beats"));
    });
    connect(one, &QPushButton::clicked, this, [this, nearestBeat] {
        const int beat = nearestBeat(), per = tempo()->beatsPerBar;
        set(renumbered(*tempo(), ((-beat) % per + per) % per), tr("first of the bar"));
    });
    connect(m_tempo, &NumberField::edited, this, [this](double v) {
        Tempo t = tempo() ? *tempo() : Tempo();
        t.beatsPerMinute = v;
        t.placed.clear(); // typed: an even grid
        set(t, tr("tempo"), "tempo");
    });
    connect(m_first, &NumberField::edited, this, [this](double v) {
        if (tempo()) set(shifted(*tempo(), v - tempo()->firstBeat.toDouble()), tr("shift beats"), "first-beat");
    });
    connect(m_perBar, &NumberField::edited, this, [this](double v) {
        if (!tempo()) return;
        Tempo t = *tempo();
        t.beatsPerBar = int(v);
        set(t, tr("beats per bar"), "per-bar");
    });
    connect(m_cut, &QPushButton::clicked, this, [this] {
        if (const QString said = cutSelectionToBeats(*m_document, int(m_every->value())); !said.isEmpty())
            emit problem(said);
    });
    connect(&m_job, &Job::progress, this, [this](double part) {
        m_progress->setValue(int(part * 1000));
        m_state->setText(tr("Listening … %1 %   %2").arg(int(part * 100)).arg(m_job.timeLeft()));
    });
    connect(&m_job, &Job::runningChanged, this, &BeatsPanel::refresh);
    connect(document, &Document::projectChanged, this, &BeatsPanel::refresh);
    connect(document, &Document::opened, this, [this] {
        m_job.stop();
        m_taps.clear();
    });
    refresh();
}

// The music that beats belong to: the one that has some, or the first.
int BeatsPanel::music() const {
    const auto project = m_document->project();
    const Selection s = m_document->selection();
    if (s.kind == Selection::MusicSelected && s.index < int(project->music.size())) return s.index;
    const Music* with = musicWithBeats(*project);
    return with ? int(with - project->music.data()) : project->music.empty() ? -1 : 0;
}

const Tempo* BeatsPanel::tempo() const {
    const int i = music();
    if (i < 0 || !m_document->project()->music[std::size_t(i)].tempo) return nullptr;
    return &*m_document->project()->music[std::size_t(i)].tempo;
}

void BeatsPanel::set(const Tempo& tempo, const QString& name, const QString& mergeKey) {
    setTempo(*m_document, music(), tempo, name, mergeKey);
}

void BeatsPanel::findNow() {
    if (m_job.isRunning()) return m_job.stop();
    const int i = music();
    const auto project = m_document->project();
    const Media* media = i < 0 ? nullptr : findMedia(*project, project->music[std::size_t(i)].mediaId);
    if (!media) return;
    const int perBar = tempo() ? tempo()->beatsPerBar : 4;
    m_job.start([path = media->path, duration = media->duration](
                    auto report, Cancel cancel) { return findBeats(path, duration, report, cancel); },
                [this, id = project->music[std::size_t(i)].id, perBar](Expected<FoundBeats> found) {
                    if (!found) return emit problem(QString::fromStdString(virga::describe(found.error())));
                    const auto& list = m_document->project()->music;
                    for (int k = 0; k < int(list.size()); ++k)
                        if (list[std::size_t(k)].id == id) {
                            Tempo t = found->tempo;
                            if (!found->barsKnown) t.beatsPerBar = perBar;
                            setTempo(*m_document, k, t, tr("find beats"));
                        }
                    m_state->setText(describe(*found));
                });
    refresh();
}

QString BeatsPanel::describe(const FoundBeats& found) {
    if (!found.isSure()) return tr("Unsure: no clear beat can be heard. Tap it, or type the tempo.");
    const int sure = int(found.confidence * 100);
    QString text = found.steady           ? tr("Steady, %1 % sure.").arg(sure)
                   : found.changesTempo() ? tr("The tempo goes between %1 and %2; %3 % sure.")
                                                .arg(found.slowest, 0, 'f', 0)
                                                .arg(found.fastest, 0, 'f', 0)
                                                .arg(sure)
                                          : tr("Played freely: each beat lies where it sounds.");
    if (found.otherTempo > 0)
        text += found.otherTempo > found.tempo.beatsPerMinute ? tr(" Or twice as fast: × 2.")
                                                              : tr(" Or half as fast: ÷ 2.");
    return text;
}

void BeatsPanel::tap() {
    if (music() < 0) return;
    const auto project = m_document->project();
    double at = 0;
    const Music& m = project->music[std::size_t(music())];
    if (m_player->isPlaying()) {
        at = (double(m_document->playhead()) + m_player->sinceFrame() - double(m.start)) /
                 project->settings.rate.toDouble() +
             m.sourceIn.toDouble();
    } else {
        if (!m_clock.isValid() || m_clock.elapsed() > 3000) {
            m_clock.start();
            m_taps.clear();
        }
        // Without playing only the tempo can be tapped; the first beat stays where it is.
        at = double(m_clock.elapsed()) / 1000;
    }
    if (!m_taps.empty() && (at <= m_taps.back() || at - m_taps.back() > 3)) m_taps.clear();
    m_taps.push_back(at);
    if (m_taps.size() < 4) {
        m_state->setText(counted(qint64(m_taps.size()), "tap", "taps") + " …");
        return;
    }
    auto tapped = tempoFromTaps(m_taps, tempo() ? tempo()->beatsPerBar : 4);
    if (!tapped) {
        m_state->setText(QString::fromStdString(tapped.error().message));
        return;
    }
    if (!m_player->isPlaying()) tapped->firstBeat = tempo() ? tempo()->firstBeat : Rational(0);
    set(*tapped, tr("tap tempo"), "tap");
    m_state->setText(tr("%1 taps").arg(m_taps.size()));
}

void BeatsPanel::refresh() {
    const bool any = music() >= 0;
    m_find->setEnabled(any);
    m_find->setText(m_job.isRunning() ? tr("Stop listening") : tr("Find the beats"));
    m_tap->setEnabled(any);
    m_progress->setVisible(m_job.isRunning());
    if (!m_job.isRunning()) m_progress->reset();
    const Tempo* t = tempo();
    for (QPushButton* b : m_corrections) b->setEnabled(t);
    m_tempo->setEnabled(any);
    m_first->setEnabled(t);
    m_perBar->setEnabled(t);
    m_cut->setEnabled(t && !m_document->project()->reel.empty());
    if (!any) m_state->setText(tr("Add music first: its beats are what clips are cut to."));
    if (any && m_state->text().startsWith(tr("Add music first"))) m_state->setText({});
    if (!t) {
        m_tempo->clearValue();
        m_first->clearValue();
        m_perBar->clearValue();
        return;
    }
    m_tempo->setValue(t->beatsPerMinute);
    m_first->setValue(t->firstBeat.toDouble());
    m_perBar->setValue(t->beatsPerBar);
}

} // namespace virga
