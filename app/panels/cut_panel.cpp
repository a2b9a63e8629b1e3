#include "app/panels/cut_panel.h"

#include <QPushButton>
#include <algorithm>

#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"

namespace virga {

CutPanel::CutPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_title = label({}, "title", this);
    rows.add({}, m_title);
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
        f->setRange(0, 100000);
        f->setFixedWidth(62);
        f->setAccessibleName(name);
        return f;
    };
    m_before = frames(tr("Overlap before the cut"));
    m_before->setToolTip(tr("The incoming shot is seen already so many frames before the cut"));
    m_after = frames(tr("Overlap after the cut"));
    m_after->setToolTip(tr("The outgoing shot is still seen so many frames after the cut"));
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
    m_fade = frames(tr("Crossfade frames"));
    m_fade->setValue(12);
    m_crossfade = new QPushButton(tr("Crossfade"), this);
    m_crossfade->setToolTip(tr("Both shots fade into each other over so many frames around the cut"));
    rows.add(tr("fade"), row({m_fade, m_crossfade}));
    m_shortage = label({}, "breaks", this);
    m_shortage->setWordWrap(true);
    rows.add({}, m_shortage);
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

void CutPanel::set(const Overlap& overlap) {
    const int cut = m_document->cut();
    setOverlap(*m_document, cut, overlap, transitionAt(*m_document->project(), cut).top);
}

void CutPanel::refresh() {
    const auto project = m_document->project();
    const int cut = m_document->cut();
    for (QWidget* w : std::initializer_list<QWidget*>{m_before, m_after, m_top, m_fade, m_crossfade})
        w->setEnabled(cut >= 0);
    if (cut < 0) return;
    const Clip &out = project->reel[std::size_t(cut)], &in = project->reel[std::size_t(cut) + 1];
    const Transition& t = transitionAt(*project, cut);
    m_title->setText(tr("Cut %1: %2 → %3")
                         .arg(cut + 1)
                         .arg(out.isGap() ? tr("gap") : QString::fromStdString(out.name))
                         .arg(in.isGap() ? tr("gap") : QString::fromStdString(in.name)));
    m_before->setValue(double(t.overlap.before));
    m_after->setValue(double(t.overlap.after));
    const auto spare = [](std::int64_t n) { return n >= plenty ? QString() : tr("of %1 spare").arg(n); };
    m_spareBefore->setText(spare(spareFrames(*project, in).before));
    m_spareAfter->setText(spare(spareFrames(*project, out).after));
    m_top->setCurrent(t.top == Side::Incoming ? 0 : 1);
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
