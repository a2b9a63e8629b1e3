#include "app/shutter/shutter_panel.h"

#include <QLabel>
#include <QSlider>
#include <cmath>

#include "app/commands/cut_commands.h"
#include "app/commands/reel_commands.h"
#include "app/style/controls.h"
#include "app/style/number_field.h"
#include "app/style/plain_text.h"
#include "core/edit/edge_fixes.h"
#include "core/project/field_range.h"

namespace virga {

ShutterPanel::ShutterPanel(Document* document, QWidget* parent) : QWidget(parent), m_document(document) {
    FormRows rows(this);
    m_scope = new Choices({{tr("whole piece"), {}, tr("Shutter and edges of the whole piece")},
                           {tr("this cut"), {}, tr("Only at the selected cut")}},
                          this);
    m_scope->setCurrent(0);
    connect(m_scope, &Choices::chosen, this, &ShutterPanel::refresh);
    rows.add(tr("for"), m_scope);
    auto* angleRow = new QWidget(this);
    auto* angleLayout = new QHBoxLayout(angleRow);
    angleLayout->setContentsMargins(0, 0, 0, 0);
    m_slider = new QSlider(Qt::Horizontal, angleRow);
    m_slider->setRange(0, 720);
    m_slider->setPageStep(90);
    m_slider->setAccessibleName(tr("Shutter angle"));
    setTip(m_slider, tr("0° freezes, 180° looks natural, 360° is a whole frame"));
    m_angle = new NumberField(angleRow);
    m_angle->setUnit("°", 0, 15);
    const auto hold = [](NumberField* field, FieldRange range) { field->setRange(range.least, range.most); };
    hold(m_angle, rangeOf<Shutter>("angle"));
    m_angle->setFixedWidth(56);
    m_angle->setAccessibleName(tr("Shutter angle in degrees"));
    angleLayout->addWidget(m_slider, 1);
    angleLayout->addWidget(m_angle);
    rows.add(tr("shutter"), angleRow);
    const auto setAngle = [this](double v) {
        Shutter s = shutter();
        if (s.angle == v) return;
        s.angle = v;
        setShutter(s, tr("shutter angle"));
    };
    connect(m_slider, &QSlider::valueChanged, this, [this, setAngle](int v) {
        // A handle that is pulled snaps to the usual angles.
        for (const int usual : {0, 90, 180, 270, 360, 540, 720})
            if (m_slider->isSliderDown() && std::abs(v - usual) < 12) v = usual;
        setAngle(v);
    });
    connect(m_angle, &NumberField::edited, this, setAngle);
    m_exposure = label({}, "caption", this);
    rows.add({}, m_exposure);
    auto* fine = new QWidget(this);
    auto* fineLayout = new QHBoxLayout(fine);
    fineLayout->setContentsMargins(0, 0, 0, 0);
    m_phase = new NumberField(fine);
    m_phase->setUnit("°", 0, 15);
    hold(m_phase, rangeOf<Shutter>("phase"));
    m_phase->setFixedWidth(56);
    setTip(m_phase, tr("When the shutter opens, from the frame's own time; half the angle before it unless set"));
    m_phase->setAccessibleName(tr("Shutter phase"));
    m_samples = new NumberField(fine);
    m_samples->setUnit({}, 0, 1);
    hold(m_samples, rangeOf<Shutter>("samples"));
    m_samples->setFixedWidth(56);
    setTip(m_samples, tr("Samples per frame; 0 is as many as the movement needs"));
    m_samples->setAccessibleName(tr("Samples per frame"));
    fineLayout->addWidget(m_phase);
    fineLayout->addWidget(label(tr("samples"), "caption", fine));
    fineLayout->addWidget(m_samples);
    fineLayout->addStretch(1);
    connect(m_phase, &NumberField::edited, this, [this](double v) {
        Shutter s = shutter();
        s.phase = std::abs(v + s.angle / 2) < 1e-6 ? std::nullopt : std::optional(v);
        setShutter(s, tr("shutter phase"));
    });
    connect(m_samples, &NumberField::edited, this, [this](double v) {
        Shutter s = shutter();
        s.samples = int(v);
        setShutter(s, tr("shutter samples"));
    });
    rows.add(tr("phase"), fine);
    m_edges = new Choices({{tr("empty"), {}, tr("Nothing: transparent black")},
                           {tr("hold"), {}, tr("The border goes on")},
                           {tr("repeat"), {}, tr("The frame again and again")},
                           {tr("mirror"), {}, tr("The frame turned over at each edge")}},
                          this);
    connect(m_edges, &Choices::chosen, this, [this](int i) { setEdges(EdgeFill(i)); });
    rows.add(tr("edges"), m_edges);
    auto* limit = new QWidget(this);
    auto* limitLayout = new QHBoxLayout(limit);
    limitLayout->setContentsMargins(0, 0, 0, 0);
    m_copies = new NumberField(limit);
    m_copies->setUnit({}, 0, 1);
    hold(m_copies, rangeOf<Settings>("copies"));
    m_copies->setFixedWidth(56);
    setTip(m_copies,
           tr("Repeated or mirrored frames on each side at most, in the whole piece; beyond them nothing is"));
    m_copies->setAccessibleName(tr("Copies on each side at most"));
    limitLayout->addWidget(m_copies);
    limitLayout->addWidget(label(tr("on each side at most; 0 is without a limit"), "caption", limit));
    limitLayout->addStretch(1);
    connect(m_copies, &NumberField::edited, this, [this](double v) {
        Settings s = m_document->project()->settings;
        s.copies = int(v);
        changeSettings(*m_document, s, tr("copies"), "copies");
    });
    rows.add(tr("copies"), limit);
    rows.end();
    connect(document, &Document::projectChanged, this, &ShutterPanel::refresh);
    connect(document, &Document::selectionChanged, this, &ShutterPanel::refresh);
    refresh();
}

bool ShutterPanel::forCut() const {
    return m_scope->current() == 1 && m_document->cut() >= 0;
}

Shutter ShutterPanel::shutter() const {
    const auto project = m_document->project();
    if (forCut())
        if (const auto& own = transitionAt(*project, m_document->cut()).shutter) return *own;
    return project->settings.shutter;
}

void ShutterPanel::setShutter(const Shutter& shutter, const QString& name) {
    const auto project = m_document->project();
    if (forCut()) {
        setCutShutter(*m_document, m_document->cut(), shutter, name);
    } else {
        Settings s = project->settings;
        s.shutter = shutter;
        changeSettings(*m_document, s, name, "shutter");
    }
}

void ShutterPanel::setEdges(EdgeFill edges) {
    if (forCut())
        setCutEdges(*m_document, m_document->cut(), edges);
    else
        setPieceEdges(*m_document, edges);
}

void ShutterPanel::refresh() {
    const auto project = m_document->project();
    m_scope->button(1)->setEnabled(m_document->cut() >= 0);
    const Shutter s = shutter();
    {
        const QSignalBlocker block(m_slider);
        m_slider->setValue(int(std::lround(s.angle)));
    }
    m_angle->setValue(s.angle);
    m_phase->setValue(s.phase.value_or(-s.angle / 2));
    m_samples->setValue(s.samples);
    const double exposure = exposureSeconds(s, project->settings.rate);
    m_exposure->setText(exposure > 0 ? tr("exposure 1/%1 s at %2 frames/s")
                                           .arg(1 / exposure, 0, 'g', 3)
                                           .arg(project->settings.rate.toDouble(), 0, 'g', 5)
                                     : tr("no blur"));
    EdgeFill edges = project->settings.edges;
    bool mixed = false;
    if (forCut()) {
        const int cut = m_document->cut();
        edges = edgesOf(*project, project->reel[std::size_t(cut)]);
        mixed = edges != edgesOf(*project, project->reel[std::size_t(cut) + 1]);
    }
    m_edges->setCurrent(mixed ? -1 : int(edges));
    m_copies->setValue(project->settings.copies);
    m_copies->setEnabled(mixed || edges == EdgeFill::Repeat || edges == EdgeFill::Mirror);
}

} // namespace virga
