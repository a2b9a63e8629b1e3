#include "app/cut/cut_panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <algorithm>

#include "app/commands/reel_commands.h"
#include "app/commands/speed_commands.h"
#include "app/cut/recipe_link_box.h"
#include "app/document/words.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "core/edit/move_edits.h"
#include "core/project/beats.h"
#include "core/project/limits.h"

namespace virga {

CutPanel::CutPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_title = label({}, "title", this);
    rows.add({}, m_title);
    auto* recipe = new RecipeLinkBox(document, this);
    connect(recipe, &RecipeLinkBox::recipeWanted, this, &CutPanel::recipeWanted);
    rows.add(tr("recipe"), recipe, true)->setContentsMargins(0, 6, 0, 0);
    const auto row = [&](std::initializer_list<QWidget*> parts) {
        auto* w = new QWidget(this);
        auto* layout = new QHBoxLayout(w);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(6);
        for (QWidget* part : parts) layout->addWidget(part);
        layout->addStretch(1);
        return w;
    };
    const auto frames = [&](const QString& name) {
        auto* f = new NumberField(this);
        f->setUnit(tr(" f"), 0, 1);
        f->setRange(0, double(longestOverlap));
        f->setFixedWidth(62);
        f->setAccessibleName(name);
        return f;
    };
    m_before = frames(tr("Overlap before the cut"));
    setTip(m_before, tr("The incoming shot is seen already so many frames before the cut"));
    m_after = frames(tr("Overlap after the cut"));
    setTip(m_after, tr("The outgoing shot is still seen so many frames after the cut"));
    m_before->setSide("incoming");
    m_after->setSide("outgoing");
    m_spareBefore = label({}, "caption", this);
    m_spareAfter = label({}, "caption", this);
    rows.add(tr("before"), row({m_before, m_spareBefore}));
    rows.add(tr("after"), row({m_after, m_spareAfter}));
    m_top = new Choices({{tr("incoming"), {}, tr("The incoming shot lies on top")},
                         {tr("outgoing"), {}, tr("The outgoing shot lies on top")}},
                        this);
    rows.add(tr("on top"), m_top);
    m_alone = new QCheckBox(tr("without copies at its edges"), this);
    setTip(m_alone, tr("While both shots are seen, the one on top comes alone and covers nothing beside it"));
    connect(m_alone, &QCheckBox::clicked, this, [this](bool on) {
        if (m_document->cut() >= 0) setAlone(*m_document, m_document->cut(), on);
    });
    rows.add({}, m_alone);
    m_fade = frames(tr("Crossfade frames"));
    m_fade->setValue(12);
    m_crossfade = new QPushButton(tr("Crossfade"), this);
    setTip(m_crossfade, tr("Both shots fade into each other over so many frames around the cut"));
    rows.add(tr("fade"), row({m_fade, m_crossfade}));
    m_shortage = label({}, "breaks", this);
    m_shortage->setWordWrap(true);
    rows.add({}, m_shortage);
    buildRamps(rows);
    rows.end();
    const auto overlap = [this] { return transitionAt(*m_document->project(), m_document->cut()).overlap; };
    connect(m_before, &NumberField::edited, this, [this, overlap](double v) {
        if (m_document->cut() >= 0) set({std::int64_t(v), overlap().after});
    });
    connect(m_after, &NumberField::edited, this, [this, overlap](double v) {
        if (m_document->cut() >= 0) set({overlap().before, std::int64_t(v)});
    });
    connect(m_top, &Choices::chosen, this, [this, overlap](int i) {
        if (m_document->cut() >= 0)
            setOverlap(*m_document, m_document->cut(), overlap(), i == 0 ? Side::Incoming : Side::Outgoing);
    });
    connect(m_crossfade, &QPushButton::clicked, this, [this] {
        if (m_document->cut() >= 0) crossfade(*m_document, m_document->cut(), std::int64_t(m_fade->value()));
    });
    connect(document, &Document::projectChanged, this, &CutPanel::refresh);
    connect(document, &Document::selectionChanged, this, &CutPanel::refresh);
    refresh();
}

void CutPanel::buildRamps(FormRows& rows) {
    m_preset = new QComboBox(this);
    m_preset->setAccessibleName(tr("Ramps of the shots' speed"));
    m_preset->addItem(tr("none"));
    for (const RampPreset& preset : rampPresets()) {
        m_preset->addItem(textOf(preset.name));
        m_preset->setItemData(m_preset->count() - 1, textOf(preset.purpose), Qt::ToolTipRole);
    }
    m_preset->addItem(tr("by hand"));
    connect(m_preset, &QComboBox::activated, this, [this](int i) {
        const int cut = m_document->cut();
        if (cut < 0) return;
        if (i == 0) return removeRamps(*m_document, cut);
        if (i > int(rampPresets().size())) return refresh();
        const RampPreset& preset = rampPresets()[std::size_t(i - 1)];
        const QString said = rampAtCut(*m_document, cut, &preset.out, &preset.in, Keeps(m_keeps->current()));
        if (!said.isEmpty()) emit problem(said);
        refresh();
    });
    rows.add(tr("ramp"), m_preset);
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const bool out = side == Side::Outgoing;
        RampRow& row = m_ramps[side == Side::Incoming];
        const auto field = [&](const QString& name, const QString& unit, double least, double most, int width) {
            auto* f = new NumberField(this);
            f->setUnit(unit, 0, unit == tr(" f") ? 1 : 25);
            f->setRange(least, most);
            f->setFixedWidth(width);
            f->setSide(out ? "outgoing" : "incoming");
            f->setEmptyText(QStringLiteral("–"));
            f->setAccessibleName(name);
            setTip(f, name);
            connect(f, &NumberField::edited, this, [this, side] { enterRamp(side); });
            return f;
        };
        row.from = field(out ? tr("Speed before the ramp into the cut") : tr("Speed after the ramp out of the cut"),
                         tr(" %"), -fastestPercent, fastestPercent, 58);
        row.to = field(out ? tr("Speed of the outgoing shot at the cut") : tr("Speed of the incoming shot at the cut"),
                       tr(" %"), -fastestPercent, fastestPercent, 58);
        row.frames = field(out ? tr("Length of the ramp into the cut; also in beats, as 1 b")
                               : tr("Length of the ramp out of the cut; also in beats, as 1 b"),
                           tr(" f"), 1, 1000, 52);
        auto* line = new QWidget(this);
        auto* layout = new QHBoxLayout(line);
        layout->setContentsMargins(0, 0, 0, 0);
        layout->setSpacing(4);
        layout->addWidget(out ? row.from : row.to);
        layout->addWidget(label(QStringLiteral("→"), "caption", this));
        layout->addWidget(out ? row.to : row.from);
        layout->addWidget(row.frames);
        layout->addStretch(1);
        rows.add(out ? tr("into it") : tr("out of it"), line);
    }
    m_keeps = new Choices(
        {{tr("length"), {}, tr("A ramp leaves the reel and its beats as they are; more of the source is used")},
         {tr("source"), {}, tr("A ramp shows what was shown; the clip becomes shorter or longer")}},
        this);
    m_keeps->setAccessibleName(tr("What a ramp keeps"));
    m_keeps->setCurrent(0);
    connect(m_keeps, &Choices::chosen, m_keeps, &Choices::setCurrent);
    rows.add(tr("keeps"), m_keeps);
}

// A side without a ramp gets one as usual, but for what was typed.
void CutPanel::enterRamp(Side side) {
    const int cut = m_document->cut();
    if (cut < 0) return;
    const RampRow& row = m_ramps[side == Side::Incoming];
    const RampPreset& usual = rampPresets().front();
    Ramp ramp = side == Side::Outgoing ? usual.out : usual.in;
    if (row.from->hasValue()) ramp.from = row.from->value();
    if (row.to->hasValue()) ramp.to = row.to->value();
    if (row.frames->hasValue()) ramp.frames = int(row.frames->value());
    const bool out = side == Side::Outgoing;
    const QString said =
        rampAtCut(*m_document, cut, out ? &ramp : nullptr, out ? nullptr : &ramp, Keeps(m_keeps->current()));
    if (!said.isEmpty()) emit problem(said);
    refresh();
}

void CutPanel::set(const Overlap& overlap) {
    const int cut = m_document->cut();
    setOverlap(*m_document, cut, overlap, transitionAt(*m_document->project(), cut).top);
}

void CutPanel::refresh() {
    const auto project = m_document->project();
    const int cut = m_document->cut();
    for (QWidget* w : std::initializer_list<QWidget*>{m_before, m_after, m_top, m_fade, m_crossfade, m_preset, m_keeps})
        w->setEnabled(cut >= 0);
    for (const RampRow& r : m_ramps)
        for (NumberField* f : {r.from, r.to, r.frames}) f->setEnabled(cut >= 0);
    if (cut < 0) return;
    const Clip &out = project->reel[std::size_t(cut)], &in = project->reel[std::size_t(cut) + 1];
    const Transition& t = transitionAt(*project, cut);
    m_title->setText(tr("Cut %1: %2 → %3")
                         .arg(cut + 1)
                         .arg(out.isGap() ? tr("gap") : shown(out.name))
                         .arg(in.isGap() ? tr("gap") : shown(in.name)));
    m_before->setValue(double(t.overlap.before));
    m_after->setValue(double(t.overlap.after));
    const auto spare = [](std::int64_t n) { return n >= plenty ? QString() : tr("of %1 spare").arg(n); };
    m_spareBefore->setText(spare(spareFrames(*project, in).before));
    m_spareAfter->setText(spare(spareFrames(*project, out).after));
    std::optional<Ramp> ramps[2];
    const double beat = hasBeats(*project) ? double(beatFrame(*project, 1) - beatFrame(*project, 0)) : 0;
    for (const Side side : {Side::Outgoing, Side::Incoming}) {
        const Clip& clip = side == Side::Outgoing ? out : in;
        const RampRow& row = m_ramps[side == Side::Incoming];
        const auto ramp = ramps[side == Side::Incoming] = rampOf(clip, side);
        const bool runs = hasCurve(*project, {StackPlace(cut), shotSpeed, 0, side});
        const std::pair<NumberField*, double> values[] = {
            {row.from, ramp ? ramp->from : 0}, {row.to, ramp ? ramp->to : 0}, {row.frames, ramp ? ramp->frames : 0}};
        for (const auto& [field, value] : values) {
            field->setEnabled(runs);
            ramp ? field->setValue(value) : field->clearValue();
        }
        row.frames->setUnits(beat > 0 ? Units{{"b", beat}, {"beats", beat}, {"beat", beat}} : Units{});
    }
    int preset =
        out.speedCurve.outgoing.isEmpty() && in.speedCurve.incoming.isEmpty() ? 0 : int(rampPresets().size()) + 1;
    for (std::size_t i = 0; i < rampPresets().size(); ++i)
        if (ramps[0] == rampPresets()[i].out && ramps[1] == rampPresets()[i].in) preset = int(i) + 1;
    m_preset->setCurrentIndex(preset);
    m_top->setCurrent(t.top == Side::Incoming ? 0 : 1);
    m_alone->setChecked(t.alone);
    m_alone->setEnabled(!t.overlap.isEmpty());
    QString lacks;
    for (const SpareShortage& s : spareShortages(*project))
        if (s.cut == cut)
            lacks +=
                (lacks.isEmpty() ? "" : "\n") + tr("The %1 shot has %2 spare frames of %3; the rest stands still.")
                                                    .arg(s.side == Side::Outgoing ? tr("outgoing") : tr("incoming"))
                                                    .arg(s.there)
                                                    .arg(s.wanted);
    m_shortage->setText(lacks);
    m_shortage->setVisible(!lacks.isEmpty());
}

} // namespace virga
