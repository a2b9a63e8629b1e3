#include "app/panels/clip_panel.h"

#include <QCheckBox>
#include <QLineEdit>

#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"

namespace virga {

ClipPanel::ClipPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_name = new QLineEdit(this);
    m_name->setAccessibleName(tr("Clip name"));
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        if (m_name->isModified()) change(tr("rename clip"), [this](Clip& c) { c.name = m_name->text().toStdString(); });
        m_name->setModified(false);
    });
    rows.add(tr("name"), m_name);
    m_source = new ElidedLabel(this);
    m_source->setObjectName("caption");
    rows.add(tr("file"), m_source);
    m_facts = label({}, "mono", this);
    rows.add({}, m_facts);
    m_length = new NumberField(this);
    m_length->setUnit(tr(" f"), 0, 1);
    m_length->setFixedWidth(74);
    m_length->setAccessibleName(tr("Length in frames"));
    connect(m_length, &NumberField::edited, this, [this](double frames) {
        const int i = clip();
        if (i < 0) return;
        const auto project = m_document->project();
        m_document->apply(
            tr("change length"),
            withClipTrimmed(*project, i, Edge::Tail, std::int64_t(frames) - project->reel[std::size_t(i)].length),
            "length");
        refresh();
    });
    auto* lengthRow = new QWidget(this);
    auto* lengthLayout = new QHBoxLayout(lengthRow);
    lengthLayout->setContentsMargins(0, 0, 0, 0);
    lengthLayout->addWidget(m_length);
    m_spare = label({}, "caption", lengthRow);
    m_spare->setToolTip(tr("Unused source frames before and after the clip"));
    lengthLayout->addWidget(m_spare);
    lengthLayout->addStretch(1);
    rows.add(tr("length"), lengthRow);
    m_fit = new Choices({{tr("fill"), {}, tr("Fill the frame, cutting off what is over")},
                         {tr("fit"), {}, tr("Show all of it, edges filled")},
                         {tr("stretch"), {}, tr("Pull it to the frame")}},
                        this);
    connect(m_fit, &Choices::chosen, this, [this](int i) { change(tr("fit"), [i](Clip& c) { c.fit = Fit(i); }); });
    rows.add(tr("frame"), m_fit);
    m_edges = new Choices({{tr("piece"), {}, tr("As the whole piece")},
                           {{}, "edges-empty", tr("Empty")},
                           {{}, "edges-hold", tr("Hold the border")},
                           {{}, "edges-repeat", tr("Repeat")},
                           {{}, "edges-mirror", tr("Mirror")}},
                          this);
    connect(m_edges, &Choices::chosen, this, [this](int i) {
        change(tr("edges of clip"), [i](Clip& c) { c.edges = i == 0 ? std::nullopt : std::optional(EdgeFill(i - 1)); });
    });
    rows.add(tr("edges"), m_edges);
    auto* soundRow = new QWidget(this);
    auto* soundLayout = new QHBoxLayout(soundRow);
    soundLayout->setContentsMargins(0, 0, 0, 0);
    m_gain = new NumberField(soundRow);
    m_gain->setUnit("%", 0, 5);
    m_gain->setRange(0, 400);
    m_gain->setFixedWidth(74);
    m_gain->setAccessibleName(tr("Sound volume"));
    connect(m_gain, &NumberField::edited, this, [this](double v) {
        change(
            tr("volume"), [v](Clip& c) { c.gain = v / 100; }, "gain");
    });
    m_muted = new QCheckBox(tr("muted"), soundRow);
    connect(m_muted, &QCheckBox::clicked, this,
            [this](bool on) { change(on ? tr("mute clip") : tr("unmute clip"), [on](Clip& c) { c.muted = on; }); });
    soundLayout->addWidget(m_gain);
    soundLayout->addWidget(m_muted);
    soundLayout->addStretch(1);
    rows.add(tr("sound"), soundRow);
    rows.end();
    connect(document, &Document::projectChanged, this, &ClipPanel::refresh);
    connect(document, &Document::selectionChanged, this, &ClipPanel::refresh);
    connect(document, &Document::playheadChanged, this, &ClipPanel::refresh);
    refresh();
}

int ClipPanel::clip() const {
    const Selection s = m_document->selection();
    return s.kind == Selection::ClipSelected ? s.index : clipAt(*m_document->project(), m_document->playhead());
}

template <typename Change> void ClipPanel::change(const QString& name, Change change, const QString& mergeKey) {
    const int i = clip();
    if (i < 0) return;
    Clip changed = m_document->project()->reel[std::size_t(i)];
    change(changed);
    changeClip(*m_document, i, changed, name, mergeKey.isEmpty() ? QString() : mergeKey + QString::number(i));
}

void ClipPanel::refresh() {
    const auto project = m_document->project();
    const int i = clip();
    for (QWidget* w : {static_cast<QWidget*>(m_name), static_cast<QWidget*>(m_length), static_cast<QWidget*>(m_fit),
                       static_cast<QWidget*>(m_edges), static_cast<QWidget*>(m_gain), static_cast<QWidget*>(m_muted)})
        w->setEnabled(i >= 0);
    if (i < 0) return;
    const Clip& c = project->reel[std::size_t(i)];
    const Media* media = findMedia(*project, c.mediaId);
    if (!m_name->isModified() && m_name->text() != QString::fromStdString(c.name))
        m_name->setText(QString::fromStdString(c.name));
    m_source->setFullText(media ? QString::fromStdString(media->path.string()) : QString());
    m_facts->setText(!media         ? QString()
                     : media->still ? tr("%1×%2 · still").arg(media->size.width).arg(media->size.height)
                                    : tr("%1×%2 · %3 · %4 s")
                                          .arg(media->size.width)
                                          .arg(media->size.height)
                                          .arg(media->rate.toDouble(), 0, 'g', 5)
                                          .arg(media->duration.toDouble(), 0, 'f', 1));
    const Spare spare = spareFrames(*project, c);
    m_length->setRange(1, double(c.length + spare.after));
    m_length->setValue(double(c.length));
    m_spare->setText(media && media->still ? QString() : tr("spare %1 | %2").arg(spare.before).arg(spare.after));
    m_fit->setCurrent(int(c.fit));
    m_edges->setCurrent(c.edges ? int(*c.edges) + 1 : 0);
    m_gain->setValue(c.gain * 100);
    m_muted->setChecked(c.muted);
    const bool sound = media && media->sound && !media->still;
    m_gain->setEnabled(sound);
    m_muted->setEnabled(sound);
}

} // namespace virga
